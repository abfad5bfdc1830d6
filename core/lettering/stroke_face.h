// Faces drawn with single strokes.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "geometry.h"

namespace rt {

/// One letter: strokes in face units, y down, baseline at y = 0.
struct StrokeGlyph {
  double left = 0, right = 0;  ///< Of the advance; the next letter's left goes at this right.
  std::vector<std::vector<Point>> strokes;
  double advance() const { return right - left; }
};

/// What faces.json says of a face, and its letters.
struct StrokeFace {
  std::string id, name, style, licence, file;
  bool joins = false;
  double min_height_mm = 0, max_height_mm = 0;
  double weight = 0.12;         ///< Column width over cap height.
  double least_width_mm = 0.8;  ///< Column width at small sizes.
  double cap_units = 21;        ///< Height of H.
  std::map<char32_t, StrokeGlyph> glyphs;
};

/// Reads a Hershey stroke list: one letter a line, ASCII from the space on; baseline 9 below and
/// caps 12 above the letter's origin. Throws Error with the line.
std::map<char32_t, StrokeGlyph> parseHershey(const std::string& text, const std::string& where);

}  // namespace rt
