// What must be so before a hooping is sewn, as it is shown: each line of its clearance with the
// station that mends it. Nothing is decided here.
#pragma once

#include "desk.h"
#include "look.h"
#include "station_id.h"

namespace rt {

struct PreflightLine {
  look::State state = look::State::Ready;  ///< Ready, Check, or Stop: it cannot start.
  QString words;
  std::optional<Station> mends;  ///< Unset: here, at the machine.
  ClearanceLine::What what = ClearanceLine::What::NoPlan;
};

/// In the order in which things are done. What only eyes can see is not among them.
std::vector<PreflightLine> preflight(const Clearance& clearance);
/// The first that keeps it from starting; unset: nothing does.
std::optional<PreflightLine> hindranceIn(const std::vector<PreflightLine>& lines);

}  // namespace rt
