// Needle points moved so that the cloth brings them to where the drawing has them.
#pragma once

#include "cloth_motion.h"

namespace rt {

struct ClothCompensation {
  Pattern sewn;             ///< Same rows, moved needle points.
  std::vector<Point> goes;  ///< By row: where the cloth takes it, sewn as drawn (ClothMotion).
  Distances before, after;  ///< How far needle points lie in the end from the drawing, mm.
  double bound_mm = 0;      ///< 95 % lie within this of where the law says.
  size_t held_rows = 0;     ///< Needle points that a stitch's length or the field kept back.
  /// How far needle points were moved, mm.
  Distances moved;
};

/// Cloth that is held 30 mm around a layout, as in a frame that fits it: where it is not known yet
/// which frame takes which part.
Field clothAround(const Pattern& layout);

/// Looks for the list that ends where `drawn` is, by going back by what is left until little is
/// left (a fixed point: cloth gives way by far less than a stitch is moved). No stitch over 12 mm
/// or under 0.3 mm that was none before: where moving would make one, both its ends move alike.
/// Throws Error for sewing outside the field.
ClothCompensation compensated(const Pattern& drawn, const ClothLaw& law, const Field& field);

}  // namespace rt
