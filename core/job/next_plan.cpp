#include "next_plan.h"

#include <algorithm>

namespace rt {
namespace {

/// Settings that a later plan has not taken over, with how far each was sewn.
template <class Use>
void eachLastHolder(const Work& work, Use&& use) {
  std::vector<SettingKey> handed;
  for (const Happening& h : work.record.all())
    if (const auto* taken = std::get_if<TakenOver>(&h)) handed.push_back(taken->from);
  for (const auto& plan : work.plans)
    for (const Hooping& h : plan->plan.hoopings)
      for (const PlanSetting& s : h.settings) {
        const SettingKey key = keyOf(*plan, s);
        if (std::find(handed.begin(), handed.end(), key) == handed.end())
          use(*plan, h, s, work.record.sewn(key));
      }
}

bool sameMarks(const Hooping& a, const Hooping& b) {
  return a.marks.size() == b.marks.size() &&
         std::equal(
             a.marks.begin(), a.marks.end(), b.marks.begin(),
             [](const PlanMark& p, const PlanMark& q) { return p.id == q.id && p.at == q.at; });
}

/// What the needle does, whatever the lists of threads and names look like.
bool sameSewing(const Pattern& a, const Pattern& b) {
  return a.stitches.size() == b.stitches.size() &&
         std::equal(a.stitches.begin(), a.stitches.end(), b.stitches.begin(),
                    [&](const Stitch& p, const Stitch& q) {
                      return p.op == q.op && p.at == q.at && a.colourOf(p) == b.colourOf(q);
                    });
}

bool samePlace(const Hooping& a, const Hooping& b) {
  return a.hoop_id == b.hoop_id && a.turn_deg == b.turn_deg && a.origin == b.origin;
}

/// The setting of an earlier plan that a new one is the same as; null: none.
std::optional<SettingKey> sameBefore(const Work& work, const Hooping& hooping,
                                     const PlanSetting& setting) {
  std::optional<SettingKey> found;
  eachLastHolder(work, [&](const MadePlan& plan, const Hooping& h, const PlanSetting& s,
                           const Record::Sewn& sewn) {
    if (!samePlace(h, hooping) || s.index != setting.index || !(s.field == setting.field)) return;
    const bool untouched = !sewn.begun && sameMarks(h, hooping);
    if (sameSewing(s.pattern, setting.pattern) || untouched) found = keyOf(plan, s);
  });
  return found;
}

/// The clamping that something happened to last.
std::string lastClamped(const Work& work, const MadePlan& plan) {
  const auto& all = work.record.all();
  for (auto it = all.rbegin(); it != all.rend(); ++it) {
    const SettingKey* of = nullptr;
    if (const auto* rows = std::get_if<RowsSewn>(&*it)) of = &rows->of;
    if (const auto* mark = std::get_if<MarkFound>(&*it)) of = &mark->of;
    if (!of) continue;
    for (const Hooping& h : plan.plan.hoopings)
      for (const PlanSetting& s : h.settings)
        for (const SettingKey& key : work.record.chainOf(keyOf(plan, s)))
          if (key == *of) return h.id;
  }
  return {};
}

}  // namespace

ThreadBag threadOnCloth(const Work& work) {
  ThreadBag out;
  eachLastHolder(
      work, [&](const MadePlan&, const Hooping&, const PlanSetting& s, const Record::Sewn& sewn) {
        if (sewn.row > 0 || sewn.done) out.add(s.pattern, sewn.done ? SIZE_MAX : sewn.row);
      });
  return out;
}

size_t sewnAlready(const Work& work, const MadePlan& plan, const PlanSetting& setting) {
  const Record::Sewn own = work.record.sewn(keyOf(plan, setting));
  if (own.begun) return 0;  // it goes on where it stopped
  const ThreadBag on = threadOnCloth(work);
  if (on.empty()) return 0;
  ThreadBag mine;
  mine.add(setting.pattern);
  return mine.size() - on.missing(setting.pattern);
}

size_t sewnAndGone(const Work& work, const Pattern& layout) {
  const ThreadBag on = threadOnCloth(work);
  if (on.empty()) return 0;
  ThreadBag has;
  has.add(layout);
  return on.without(has);
}

const MadePlan* planBegun(const Work& work) {
  for (auto it = work.plans.rbegin(); it != work.plans.rend(); ++it)
    for (const Hooping& h : (*it)->plan.hoopings)
      for (const PlanSetting& s : h.settings)
        if (work.record.sewn(keyOf(**it, s)).row > 0) return it->get();
  return nullptr;
}

NextPlan nextPlan(const Work& work, const Pattern& layout, const PlanOptions& options,
                  const Watch& watch) {
  NextPlan out;
  const MadePlan* base = planBegun(work);
  if (!base) {
    out.plan = planHoopings(layout, options, watch);
    return out;
  }
  std::map<std::string, SewnRows> sewn;
  for (const Hooping& h : base->plan.hoopings)
    for (const PlanSetting& s : h.settings) {
      const Record::Sewn far = work.record.sewn(keyOf(*base, s));
      if (far.row > 0 || far.done) sewn[s.id] = {far.row, far.done};
    }
  ContinuedPlan made =
      continuedPlan(layout, base->plan, sewn, lastClamped(work, *base), options, watch);
  out.plan = std::move(made.plan);
  out.from = base->id;
  out.kept = std::move(made.kept);
  out.added = std::move(made.added);
  out.added_to = made.added_to;
  out.lost_stitches = made.lost_stitches;
  out.fresh_hoopings = made.fresh_hoopings;
  return out;
}

std::string keepPlan(Work& work, NextPlan next, size_t layout_print, const PlanSettings& settings,
                     const std::string& id, const std::string& time) {
  auto made = std::make_shared<MadePlan>();
  made->id = id;
  made->time = time;
  made->plan = std::move(next.plan);
  made->layout_print = layout_print;
  made->settings = settings;
  std::vector<Happening> facts;
  for (const Hooping& h : made->plan.hoopings)
    for (const PlanSetting& s : h.settings) {
      const SettingKey key = keyOf(*made, s);
      const auto kept = std::find_if(next.kept.begin(), next.kept.end(),
                                     [&](const KeptSetting& k) { return k.setting == s.id; });
      std::optional<SettingKey> from;
      if (kept != next.kept.end())
        from = SettingKey{next.from, s.id};
      else
        from = sameBefore(work, h, s);
      if (!from) continue;
      facts.push_back(TakenOver{key, *from, time});
      if (kept != next.kept.end() && kept->cut_short)
        facts.push_back(RowsSewn{key, time, "taken-over " + key.setting, 0,
                                 s.pattern.stitches.size(), "taken-over", true});
    }
  // the plan that is gone on from is mentioned before plans that nothing happened under are dropped
  for (Happening& fact : facts) work.record.add(std::move(fact));
  addPlan(work, std::move(made));
  return id;
}

}  // namespace rt
