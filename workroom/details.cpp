#include "details.h"

#include <sstream>

#include "error.h"
#include "hand_stroke.h"
#include "length.h"

namespace rt {
namespace {

constexpr double kThinLine_mm = 0.3;  // drawn width of what is sewn as a run

std::string pathOf(const std::vector<Point>& line, Point origin, bool back, bool close) {
  std::ostringstream d;
  auto to = [&](char word, Point p) {
    d << word << formatNumber(p.x - origin.x, 3) << ' ' << formatNumber(p.y - origin.y, 3) << ' ';
  };
  for (size_t i = 0; i < line.size(); ++i) to(i == 0 ? 'M' : 'L', line[i]);
  for (size_t i = line.size() - 1; back && i-- > 0;) to('L', line[i]);
  if (close) d << 'Z';
  return d.str();
}

const char* nameOf(Detail kind) {
  switch (kind) {
    case Detail::Run:
      return "drawn run";
    case Detail::DoubleRun:
      return "drawn double run";
    case Detail::Satin:
      return "drawn satin line";
    case Detail::Fill:
      break;
  }
  return "drawn fill";
}

}  // namespace

Made detailFromStroke(const std::vector<Point>& drawn, const DetailOptions& o, const Fabric& fabric,
                      const Bench& bench) {
  const HandStroke stroke = handStroke(drawn);
  if (stroke.points.size() < 2 || polylineLength(stroke.points) < 1)
    throw Error("the line is too short to sew", "drawing", "draw at least 1 mm");
  if (o.kind == Detail::Satin && o.width_mm < fabric.least_column_mm)
    throw Error(
        "a satin line of " + formatNumber(o.width_mm, 2) + " mm is too narrow for " + fabric.name,
        "drawing",
        "make it " + formatNumber(fabric.least_column_mm, 1) + " mm or wider, or sew a double run");
  const bool fill = o.kind == Detail::Fill;
  const double width = o.kind == Detail::Satin ? o.width_mm : fill ? 0 : kThinLine_mm;
  const Box box = boundsOf(stroke.points).grown(width / 2 + 1);
  std::ostringstream svg;
  svg << "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"" << formatNumber(box.width(), 3)
      << "mm\" height=\"" << formatNumber(box.height(), 3) << "mm\" viewBox=\"0 0 "
      << formatNumber(box.width(), 3) << ' ' << formatNumber(box.height(), 3) << "\"><path d=\""
      << pathOf(stroke.points, {box.left, box.top}, o.kind == Detail::DoubleRun,
                fill || (stroke.closed && o.kind != Detail::DoubleRun))
      << "\" fill=\"" << (fill ? o.colour.hex() : "none") << "\" stroke=\""
      << (fill ? "none" : o.colour.hex()) << "\" stroke-width=\"" << formatNumber(width, 3)
      << "\" stroke-linejoin=\"round\" stroke-linecap=\"round\"/></svg>";
  Piece piece;
  piece.name = nameOf(o.kind);
  ArtworkSource source;
  source.file = piece.name;
  source.svg = svg.str();
  piece.source = source;
  piece.place.at = boundsOf(stroke.points).centre();
  return remade(piece, fabric, bench);
}

}  // namespace rt
