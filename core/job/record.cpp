#include "record.h"

#include <algorithm>

namespace rt {

void Record::add(Happening happening) {
  if (const auto* sewn = std::get_if<RowsSewn>(&happening))
    for (auto it = all_.rbegin(); it != all_.rend(); ++it) {
      auto* last = std::get_if<RowsSewn>(&*it);
      if (!last || last->run != sewn->run) continue;
      if (*last == *sewn) return;
      if (sewn->event == "bobbin-missed") break;  // the one event that takes rows back
      if (sewn->row < last->row || (last->done && !sewn->done)) return;
      if (sewn->event.empty() && sewn->row == last->row) return;
      if (!last->event.empty()) break;
      *last = *sewn;
      return;
    }
  // the picture goes, the fact stays
  if (const auto* dropped = std::get_if<ScanDropped>(&happening))
    for (Happening& h : all_)
      if (auto* taken = std::get_if<ScanTaken>(&h); taken && taken->scan.id == dropped->scan)
        taken->scan.bytes = std::make_shared<const std::string>();
  all_.push_back(std::move(happening));
}

std::vector<const ScanTaken*> Record::scans(const std::optional<SettingKey>& of) const {
  std::vector<const ScanTaken*> out;
  for (const Happening& h : all_)
    if (const auto* taken = std::get_if<ScanTaken>(&h);
        taken && !taken->scan.bytes->empty() && (!of || taken->of == *of))
      out.push_back(taken);
  return out;
}

namespace {

bool among(const SettingKey& key, const std::vector<SettingKey>& keys) {
  return std::find(keys.begin(), keys.end(), key) != keys.end();
}

/// What marks of a clamping count, fact by fact.
struct MarkTally {
  std::vector<const MarkFound*> count;
  const ScanRead* read = nullptr;  ///< The last reading.

  void operator()(const MarksCleared&) {
    count.clear();
    read = nullptr;
  }
  void operator()(const ScanRead& r) { read = &r; }
  void operator()(const ScanDropped& d) {
    if (read && read->scan == d.scan) read = nullptr;
  }
  void operator()(const MarkFound& found) {
    if (read && !read->problem.empty()) {  // nobody knows whether the cloth still lies so
      count.clear();
      read = nullptr;
    }
    std::erase_if(count, [&](const MarkFound* m) {
      const bool earlier =
          !found.reading.empty() && !m->reading.empty() && m->reading != found.reading;
      return m->mark.id == found.mark.id || earlier;
    });
    count.push_back(&found);
  }
};

MarkTally tallied(const Record& record, const SettingKey& of) {
  const std::vector<SettingKey> keys = record.chainOf(of);
  MarkTally tally;
  for (const Happening& h : record.all())
    std::visit(
        [&](const auto& fact) {
          using T = std::decay_t<decltype(fact)>;
          if constexpr (std::is_same_v<T, ClothReplaced>)
            tally = {};
          else if constexpr (std::is_invocable_v<MarkTally&, const T&>)
            if (among(fact.of, keys)) tally(fact);
        },
        h);
  return tally;
}

}  // namespace

std::vector<SettingKey> Record::chainOf(const SettingKey& of) const {
  std::vector<SettingKey> out{of};
  // a plan takes over from plans before it: read backwards, one pass finds the whole chain
  for (auto it = all_.rbegin(); it != all_.rend(); ++it)
    if (const auto* taken = std::get_if<TakenOver>(&*it);
        taken && among(taken->of, out) && !among(taken->from, out))
      out.push_back(taken->from);
  return out;
}

std::string Record::clampedSince(const SettingKey& of, const std::vector<SettingKey>& same) const {
  std::vector<SettingKey> here = chainOf(of);
  for (const SettingKey& key : same)
    for (const SettingKey& link : chainOf(key)) here.push_back(link);
  std::string since;
  for (const Happening& h : all_) {
    const auto* cleared = std::get_if<MarksCleared>(&h);
    const auto* rows = std::get_if<RowsSewn>(&h);
    const auto* replaced = std::get_if<ClothReplaced>(&h);
    if (cleared && among(cleared->of, here)) since = std::max(since, cleared->time);
    if (rows && rows->event != "taken-over" && !among(rows->of, here))
      since = std::max(since, rows->time);
    if (replaced) since = std::max(since, replaced->time);
  }
  return since;
}

std::vector<Mark> Record::marks(const SettingKey& of) const {
  const MarkTally tally = tallied(*this, of);
  std::vector<Mark> out;
  if (tally.read && !tally.read->problem.empty()) return out;
  for (const MarkFound* m : tally.count) out.push_back(m->mark);
  std::sort(out.begin(), out.end(), [](const Mark& a, const Mark& b) { return a.id < b.id; });
  return out;
}

const ScanRead* Record::lastReading(const SettingKey& of) const {
  return tallied(*this, of).read;
}

Record::Sewn Record::sewn(const SettingKey& of) const {
  const std::vector<SettingKey> keys = chainOf(of);
  Sewn out;
  for (const Happening& h : all_) {
    if (std::holds_alternative<ClothReplaced>(h)) out = {};
    const auto* rows = std::get_if<RowsSewn>(&h);
    if (!rows || !among(rows->of, keys)) continue;
    // a run that goes some stitches back sews them twice: what was sewn before it stays sewn
    out.row = rows->event == "bobbin-missed" ? std::min(out.row, rows->row)
                                             : std::max(out.row, rows->row);
    out.begun = out.begun || rows->event != "chosen";
    out.done = out.done || rows->done;
  }
  return out;
}

bool Record::anythingSewn() const {
  bool any = false;
  for (const Happening& h : all_) {
    if (std::holds_alternative<ClothReplaced>(h)) any = false;
    if (const auto* rows = std::get_if<RowsSewn>(&h)) any = any || rows->row > 0;
  }
  return any;
}

const Overruled* Record::overruledDensity(size_t layout_print) const {
  const Overruled* last = nullptr;
  for (const Happening& h : all_)
    if (const auto* o = std::get_if<Overruled>(&h);
        o && o->of == "density" && (o->layout_print == layout_print || o->layout_print == 0))
      last = o;
  return last;
}

const Overruled* Record::overruledAlignment(const SettingKey& of) const {
  const std::vector<SettingKey> keys = chainOf(of);
  const Overruled* last = nullptr;
  for (const Happening& h : all_) {
    const auto* found = std::get_if<MarkFound>(&h);
    const auto* cleared = std::get_if<MarksCleared>(&h);
    const auto* read = std::get_if<ScanRead>(&h);
    if ((found && among(found->of, keys)) || (cleared && among(cleared->of, keys)) ||
        (read && among(read->of, keys)) || std::holds_alternative<ClothReplaced>(h))
      last = nullptr;
    if (const auto* o = std::get_if<Overruled>(&h);
        o && o->of == "alignment" && among(o->setting, keys))
      last = o;
  }
  return last;
}

const Overruled* Record::overruledSewnAlready(const SettingKey& of) const {
  const Overruled* last = nullptr;
  for (const Happening& h : all_) {
    if (std::holds_alternative<ClothReplaced>(h)) last = nullptr;
    if (const auto* o = std::get_if<Overruled>(&h);
        o && o->of == "sewn-already" && o->setting == of)
      last = o;
  }
  return last;
}

void Record::take(const Record& other) {
  const std::vector<Happening> mine = all_;
  for (const Happening& h : other.all_)
    if (std::find(mine.begin(), mine.end(), h) == mine.end()) add(h);
}

bool Record::mentions(const std::string& plan) const {
  return std::any_of(all_.begin(), all_.end(), [&](const Happening& h) {
    return std::visit(
        [&](const auto& fact) {
          using T = std::decay_t<decltype(fact)>;
          if constexpr (std::is_same_v<T, Overruled>)
            return fact.setting.plan == plan;
          else if constexpr (std::is_same_v<T, UnknownHappening> ||
                             std::is_same_v<T, ClothReplaced>)
            return false;
          else if constexpr (std::is_same_v<T, TakenOver>)
            return fact.of.plan == plan || fact.from.plan == plan;
          else
            return fact.of.plan == plan;
        },
        h);
  });
}

}  // namespace rt
