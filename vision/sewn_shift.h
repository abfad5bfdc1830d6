// How far sewn thread lies from where it is thought to lie, by the photo itself.
#pragma once

#include <optional>

#include "plane.h"

namespace rt {

/// A straight piece of sewn thread, where it is thought to lie on the plane, mm. Later ones lie on
/// top; colours are counted from 0.
struct LaidStroke {
  Point from, to;
  int colour = 0;
};

struct SewnShift {
  Point by;                    ///< At `about`, mm on the plane, from where it was thought to be.
  PlaceCovariance covariance;  ///< Of `by`, mm²: along a straight edge it is wide.
  double turn_deg = 0;         ///< About `about`: what was clamped together turned together.
};

struct SewnWindow {
  double clear_mm = 1.2;       ///< Places so near to other thread say nothing.
  size_t fewest_places = 400;  ///< Of a grid of pixels, 0.12 to 0.3 mm; fewer tell nothing.
  /// One sigma of how far it is thought to be off: along a straight edge the picture says little,
  /// and it does not slide on weave and noise. 0: as far as it is sought.
  double held_mm = 0;
};

/// The shift and turn under which a picture of `own` (thread 0.4 mm wide, each colour a level of
/// its own, cloth an even slope) fits the photo best within `window`: least squares by variable
/// projection (Kaufman 1975), begun on a grid over `reach_mm`. Places within `clear_mm` of `others`
/// say nothing: they lie elsewhere by as much as is unknown. The covariance counts what is left
/// unexplained as one measurement a half millimetre. Nothing where no thread can be told from
/// cloth.
std::optional<SewnShift> shiftOfSewn(const Photo& photo, const Plane& plane,
                                     const std::vector<LaidStroke>& own,
                                     const std::vector<LaidStroke>& others, const Box& window,
                                     Point about, double reach_mm, const SewnWindow& rule = {});

}  // namespace rt
