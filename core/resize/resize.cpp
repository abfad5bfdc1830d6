#include "resize.h"

#include <algorithm>

#include "error.h"
#include "length.h"

namespace rt {
namespace {

constexpr double kMostScale = 100;

void checkScale(double scale, const char* where) {
  if (!(scale > 0) || !(scale <= kMostScale))
    throw Error("a scale of " + formatNumber(scale, 3) + " cannot be sewn", where,
                "give a scale over 0 and up to 100");
}

void warnLengths(const Pattern& pattern, std::vector<std::string>& warnings) {
  size_t shorts = 0, longs = 0;
  forEachSegment(pattern, [&](Point a, Point b, size_t row) {
    const double mm = distance(a, b);
    shorts += mm > 0 && mm < kShortestStitch_mm && pattern.stitches[row].kind != Kind::Tie;
    longs += mm > kLongestStitch_mm;
  });
  if (shorts > 0) warnings.push_back(std::to_string(shorts) + " stitches are now under 0.4 mm");
  if (longs > 0) warnings.push_back(std::to_string(longs) + " stitches are now over 12 mm");
}

}  // namespace

Resized resizeKeeping(const Pattern& pattern, double scale_x, double scale_y) {
  checkScale(scale_x, "scale");
  checkScale(scale_y, "scale-y");
  Resized out;
  out.pattern = transformed(pattern, Transform::scaling(scale_x, scale_y));
  for (const Block& block : blocksOf(pattern)) {
    const Recognised before = recognise(needlePoints(pattern, block));
    const Recognised after = recognise(needlePoints(out.pattern, block));
    out.blocks.push_back(
        {before.kind, before.spacing_mm, after.spacing_mm, block.stitches, block.stitches});
  }
  const double change = std::max(std::abs(scale_x - 1), std::abs(scale_y - 1));
  if (change > kKeepUpTo + 1e-9)
    out.warnings.push_back("the size changes by " + formatNumber(change * 100, 0) +
                           " %: thread per area is " +
                           formatNumber(100 / std::sqrt(scale_x * scale_y), 0) +
                           " % of what it was, as every stitch is kept");
  warnLengths(out.pattern, out.warnings);
  return out;
}

}  // namespace rt
