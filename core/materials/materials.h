// What needle, thread, backing and topper do to a fabric's limits. The factors live in
// data/materials.json.
#pragma once

#include "fabric.h"

namespace rt {

/// Factors on a fabric's limits and spacings; 1 leaves them.
struct LimitFactors {
  double density = 1, holes = 1, spacing = 1;
  friend bool operator==(const LimitFactors&, const LimitFactors&) = default;
};

/// The factors by choice. Needles and threads between two listed sizes take a value in between;
/// beyond the list they take the end's.
struct MaterialTable {
  std::vector<std::pair<double, LimitFactors>> needles;  ///< By size, hundredths of a mm, rising.
  std::vector<std::pair<double, LimitFactors>> threads;  ///< By weight, rising.
  std::vector<std::pair<std::string, LimitFactors>> backings;  ///< By a word that the name holds.
  LimitFactors topper;
  std::string source;  ///< What the factors rest on, to be said beside them.
};

/// What a job is sewn with.
struct Materials {
  std::string backing;  ///< As typed: `cut-away`, `tear-away under`.
  bool topper = false;
  double needle_nm = 75, thread_weight = 40;
};

/// The factors of a choice, against what the fabric's limits were written for: its own backing and
/// topper, a 75 needle and 40 weight thread.
LimitFactors factorsFor(const Fabric& fabric, const Materials& materials,
                        const MaterialTable& table);

/// The fabric with its density and hole limits and its spacings multiplied.
Fabric withFactors(Fabric fabric, const LimitFactors& factors);

}  // namespace rt
