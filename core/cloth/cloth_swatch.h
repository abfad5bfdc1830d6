// A swatch that shows how cloth moves: bars, rings, filled squares with outlines, columns of
// several widths, in two directions.
#pragma once

#include "pattern.h"

namespace rt {

struct SwatchShape {
  std::string name, kind;  ///< `mark`, `fill`, `outline`, `column` or `ring`.
  Point at;                ///< Its middle.
  double width_mm = 0, height_mm = 0;
};
struct SwatchMark {
  std::string id;
  Point at;  ///< The crossing of its two lines.
};

struct ClothSwatch {
  Pattern pattern;
  std::vector<SwatchShape> shapes;
  std::vector<SwatchMark> marks;
};

inline constexpr double kLeastSwatch_mm = 40, kMostSwatch_mm = 120;

/// Of one thread, within width x height mm about the origin; 60 x 60 sews in less than six minutes.
/// Marks are sewn first: they go with the cloth all the way. `spacing_mm`: of satin and rows.
/// Of larger sizes the middle 120 mm are sewn. Throws Error under 40 mm.
ClothSwatch clothSwatch(double width_mm, double height_mm, double row_spacing_mm,
                        double satin_spacing_mm);

}  // namespace rt
