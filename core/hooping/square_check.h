// Whether two lines that were drawn by hand stand square: three lengths to measure.
#pragma once

#include "geometry.h"

namespace rt {

/// Arms from the cross along both lines, and the diagonal between their ends: 3, 4 and 5 parts, as
/// large as the layout lets them be (Pythagoras), or the layout's own halves where it is small.
struct SquareCheck {
  double along_mm = 0, up_mm = 0;  ///< Of the arms, from the cross.
  double diagonal_mm = 0;          ///< Between their ends where the lines are square.
  double per_half_degree_mm = 0;   ///< That the diagonal is longer or shorter at 0.5° off square.
  double costs_mm = 0;             ///< How far the layout's outermost point then lands off.
};

/// For a layout with these bounds about its cross; all 0 for an empty one.
SquareCheck squareCheckFor(const Box& layout);

}  // namespace rt
