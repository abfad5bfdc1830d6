#include "square_check.h"

#include <algorithm>

namespace rt {
namespace {

constexpr double kOff_deg = 0.5;
constexpr double kPart_mm = 10;  // arms are whole multiples of it, to be read off a ruler

}  // namespace

SquareCheck squareCheckFor(const Box& layout) {
  SquareCheck out;
  if (layout.empty()) return out;
  const double wide = std::max(std::abs(layout.left), std::abs(layout.right));
  const double high = std::max(std::abs(layout.top), std::abs(layout.bottom));
  if (wide < kSame_mm || high < kSame_mm) return out;
  // the longer arm takes four parts
  const double longer = std::max(wide, high), shorter = std::min(wide, high);
  const double part = std::floor(std::min(longer / 4, shorter / 3) / kPart_mm) * kPart_mm;
  const double four = part > 0 ? 4 * part : longer, three = part > 0 ? 3 * part : shorter;
  out.along_mm = wide >= high ? four : three;
  out.up_mm = wide >= high ? three : four;
  out.diagonal_mm = std::hypot(out.along_mm, out.up_mm);
  const double open = std::sqrt(out.along_mm * out.along_mm + out.up_mm * out.up_mm -
                                2 * out.along_mm * out.up_mm * std::cos(radians(90 + kOff_deg)));
  out.per_half_degree_mm = open - out.diagonal_mm;
  out.costs_mm = longer * std::sin(radians(kOff_deg));
  return out;
}

}  // namespace rt
