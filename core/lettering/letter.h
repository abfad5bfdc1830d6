// Text into placed letters and their stitches.
#pragma once

#include <optional>

#include "column_graph.h"
#include "face.h"

namespace rt {

enum class ArcSide { Inside, Outside };

struct LetterOptions {
  double height_mm = 10;               ///< Cap height: of H, sewn edge to sewn edge.
  double arc_radius_mm = 0;            ///< Of the first line's baseline; 0 is straight.
  ArcSide arc_side = ArcSide::Inside;  ///< Heads toward the centre, or away from it.
  double turn_deg = 0;                 ///< Of the whole text about (0, 0).
  double gap_mm = 0;                   ///< Added to every gap.
  std::vector<double> gaps_mm;         ///< Added to the gap after each letter, spaces not counted.
  double line_spacing = 1.6;           ///< From baseline to baseline, in cap heights.
  double pull_mm = 0.20;
  double spacing_mm = 0.40;
  double least_column_mm = 0.8;  ///< Narrower columns become double runs.
  Colour colour{0x2f5d50};
  SewingRules rules = {};
};

/// One letter where it stands.
struct PlacedGlyph {
  std::string text;  ///< UTF-8.
  Point at;          ///< Baseline under the middle of the advance.
  double angle_deg = 0;
  /// Least distance between the sewn thread of this letter and the next; unset at a word's end.
  std::optional<double> gap_to_next_mm;
  std::optional<bool> joined_to_next;
  Point gap_at;  ///< Where the two come nearest; set with the gap.
  int line = 0;
};

/// What a person should know of a lettering, for people above the core to put in words.
struct LetterWarning {
  enum class What {
    NoLetter,       ///< The face has no `letters`; left out.
    NotJoined,      ///< `letters` of a joined face stand `mm` apart.
    Crowded,        ///< `letters` stand `mm` apart, too near to be told apart when sewn.
    Widened,        ///< The gap of `letters` is `mm` wider along the baseline, for the same reason.
    HeightOutside,  ///< `mm` is outside the face's `low_mm` to `high_mm`.
  };
  What what = What::NoLetter;
  std::string letters;  ///< UTF-8.
  double mm = 0, low_mm = 0, high_mm = 0;
  friend bool operator==(const LetterWarning&, const LetterWarning&) = default;
};

struct Lettering {
  Pattern pattern;
  std::vector<PlacedGlyph> glyphs;
  double span_deg = 0;    ///< Of the longest line's advance widths over its radius; 0 if straight.
  double advance_mm = 0;  ///< Of the longest line.
  std::vector<LetterWarning> warnings;
};

/// Letters and thread nearer than this count as joined, mm.
inline constexpr double kJoined_mm = 0.2;
/// Gaps under this close up when they are sewn, mm (shop practice).
inline constexpr double kCrowdedGap_mm = 0.5;

/// Sets text (UTF-8, composed; lines parted by line breaks). Straight: the first baseline on y = 0,
/// centred on x = 0. On an arc: the middle of the first baseline at (0, 0), running along +x there;
/// further lines lie on circles about the same centre. Letters whose heads would run into one
/// another on the inside of an arc are moved apart until they are told apart, unless a gap below 0
/// was asked for or the circle has no room. Throws Error for text without a letter that
/// the face has, a height that is not over 0, or text longer than its circle.
Lettering letter(const std::string& text, const Face& face, const LetterOptions& options);

/// All of it turned about (0, 0), clockwise as seen, to 0.01 mm.
Lettering turned(Lettering lettering, double turn_deg);

/// How long the longest line of a text is as `letter` sets it (its `advance_mm`), mm, without
/// sewing it. Throws Error likewise.
double setLength_mm(const std::string& text, const Face& face, const LetterOptions& options);

/// The largest cap height whose advance widths stay within `span_mm`; 0 if none does. Throws Error
/// like `letter`.
double heightThatFits(const std::string& text, const Face& face, const LetterOptions& options,
                      double span_mm);

/// Gap at the heads of letters on the inside of a curve: gap·(R - h)/R (similar triangles).
double gapAtHeads_mm(double gap_mm, double radius_mm, double height_mm);

}  // namespace rt
