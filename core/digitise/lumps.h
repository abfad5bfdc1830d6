// Needle points that stand back where thread would pile up. Part of the column maker; not for other
// rooms.
#pragma once

#include "column_graph.h"

namespace rt {

struct LumpRule {
  double lump_mm_per_mm2 = 8.2;  ///< More is a lump: of satin alone, over a disc of radius 1 mm.
  double most_mm_per_mm2 = 7.2;  ///< What is left of one.
};

/// Where columns that bring their own needle points together lay more thread than the rule allows
/// (the inner side of bends, laps of columns that meet at a slant), needle points stand back in
/// turn along their stitches, as far as other thread still covers what they leave and a lap is
/// kept. No ground is bared, at whichever side each column is begun.
void evenLumps(std::vector<ColumnEdge>& edges, const LumpRule& rule);

}  // namespace rt
