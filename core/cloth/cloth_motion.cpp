#include "cloth_motion.h"

#include <algorithm>
#include <cmath>

#include "error.h"
#include "length.h"
#include "sheet_sewing.h"

namespace rt {
namespace {

template <class Use>
void forEachNeedlePoint(const Pattern& pattern, Use&& use) {
  for (size_t row = 0; row < pattern.stitches.size(); ++row)
    if (pattern.stitches[row].op == Op::Stitch) use(row);
}

}  // namespace

Distances distancesOf(std::vector<double> mm) {
  if (mm.empty()) return {};
  std::sort(mm.begin(), mm.end());
  const auto at = [&](double part) {
    return mm[std::min(mm.size() - 1, static_cast<size_t>(part * static_cast<double>(mm.size())))];
  };
  return {at(0.5), at(0.95), mm.back()};
}

void requireWithin(const Pattern& pattern, const Field& field) {
  for (size_t row = 0; row < pattern.stitches.size(); ++row) {
    const Stitch& s = pattern.stitches[row];
    if (s.op != Op::Stitch || field.contains(s.at)) continue;
    throw Error("the design leaves the field of " + formatNumber(field.width_mm, 1) + " x " +
                    formatNumber(field.height_mm, 1) + " mm",
                "row " + std::to_string(row + 1) + ": " + formatNumber(s.at.x, 2) + ", " +
                    formatNumber(s.at.y, 2),
                "take a larger frame, or move the design to the middle");
  }
}

ClothMotion clothMotion(const Pattern& pattern, const ClothLaw& law, const Field& field,
                        const std::vector<ClothPoint>& points) {
  requireWithin(pattern, field);
  const SheetSewing sewing(pattern, field);
  return sewing.motion(sewing.course(sewing.stages(law), law), law, pattern, points);
}

Pattern movedRows(const Pattern& pattern, const std::vector<Point>& by) {
  Pattern out = pattern;
  for (size_t row = 0; row < out.stitches.size(); ++row) {
    const Stitch& was = pattern.stitches[row];
    const bool moves = was.op == Op::Stitch || was.op == Op::Jump;
    if (!moves && row > 0 && was.at == pattern.stitches[row - 1].at)
      out.stitches[row].at = out.stitches[row - 1].at;
    else
      out.stitches[row].at = was.at + by[row];
  }
  return out;
}

Pattern asItWillLie(const Pattern& pattern, const ClothMotion& motion) {
  return movedRows(pattern, motion.moved);
}

Distances movedBy(const Pattern& pattern, const ClothMotion& motion) {
  std::vector<double> mm;
  forEachNeedlePoint(pattern, [&](size_t row) { mm.push_back(length(motion.moved[row])); });
  return distancesOf(std::move(mm));
}

double motionBound_mm(const Pattern& pattern, const ClothLaw& law, const ClothMotion& motion) {
  const double scatter = law[ClothFigure::Scatter], part = law[ClothFigure::Unexplained];
  std::vector<double> variance;
  forEachNeedlePoint(pattern, [&](size_t row) {
    const double by = part * length(motion.moved[row]);
    variance.push_back(scatter * scatter + by * by);
  });
  if (variance.empty()) return 0;
  // the distance that holds 95 % of all: each is round and normal by itself
  const auto outside = [&](double r) {
    double sum = 0;
    for (double v : variance) sum += std::exp(-r * r / (2 * v));
    return sum / static_cast<double>(variance.size());
  };
  double low = 0, high = 10 * std::sqrt(*std::max_element(variance.begin(), variance.end()));
  for (int i = 0; i < 40; ++i) {
    const double middle = (low + high) / 2;
    (outside(middle) > 0.05 ? low : high) = middle;
  }
  return high;
}

}  // namespace rt
