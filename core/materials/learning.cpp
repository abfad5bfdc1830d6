#include "learning.h"

#include <algorithm>
#include <array>
#include <functional>

#include "length.h"

namespace rt {
namespace {

constexpr int kBadPassed = 2, kGoodStopped = 1;

/// The threshold of least error between good and bad outcomes; `now` where they say nothing.
double threshold(std::span<const SewnOutcome> outcomes, double now,
                 const std::function<bool(Outcome)>& bad) {
  std::vector<std::pair<double, bool>> sorted;
  double heaviestGood = 0;
  bool anyBad = false;
  for (const SewnOutcome& o : outcomes) {
    sorted.emplace_back(o.peak_mm_per_mm2, bad(o.outcome));
    anyBad |= bad(o.outcome);
    if (!bad(o.outcome)) heaviestGood = std::max(heaviestGood, o.peak_mm_per_mm2);
  }
  std::sort(sorted.begin(), sorted.end());
  const double low = now * (1 - kMostLimitStep), high = now * (1 + kMostLimitStep);
  if (!anyBad) return heaviestGood > now ? std::min(heaviestGood, high) : now;
  // error of a threshold in each gap: below the first, between neighbours, above the last
  int error = 0;
  for (const auto& [peak, isBad] : sorted) error += isBad ? 0 : kGoodStopped;
  int least = error;
  double at = std::min(now, sorted.front().first);
  double nearest = std::abs(at - now);
  for (size_t i = 0; i < sorted.size(); ++i) {
    error += sorted[i].second ? kBadPassed : -kGoodStopped;
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
  return std::clamp(at, low, std::max(low, std::min(high, std::max(now, heaviestGood))));
}

}  // namespace

std::string_view name(Outcome outcome) {
  constexpr std::array<std::string_view, 3> kNames{"fine", "puckered", "broke"};
  return kNames[static_cast<size_t>(outcome)];
}

LearnedLimit learnedLimit(std::span<const SewnOutcome> outcomes, const Limit& now) {
  LearnedLimit out;
  out.limit = now;
  for (const SewnOutcome& o : outcomes)
    (o.outcome == Outcome::Fine       ? out.fine
     : o.outcome == Outcome::Puckered ? out.puckered
                                      : out.broke) += 1;
  const std::string counts = std::to_string(out.fine) + " fine, " + std::to_string(out.puckered) +
                             " puckered, " + std::to_string(out.broke) + " broke";
  if (outcomes.size() < kLeastOutcomes) {
    out.reason = counts + ": " + std::to_string(kLeastOutcomes - outcomes.size()) +
                 " more before a limit moves";
    return out;
  }
  out.limit.stop = threshold(outcomes, now.stop, [](Outcome o) { return o == Outcome::Broke; });
  out.limit.check = std::min(
      out.limit.stop, threshold(outcomes, now.check, [](Outcome o) { return o != Outcome::Fine; }));
  out.enough =
      std::abs(out.limit.stop - now.stop) > 0.005 || std::abs(out.limit.check - now.check) > 0.005;
  out.reason =
      counts + (out.enough ? ": fewest errors at check " + formatNumber(out.limit.check, 2) +
                                 ", stop " + formatNumber(out.limit.stop, 2)
                           : ": the limits in force judge them best");
  return out;
}

}  // namespace rt
