// Pieces placed against each other: anchors, repeats, borders, basting. Values in, values out.
#pragma once

#include <vector>

#include "piece.h"

namespace rt {

/// Nine places of a box, from the top left in reading order.
enum class Anchor { TopLeft, Top, TopRight, Left, Centre, Right, BottomLeft, Bottom, BottomRight };
Point anchorOf(const Box& box, Anchor anchor);
/// The piece moved so that its anchor (of its bounds) comes to `at`.
Piece anchoredAt(Piece piece, Anchor anchor, Point at);
/// The piece sized as a whole to a width or height of its bounds, about its own place.
Piece sizedToWidth(Piece piece, double width_mm);
Piece sizedToHeight(Piece piece, double height_mm);

/// Moves pieces so that they stand at even gaps between the first and the last, level or upright.
enum class Axis { X, Y };
std::vector<Piece> distributed(std::vector<Piece> pieces, Axis axis);

struct RepeatOptions {
  int columns = 2, rows = 1;
  double gap_x_mm = 5, gap_y_mm = 5;  ///< Between the bounds of neighbours.
  bool mirror_alternately = false;    ///< Every second one along a row is mirrored.
};
/// Copies beside and below the piece, which is the first; ids count up from `next_id`. Throws Error
/// for counts under 1 or over 2,500 in all.
std::vector<Piece> repeatedInGrid(const Piece& piece, const RepeatOptions& options, int next_id);
/// `count` copies from the piece's centre to `to`, evenly, the piece being the first.
std::vector<Piece> repeatedAlongLine(const Piece& piece, Point to, int count, int next_id);
/// `count` copies on a circle about `centre` through the piece's centre, over `span_deg` clockwise,
/// each turned with the circle. A full turn leaves no copy on top of the first.
std::vector<Piece> repeatedAlongArc(const Piece& piece, Point centre, double span_deg, int count,
                                    int next_id);

/// A basting outline: a closed run of long stitches around a box. It is to be sewn first.
Pattern bastingAround(const Box& box, double stitch_mm, Colour colour, const TieRule& ties = {});

}  // namespace rt
