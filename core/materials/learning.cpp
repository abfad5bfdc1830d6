#include "learning.h"

#include <algorithm>
#include <array>
#include <functional>

namespace rt {
namespace {

using IsBad = std::function<bool(Outcome)>;

/// The threshold of least error between good and bad outcomes, sorted by value; of equally good
/// places the one nearest to `now`.
double leastError(const std::vector<std::pair<double, bool>>& sorted, double now,
                  const LearningRule& rule) {
  int error = 0;
  for (const auto& [value, bad] : sorted) error += bad ? 0 : rule.good_stopped;
  int least = error;
  double at = std::min(now, sorted.front().first);
  double nearest = std::abs(at - now);
  for (size_t i = 0; i < sorted.size(); ++i) {
    error += sorted[i].second ? rule.bad_passed : -rule.good_stopped;
    const bool last = i + 1 == sorted.size();
    if (!last && sorted[i + 1].first <= sorted[i].first) continue;
    // above the last outcome nothing is known: no further than what was sewn
    const double here = last ? sorted[i].first : (sorted[i].first + sorted[i + 1].first) / 2;
    if (error < least || (error == least && std::abs(here - now) < nearest)) {
      least = error;
      at = here;
      nearest = std::abs(here - now);
    }
  }
  return at;
}

/// Where a limit goes; `now` where the outcomes say nothing. Below 0: none is in force.
double threshold(std::span<const SewnOutcome> outcomes, double now, const IsBad& bad,
                 const LearningRule& rule) {
  std::vector<std::pair<double, bool>> sorted;
  double heaviestGood = 0;
  bool anyBad = false;
  for (const SewnOutcome& o : outcomes) {
    sorted.emplace_back(o.value, bad(o.outcome));
    anyBad |= bad(o.outcome);
    if (!bad(o.outcome)) heaviestGood = std::max(heaviestGood, o.value);
  }
  std::sort(sorted.begin(), sorted.end());
  if (now < 0) return anyBad ? leastError(sorted, sorted.back().first, rule) : heaviestGood;
  const double low = now * (1 - rule.most_step), high = now * (1 + rule.most_step);
  if (!anyBad) return heaviestGood > now ? std::min(heaviestGood, high) : now;
  const double at = leastError(sorted, now, rule);
  return std::clamp(at, low, std::max(low, std::min(high, std::max(now, heaviestGood))));
}

size_t missing(size_t have, const LearningRule& rule) {
  return rule.least_outcomes - std::min(rule.least_outcomes, have);
}

}  // namespace

std::string_view name(Outcome outcome) {
  constexpr std::array<std::string_view, 3> kNames{"fine", "puckered", "broke"};
  return kNames[static_cast<size_t>(outcome)];
}

LearnedLimit learnedLimit(std::span<const SewnOutcome> outcomes, const Limit& now,
                          const LearningRule& rule) {
  LearnedLimit out;
  out.limit = now;
  for (const SewnOutcome& o : outcomes)
    (o.outcome == Outcome::Fine       ? out.fine
     : o.outcome == Outcome::Puckered ? out.puckered
                                      : out.broke) += 1;
  out.missing = missing(outcomes.size(), rule);
  if (out.missing > 0) return out;
  const IsBad broke = [](Outcome o) { return o == Outcome::Broke; },
              notFine = [](Outcome o) { return o != Outcome::Fine; };
  out.limit.stop = threshold(outcomes, now.stop, broke, rule);
  out.limit.check = std::min(out.limit.stop, threshold(outcomes, now.check, notFine, rule));
  out.enough =
      std::abs(out.limit.stop - now.stop) > 0.005 || std::abs(out.limit.check - now.check) > 0.005;
  return out;
}

LearnedLeast learnedLeast(std::span<const SewnOutcome> outcomes, double in_force_mm,
                          const LearningRule& rule) {
  LearnedLeast out;
  out.least_mm = in_force_mm;
  std::vector<SewnOutcome> small;
  for (const SewnOutcome& o : outcomes) {
    out.held += o.outcome == Outcome::Fine;
    small.push_back({1 / std::max(0.01, o.value), o.outcome});
  }
  out.failed = outcomes.size() - out.held;
  out.missing = missing(outcomes.size(), rule);
  if (out.missing > 0) return out;
  const double now = in_force_mm > 0 ? 1 / in_force_mm : -1;
  out.least_mm = 1 / threshold(
                         small, now, [](Outcome o) { return o != Outcome::Fine; }, rule);
  out.enough = std::abs(out.least_mm - in_force_mm) > 0.005;
  return out;
}

}  // namespace rt
