// A test swatch: what a cloth bears, found out on a scrap.
#pragma once

#include "making.h"

namespace rt {

/// A job for this fabric: fills and satins in density steps, columns and letters in size steps, and
/// covers on one another, each step labelled in stitches. Density steps run from well under the
/// check limit to over the stop limit. `Job::swatch` says what each step tries.
Job swatchJob(const Fabric& fabric, const Bench& bench);

/// Rows of a swatch in the order in which they are sewn, and what they are called on screen.
struct SwatchRow {
  std::string row, title, unit;
};
const std::vector<SwatchRow>& swatchRows();

/// The outcomes that a result stands for: the steps of a density row below the first that failed
/// went well, that one did not; later ones say nothing new. 0: none failed. Only rows whose value
/// is a density give outcomes. Throws Error for a step that the row does not have.
struct SwatchOutcome {
  double peak_mm_per_mm2 = 0;
  bool failed = false;
};
std::vector<SwatchOutcome> outcomesOf(const Job& job, const std::string& row, int first_failed);

}  // namespace rt
