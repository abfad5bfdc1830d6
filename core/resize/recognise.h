// What bare stitches are: satin, fill or run, with spacing.
#pragma once

#include "sections.h"

namespace rt {

struct Recognised {
  Kind kind = Kind::Run;
  /// Satin: along the centre, same edge. Fill: between rows. Run: stitch length.
  double spacing_mm = 0;
  double stitch_mm = 0;  ///< Along a row, across a column, along a run.
  double angle_deg = 0;  ///< Of satin stitches or fill rows, clockwise, in [0, 180).
};

/// The section that lays most thread stands for all; see sectionsOf.
Recognised recognise(std::span<const Point> points, Kind hint = Kind::Unknown);

/// Needle points of a block in sewing order, from where its thread begins; ties, declared or plain
/// to see (a few short stitches to and fro at an end), and stitches without length left out. Short
/// moves inside the block part it into several lists.
std::vector<std::vector<Point>> needlePoints(const Pattern& pattern, const Block& block);

/// What a block is for the most part: its longest list of needle points, read by its declared kind.
Recognised recognisedBlock(const Pattern& pattern, const Block& block);

/// What a block declares itself to be: Kind::Satin or Kind::Fill, whichever more of its stitches
/// are; Kind::Run where all are runs; Kind::Unknown if bare.
Kind declaredKind(const Pattern& pattern, const Block& block);

}  // namespace rt
