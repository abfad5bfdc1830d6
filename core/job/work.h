// A job with all that belongs to it: what is edited, what was planned from it, what happened.
#pragma once

#include <map>

#include "job.h"
#include "record.h"

namespace rt {

/// A plan with the layout and the settings that it was made for. Never changed once made.
struct MadePlan {
  std::string id;    ///< Given once; facts of the record name it.
  std::string time;  ///< ISO 8601, UTC.
  HoopingPlan plan;
  size_t layout_print = 0;  ///< `printOf` the sewn layout.
  PlanSettings settings;
  friend bool operator==(const MadePlan&, const MadePlan&) = default;
};

/// Parts of a job file that this program does not know; written back as they were read.
struct UnknownParts {
  /// Tables, columns, rows and views, as SQL statements that make them again, in order.
  std::vector<std::string> statements;
  /// What JSON texts say beyond what their values say, by the value: `brief`, `piece/12/place`, …
  std::map<std::string, std::string> members;
  bool empty() const { return statements.empty() && members.empty(); }
};

struct Work {
  Job job;
  std::vector<std::shared_ptr<const MadePlan>> plans;  ///< Oldest first; none is null.
  Record record;
  std::shared_ptr<const UnknownParts> unknown;  ///< Null: none.
  uint64_t edits = 0;  ///< Rises with every change; of two states the later has more.
  friend bool operator==(const Work& a, const Work& b);
};

/// The latest plan that was made for this layout under these settings; null: none.
const MadePlan* planFor(const Work& work, size_t layout_print);
/// A plan by its id; null for one that is gone.
const MadePlan* planById(const Work& work, const std::string& id);
/// Adds a plan; plans that nothing happened under and that are neither this one nor among the last
/// few are dropped.
void addPlan(Work& work, std::shared_ptr<const MadePlan> plan);
/// What belongs to a hooping as a whole, its marks, goes by its first setting.
SettingKey keyOf(const MadePlan& plan, const Hooping& hooping);
SettingKey keyOf(const MadePlan& plan, const PlanSetting& setting);

/// The work with every value checked that a program or a person could have written into a file:
/// ids, places, scales, counts, sizes, indices, rows. Throws Error naming part and value; figures
/// that are merely out of the program's range are refused too, nothing is guessed.
Work checked(Work work);
Job checked(Job job);
/// The same without a copy: asked before a job is saved and when it is edited, too, so that
/// whatever is saved can be opened.
void requireSound(const Work& work);
void requireSound(const Job& job);

}  // namespace rt
