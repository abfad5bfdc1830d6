// A test swatch: what a cloth bears, found out on a scrap.
#pragma once

#include "cloth_swatch.h"
#include "making.h"

namespace rt {

/// A job for this fabric: fills and satins in density steps, columns and letters in size steps, and
/// covers on one another, each step labelled in stitches. Density steps run from well under the
/// check limit to over the stop limit, sizes from large to small: in every row the first step that
/// fails is what counts. `Job::swatch` says what each step tries.
Job swatchJob(const Fabric& fabric, const Bench& bench);

/// The swatch from which it is learned how a cloth moves, at the fabric's own spacing, and a job
/// that sews it about the frame's middle.
ClothSwatch learningSwatch(const Fabric& fabric);
Job learningJob(const Fabric& fabric, const Bench& bench);

/// Rows of a swatch in the order in which they are sewn, and what they are called on screen.
struct SwatchRow {
  std::string row, title, unit;
};
const std::vector<SwatchRow>& swatchRows();

/// The outcomes that a result stands for: the steps of a row before the first that failed went
/// well, that one did not; later ones, heavier or smaller, say nothing new. 0: none failed. Throws
/// Error for a step that the row does not have.
struct SwatchOutcome {
  double value = 0;  ///< mm/mm², or mm for columns and letters.
  bool failed = false;
};
std::vector<SwatchOutcome> outcomesOf(const Job& job, const std::string& row, int first_failed);

}  // namespace rt
