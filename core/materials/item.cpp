#include "item.h"

namespace rt {
namespace {

constexpr double kPastTheEnds_mm = 30;  // of the drawn zone: the seam itself goes on

}  // namespace

double forSize(const std::vector<double>& by_size, size_t size) {
  return by_size.empty() ? 0 : by_size[std::min(size, by_size.size() - 1)];
}

Zone zoneOf(const ItemEdge& edge, double width_mm, double height_mm) {
  const bool level = edge.side == Side::Top || edge.side == Side::Bottom;
  const bool before = edge.side == Side::Top || edge.side == Side::Left;
  const double half = (level ? height_mm : width_mm) / 2;
  const double along = (level ? width_mm : height_mm) / 2 + kPastTheEnds_mm;
  const double near = half + edge.gap_mm, far = near + edge.depth_mm;
  Box box;
  for (double across : {before ? -near : near, before ? -far : far})
    for (double at : {-along, along}) box.add(level ? Point{at, across} : Point{across, at});
  Zone zone;
  zone.name = edge.name;
  zone.kind = edge.kind;
  zone.layers = edge.kind == ZoneKind::Thick ? edge.layers : 1;
  for (int i = 0; i < 4; ++i) zone.polygon_mm.push_back(box.corner(i));
  return zone;
}

}  // namespace rt
