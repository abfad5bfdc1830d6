// Faces: letters drawn with single strokes, or with outlines.
#pragma once

#include <map>
#include <memory>
#include <string>
#include <vector>

#include "polygon.h"

namespace rt {

/// One letter of a stroke face: strokes in face units, y down, baseline at y = 0.
struct StrokeGlyph {
  double left = 0, right = 0;  ///< Of the advance; the next letter's left goes at this right.
  std::vector<std::vector<Point>> strokes;
  double advance() const { return right - left; }
};

/// One shape of an outline face, in cap heights, y down, baseline at y = 0.
struct OutlineGlyph {
  std::string text;    ///< The characters that it stands for, UTF-8.
  double advance = 0;  ///< Kerning to the next one included.
  Area outline;        ///< From the pen's place; empty for a space.
};

/// Gives the shapes of a text; made by the room that reads font files. Safe to use from many
/// threads.
class OutlineSource {
 public:
  virtual ~OutlineSource() = default;
  /// Shapes in order, with kerning, marks and (if asked) ligatures. Characters that the face lacks
  /// are left out and added to `missing`.
  virtual std::vector<OutlineGlyph> shape(const std::u32string& text, bool ligatures,
                                          std::u32string& missing) const = 0;
};

/// What faces.json says of a face, and its letters: `glyphs` or `outlines`.
struct Face {
  std::string id, name, style, licence, file;
  bool joins = false;
  double min_height_mm = 0, max_height_mm = 0;
  double weight = 0.12;         ///< Stroke faces: column width over cap height.
  double least_width_mm = 0.8;  ///< Stroke faces: column width at small sizes.
  double cap_units = 21;        ///< Stroke faces: height of H.
  std::map<char32_t, StrokeGlyph> glyphs;
  std::shared_ptr<const OutlineSource> outlines;
};

/// Reads a Hershey stroke list: one letter a line, ASCII from the space on; baseline 9 below and
/// caps 12 above the letter's origin. Throws Error with the line.
std::map<char32_t, StrokeGlyph> parseHershey(const std::string& text, const std::string& where);

/// The code points of UTF-8 text. Throws Error on a broken sequence.
std::u32string decodeUtf8(const std::string& text);
std::string encodeUtf8(char32_t code);

}  // namespace rt
