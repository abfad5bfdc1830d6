// Stitches that later sewing covers, taken out.
#pragma once

#include "overlap.h"
#include "time_model.h"

namespace rt {

struct HiddenOptions {
  double margin_mm = 1.0;               ///< What stays under the edge of the cover; 0.3 or more.
  double raster_mm = 0.1;               ///< Cells that the cover is kept in.
  std::vector<uint16_t> open_pieces{};  ///< Indices of pieces whose sewing hides nothing.
  double gap_mm = 0.4;  ///< Cover with gaps up to this between its threads counts as closed.
  /// Blocks (as blocksOf counts them) that are asked about, the others stay whole; empty: all.
  std::vector<bool> asked{};
  TimeModel time{};  ///< By which a cut is weighed against the stitches that it spares.
};

struct Unhidden {
  Pattern pattern;
  size_t stitches_before = 0, stitches_after = 0;  ///< `stitch` rows.
  double thread_before_mm = 0, thread_after_mm = 0;
  size_t blocks_cut = 0;  ///< Blocks that lost something.
};

/// Takes out of each block what lies under fills and satins that are sewn after it, more than the
/// margin inside their edge. Threads are cut where they enter the cover, and what is left is sewn
/// on in its order, without reversing: from one part to the next straight on where the way is under
/// 3 mm or lies under the cover (in stitches up to 7 mm), else over a tie-off, a trim and a tie-in.
/// Parts under 1 mm are dropped. Nothing is taken out that would make the sewing longer, in
/// stitches of a block or in seconds of the whole. Work grows with the sewn area over raster_mm².
/// Throws Error for a margin or raster that is not over 0.
Unhidden withoutHidden(const Pattern& pattern, const HiddenOptions& options = {});

}  // namespace rt
