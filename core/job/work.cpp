#include "work.h"

#include <algorithm>

namespace rt {
namespace {

constexpr size_t kPlansKept = 4;  // for undo and redo between settings that were planned before

}  // namespace

bool operator==(const Work& a, const Work& b) {
  return a.job == b.job && a.record == b.record && a.plans.size() == b.plans.size() &&
         std::equal(a.plans.begin(), a.plans.end(), b.plans.begin(),
                    [](const auto& p, const auto& q) { return p == q || *p == *q; });
}

const MadePlan* planFor(const Work& work, size_t layout_print) {
  for (auto it = work.plans.rbegin(); it != work.plans.rend(); ++it)
    if ((*it)->layout_print == layout_print && (*it)->settings == work.job.plan_settings)
      return it->get();
  return nullptr;
}

const MadePlan* planById(const Work& work, const std::string& id) {
  for (const auto& plan : work.plans)
    if (plan->id == id) return plan.get();
  return nullptr;
}

void addPlan(Work& work, std::shared_ptr<const MadePlan> plan) {
  work.plans.push_back(std::move(plan));
  size_t unused = 0;
  for (size_t i = work.plans.size(); i-- > 0;) {
    if (work.record.mentions(work.plans[i]->id) || ++unused <= kPlansKept) continue;
    work.plans.erase(work.plans.begin() + static_cast<long>(i));
  }
}

SettingKey keyOf(const MadePlan& plan, const PlanSetting& setting) {
  return {plan.id, setting.id};
}

SettingKey keyOf(const MadePlan& plan, const Hooping& hooping) {
  return keyOf(plan, hooping.settings.front());
}

}  // namespace rt
