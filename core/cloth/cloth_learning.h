// What places of sewn thread say of a cloth's figures.
#pragma once

#include <functional>

#include "cloth_motion.h"
#include "watch.h"

namespace rt {

/// Sewn thread that was found: the mean of some needle points lies by so much from where they were
/// sewn.
struct ClothSight {
  std::vector<size_t> rows;    ///< Needle points, one at least.
  Point by;                    ///< mm
  PlaceCovariance covariance;  ///< Of `by`, as it was measured: along an edge it is wide.
  size_t shape = 0;            ///< Sights of one shape are left out together when it is asked how
                               ///< well the figures foretell a shape that was never seen.
};

struct ClothLesson {
  ClothKnown known;
  Distances before, after;  ///< Of what was found from where it was sewn, and from the law's place.
  size_t used = 0, outliers = 0;
};

/// Weighted least squares over all sights with what was known before as a prior (Gauss and Newton
/// with differences; Huber's weights, so that a thread taken for another counts little; Gelman and
/// others, Bayesian Data Analysis, 2013, ch. 14). The sigmas are those of the posterior, grown by
/// what sights and law disagree. Scatter and what stays unexplained are those under which what is
/// left of each shape, foretold by the others (Cook and Weisberg 1982), is most likely; without
/// enough sights they stay near what was known. Throws Error for rows that are no needle points;
/// Stopped.
ClothLesson learned(const ClothKnown& before, const Pattern& sewn, const Field& field,
                    const std::vector<ClothSight>& sights, const Watch& watch = {});

/// Which shape a needle point belongs to: unbroken sewing, or 30 mm of it.
std::vector<size_t> shapesOfRows(const Pattern& pattern);

}  // namespace rt
