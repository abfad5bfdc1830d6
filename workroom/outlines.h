// Outlines that are sewn before what they belong to.
#pragma once

#include "making.h"

namespace rt {

/// Adds for a piece two runs along its outline, sewn before it: a placement line, then a wait ("lay
/// the cloth") and a tack-down line just inside. Pieces that are equal to it but for their place
/// get theirs too: all placement lines first, one wait, all tack-downs, then the covers. The
/// outline is of the sewn area, gaps up to 2 mm closed. Lines and pieces keep one group. Throws
/// Error for an unknown id or a piece without area.
Job outlinedFirst(Job job, int piece_id, const ShopPractice& practice);

/// The outline of a piece's sewn area in the layout, outer rings only, the largest first.
std::vector<Ring> outlineOf(const Piece& piece);

}  // namespace rt
