// Letters set side by side on a straight baseline, before any arc. Part of lettering; not for other
// rooms.
#pragma once

#include "letter.h"

namespace rt {

/// A letter in text coordinates: baseline at y = 0, mm.
struct SetGlyph {
  std::string text;            ///< UTF-8.
  double left = 0, right = 0;  ///< Of the advance.
  int word = 0;
  std::vector<std::vector<Point>> strokes;  ///< Stroke faces.
  Area outline;                             ///< Outline faces.
};

struct SetLine {
  std::vector<SetGlyph> glyphs;  ///< Centred: the advances' middle is at x = 0.
  std::u32string missing;        ///< Characters that the face lacks.
  double column_mm = 0;          ///< Stroke faces: width of the columns.
};

/// Joined letters that are one drawing, at most: of longer words what follows is another, which
/// laps the first.
inline constexpr size_t kLongestDrawing = 40;
/// Where the drawing that begins with the letter `first` of a joined word ends.
size_t drawingEnd(const std::vector<SetGlyph>& glyphs, size_t first);

/// Sets one line. In a joining face neighbours of a word are closed up, and bridged where they do
/// not meet by themselves.
SetLine setLine(const std::u32string& text, const Face& face, const LetterOptions& options,
                size_t first_gap);

}  // namespace rt
