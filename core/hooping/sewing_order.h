// In which order clampings and their settings are sewn. Part of the planner; not for other rooms.
#pragma once

#include "field_cover.h"
#include "planner.h"

namespace rt {

/// A setting of a clamping, as fields are counted by the planner.
struct ClampedField {
  PlacedField field;
  int clamping = 0;
};

/// before[i][j]: how many overlaps ask for field i to be sewn before field j.
using Precedence = std::vector<std::vector<int>>;

/// Orders of all fields, the settings of a clamping together, best first, `most` at most: least
/// overlaps turned over; each beside one that is sewn; none between two that are; then by school
/// and with little handling.
std::vector<std::vector<int>> ordersToTry(const std::vector<ClampedField>& fields,
                                          const std::vector<Clamping>& clampings,
                                          const Precedence& before, SewingOrder school,
                                          size_t most);

}  // namespace rt
