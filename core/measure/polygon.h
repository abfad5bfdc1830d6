// Areas with holes: rings of points, filled by the even-odd rule.
#pragma once

#include <span>
#include <vector>

#include "geometry.h"

namespace rt {

/// A closed ring; the last point joins the first. mm.
using Ring = std::vector<Point>;
/// Any number of rings, filled even-odd: outlines and holes alike. mm.
using Area = std::vector<Ring>;

enum class FillRule { EvenOdd, NonZero };

double signedArea_mm2(const Ring& ring);
/// Filled area, mm². Rings must not cross (see `simplified`).
double area_mm2(const Area& area);
Box boundsOf(const Area& area);
bool contains(const Ring& ring, Point p);
bool contains(const Area& area, Point p);
Area transformed(const Area& area, const Transform& by);

/// Boolean operations by polygon clipping on a 1/10,000 mm lattice. Results are simple rings whose
/// holes wind the other way.
Area simplified(const Area& area, FillRule rule);
Area united(const Area& a, const Area& b);
/// All at once. Each area must come from an operation of this header, or wind its holes the other
/// way from their outlines.
Area united(std::span<const Area> areas);
Area difference(const Area& a, const Area& b);
Area intersection(const Area& a, const Area& b);
/// The area without what is thinner than `width_mm`, such as the slivers and spikes that clipping
/// leaves where two outlines run along each other; corners are rounded by as little.
Area withoutSlivers(const Area& area, double width_mm);
/// What lies in the box, ring by ring (Sutherland and Hodgman 1974): quick, but rings that were cut
/// may run along the box's edge to and fro.
Area cropped(const Area& area, const Box& box);
/// Grown (or, below 0, shrunk) by `by_mm`, with round corners.
Area grown(const Area& area, double by_mm);
/// The area within `width_mm` / 2 of a line; `square` ends reach half a width further. Corners are
/// round with round ends, else mitred.
enum class LineEnd { Butt, Square, Round };
Area widened(std::span<const Point> line, double width_mm, LineEnd end);

enum class LineJoin { Mitre, Round, Bevel };
/// How a line with a width is drawn, as SVG has it: a corner whose mitre would be longer than
/// `mitre_limit` widths is cut off.
struct LineStyle {
  double width_mm = 1;
  LineEnd end = LineEnd::Butt;
  LineJoin join = LineJoin::Mitre;
  double mitre_limit = 4;
  bool closed = false;  ///< The last point joins the first; it is not given twice.
};
Area widened(std::span<const Point> line, const LineStyle& style);
/// Where level lines cross the area's outlines: `rows` lines, the first at `top_mm` and `step_mm`
/// apart; of each, x from left to right. Inside lies between the first and the second, the third
/// and the fourth, and so on.
std::vector<std::vector<double>> levelCrossings(const Area& area, double top_mm, double step_mm,
                                                int rows);
/// Connected parts: each an outline followed by its own holes, largest first.
std::vector<Area> separated(const Area& area);

}  // namespace rt
