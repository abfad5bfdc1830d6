// Simple details drawn straight on the cloth: a stroke of the hand becomes a piece.
#pragma once

#include "making.h"

namespace rt {

enum class Detail { Run, DoubleRun, Satin, Fill };

struct DetailOptions {
  Detail kind = Detail::Run;
  double width_mm = 2.0;  ///< Of a satin line.
  Colour colour{0x2f5d50};
};

/// The stroke, made smooth, as a piece of artwork where it was drawn; it can be sized and made
/// again like any other. A double run goes there and back; a fill closes the line. Throws Error for
/// strokes under 1 mm, or a satin line narrower than the fabric's least column.
Made detailFromStroke(const std::vector<Point>& drawn, const DetailOptions& options,
                      const Fabric& fabric, const Bench& bench);

}  // namespace rt
