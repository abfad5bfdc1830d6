// Monograms: two or three initials, the middle one larger, in a frame of satin.
#pragma once

#include "letter.h"

namespace rt {

enum class MonogramFrame { Bare, Circle, Diamond, Shield };

struct MonogramOptions {
  LetterOptions letters;  ///< `height_mm` is of the largest initial; arcs and lines do not apply.
  MonogramFrame frame = MonogramFrame::Circle;
  double centre_factor = 1.5;  ///< The middle one of three against its neighbours.
  double room_mm = 2.5;        ///< Between sewn letters and the frame, at least.
  double frame_mm = 1.6;       ///< Width of the frame's column.
};

/// Sets two initials side by side, or three with the middle one larger, all standing on one middle
/// line, and closes a frame around them, as small as leaves `room_mm`. The middle of the largest
/// initial is at (0, 0) level; its baseline at y = 0. Spaces and points between initials are left
/// out. Throws Error for other counts of letters and like `letter`.
Lettering monogram(const std::string& initials, const Face& face, const MonogramOptions& options);

/// The frame's centre line, closed, up to `size_mm` wide and high, centred on (0, 0).
std::vector<Point> frameLine(MonogramFrame frame, double size_mm);

}  // namespace rt
