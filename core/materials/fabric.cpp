#include "fabric.h"

#include <algorithm>

#include "error.h"

namespace rt {

double limitFactor(int layers) {
  return std::max(0.5, 1 - 0.15 * std::max(0, layers - 1));
}

double limitFactorAt(const std::vector<Zone>& zones, Point p) {
  double factor = 1;
  for (const Zone& zone : zones)
    if (zone.kind == ZoneKind::Thick && contains(zone.polygon_mm, p))
      factor = std::min(factor, limitFactor(zone.layers));
  return factor;
}

std::optional<Point> ZoneEntry::of(Point from, Point to) const {
  constexpr double kStep_mm = 0.5;
  if (std::max(from.x, to.x) <= box_.left || std::min(from.x, to.x) >= box_.right ||
      std::max(from.y, to.y) <= box_.top || std::min(from.y, to.y) >= box_.bottom)
    return std::nullopt;  // along the very edge is not in it
  const int parts = std::max(1, static_cast<int>(std::ceil(distance(from, to) / kStep_mm)));
  for (int k = 0; k <= parts; ++k) {
    const Point p = mix(from, to, static_cast<double>(k) / parts);
    if (contains(zone_.polygon_mm, p)) return p;
  }
  return std::nullopt;
}

const Fabric& fabricById(const std::vector<Fabric>& fabrics, const std::string& id) {
  std::string known;
  for (const Fabric& fabric : fabrics) {
    if (fabric.id == id) return fabric;
    known += (known.empty() ? "" : ", ") + fabric.id;
  }
  throw Error("no fabric is called \"" + id + "\"", "fabric", "use one of: " + known);
}

}  // namespace rt
