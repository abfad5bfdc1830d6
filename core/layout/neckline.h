// Lettering fitted to a curve of the garment: a neckline, a hem, a pocket's edge.
#pragma once

#include <array>

#include "piece.h"

namespace rt {

struct NecklineOptions {
  std::array<Point, 3> picked;  ///< On the curve, layout frame; the outer two end the flat part.
  double away_mm = 8;           ///< From the curve to the nearer edge of the capitals.
  double centre_line_deg = 0;   ///< Of the garment, through the layout's cross.
  std::optional<double> height_mm;  ///< Of the capitals; unset: as tall as fits.
};

/// Lettering that follows the curve.
struct NecklineFit {
  Arc curve;             ///< Through the picked points.
  double radius_mm = 0;  ///< Of the baseline.
  ArcSide side = ArcSide::Inside;
  double height_mm = 0;  ///< Cap height of the text, …
  double most_mm = 0;    ///< … and the largest that stays over the flat part, to 0.1 mm.
  double room_mm = 0;    ///< Of the baseline over the flat part.
  double text_mm = 0;    ///< Of the text's advance at that height.
  Placement place;       ///< Of the text: its middle on the centre line, or amid the curve.
  bool on_centre_line = false;
};

/// Letters stand with heads up: toward the centre where the curve hangs down, away from it where it
/// bows up; the text lies below a hanging curve and above a bowed one. `options` gives gaps; its
/// height and arc are not read. Throws Error for points on a line or text for which no height fits.
NecklineFit fitNeckline(const std::string& text, const Face& face, const LetterOptions& options,
                        const NecklineOptions& neckline);

/// Letters whose advance reaches past the flat part when set at the options' own height, in order.
std::vector<std::string> pastTheFlatPart(const std::string& text, const Face& face,
                                         const LetterOptions& options, double room_mm);

}  // namespace rt
