// Frame borders from whole repeats of a motif.
#pragma once

#include "arrange.h"

namespace rt {

/// How a border goes round its corners.
enum class BorderCorner {
  Turned,  ///< One motif stands across each corner, turned by 45°.
  Mitred   ///< Both sides run to the outer edge and are cut on the diagonal.
};

struct BorderOptions {
  double width_mm = 200, height_mm = 140;  ///< Of the border's outer edge.
  double band_mm = 12;                     ///< Height of the repeat.
  Point centre;
  BorderCorner corner = BorderCorner::Turned;
};
/// A border and how well the repeats fit.
struct Border {
  std::vector<Piece> pieces;
  int across = 0, down = 0;                     ///< Whole repeats on each side.
  double stretch_across = 1, stretch_down = 1;  ///< Of a repeat's length; within 5 %.
};
/// The largest part by which a repeat may be stretched or shortened to close a border.
inline constexpr double kMostStretch = 0.05;
/// Whole repeats of a motif along the four sides, the motif's own length along the sides, heads
/// outward. Turned corners: the repeats run between squares as wide as the band, in each of which
/// one motif stands turned by 45°. Mitred corners: the repeats run over the whole outer length and
/// the end ones are cut along the corner's diagonal, tied at the cut. Throws Error where no count
/// of repeats fits within 5 %, naming the nearest length that does.
Border borderOf(const Piece& motif, const BorderOptions& options, int next_id);

/// Pieces as one, stitch for stitch where they lie; the first one's id, colours joined.
Piece fused(const std::vector<Piece>& pieces, const std::string& name);

}  // namespace rt
