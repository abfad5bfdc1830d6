// How well a person decided over a hooping whose truth is known.
#pragma once

#include <optional>

#include "judge.h"
#include "practice.h"

namespace rt {

struct PracticeScore {
  bool measured = false;  ///< There was a placement.
  double worst_mm = 0;    ///< Its largest error over the field's edge.
  bool right = false;     ///< Sewn within tolerance, or not sewn beyond it.
  int points = 0;         ///< 0 to 100: the nearer what was sewn, the more.
  friend bool operator==(const PracticeScore&, const PracticeScore&) = default;
};

/// `lies`: from where the layout was meant to lie in the field to where it lies; `measured`: what
/// the alignment says of that; `sew`: what the person decided.
PracticeScore scoreOf(const Transform& lies, const std::optional<Transform>& measured,
                      const Field& field, double tolerance_mm, bool sew, const Scoring& scoring);

}  // namespace rt
