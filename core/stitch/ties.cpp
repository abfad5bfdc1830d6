#include "ties.h"

namespace rt {

Point tiePoint(Point at, Point toward, double tie_mm) {
  const double mm = distance(at, toward);
  return mm <= kSame_mm ? at : at + (toward - at) * (std::min(tie_mm, mm) / mm);
}

double tieLengthOf(const Pattern& pattern, double otherwise) {
  std::vector<double> lengths;
  forEachSegment(pattern, [&](Point a, Point b, size_t row) {
    if (const double mm = distance(a, b); pattern.stitches[row].kind == Kind::Tie && mm > kSame_mm)
      lengths.push_back(mm);
  });
  if (lengths.empty()) return otherwise;
  const auto middle = lengths.begin() + static_cast<long>(lengths.size() / 2);
  std::nth_element(lengths.begin(), middle, lengths.end());
  return std::min(*middle, otherwise);
}

}  // namespace rt
