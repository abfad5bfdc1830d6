// What a piece that is made here becomes when it is sewn in another way, before that is taken.
#pragma once

#include "making.h"

namespace rt {

/// Throws Error naming the figure of an artwork or a text that cannot be sewn.
void requireSewable(const PieceSource& source);

struct SewnFigures {
  size_t stitches = 0;
  double thread_mm = 0, minutes = 0;
  double mean_mm_per_mm2 = 0, peak_mm_per_mm2 = 0;
};
SewnFigures sewnFigures(const Pattern& pattern, const Bench& bench);

struct SewingPreview {
  SewnFigures now, then;
};
/// The piece as it lies, and with another source of the same kind. Throws Error like `remade`.
SewingPreview sewingPreview(const Piece& piece, const PieceSource& source, const Fabric& fabric,
                            const Bench& bench);

}  // namespace rt
