#include "shop.h"

#include "error.h"
#include "faces.h"
#include "file_io.h"
#include "thread_list.h"

namespace rt {

Shop::Shop(Bench bench, std::filesystem::path folder, QObject* parent)
    : QObject(parent),
      bench_(std::move(bench)),
      faces_(listFaces(bench_.data)),
      starting_(bench_.shop.fabrics),
      startingTime_(bench_.shop.time),
      limitsPath_(folder / "shop-limits.json"),
      threadsPath_(folder / "threads.csv") {
  // the starting values are safe to work with; a file that cannot be read stays for its owner
  try {
    limits_ = readShopLimits(limitsPath_);
  } catch (const std::exception& problem) {
    problems_.push_back(std::string("The shop's own limits could not be read: ") + problem.what());
  }
  try {
    std::error_code ignored;
    if (std::filesystem::exists(threadsPath_, ignored))
      bench_.shop.threads = readThreads(threadsPath_);
  } catch (const std::exception& problem) {
    problems_.push_back(std::string("The shop's own thread list could not be read: ") +
                        problem.what());
  }
  bench_.shop.fabrics = withShopLimits(starting_, limits_);
}

namespace {

const Fabric& byId(const std::vector<Fabric>& fabrics, const std::string& id) {
  for (const Fabric& f : fabrics)
    if (f.id == id) return f;
  return fabrics.at(0);
}

}  // namespace

const Fabric& Shop::fabric(const std::string& id) const {
  return byId(bench_.shop.fabrics, id);
}

const Fabric& Shop::startingFabric(const std::string& id) const {
  return byId(starting_, id);
}

bool Shop::knows(const std::string& fabric) const {
  return byId(starting_, fabric).id == fabric;
}

std::optional<ShopLimits> Shop::limits(const std::string& fabric) const {
  const auto own = limits_.find(fabric);
  return own == limits_.end() ? std::nullopt : std::optional(own->second);
}

void Shop::setLimits(const std::string& fabric, const std::optional<ShopLimits>& limits) {
  ShopLimitTable next = limits_;
  if (limits)
    next[fabric] = *limits;
  else
    next.erase(fabric);
  writeShopLimits(limitsPath_, next);
  limits_ = std::move(next);
  bench_.shop.fabrics = withShopLimits(starting_, limits_);
  emit changed();
}

void Shop::setThreads(std::vector<ShelfThread> threads) {
  writeFile(threadsPath_, threadsCsv(threads));
  bench_.shop.threads = std::move(threads);
  emit changed();
}

void Shop::setRuns(const std::vector<RunEntry>& entries) {
  std::vector<SewnRun> runs;
  for (const RunEntry& r : entries) runs.push_back({r.predicted_s, r.taken_s});
  const double factor = rt::timeFactor(runs, bench_.shop.practice.least_runs);
  if (factor == timeFactor_) return;
  timeFactor_ = factor;
  bench_.shop.time = slowed(startingTime_, timeFactor_);
  emit changed();
}

Shop::Learned Shop::learned(const std::string& id, const std::vector<LedgerEntry>& entries) const {
  auto recorded = [&](OutcomeOf of) {
    std::vector<SewnOutcome> out;
    for (const OutcomeEntry& e : outcomesIn(entries, id, of))
      out.push_back({e.value / std::max(0.1, e.factor), e.outcome});
    return out;
  };
  const Fabric& now = fabric(id);
  const LearningRule& rule = bench_.shop.practice.learning;
  return {learnedLimit(recorded(OutcomeOf::Density), now.density_mm_per_mm2, rule),
          learnedLeast(recorded(OutcomeOf::Column), now.least_column_mm, rule),
          learnedLeast(recorded(OutcomeOf::Letter), now.least_letter_mm, rule)};
}

}  // namespace rt
