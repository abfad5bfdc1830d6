// Rungs that stand back where thread would pile up. Part of the column maker; not for other rooms.
#pragma once

#include <vector>

#include "column_course.h"

namespace rt {

struct LumpRule {
  double most_mm_per_mm2 = 7.5;  ///< Of satin alone, over a disc of radius 1 mm.
};

/// Where the rungs of all columns together lay more thread than the rule allows (the inner side of
/// bends, laps of columns that meet at a slant), ends of rungs stand back in turn, as far as others
/// still cover what they leave and a lap is kept. No ground is bared.
void evenLumps(const std::vector<Rung*>& rungs, const LumpRule& rule);

}  // namespace rt
