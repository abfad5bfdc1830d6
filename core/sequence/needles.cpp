#include "needles.h"

#include <algorithm>

#include "error.h"

namespace rt {
namespace {

/// Threads in sewing order, one entry a run.
std::vector<int> runsOf(const Pattern& pattern) {
  std::vector<int> runs;
  for (const Stitch& s : pattern.stitches)
    if (s.op == Op::Stitch && (runs.empty() || runs.back() != s.thread)) runs.push_back(s.thread);
  return runs;
}

/// Position of the next use at or after `from`; the number of runs if there is none.
size_t nextUse(const std::vector<int>& runs, int thread, size_t from) {
  return static_cast<size_t>(std::find(runs.begin() + static_cast<long>(from), runs.end(), thread) -
                             runs.begin());
}

/// The needle to take for a thread that is on none: an empty one, else whose thread is missed last.
size_t needleFor(const std::vector<int>& on, const std::vector<int>& runs, size_t i) {
  size_t best = 0, farthest = 0;
  for (size_t n = 0; n < on.size(); ++n) {
    if (on[n] < 0) return n;
    if (const size_t use = nextUse(runs, on[n], i); use > farthest) farthest = use, best = n;
  }
  return best;
}

}  // namespace

NeedlePlan planNeedles(const Pattern& pattern, int needles) {
  if (needles < 1 || needles > 99)
    throw Error("a machine with " + std::to_string(needles) + " needles is not known", "needles",
                "give 1 to 99");
  const std::vector<int> runs = runsOf(pattern);
  std::vector<int> on(static_cast<size_t>(needles), -1);
  NeedlePlan plan;
  plan.threads_of_needle.resize(on.size());
  for (size_t i = 0; i < runs.size(); ++i) {
    const auto found = std::find(on.begin(), on.end(), runs[i]);
    NeedleStep step{runs[i], static_cast<int>(found - on.begin()), false};
    if (found == on.end()) {
      const size_t n = needleFor(on, runs, i);
      step.needle = static_cast<int>(n);
      step.rethread = on[n] >= 0;
      plan.rethreadings += step.rethread;
      on[n] = runs[i];
      plan.threads_of_needle[n].push_back(runs[i]);
    }
    plan.steps.push_back(step);
  }
  return plan;
}

}  // namespace rt
