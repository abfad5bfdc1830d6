// The seam that a plan is judged by.
#pragma once

#include "planner.h"

namespace rt {

/// Of the seams where thread of both settings meets, the one of the largest error; null: none
/// meets. `HoopingPlan::worst_seam_error_mm` counts what both could reach, too, though no thread
/// shows it.
inline const Seam* worstSeam(const HoopingPlan& plan) {
  const Seam* worst = nullptr;
  for (const Seam& s : plan.seams)
    if (s.meets && (!worst || s.error_mm > worst->error_mm)) worst = &s;
  return worst;
}

}  // namespace rt
