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

std::string Record::clampedSince(const SettingKey& of, const std::vector<SettingKey>& same) const {
  std::string since;
  for (const Happening& h : all_) {
    const auto* cleared = std::get_if<MarksCleared>(&h);
    const auto* rows = std::get_if<RowsSewn>(&h);
    if (cleared && cleared->of == of) since = std::max(since, cleared->time);
    if (rows && rows->of.plan == of.plan &&
        std::find(same.begin(), same.end(), rows->of) == same.end())
      since = std::max(since, rows->time);
  }
  return since;
}

std::vector<Mark> Record::marks(const SettingKey& of) const {
  std::vector<const MarkFound*> count;
  for (const Happening& h : all_) {
    if (const auto* cleared = std::get_if<MarksCleared>(&h); cleared && cleared->of == of)
      count.clear();
    const auto* found = std::get_if<MarkFound>(&h);
    if (!found || found->of != of) continue;
    std::erase_if(count, [&](const MarkFound* m) {
      const bool earlier =
          !found->reading.empty() && !m->reading.empty() && m->reading != found->reading;
      return m->mark.id == found->mark.id || earlier;
    });
    count.push_back(found);
  }
  std::vector<Mark> out;
  for (const MarkFound* m : count) out.push_back(m->mark);
  std::sort(out.begin(), out.end(), [](const Mark& a, const Mark& b) { return a.id < b.id; });
  return out;
}

Record::Sewn Record::sewn(const SettingKey& of) const {
  Sewn out;
  for (const Happening& h : all_)
    if (const auto* rows = std::get_if<RowsSewn>(&h); rows && rows->of == of) {
      // a run that goes some stitches back sews them twice: what was sewn before it stays sewn
      out.row = rows->event == "bobbin-missed" ? std::min(out.row, rows->row)
                                               : std::max(out.row, rows->row);
      out.begun = true;
      out.done = out.done || rows->done;
    }
  return out;
}

std::string Record::overruledDensity(size_t layout_print) const {
  std::string reason;
  for (const Happening& h : all_)
    if (const auto* o = std::get_if<Overruled>(&h);
        o && o->of == "density" && (o->layout_print == layout_print || o->layout_print == 0))
      reason = o->reason;
  return reason;
}

std::string Record::overruledAlignment(const SettingKey& of) const {
  std::string reason;
  for (const Happening& h : all_) {
    const auto* found = std::get_if<MarkFound>(&h);
    const auto* cleared = std::get_if<MarksCleared>(&h);
    if ((found && found->of == of) || (cleared && cleared->of == of)) reason.clear();
    if (const auto* o = std::get_if<Overruled>(&h); o && o->of == "alignment" && o->setting == of)
      reason = o->reason;
  }
  return reason;
}

bool Record::mentions(const std::string& plan) const {
  return std::any_of(all_.begin(), all_.end(), [&](const Happening& h) {
    return std::visit(
        [&](const auto& fact) {
          using T = std::decay_t<decltype(fact)>;
          if constexpr (std::is_same_v<T, Overruled>)
            return fact.setting.plan == plan;
          else if constexpr (std::is_same_v<T, UnknownHappening>)
            return false;
          else
            return fact.of.plan == plan;
        },
        h);
  });
}

}  // namespace rt
