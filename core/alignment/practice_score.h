// How well a person decided over a hooping whose truth is known.
#pragma once

#include <optional>

#include "judge.h"

namespace rt {

/// What a decision in practice at aligning is worth.
struct Scoring {
  int sewn_well = 60;  ///< Sewn within tolerance, however near to it …
  int nearness = 40;   ///< … and so much more with no error at all.
  int spared = 80;     ///< Not sewn, and rightly so.
  int cautious = 20;   ///< Not sewn although it could have been.
  friend bool operator==(const Scoring&, const Scoring&) = default;
};

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
