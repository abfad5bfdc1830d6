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
    if (zone.kind == ZoneKind::Thick && contains(Area{zone.polygon_mm}, p))
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
