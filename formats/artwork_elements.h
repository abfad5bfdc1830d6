// The elements of a drawing: which of them draw, what they are called and what is left out. Part of
// reading artwork.
#pragma once

#include "artwork.h"

namespace rt {

inline constexpr double kPixel_mm = 25.4 / 96;  ///< The CSS pixel.

/// An element that draws, and where its ink lies.
struct NamedInk {
  std::string id;    ///< In the cleaned drawing; made up where the drawing has none.
  std::string name;  ///< For people: its own id, or its tag and number.
  Box ink_px;
};

/// More elements than this are not looked up one by one; their shapes go by number.
inline constexpr size_t kMostNamed = 400;

/// A drawing without what is not sewn (text, pictures), every drawing element with an id.
struct CleanDrawing {
  std::string svg;
  std::vector<NamedInk> names;  ///< In painting order; their ink is not known yet.
  std::vector<std::string> warnings;
};
/// Throws Error if it is not well-formed XML or not an SVG drawing. A document type is dropped, so
/// that no entity is followed.
CleanDrawing cleaned(std::string_view svg, const std::string& where);

/// Tag without its prefix.
std::string_view localName(const char* name);

/// Gives shapes the names of the elements that drew them: in painting order, the next element whose
/// ink lies where the shape's does; a shape that a clip made smaller takes the only element between
/// its neighbours' that holds it. Where none does the shape keeps its number.
void nameShapes(Artwork& artwork, const std::vector<NamedInk>& names);

}  // namespace rt
