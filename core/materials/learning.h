// Limits learned from what was sewn.
#pragma once

#include <span>
#include <string>

#include "fabric.h"

namespace rt {

enum class Outcome { Fine, Puckered, Broke };
/// `fine`, `puckered`, `broke`.
std::string_view name(Outcome outcome);

/// One sewing and how it went.
struct SewnOutcome {
  /// The heaviest place that was sewn, mm/mm², freed of the factors of needle, thread and backing
  /// so that outcomes on one fabric can be compared; or the width or height that was tried, mm.
  double value = 0;
  Outcome outcome = Outcome::Fine;
};

/// How a limit may move. The figures live in data/practice.json.
struct LearningRule {
  size_t least_outcomes = 5;  ///< Fewer on a fabric move no limit.
  double most_step = 0.15;    ///< Part of itself by which a limit moves at most at once.
  int bad_passed = 2;         ///< What letting a bad sewing pass weighs, …
  int good_stopped = 1;       ///< … against stopping a good one.
  friend bool operator==(const LearningRule&, const LearningRule&) = default;
};

/// A limit proposed from outcomes.
struct LearnedLimit {
  bool enough = false;  ///< Outcomes enough, and a limit that they move.
  Limit limit;          ///< The proposal; the limit in force when there is none.
  size_t fine = 0, puckered = 0, broke = 0;
  size_t missing = 0;  ///< Outcomes more before a limit moves.
};

/// The rule: `stop` goes where it would have judged the outcomes with the fewest errors, a break
/// that it let pass counting twice as much as a fine sewing that it would have stopped; of equally
/// good places the middle of the gap. `check` likewise, with puckers as bad as breaks. A limit
/// moves by at most 15 % at once, and up no further than the heaviest sewing that went well. A
/// threshold of least error needs no curve to be assumed and is steady from five outcomes on, where
/// a logistic fit of two figures is not yet.
LearnedLimit learnedLimit(std::span<const SewnOutcome> outcomes, const Limit& in_force,
                          const LearningRule& rule = {});

/// A least width or height proposed from outcomes.
struct LearnedLeast {
  bool enough = false;
  double least_mm = 0;  ///< The proposal; what is in force when there is none.
  size_t held = 0, failed = 0;
  size_t missing = 0;  ///< Outcomes more before it moves.
};

/// The same rule for what is too small rather than too heavy, on 1 / value; all that is not fine is
/// bad. In force 0: nothing is known yet, and the first proposal is not held to a step.
LearnedLeast learnedLeast(std::span<const SewnOutcome> outcomes, double in_force_mm,
                          const LearningRule& rule = {});

}  // namespace rt
