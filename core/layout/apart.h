// A finished design taken apart into pieces.
#pragma once

#include "arrange.h"

namespace rt {

enum class ApartBy { Colour, Trim, Region };

/// The piece's blocks shared out into pieces of their own: by colour, by trims, or by regions whose
/// thread lies together (bounds that overlap or stand under 1 mm apart). Every stitch stays where
/// it is; the first part keeps the id, others count up from `next_id`. Parts are StitchSource
/// pieces. One part: the piece comes back as it is.
std::vector<Piece> takenApart(const Piece& piece, ApartBy by, int next_id);

/// The blocks that lie with most of their thread inside a ring (layout frame), and the rest. Either
/// may be missing; then the piece comes back as it is.
std::vector<Piece> cutOut(const Piece& piece, const Ring& lasso, int next_id);

}  // namespace rt
