// Text into placed letters and their stitches.
#pragma once

#include <optional>

#include "column_graph.h"
#include "stroke_face.h"

namespace rt {

enum class ArcSide { Inside, Outside };

struct LetterOptions {
  double height_mm = 10;               ///< Cap height: of H, sewn edge to sewn edge.
  double arc_radius_mm = 0;            ///< Of the baseline; 0 is straight.
  ArcSide arc_side = ArcSide::Inside;  ///< Heads toward the centre, or away from it.
  double turn_deg = 0;                 ///< Of the whole text about (0, 0).
  double gap_mm = 0;                   ///< Added to every gap.
  double pull_mm = 0.20;
  double spacing_mm = 0.40;
  Colour colour{0x2f5d50};
};

/// One letter where it stands.
struct PlacedGlyph {
  std::string text;  ///< UTF-8.
  Point at;          ///< Baseline under the middle of the advance.
  double angle_deg = 0;
  /// Least distance between the sewn thread of this letter and the next; unset at a word's end.
  std::optional<double> gap_to_next_mm;
  std::optional<bool> joined_to_next;
};

struct Lettering {
  Pattern pattern;
  std::vector<PlacedGlyph> glyphs;
  double span_deg = 0;  ///< Of the advance widths over the radius; 0 if straight.
  double advance_mm = 0;
  std::vector<std::string> warnings;
};

/// Letters and thread nearer than this count as joined, mm.
inline constexpr double kJoined_mm = 0.2;

/// Sets one line of text (UTF-8, composed). Straight: baseline on y = 0, centred on x = 0. On an
/// arc: the middle of the baseline at (0, 0), running along +x there. Throws Error for text without
/// a letter that the face has, a height that is not over 0, or text longer than its circle.
Lettering letter(const std::string& text, const StrokeFace& face, const LetterOptions& options);

/// The code points of UTF-8 text. Throws Error on a broken sequence.
std::u32string decodeUtf8(const std::string& text);
std::string encodeUtf8(char32_t code);

}  // namespace rt
