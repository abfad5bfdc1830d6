#include "neckline.h"

#include <algorithm>

#include "error.h"

namespace rt {
namespace {

constexpr double kLeastHeight_mm = 2, kMostHeight_mm = 400;

/// Where the garment's centre line crosses the circle nearest to the middle of the curve.
std::optional<Point> onCentreLine(const Arc& arc, double line_deg, Point middle, double reach_mm) {
  const Point along = Transform::turning(line_deg)(Point{0, 1});
  const double foot = dot(arc.centre, along);
  const double off = std::abs(cross(along, arc.centre));
  if (off >= arc.radius_mm) return std::nullopt;
  const double half = std::sqrt(arc.radius_mm * arc.radius_mm - off * off);
  const Point a = along * (foot - half), b = along * (foot + half);
  const Point near = distance(a, middle) < distance(b, middle) ? a : b;
  if (distance(near, middle) > reach_mm) return std::nullopt;
  return near;
}

/// The middle of the arc from the first point through the second to the third.
Point middleOf(const Arc& arc, Point from, Point to, Point through) {
  const Point a = unit(from - arc.centre), c = unit(to - arc.centre);
  Point m = unit(a + c);
  if (dot(m, through - arc.centre) < 0 && arc.span_deg > 180) m = m * -1.0;
  return arc.centre + m * arc.radius_mm;
}

}  // namespace

NecklineFit fitNeckline(const std::string& text, const Face& face, const LetterOptions& options,
                        const NecklineOptions& n) {
  NecklineFit fit;
  fit.curve = arcThrough(n.picked[0], n.picked[1], n.picked[2]);
  const Arc& arc = fit.curve;
  const Point middle = middleOf(arc, n.picked[0], n.picked[2], n.picked[1]);
  const bool hangs = arc.centre.y < middle.y;
  fit.side = hangs ? ArcSide::Inside : ArcSide::Outside;
  auto radiusAt = [&](double h) { return arc.radius_mm + n.away_mm + (hangs ? h : 0); };
  auto roomAt = [&](double h) { return radians(arc.span_deg) * radiusAt(h); };
  LetterOptions straight = options;
  straight.arc_radius_mm = 0;
  auto fits = [&](double h) {
    straight.height_mm = h;
    return setLength_mm(text, face, straight) <= roomAt(h);
  };
  double low = kLeastHeight_mm, high = kMostHeight_mm;
  if (!fits(low) && !n.height_mm)
    throw Error("no letters of 2 mm or more fit over the flat part", "neckline",
                "pick a longer part of the curve or a shorter text");
  while (high - low > 0.05) (fits((low + high) / 2) ? low : high) = (low + high) / 2;
  fit.most_mm = std::floor(low * 10 + 1e-6) / 10;
  fit.height_mm = n.height_mm.value_or(fit.most_mm);
  fit.radius_mm = radiusAt(fit.height_mm);
  fit.room_mm = roomAt(fit.height_mm);
  straight.height_mm = fit.height_mm;
  fit.text_mm = letter(text, face, straight).advance_mm;
  const auto crossing =
      onCentreLine(arc, n.centre_line_deg, middle, std::max(1.0, (fit.room_mm - fit.text_mm) / 2));
  fit.on_centre_line = crossing.has_value();
  const Point out = unit(crossing.value_or(middle) - arc.centre);
  fit.place.at = arc.centre + out * fit.radius_mm;
  // the baseline runs left to right at its middle: along the tangent
  const Point tangent = hangs ? Point{out.y, -out.x} : Point{-out.y, out.x};
  fit.place.turn_deg = degrees(std::atan2(tangent.y, tangent.x));
  return fit;
}

std::vector<std::string> pastTheFlatPart(const std::string& text, const Face& face,
                                         const LetterOptions& options, double room_mm) {
  LetterOptions straight = options;
  straight.arc_radius_mm = 0;
  straight.turn_deg = 0;
  std::vector<std::string> out;
  const Lettering set = letter(text, face, straight);
  for (const PlacedGlyph& g : set.glyphs)
    if (std::abs(g.at.x) > room_mm / 2) out.push_back(g.text);
  return out;
}

}  // namespace rt
