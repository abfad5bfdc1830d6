#include "measured_curve.h"

#include <algorithm>

#include "error.h"
#include "gauge.h"

namespace rt {

FittedCurve fitted(const MeasuredCurve& c) {
  switch (c.given) {
    case MeasuredCurve::Given::Radius:
      return {c.radius_mm, 0};
    case MeasuredCurve::Given::Chord:
      if (c.chord_mm <= 0 || c.sagitta_mm <= 0) return {};
      return {arcFromChord(c.chord_mm, c.sagitta_mm).radius_mm, 0};
    case MeasuredCurve::Given::Points:
      break;
  }
  const std::optional<ArcGauge> arc = arcThrough(c.points_mm);
  if (!arc)
    throw Error(std::to_string(c.points_mm.size()) + " points make no curve", "points of a curve",
                "give three or more that do not lie on a line");
  return {arc->radius_mm, arc->rms_mm};
}

double baselineRadius_mm(const MeasuredCurve& curve, ArcSide side, double height_mm) {
  const double radius = fitted(curve).radius_mm;
  if (radius <= 0 || !curve.clear_mm) return radius;
  return radius + *curve.clear_mm + (side == ArcSide::Inside ? height_mm : 0);
}

void follow(TextSource& text) {
  text.arc_radius_mm = baselineRadius_mm(text.curve, text.arc_side, text.height_mm);
}

void follow(TextSource& text, const MeasuredCurve& curve) {
  text.curve = curve;
  follow(text);
}

void bendTo(TextSource& text, double radius_mm) {
  text.curve = {};
  text.curve.radius_mm = text.arc_radius_mm = radius_mm;
}

ChordOf chordOf(double radius_mm, double length_mm) {
  if (!(radius_mm > 0)) return {};
  const double half = std::min(length_mm / 2 / radius_mm, kPi);
  return {2 * radius_mm * std::sin(half), radius_mm * (1 - std::cos(half))};
}

}  // namespace rt
