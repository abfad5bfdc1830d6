#include "practice_score.h"

#include <algorithm>
#include <cmath>

namespace rt {
namespace {

// sewing well is worth most the nearer it lands; a ruined item is worth nothing
constexpr int kSewn = 60, kNearness = 40, kSpared = 80, kCautious = 20;

}  // namespace

PracticeScore scoreOf(const Transform& lies, const std::optional<Transform>& measured,
                      const Field& field, double tolerance_mm, bool sew) {
  PracticeScore out;
  out.measured = measured.has_value();
  if (measured)
    for (Point edge : field.edgePoints())
      out.worst_mm = std::max(out.worst_mm, distance(lies(edge), (*measured)(edge)));
  const bool good = out.measured && out.worst_mm <= tolerance_mm;
  out.right = sew == good;
  if (sew)
    out.points = good ? kSewn + static_cast<int>(std::lround(
                                    kNearness * (1 - out.worst_mm / std::max(1e-9, tolerance_mm))))
                      : 0;
  else
    out.points = good ? kCautious : kSpared;
  return out;
}

}  // namespace rt
