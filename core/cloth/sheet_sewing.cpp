#include "sheet_sewing.h"

#include <algorithm>
#include <cmath>

#include "side_by_side.h"

namespace rt {
namespace {

constexpr double kCell_mm = 2, kAround_mm = 10;
constexpr double kMostCells = 9'000;
constexpr int kSteps = 24;          // in which the cloth is let go
constexpr int kStiffenings = 12;    // after which thread that lies is counted as stiff
constexpr double kLeastStep = 0.4;  // of an even step, where a thread is cut

std::vector<SewingStep> stepsOf(const Pattern& pattern) {
  double whole = 0;
  forEachSegment(pattern, [&](Point a, Point b, size_t) { whole += distance(a, b); });
  const double even = whole / kSteps;
  std::vector<SewingStep> steps;
  SewingStep now;
  NeedleWalk walk;
  for (size_t row = 0; row < pattern.stitches.size(); ++row) {
    const Stitch& stitch = pattern.stitches[row];
    const NeedleWalk::Step step = walk.next(stitch);
    const bool cut = step.fresh || stitch.op != Op::Stitch;
    if (now.length_mm >= even || (cut && now.length_mm >= kLeastStep * even && even > 0)) {
      now.end = row;
      steps.push_back(now);
      now = {};
    }
    if (step.sewn) now.length_mm += distance(step.from, stitch.at);
  }
  now.end = pattern.stitches.size();
  if (now.length_mm > 0 || steps.empty())
    steps.push_back(now);
  else
    steps.back().end = now.end;
  return steps;
}

double cellFor(const Box& fine) {
  return std::max(kCell_mm, std::sqrt(fine.width() * fine.height() / kMostCells));
}

Box fineOf(const Pattern& pattern, const Field& field) {
  const Box whole = Box::around({0, 0}, field.width_mm, field.height_mm);
  const Box thread = threadBounds(pattern);
  return thread.empty() ? whole : thread.grown(kAround_mm).intersection(whole);
}

/// A needle point, or a landing from which thread lies.
bool lies(const std::vector<Stitch>& rows, size_t row) {
  return rows[row].op == Op::Stitch ||
         (rows[row].op == Op::Jump && row + 1 < rows.size() && rows[row + 1].op == Op::Stitch);
}

/// Each stitch draws its ends together, and the needle lags behind the move.
void drawEdges(const Pattern& pattern, const ClothLaw& law, std::vector<Point>& moved) {
  const double x = law[ClothFigure::EdgeX], y = law[ClothFigure::EdgeY];
  const double full = law[ClothFigure::EdgeLength], lag = law[ClothFigure::Lag];
  NeedleWalk walk;
  for (size_t row = 0; row < pattern.stitches.size(); ++row) {
    const NeedleWalk::Step step = walk.next(pattern.stitches[row]);
    const double whole = step.sewn ? distance(step.from, pattern.stitches[row].at) : 0;
    if (whole <= 0) continue;
    const Point way = (pattern.stitches[row].at - step.from) * (1 / whole);
    const double by = 0.5 * (x * way.x * way.x + y * way.y * way.y) * (1 - std::exp(-whole / full));
    moved[row] = moved[row] - way * (by + lag * whole);
    if (row > 0 && pattern.stitches[row - 1].op == Op::Stitch)
      moved[row - 1] = moved[row - 1] + way * by;
  }
}

}  // namespace

SheetSewing::SheetSewing(const Pattern& pattern, const Field& field)
    : steps_(stepsOf(pattern)),
      fine_(fineOf(pattern, field)),
      sheet_(field, fine_, cellFor(fine_)),
      laid_(steps_.size(), LaidThreads(sheet_.cells())) {
  size_t step = 0;
  forEachSegment(pattern, [&](Point a, Point b, size_t row) {
    while (row >= steps_[step].end) ++step;
    sheet_.lay(a, b, laid_[step]);
  });
}

size_t SheetSewing::stageCount() const {
  return std::min<size_t>(kStiffenings, steps_.size());
}

size_t SheetSewing::firstStep(size_t stage) const {
  const size_t stages = stageCount();
  return (stage * steps_.size() + stages - 1) / stages;
}

LaidThreads SheetSewing::onCloth(size_t stage) const {
  LaidThreads on(sheet_.cells());
  for (size_t k = 0; k < firstStep(stage + 1); ++k)
    for (size_t c = 0; c < on.size(); ++c) on[c].add(laid_[k][c]);
  return on;
}

SheetSewing::Stages SheetSewing::stages(const ClothLaw& law) const {
  Stages out(stageCount());
  sideBySide(out.size(), [&](size_t stage) { out[stage] = sheet_.stiffened(law, onCloth(stage)); });
  return out;
}

SheetSewing::Course SheetSewing::course(const Stages& stages, const ClothLaw& law) const {
  std::vector<SheetField> moves(steps_.size());
  sideBySide(stages.size(), [&](size_t stage) {
    for (size_t k = firstStep(stage); k < firstStep(stage + 1); ++k)
      moves[k] = sheet_.pulledBy(*stages[stage], law, laid_[k]);
  });
  return summed(moves);
}

SheetSewing::Course SheetSewing::beside(const Stages& stages, const Course& near,
                                        const ClothLaw& law) const {
  std::vector<SheetField> moves(steps_.size());
  sideBySide(stages.size(), [&](size_t stage) {
    const ClothEquations equations = sheet_.equations(law, onCloth(stage));
    for (size_t k = firstStep(stage); k < firstStep(stage + 1); ++k) {
      SheetField moved = near[k + 1];
      for (size_t node = 0; node < moved.size(); ++node) moved[node] = moved[node] - near[k][node];
      moves[k] = sheet_.pulledBeside(*stages[stage], moved, equations, law, laid_[k]);
    }
  });
  return summed(moves);
}

SheetSewing::Course SheetSewing::summed(const std::vector<SheetField>& moves) const {
  Course out{SheetField(sheet_.nodes())};
  for (const SheetField& more : moves) {
    SheetField now = out.back();
    for (size_t node = 0; node < now.size(); ++node) now[node] = now[node] + more[node];
    out.push_back(std::move(now));
  }
  return out;
}

ClothMotion SheetSewing::motion(const Course& course, const ClothLaw& law, const Pattern& pattern,
                                const std::vector<ClothPoint>& points) const {
  ClothMotion out;
  out.moved.assign(pattern.stitches.size(), Point{});
  size_t step = 0;
  double laid = 0;
  NeedleWalk walk;
  for (size_t row = 0; row < pattern.stitches.size(); ++row) {
    while (row >= steps_[step].end) ++step, laid = 0;
    const Stitch& stitch = pattern.stitches[row];
    if (const NeedleWalk::Step s = walk.next(stitch); s.sewn) laid += distance(s.from, stitch.at);
    if (!lies(pattern.stitches, row)) continue;
    const double part =
        steps_[step].length_mm > 0 ? std::min(1.0, laid / steps_[step].length_mm) : 1;
    out.moved[row] = movedOn(course, stitch.at, step, part);
  }
  drawEdges(pattern, law, out.moved);
  for (const ClothPoint& p : points) out.points.push_back(movedOn(course, p.at, stepOf(p.from), 0));
  return out;
}

size_t SheetSewing::stepOf(size_t row) const {
  size_t step = 0;
  while (step < steps_.size() && row >= steps_[step].end) ++step;
  return step;
}

/// How far cloth that is at `p` in step `step`, so far through it, still goes.
Point SheetSewing::movedOn(const Course& course, Point p, size_t step, double part) const {
  const auto now = [&](Point at) {
    if (step + 1 >= course.size()) return sheet_.at(course.back(), at);
    const SheetPlace place = sheet_.placeOf(at);
    return mix(sheet_.at(course[step], place), sheet_.at(course[step + 1], place), part);
  };
  Point cloth = p - now(p);  // where it lay before anything was sewn
  cloth = p - now(cloth);
  return sheet_.at(course.back(), cloth) - now(cloth);
}

}  // namespace rt
