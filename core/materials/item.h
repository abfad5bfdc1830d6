// Items that are sewn on again and again, and the places on them. The figures live in
// data/items.json.
#pragma once

#include "fabric.h"

namespace rt {

enum class Side { Left, Right, Top, Bottom };

/// A distance that places the sewing, measured on the item itself.
struct ItemMeasure {
  std::string what;        ///< "down from the shoulder seam".
  std::vector<double> mm;  ///< By size; one figure is for all sizes.
};

/// A seam, hem, band or button beside the place.
struct ItemEdge {
  std::string name;
  ZoneKind kind = ZoneKind::KeepOut;
  Side side = Side::Bottom;
  double gap_mm = 0;    ///< From the place's side to it.
  double depth_mm = 0;  ///< Of the edge itself.
  int layers = 2;       ///< Of cloth, where it is thick.
};

struct ItemPlace {
  std::string id, name;
  std::string reason;                       ///< Why just there.
  std::vector<double> width_mm, height_mm;  ///< By size.
  std::vector<ItemMeasure> measures;
  std::vector<ItemEdge> edges;
  bool floated = false;     ///< The frame cannot hold it: laid on hooped stabiliser.
  std::string held_reason;  ///< Why it is hooped or floated, and what holds it.
};

struct Item {
  std::string id, name;
  std::string fabric;              ///< Usual one, by id.
  std::vector<std::string> sizes;  ///< From small to large; one at least.
  std::vector<ItemPlace> places;
};

/// A figure for a size, counted from 0.
double forSize(const std::vector<double>& by_size, size_t size);

/// An edge as a zone beside a place of this size, centred on the layout's cross. It runs past the
/// place's ends, as seams do.
Zone zoneOf(const ItemEdge& edge, double width_mm, double height_mm);

}  // namespace rt
