#include "fabric.h"

#include <algorithm>

#include "error.h"

namespace rt {

namespace {

/// As `contains`, of one ring: asked for every sample of a map, it copies nothing.
bool within(const Ring& ring, Point p) {
  bool inside = false;
  for (size_t i = 0, n = ring.size(); i < n; ++i) {
    const Point a = ring[i], b = ring[i + 1 == n ? 0 : i + 1];
    if ((a.y > p.y) != (b.y > p.y) && p.x < a.x + (p.y - a.y) / (b.y - a.y) * (b.x - a.x))
      inside = !inside;
  }
  return inside;
}

}  // namespace

double limitFactor(int layers) {
  return std::max(0.5, 1 - 0.15 * std::max(0, layers - 1));
}

double limitFactorAt(const std::vector<Zone>& zones, Point p) {
  double factor = 1;
  for (const Zone& zone : zones)
    if (zone.kind == ZoneKind::Thick && within(zone.polygon_mm, p))
      factor = std::min(factor, limitFactor(zone.layers));
  return factor;
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
