// Where a hooping lies in its hoop: as it was meant to, and as it was measured.
#pragma once

#include "planner.h"

namespace rt {

/// Layout to hoop for a hooping that lies perfectly.
Transform intendedPlace(const Hooping& hooping);
/// Rows of a hooping in the frame of a hoop that lies perfectly.
Pattern inHoop(const Hooping& hooping);
/// Rows of a hooping as they have to be sewn to land on cloth that lies as measured. `lies` maps
/// the place that was meant, in the hoop's frame, to where it was found. Throws Error if a stitch
/// would leave the field, with how far and where.
Pattern inMachine(const Hooping& hooping, const Fit& lies, const Field& field);
/// Holds an alignment against the field: sewing that would leave it, as the cloth lies, is re-hoop,
/// with how far and where. The fit stays as it is.
void holdInField(Alignment& alignment, const Hooping& hooping, const Field& field);
/// Crosses to needle for a hooping: its shared marks, and the ends of the layout's centre lines
/// that its field holds. Expected hoop places are where a perfect hooping would put them.
std::vector<Mark> expectedMarks(const Hooping& hooping);

}  // namespace rt
