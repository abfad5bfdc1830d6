#include "practice_score.h"

#include <algorithm>
#include <cmath>

namespace rt {
PracticeScore scoreOf(const Transform& lies, const std::optional<Transform>& measured,
                      const Field& field, double tolerance_mm, bool sew, const Scoring& scoring) {
  PracticeScore out;
  out.measured = measured.has_value();
  if (measured)
    for (Point edge : field.edgePoints())
      out.worst_mm = std::max(out.worst_mm, distance(lies(edge), (*measured)(edge)));
  const bool good = out.measured && out.worst_mm <= tolerance_mm;
  out.right = sew == good;
  const double left = 1 - out.worst_mm / std::max(1e-9, tolerance_mm);
  if (sew)  // a ruined item is worth nothing
    out.points =
        good ? scoring.sewn_well + static_cast<int>(std::lround(scoring.nearness * left)) : 0;
  else
    out.points = good ? scoring.cautious : scoring.spared;
  return out;
}

}  // namespace rt
