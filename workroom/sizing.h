// What becomes of a piece's stitches when it is sized on the cloth.
#pragma once

#include "making.h"
#include "recognise.h"

namespace rt {

/// A piece that this program digitised is made again at its new size: the scale of its placement
/// goes into its source, and under 2 % stays with it, so that the size is met exactly. Stitches
/// that were read stay stretched. Throws Error like `remade`.
Piece settled(const Piece& piece, const Fabric& fabric, const Bench& bench);

/// A read piece with its stitches sewn again at their own spacing for the size that it has now, or
/// back to the stitches as read.
Piece respaced(const Piece& piece, const Fabric& fabric, double spacing_factor = 1);
Piece asRead(const Piece& piece);

/// What the blocks of a read piece are, as recognised or as set right by hand; in sewing order.
struct KnownBlock {
  Recognised is;
  Kind declared = Kind::Unknown;  ///< Unknown: recognised from bare stitches.
  size_t stitches = 0;
  Box bounds;  ///< In the layout.
};
std::vector<KnownBlock> knownBlocks(const Piece& piece);
/// The piece with one block's kind set right: Satin, Fill or Run; Unknown leaves it to be
/// recognised. No stitch moves, but a piece that was re-spaced is sewn again by the new kind.
Piece withKind(const Piece& piece, size_t block, Kind kind, const Fabric& fabric);

/// Both ways of sizing a read piece side by side.
struct SizingChoice {
  double scale_x = 1, scale_y = 1;  ///< Against the stitches as read.
  size_t stitches_kept = 0, stitches_respaced = 0;
  double thread_kept_mm = 0, thread_respaced_mm = 0;
  double spacing_kept_mm = 0, spacing_respaced_mm = 0;  ///< Of the largest block.
  double peak_kept = 0, peak_respaced = 0;              ///< mm/mm²
  double holes_kept = 0, holes_respaced = 0;            ///< Peak, per mm².
  double minutes_kept = 0, minutes_respaced = 0;
  bool respacing_advised = false;
  double machine_density_percent = 100;  ///< The setting where a machine sizes it itself.
};
SizingChoice sizingChoice(const Piece& piece, const Fabric& fabric, const Bench& bench);

}  // namespace rt
