// Needle points kept apart: cloth pierced twice in one place tears.
#pragma once

#include <functional>

#include "strand.h"

namespace rt {

/// Needle points nearer to an earlier one than this weaken the cloth, mm (shop practice).
inline constexpr double kNeedleRoom_mm = 0.30;

/// The strand with points that lie within `room_mm` of an earlier one moved: satin stands back
/// along its own stitch (0.5 mm and 40 % of it at most), to its sides by 0.2 mm at most, or goes on
/// by 0.3 mm where other columns lie too (`covered`; where it is not given, nowhere); runs and
/// underlay leave the point out where the line stays the same, else slide along. Points that find
/// no room keep the best place; the first and the last stay.
Strand spreadOut(const Strand& strand, double room_mm = kNeedleRoom_mm,
                 const std::function<bool(Point)>& covered = {});

}  // namespace rt
