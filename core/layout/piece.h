// Pieces of a layout: what they are made of and where they lie.
#pragma once

#include <memory>
#include <variant>

#include "monogram.h"
#include "shape.h"

namespace rt {

/// Where a piece lies: its own frame is centred on (0, 0), then mirrored, sized, turned and moved.
struct Placement {
  Point at;                         ///< Of the piece's centre, layout frame, mm.
  double turn_deg = 0;              ///< Clockwise as seen.
  double scale_x = 1, scale_y = 1;  ///< Over 0.
  bool mirrored = false;            ///< Left and right exchanged before anything else.
  friend bool operator==(const Placement&, const Placement&) = default;
};

Transform transformOf(const Placement& place);

/// Stitches as they were read. A piece that was re-spaced keeps them to go back to.
struct StitchSource {
  std::string file;                     ///< Name only, for show.
  std::shared_ptr<const Pattern> bare;  ///< As read; null while the piece is as it was read.
  double scale_x = 1, scale_y = 1;      ///< What `bare` was sized by when it was re-spaced.
  double spacing_factor = 1;            ///< And opened by.
  friend bool operator==(const StitchSource& a, const StitchSource& b);
};

/// A drawn colour that is sewn in another thread.
struct ThreadSwap {
  Colour drawn, sewn;
  friend bool operator==(const ThreadSwap&, const ThreadSwap&) = default;
};

/// A drawing, kept whole so that it can be sewn again in another way.
struct ArtworkSource {
  std::string file, svg;
  double width_mm = 0;                       ///< 0: the drawing's own.
  double scale_x = 1, scale_y = 1;           ///< On top of it, when it was sized on the cloth.
  std::optional<double> row_spacing_mm{};    ///< Unset: what thread and fabric ask for, …
  std::optional<double> satin_spacing_mm{};  ///< … likewise, …
  std::optional<double> pull_mm{};           ///< … and the fabric's pull compensation.
  double stitch_length_mm = 3.5;
  std::optional<double> angle_deg;
  Underlay underlay = Underlay::Light;
  std::vector<ThreadSwap> threads{};  ///< Colours that are not among them are sewn as drawn.
  friend bool operator==(const ArtworkSource&, const ArtworkSource&) = default;
};

/// A curve that lettering goes along, as a person measured it. What was given stays given: text and
/// height change, and the baseline is worked out anew.
struct MeasuredCurve {
  enum class Given { Radius, Chord, Points };
  Given given = Given::Radius;
  double radius_mm = 0;                 ///< Where the radius is given; 0: straight.
  double chord_mm = 0, sagitta_mm = 0;  ///< Where they are given; 0: not yet.
  std::vector<Point> points_mm;         ///< Three or more by ruler, in their order.
  std::optional<double>
      clear_mm{};  ///< To the nearer edge of the capitals; unset: they stand on it.
  friend bool operator==(const MeasuredCurve&, const MeasuredCurve&) = default;
};

/// One or more lines of text.
struct TextSource {
  std::string text, face = "plain-stroke";
  double height_mm = 20;
  double arc_radius_mm = 0;  ///< Of the baseline: `follow(curve)` sets it; 0: straight.
  ArcSide arc_side = ArcSide::Outside;
  MeasuredCurve curve{};  ///< What was measured of the curve that the arc goes along.
  double gap_mm = 0;
  std::vector<double> gaps_mm{};       ///< After each letter, spaces not counted; may be short.
  double line_spacing = 1.6;           ///< In cap heights.
  double stretch = 1;                  ///< Widened by this after setting; 1 for letters as drawn.
  std::optional<double> spacing_mm{};  ///< Unset: what thread and fabric ask for, …
  std::optional<double> pull_mm{};     ///< … and the fabric's pull compensation.
  Colour colour{0x8a5a2b};
  bool monogram = false;  ///< Two or three initials in a frame instead of running text.
  MonogramFrame frame = MonogramFrame::Circle;
  friend bool operator==(const TextSource&, const TextSource&) = default;
};

using PieceSource = std::variant<StitchSource, ArtworkSource, TextSource>;

struct Piece {
  int id = 0;  ///< Unique within the layout, never used again.
  std::string name;
  PieceSource source;
  std::shared_ptr<const Pattern> stitches;  ///< In the piece's own frame; never null.
  Placement place;
  int group = 0;  ///< Pieces with the same number over 0 are chosen and moved together.
  friend bool operator==(const Piece& a, const Piece& b);
};

/// The piece's stitches where they lie, under its name.
Pattern laidOut(const Piece& piece);
/// What pieces are called in a layout: names that occur twice get a number.
std::vector<std::string> namesIn(const std::vector<Piece>& pieces);
/// All pieces in order, one after another, under those names.
Pattern laidOut(const std::vector<Piece>& pieces);
/// Bounds of laid thread in the layout frame.
Box boundsOf(const Piece& piece);
/// Moves a pattern's thread bounds' centre to (0, 0); gives where it was.
Point centre(Pattern& pattern);
/// Stitches in the layout frame as a piece that lies where they lay; id 0.
Piece pieceOf(Pattern laid, const std::string& name);

}  // namespace rt
