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
constexpr int kRounds = 6, kPasses = 12;
constexpr double kLittle_mm = 0.005;  // what is left in the mean, and no more is sought

class Compensation {
 public:
  Compensation(const Pattern& drawn, const ClothLaw& law, const Field& field)
      : drawn_(drawn), law_(law), field_(field), by_(drawn.stitches.size()), held_(by_.size()) {}

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
      out.sewn = movedRows(drawn_, by_);
      if (left < kLittle_mm) break;
      motion = sewing.motion(course, law_, out.sewn, {});
    }
    motion = clothMotion(out.sewn, law_, field_);
    out.after = offDrawing(motion);
    out.bound_mm = motionBound_mm(out.sewn, law_, motion);
    out.held_rows = static_cast<size_t>(std::count(held_.begin(), held_.end(), true));
    std::vector<double> moved;
    for (size_t i = 0; i < by_.size(); ++i)
      if (drawn_.stitches[i].op == Op::Stitch) moved.push_back(length(by_[i]));
    out.moved = distancesOf(std::move(moved));
    return out;
  }

 private:
  /// Each needle point back by what it will go; returns how much was left, in the mean.
  double goBack(const ClothMotion& motion) {
    double left = 0;
    size_t count = 0;
    for (size_t i = 0; i < by_.size(); ++i) {
      if (drawn_.stitches[i].op == Op::Stitch) left += length(by_[i] + motion.moved[i]), ++count;
      by_[i] = inField(drawn_.stitches[i].at, motion.moved[i] * -1.0);
    }
    return count ? left / static_cast<double>(count) : 0;
  }

  Point inField(Point at, Point by) {
    if (field_.contains(at + by)) return by;
    for (double part : {0.75, 0.5, 0.25})
      if (field_.contains(at + by * part)) return by * part;
    return {};
  }

  /// Where a stitch would become too long or too short, both its ends take the mean of their
  /// moves, so that it stays as it was drawn; at last they are not moved at all.
  void keepLengths() {
    std::fill(held_.begin(), held_.end(), false);
    for (int pass = 0; pass <= kPasses; ++pass) {
      bool changed = false;
      NeedleWalk walk;
      size_t before = 0;
      for (size_t row = 0; row < by_.size(); ++row) {
        const NeedleWalk::Step step = walk.next(drawn_.stitches[row]);
        if (step.sewn && !keeps(before, row, step.from)) {
          const Point mean = pass < kPasses ? mix(by_[before], by_[row], 0.5) : Point{};
          by_[before] = by_[row] = mean;
          held_[before] = held_[row] = changed = true;
        }
        if (drawn_.stitches[row].op == Op::Stitch || drawn_.stitches[row].op == Op::Jump)
          before = row;
      }
      if (!changed) return;
      if (pass == kPasses - 1) settle();
    }
  }

  /// What still is not as it may be is drawn back together with its neighbours.
  void settle() {
    for (size_t row = 1; row < by_.size(); ++row)
      if (held_[row] && held_[row - 1]) by_[row] = by_[row - 1];
  }

  bool keeps(size_t before, size_t row, Point from) const {
    const double was = distance(from, drawn_.stitches[row].at);
    const double is = distance(from + by_[before], drawn_.stitches[row].at + by_[row]);
    if (is > kLongest_mm && is > was) return false;
    return !(is < kShortestMade_mm && is < was);
  }

  Distances offDrawing(const ClothMotion& motion) const {
    std::vector<double> mm;
    for (size_t i = 0; i < by_.size(); ++i)
      if (drawn_.stitches[i].op == Op::Stitch) mm.push_back(length(by_[i] + motion.moved[i]));
    return distancesOf(std::move(mm));
  }

  const Pattern& drawn_;
  const ClothLaw& law_;
  const Field& field_;
  std::vector<Point> by_;
  std::vector<bool> held_;
};

}  // namespace

ClothCompensation compensated(const Pattern& drawn, const ClothLaw& law, const Field& field) {
  requireWithin(drawn, field);
  return Compensation(drawn, law, field).run();
}

}  // namespace rt
