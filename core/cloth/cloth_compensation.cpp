#include "cloth_compensation.h"

#include <algorithm>
#include <cmath>

#include "sheet_sewing.h"
#include "stitch_limits.h"

namespace rt {
namespace {

constexpr double kShortest_mm = 0.3;  // under it needle points run into each other
constexpr double kLongest_mm = kLongestStitch_mm - 0.006;  // written to hundredths
constexpr double kShortestMade_mm = kShortest_mm + 0.015;
constexpr int kRounds = 6, kPasses = 24;
constexpr double kHeldAround_mm = 30;
constexpr double kLittle_mm = 0.005;  // what is left in the mean, and no more is sought

/// Rows that must go together, numbered: a landing and the needle point on it, and the ends of
/// stitches that are too short already. Rows without a place go with the one before.
std::vector<size_t> togetherIn(const Pattern& drawn) {
  std::vector<size_t> out(drawn.stitches.size());
  NeedleWalk walk;
  size_t group = 0;
  for (size_t row = 0; row < out.size(); ++row) {
    const Stitch& s = drawn.stitches[row];
    const NeedleWalk::Step step = walk.next(s);
    const bool tied = step.sewn && distance(step.from, s.at) < kShortest_mm;
    if (row > 0 && !tied && (s.op == Op::Stitch || s.op == Op::Jump)) ++group;
    out[row] = group;
  }
  return out;
}

class Compensation {
 public:
  Compensation(const Pattern& drawn, const ClothLaw& law, const Field& field)
      : drawn_(drawn),
        law_(law),
        field_(field),
        group_(togetherIn(drawn)),
        links_(linksOf(drawn)),
        by_(group_.empty() ? 0 : group_.back() + 1),
        held_(by_.size()) {}

  ClothCompensation run() {
    ClothCompensation out;
    // the sheet hardly sees needle points move by less than its cells
    const SheetSewing sewing(drawn_, field_);
    const SheetSewing::Course course = sewing.course(sewing.stages(law_), law_);
    ClothMotion motion = sewing.motion(course, law_, drawn_, {});
    out.before = movedBy(drawn_, motion);
    out.goes = motion.moved;
    for (int round = 0; round < kRounds; ++round) {
      const double left = goBack(motion);
      keepLengths();
      out.sewn = movedRows(drawn_, byRows());
      if (left < kLittle_mm) break;
      motion = sewing.motion(course, law_, out.sewn, {});
    }
    motion = clothMotion(out.sewn, law_, field_);
    const std::vector<Point> by = byRows();
    out.after = offDrawing(motion, by);
    out.bound_mm = motionBound_mm(out.sewn, law_, motion);
    std::vector<double> moved;
    forEachNeedlePoint([&](size_t row) {
      moved.push_back(length(by[row]));
      if (held_[group_[row]]) ++out.held_rows;
    });
    out.moved = distancesOf(std::move(moved));
    return out;
  }

 private:
  template <class Use>
  void forEachNeedlePoint(Use&& use) const {
    for (size_t row = 0; row < group_.size(); ++row)
      if (drawn_.stitches[row].op == Op::Stitch) use(row);
  }
  std::vector<Point> byRows() const {
    std::vector<Point> out;
    for (size_t group : group_) out.push_back(by_[group]);
    return out;
  }

  /// Each group back by what it will go, in the mean, in hundredths: lengths that were written so
  /// stay what they are where both ends move alike. Returns how much was left, in the mean.
  double goBack(const ClothMotion& motion) {
    std::fill(held_.begin(), held_.end(), false);
    double left = 0;
    std::vector<Point> back(by_.size());
    std::vector<double> count(by_.size());
    forEachNeedlePoint([&](size_t row) {
      left += length(by_[group_[row]] + motion.moved[row]);
      back[group_[row]] = back[group_[row]] - motion.moved[row];
      ++count[group_[row]];
    });
    double all = 0;
    for (size_t g = 0; g < by_.size(); ++g) {
      all += count[g];
      if (count[g] > 0) back[g] = hundredths(back[g] * (1 / count[g]));
    }
    by_ = std::move(back);
    for (size_t row = 0; row < group_.size(); ++row) keepInField(row);
    return all > 0 ? left / all : 0;
  }
  static Point hundredths(Point p) {
    return {std::round(p.x * 100) / 100, std::round(p.y * 100) / 100};
  }

  void keepInField(size_t row) {
    if (!leaves(row)) return;
    const Point whole = by_[group_[row]];
    for (double part : {0.75, 0.5, 0.25}) {
      by_[group_[row]] = hundredths(whole * part);
      held_[group_[row]] = true;
      if (!leaves(row)) return;
    }
    stay(group_[row]);
  }

  /// A stitch, by the rows of its ends; its own length as drawn.
  struct Link {
    size_t before, row;
    Point from;
    double was;
  };
  static std::vector<Link> linksOf(const Pattern& drawn) {
    std::vector<Link> out;
    NeedleWalk walk;
    size_t before = 0;
    for (size_t row = 0; row < drawn.stitches.size(); ++row) {
      const Stitch& s = drawn.stitches[row];
      const NeedleWalk::Step step = walk.next(s);
      if (step.sewn) out.push_back({before, row, step.from, distance(step.from, s.at)});
      if (s.op == Op::Stitch || s.op == Op::Jump) before = row;
    }
    return out;
  }

  /// Where a stitch would become too long or too short, both its ends take the mean of their
  /// moves, so that it stays as it was drawn. What does not settle, or leaves the field by it, is
  /// not moved at all: that spreads, both ways along the thread, until all holds.
  void keepLengths() {
    bool changed = true;
    for (int pass = 0; changed && pass < kPasses; ++pass) {
      changed = false;
      for (const Link& link : links_) changed |= mend(link, true);
    }
    for (size_t row = 0; row < group_.size(); ++row)
      if (leaves(row)) stay(group_[row]), changed = true;
    while (changed) {
      changed = false;
      for (const Link& link : links_) changed |= mend(link, false);
      for (size_t i = links_.size(); i-- > 0;) changed |= mend(links_[i], false);
    }
  }
  bool mend(const Link& link, bool mean) {
    if (keeps(link)) return false;
    const size_t a = group_[link.before], b = group_[link.row];
    held_[a] = held_[b] = true;
    by_[a] = by_[b] = mean ? hundredths(mix(by_[a], by_[b], 0.5)) : Point{};
    return true;
  }
  void stay(size_t group) {
    by_[group] = {};
    held_[group] = true;
  }
  bool leaves(size_t row) const {
    return drawn_.stitches[row].op == Op::Stitch &&
           !field_.contains(drawn_.stitches[row].at + by_[group_[row]]);
  }

  bool keeps(const Link& link) const {
    const Point a = by_[group_[link.before]], b = by_[group_[link.row]];
    if (a == b) return true;
    const double is = distance(link.from + a, drawn_.stitches[link.row].at + b);
    if (is > kLongest_mm && is > link.was) return false;
    return !(is < kShortestMade_mm && is < link.was);
  }

  Distances offDrawing(const ClothMotion& motion, const std::vector<Point>& by) const {
    std::vector<double> mm;
    forEachNeedlePoint([&](size_t row) { mm.push_back(length(by[row] + motion.moved[row])); });
    return distancesOf(std::move(mm));
  }

  const Pattern& drawn_;
  const ClothLaw& law_;
  const Field& field_;
  std::vector<size_t> group_;  // by row
  std::vector<Link> links_;
  std::vector<Point> by_;  // by group
  std::vector<bool> held_;
};

}  // namespace

Field clothAround(const Pattern& layout) {
  const Box thread = threadBounds(layout);
  Field out;
  if (thread.empty()) return out;
  out.width_mm = 2 * (std::max(std::abs(thread.left), std::abs(thread.right)) + kHeldAround_mm);
  out.height_mm = 2 * (std::max(std::abs(thread.top), std::abs(thread.bottom)) + kHeldAround_mm);
  return out;
}

ClothCompensation compensated(const Pattern& drawn, const ClothLaw& law, const Field& field) {
  requireWithin(drawn, field);
  return Compensation(drawn, law, field).run();
}

}  // namespace rt
