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
        by_(group_.empty() ? 0 : group_.back() + 1),
        held_(by_.size()) {}

  ClothCompensation run() {
    ClothCompensation out;
    // the sheet hardly sees needle points move by less than its cells
    const SheetSewing sewing(drawn_, field_);
    const SheetSewing::Course course = sewing.course(sewing.stages(law_), law_);
    ClothMotion motion = sewing.motion(course, law_, drawn_, {});
    out.before = movedBy(drawn_, motion);
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
    Point& by = by_[group_[row]];
    const Point at = drawn_.stitches[row].at;
    if (drawn_.stitches[row].op != Op::Stitch || field_.contains(at + by)) return;
    held_[group_[row]] = true;
    for (double part : {0.75, 0.5, 0.25, 0.0}) {
      const Point less = hundredths(by * part);
      if (!field_.contains(at + less)) continue;
      by = less;
      return;
    }
    by = {};
  }

  /// Where a stitch would become too long or too short, both its ends take the mean of their
  /// moves, so that it stays as it was drawn; where that does not settle they are not moved.
  void keepLengths() {
    for (int pass = 0; pass <= kPasses; ++pass) {
      bool changed = false;
      NeedleWalk walk;
      size_t before = 0;
      for (size_t row = 0; row < group_.size(); ++row) {
        const Stitch& s = drawn_.stitches[row];
        const NeedleWalk::Step step = walk.next(s);
        if (step.sewn && !keeps(before, row, step.from)) {
          Point &a = by_[group_[before]], &b = by_[group_[row]];
          a = b = pass < kPasses / 2 ? hundredths(mix(a, b, 0.5)) : Point{};
          held_[group_[before]] = held_[group_[row]] = changed = true;
        }
        if (s.op == Op::Stitch || s.op == Op::Jump) before = row;
      }
      if (!changed) return;
    }
  }

  bool keeps(size_t before, size_t row, Point from) const {
    if (group_[before] == group_[row]) return true;
    const double was = distance(from, drawn_.stitches[row].at);
    const double is =
        distance(from + by_[group_[before]], drawn_.stitches[row].at + by_[group_[row]]);
    if (is > kLongest_mm && is > was) return false;
    return !(is < kShortestMade_mm && is < was);
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
  std::vector<Point> by_;      // by group
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
