// Curves of an item that lettering goes along: a radius, a chord and its sagitta, or points by
// ruler.
#pragma once

#include "piece.h"

namespace rt {

/// The circle of a curve. 0 where it is straight or not yet given whole: a chord without its
/// sagitta. `rms_mm`: of the points' distances from it, else 0. Throws Error for a chord and a
/// sagitta of no circle, and for points that make none.
struct FittedCurve {
  double radius_mm = 0, rms_mm = 0;
};
FittedCurve fitted(const MeasuredCurve& curve);

/// Radius of the baseline of letters of a height along the curve: on it, or as far off as is asked,
/// counted to the nearer edge of the capitals: their feet where heads point out, their heads else.
double baselineRadius_mm(const MeasuredCurve& curve, ArcSide side, double height_mm);

/// The text along the curve that it knows, its baseline worked out anew.
void follow(TextSource& text);
/// The same along another curve.
void follow(TextSource& text, const MeasuredCurve& curve);
/// The baseline itself bent to a radius; 0: straight.
void bendTo(TextSource& text, double radius_mm);

/// Chord and sagitta of a baseline of some length, as they show for a text.
struct ChordOf {
  double chord_mm = 0, sagitta_mm = 0;
};
ChordOf chordOf(double radius_mm, double length_mm);

}  // namespace rt
