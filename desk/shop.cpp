#include "shop.h"

#include "card_file.h"
#include "cloth_file.h"
#include "error.h"
#include "faces.h"
#include "file_io.h"
#include "rates_file.h"
#include "shelf.h"
#include "thread_list.h"

namespace rt {

Shop::Shop(Bench bench, const std::filesystem::path& folder, QObject* parent)
    : QObject(parent),
      files_(folder),
      values_(openShop(std::move(bench), folder)),
      faces_(listFaces(values_.bench.data)),
      startingTime_(values_.bench.shop.time) {}

namespace {

const Fabric& byId(const std::vector<Fabric>& fabrics, const std::string& id) {
  for (const Fabric& f : fabrics)
    if (f.id == id) return f;
  return fabrics.at(0);
}

}  // namespace

const Fabric& Shop::fabric(const std::string& id) const {
  return byId(values_.bench.shop.fabrics, id);
}

const Fabric& Shop::startingFabric(const std::string& id) const {
  return byId(values_.starting, id);
}

bool Shop::knows(const std::string& fabric) const {
  return byId(values_.starting, fabric).id == fabric;
}

std::optional<ShopLimits> Shop::limits(const std::string& fabric) const {
  const auto own = values_.limits.find(fabric);
  return own == values_.limits.end() ? std::nullopt : std::optional(own->second);
}

void Shop::setLimits(const std::string& fabric, const std::optional<ShopLimits>& limits) {
  ShopLimitTable next = values_.limits;
  if (limits)
    next[fabric] = *limits;
  else
    next.erase(fabric);
  writeShopLimits(files_.limits, next);
  values_.limits = std::move(next);
  values_.bench.shop.fabrics = withShopLimits(values_.starting, values_.limits);
  emit changed();
}

void Shop::setThreads(std::vector<ShelfThread> threads) {
  writeFile(files_.threads, threadsCsv(threads));
  values_.bench.shop.threads = std::move(threads);
  emit changed();
}

void Shop::setFrames(std::vector<Hoop> frames) {
  if (frames.empty())
    std::filesystem::remove(files_.frames);
  else
    writeFile(files_.frames, shelfJson(frames));
  values_.own = std::move(frames);
  values_.bench.shop.hoops = joinedShelf(values_.own, values_.shipped);
  emit changed();
}

void Shop::keepFrame(const Hoop& frame) {
  checkHoop(frame, "frame " + frame.name);
  std::vector<Hoop> next = values_.own;
  std::erase_if(next, [&](const Hoop& h) { return h.id == frame.id; });
  next.push_back(frame);
  setFrames(std::move(next));
}

void Shop::dropFrame(const std::string& id) {
  std::vector<Hoop> next = values_.own;
  if (std::erase_if(next, [&](const Hoop& h) { return h.id == id; }) == 0)
    throw Error("there is no frame \"" + id + "\" of one's own", "shelf", "choose another");
  setFrames(std::move(next));
}

void Shop::setRates(const std::optional<Rates>& rates) {
  if (rates)
    writeFile(files_.rates, ratesJson(*rates));
  else
    std::filesystem::remove(files_.rates);
  values_.rates = rates ? *rates : shopRates(values_.bench.data);
  values_.rates_own = rates.has_value();
  emit changed();
}

void Shop::setCard(const ShopCard& card) {
  writeFile(files_.card, cardJson(card));
  values_.card = card;
  emit changed();
}

std::optional<ClothKnown> Shop::cloth(const std::string& fabric) const {
  for (const ClothKnown& c : values_.cloths)
    if (c.fabric == fabric) return c;
  return std::nullopt;
}

void Shop::keepCloth(const ClothKnown& cloth) {
  std::filesystem::create_directories(files_.cloths);
  writeFile(files_.cloths / (cloth.fabric + ".json"), clothJson(cloth) + "\n");
  std::erase_if(values_.cloths, [&](const ClothKnown& c) { return c.fabric == cloth.fabric; });
  values_.cloths.push_back(cloth);
  emit changed();
}

void Shop::forgetCloth(const std::string& fabric) {
  std::filesystem::remove(files_.cloths / (fabric + ".json"));
  std::erase_if(values_.cloths, [&](const ClothKnown& c) { return c.fabric == fabric; });
  emit changed();
}

void Shop::setRuns(const std::vector<RunEntry>& entries) {
  std::vector<SewnRun> runs;
  for (const RunEntry& r : entries) runs.push_back({r.predicted_s, r.taken_s});
  const double factor = rt::timeFactor(runs, values_.bench.shop.practice.least_runs);
  if (factor == timeFactor_) return;
  timeFactor_ = factor;
  values_.bench.shop.time = slowed(startingTime_, timeFactor_);
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
  const LearningRule& rule = values_.bench.shop.practice.learning;
  return {learnedLimit(recorded(OutcomeOf::Density), now.density_mm_per_mm2, rule),
          learnedLeast(recorded(OutcomeOf::Column), now.least_column_mm, rule),
          learnedLeast(recorded(OutcomeOf::Letter), now.least_letter_mm, rule)};
}

}  // namespace rt
