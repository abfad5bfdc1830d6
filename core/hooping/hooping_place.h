// Where a hooping lies in its hoop: as it was meant to, and as it was measured.
#pragma once

#include "planner.h"

namespace rt {

/// Layout to the machine's field for a setting that lies perfectly.
Transform intendedPlace(const PlanSetting& setting);
/// Rows of a setting in the machine's field, lying perfectly.
Pattern inHoop(const PlanSetting& setting);
/// Rows of a setting as they have to be sewn to land on cloth that lies as measured. `lies` maps
/// the place that was meant, in the field of the hooping's first setting, to where it was found
/// there; the frame's later settings turn and shift with it. Throws Error if a stitch would leave
/// the field, with how far and where.
Pattern inMachine(const Hooping& hooping, size_t setting, const Fit& lies, const Field& field);
/// Holds an alignment against the field: sewing of any setting that would leave it, as the cloth
/// lies, is re-hoop, with how far and where. The fit stays as it is.
void holdInField(Alignment& alignment, const Hooping& hooping, const Field& field);
/// Crosses to needle for a hooping: its shared marks, and the ends of the layout's centre lines
/// that its field holds. Expected hoop places are where a perfect hooping would put them, with the
/// error that each is found with.
std::vector<Mark> expectedMarks(const Hooping& hooping, double error_mm = MarkErrors{}.needle_mm);

}  // namespace rt
