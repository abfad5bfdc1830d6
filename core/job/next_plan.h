// The next plan of a job: from nothing, or from what lies on the cloth.
#pragma once

#include "continued_plan.h"
#include "work.h"

namespace rt {

/// Thread that was sewn under any plan and lies on the cloth in hand.
ThreadBag threadOnCloth(const Work& work);
/// Stitches of a setting that lie on the cloth already though the setting itself was not begun:
/// sewing it would lay them twice.
size_t sewnAlready(const Work& work, const MadePlan& plan, const PlanSetting& setting);
/// Stitches that lie on the cloth and that the layout has no more.
size_t sewnAndGone(const Work& work, const Pattern& layout);

/// The latest plan under which something of the cloth in hand was sewn; null: none was.
const MadePlan* planBegun(const Work& work);

/// A plan and what it owes to those before it.
struct NextPlan {
  HoopingPlan plan;
  std::string from;  ///< Id of the plan that it goes on from; empty: it is planned from nothing.
  std::vector<KeptSetting> kept;
  std::vector<std::string> added;
  int added_to = 0;
  size_t lost_stitches = 0, fresh_hoopings = 0;
  friend bool operator==(const NextPlan&, const NextPlan&) = default;
};
/// Plans the layout: where something is sewn, from there (see continuedPlan). Throws as
/// planHoopings.
NextPlan nextPlan(const Work& work, const Pattern& layout, const PlanOptions& options,
                  const Watch& watch = {});

/// Keeps a plan with a new id, and what earlier plans knew of settings that are the same: those
/// that it went on from, those whose stitches are the same, and those that lie at the same place
/// with the same marks (their marks count; nothing of them was sewn). Gives its id.
std::string keepPlan(Work& work, NextPlan next, size_t layout_print, const PlanSettings& settings,
                     const std::string& id, const std::string& time);

}  // namespace rt
