// Connected places of a density map that lie over a limit.
#pragma once

#include "density_map.h"

namespace rt {

enum class Measure { Thread, Holes };

/// Samples that touch (edges or corners) and are all over their limit.
struct Region {
  Box bounds;  ///< Of the samples' cells.
  double area_mm2 = 0;
  double peak = 0;  ///< Largest value, mm/mm² or 1/mm².
  double mean = 0;
  double limit_at_peak = 0;
  Point peak_at;
};

/// The limit at a place, in the measure's unit.
using LimitAt = std::function<double(Point)>;

/// Regions over the limit, largest excess (peak over limit) first.
std::vector<Region> regionsOver(const DensityMap& map, Measure measure, const LimitAt& limit);

}  // namespace rt
