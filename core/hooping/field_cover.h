// Fewest clampings whose fields hold all that has to be held. Part of the planner.
#pragma once

#include <vector>

#include "frame.h"
#include "watch.h"

namespace rt {

/// A box that has to lie wholly inside one field; or not, where its group is kept whole.
struct CoverNeed {
  Box box;
  int whole = -1;  ///< Index into CoverProblem::wholes; -1: none.
  /// What of it has to lie in one field where the rest lies in other settings of the same clamping:
  /// they fit together better than two clampings, and need not overlap.
  Box core = {};
};

/// A group that had better lie wholly inside one field.
struct CoverWhole {
  Box box;
  double weight = 1;  ///< What parting it costs, against a piece.
  bool must = false;  ///< It is never parted.
};

struct CoverProblem {
  std::vector<CoverNeed> needs;
  std::vector<CoverWhole> wholes;
};

/// One clamping of the cloth with the settings that are used.
struct Clamping {
  int hoop = 0;      ///< Caller's index.
  int turn_deg = 0;  ///< Of the frame: 0 or 90.
  Point origin;      ///< Of the frame, in the layout's frame.
  std::vector<PlacedField> fields;
};

struct CoverAnswer {
  std::vector<Clamping> clampings;
  bool fewest = false;  ///< Proven: these candidates hold no cover with fewer clampings.
  bool best = false;    ///< Proven likewise for settings and wholes.
  double parted = 0;    ///< Sum of weights of the wholes that no field holds.
};

/// Bounds on the search: branches of the integer program, for each of its two rounds.
struct CoverLimits {
  int most_branches = 300;
  size_t most_candidates = 2500;
};

/// Least clampings, then least settings, then least weight of parted wholes, by integer programs
/// over places where a field's edges touch what it holds (every other place can be pushed there
/// without losing any of it). Frames may be used any number of times, `turn` by 90 degrees too.
/// Every need and every whole that is a must has to fit some field. Only covers with fewer
/// clampings than `below` are sought; without one the answer is empty. Throws Stopped.
CoverAnswer coverNeeds(const CoverProblem& problem, const std::vector<Hoop>& hoops, bool turn,
                       const CoverLimits& limits, size_t below, const Watch& watch);

/// Sum of weights of the wholes that no field of these holds.
double partedBy(const std::vector<Clamping>& clampings, const CoverProblem& problem);

/// No set of clampings holds all boxes with fewer: the better of boxes that no clamping can hold
/// together, of the linear program rounded up, and of the integer program as far as it comes; at
/// least 1, at most `known`, the number that a plan has.
int fewestClampings(const std::vector<Box>& boxes, const std::vector<Hoop>& hoops, bool turn,
                    const CoverLimits& limits, int known, const Watch& watch);

/// Whether some field of some frame holds a box of this size.
bool fitsSomeField(const Box& box, const std::vector<Hoop>& hoops, bool turn);

}  // namespace rt
