// A drawn shape turned into sewing.
#pragma once

#include <optional>

#include "row_fill.h"
#include "satin.h"

namespace rt {

enum class Underlay { None, Light, Full };

/// A shape of one colour: an area, or a line with a width.
struct Shape {
  std::string element;  ///< Where it comes from, for reports.
  Colour colour;
  Area area;                ///< Filled; empty for a line.
  std::vector<Point> line;  ///< Stroked; empty for an area.
  double line_width_mm = 0;
  bool closed = false;   ///< The line's ends join.
  bool clipped = false;  ///< The area was cut by other outlines: slivers may hang on it.
  LineEnd end = LineEnd::Butt;
  LineJoin join = LineJoin::Mitre;
  double mitre_limit = 4;
};

struct DigitiseOptions {
  FillOptions fill;
  SatinOptions satin;
  std::optional<double> angle_deg;  ///< Unset: along the shape, so that rows cross its narrow way.
  double run_length_mm = 2.5;
  double least_column_mm = 1.0;  ///< Narrower lines become runs.
  double satin_up_to_mm = 6.0;   ///< Shapes whose strokes are up to this wide become columns.
  double least_area_mm2 = 1.0;   ///< Smaller specks are left out.
  Underlay underlay = Underlay::Light;
  TieRule ties = {};
};

/// What became of a shape.
struct SewnShape {
  std::string element;
  Kind kind = Kind::Unknown;  ///< Unknown: left unsewn.
  double area_mm2 = 0;
  std::vector<Strand> strands;
};

/// The area that a shape's ink covers.
Area inkOf(const Shape& shape);
SewnShape digitise(const Shape& shape, const DigitiseOptions& options, Point start);

}  // namespace rt
