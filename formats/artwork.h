// Artwork SVG into shapes. Styles, transforms, clips and `use` are resolved by librsvg; this room
// takes the finished paths.
#pragma once

#include "shape.h"

namespace rt {

struct Artwork {
  std::vector<Shape> shapes;          ///< In painting order, mm, at the drawing's own size.
  std::vector<std::string> warnings;  ///< Ink that is left out, by name.
};

/// External files and entities are never followed. Throws Error if it is not a drawing or shows no
/// ink that can be sewn.
Artwork readArtwork(std::string_view svg, const std::string& where);

/// The drawing scaled so that its ink is `width_mm` wide (0: its own size) and centred on (0, 0).
void placeArtwork(Artwork& artwork, double width_mm);

/// Sizes a drawing about (0, 0); strokes widen by the mean of both scales.
void sizeArtwork(Artwork& artwork, double scale_x, double scale_y);

/// The shapes sewn in painting order, neighbours of one colour without a cut where they are near.
struct Digitised {
  Pattern pattern;
  std::vector<SewnShape> shapes;  ///< Strands left out.
  std::vector<std::string> warnings;
};
Digitised digitiseArtwork(const Artwork& artwork, const DigitiseOptions& options,
                          const std::string& piece);

}  // namespace rt
