// All that follows from the job and from what happened, as one value: views draw from it, so that
// two of them can never disagree.
#pragma once

#include <QFlags>

#include "clearance.h"
#include "figures.h"
#include "statistics.h"

namespace rt {

/// What of the moment (or beside it) changed. Views are told all of it at once.
enum class Part : unsigned {
  Job = 1 << 0,       ///< The job, what follows from it, or the shop that judges it.
  Weighing = 1 << 1,  ///< The layout's weight came, or is being worked out anew.
  Plan = 1 << 2,      ///< A plan came, is sought, or failed.
  Hooping = 1 << 3,   ///< Another hooping or setting is in hand.
  Record = 1 << 4,    ///< Marks, sewing, overrules, scans: what happened.
  Rows = 1 << 5,      ///< The machine went on: the row counter alone.
  Scan = 1 << 6,      ///< A scan is looked at, read, or held by eye.
  Ledger = 1 << 7,
  View = 1 << 8,  ///< Unit and other choices of the person.
  Selection = 1 << 9,
  Cures = 1 << 10,
  Advice = 1 << 11,
  Comparison = 1 << 12,
  PlanProgress = 1 << 13,
  Machine = 1 << 14,  ///< What the machine says of itself.
};
Q_DECLARE_FLAGS(Parts, Part)
Q_DECLARE_OPERATORS_FOR_FLAGS(Parts)

/// Immutable; made anew, part by part, when what it rests on changes.
struct Moment {
  const MadePlan* shown = nullptr;  ///< For the layout as it is, else the last that was made.
  bool plan_current = false;
  int hooping = 0, setting = 0;    ///< In hand, from 1; 0 without a plan.
  std::vector<Measured> measured;  ///< Of the shown plan's hoopings, in order.
  /// Of the shown plan's settings, hooping by hooping.
  std::vector<std::vector<Record::Sewn>> sewn;
  size_t gone = 0;      ///< Stitches on the cloth that the layout has no more.
  Clearance clearance;  ///< Of the setting in hand.

  const Measured* measuredAt(int index) const {
    return index >= 1 && index <= static_cast<int>(measured.size())
               ? &measured[static_cast<size_t>(index - 1)]
               : nullptr;
  }
  Record::Sewn sewnAt(int index, int at) const {
    if (index < 1 || index > static_cast<int>(sewn.size())) return {};
    const auto& settings = sewn[static_cast<size_t>(index - 1)];
    return at >= 1 && at <= static_cast<int>(settings.size())
               ? settings[static_cast<size_t>(at - 1)]
               : Record::Sewn{};
  }
};

}  // namespace rt
