// Sections sewn anew at their own spacing.
#pragma once

#include "sections.h"
#include "strand.h"

namespace rt {

struct RelayOptions {
  double pull_mm = 0;          ///< Added to the width of columns and rows in all; may be below 0.
  double least_column_mm = 1;  ///< Narrower columns become runs.
};

/// What became of a section.
struct Relaid {
  Kind kind = Kind::Run;
  double spacing_mm = 0;  ///< As sewn.
};

/// Sews a section again along `to`, its needle points carried to a new size, at the spacing that it
/// had. Columns: needle points alternate along the two edges, evenly along the centre line. Fills:
/// rows between the two edges, evenly across, needle points brick-laid at the old stitch length.
/// Runs: along the old way, corners kept. Starts and ends where `to` does.
Relaid relay(const Section& section, std::span<const Point> to, const RelayOptions& options,
             Strand& strand);

}  // namespace rt
