#include "shop.h"

#include "error.h"
#include "faces.h"
#include "file_io.h"
#include "rates_file.h"
#include "shelf.h"
#include "thread_list.h"

namespace rt {

Shop::Shop(Bench bench, std::filesystem::path folder, QObject* parent)
    : QObject(parent),
      bench_(std::move(bench)),
      faces_(listFaces(bench_.data)),
      starting_(bench_.shop.fabrics),
      startingTime_(bench_.shop.time),
      limitsPath_(folder / "shop-limits.json"),
      threadsPath_(folder / "threads.csv"),
      framesPath_(folder / "frames.json"),
      ratesPath_(folder / "rates.json"),
      startingFrames_(bench_.shop.hoops) {
  const auto there = [](const std::filesystem::path& path) {
    std::error_code ignored;
    return std::filesystem::exists(path, ignored);
  };
  reading("limits", [&] { limits_ = readShopLimits(limitsPath_); });
  reading("thread list", [&] {
    if (there(threadsPath_)) bench_.shop.threads = readThreads(threadsPath_);
  });
  reading("frames", [&] {
    if (there(framesPath_)) frames_ = readShelf(framesPath_);
  });
  reading("starting rates", [&] { rates_ = shopRates(bench_.data); });
  reading("rates", [&] {
    if (!there(ratesPath_)) return;
    rates_ = readRates(ratesPath_, rates_);
    ratesOwn_ = true;
  });
  bench_.shop.fabrics = withShopLimits(starting_, limits_);
  bench_.shop.hoops = joinedShelf(frames_, startingFrames_);
}

void Shop::reading(const char* what, const std::function<void()>& read) {
  // the starting values are safe to work with; a file that cannot be read stays for its owner
  try {
    read();
  } catch (const std::exception& problem) {
    problems_.push_back(std::string("The shop's own ") + what +
                        " could not be read: " + problem.what());
  }
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

void Shop::setFrames(std::vector<Hoop> frames) {
  if (frames.empty())
    std::filesystem::remove(framesPath_);
  else
    writeFile(framesPath_, shelfJson(frames));
  frames_ = std::move(frames);
  bench_.shop.hoops = joinedShelf(frames_, startingFrames_);
  emit changed();
}

void Shop::keepFrame(const Hoop& frame) {
  checkHoop(frame, "frame " + frame.name);
  std::vector<Hoop> next = frames_;
  std::erase_if(next, [&](const Hoop& h) { return h.id == frame.id; });
  next.push_back(frame);
  setFrames(std::move(next));
}

void Shop::dropFrame(const std::string& id) {
  std::vector<Hoop> next = frames_;
  if (std::erase_if(next, [&](const Hoop& h) { return h.id == id; }) == 0)
    throw Error("there is no frame \"" + id + "\" of one's own", "shelf", "choose another");
  setFrames(std::move(next));
}

void Shop::setRates(const std::optional<Rates>& rates) {
  if (rates)
    writeFile(ratesPath_, ratesJson(*rates));
  else
    std::filesystem::remove(ratesPath_);
  rates_ = rates ? *rates : shopRates(bench_.data);
  ratesOwn_ = rates.has_value();
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
