// Limits learned from what was sewn.
#pragma once

#include <span>
#include <string>

#include "fabric.h"

namespace rt {

enum class Outcome { Fine, Puckered, Broke };
/// `fine`, `puckered`, `broke`.
std::string_view name(Outcome outcome);

/// One sewing and how it went: the heaviest place that was sewn, freed of the factors of needle,
/// thread and backing, so that outcomes on one fabric can be compared.
struct SewnOutcome {
  double peak_mm_per_mm2 = 0;
  Outcome outcome = Outcome::Fine;
};

/// A limit proposed from outcomes.
struct LearnedLimit {
  bool enough = false;  ///< Five outcomes or more, and a limit that they move.
  Limit limit;          ///< The proposal; the limit in force when there is none.
  size_t fine = 0, puckered = 0, broke = 0;
  std::string reason;  ///< What it rests on, or what is still missing.
};

/// Fewer outcomes than this on a fabric move no limit.
inline constexpr size_t kLeastOutcomes = 5;
/// A limit moves by at most this part of itself at once.
inline constexpr double kMostLimitStep = 0.15;

/// The rule: `stop` goes where it would have judged the outcomes with the fewest errors, a break
/// that it let pass counting twice as much as a fine sewing that it would have stopped; of equally
/// good places the middle of the gap. `check` likewise, with puckers as bad as breaks. A limit
/// moves by at most 15 % at once, and up no further than the heaviest sewing that went well. A
/// threshold of least error needs no curve to be assumed and is steady from five outcomes on, where
/// a logistic fit of two figures is not yet.
LearnedLimit learnedLimit(std::span<const SewnOutcome> outcomes, const Limit& in_force);

}  // namespace rt
