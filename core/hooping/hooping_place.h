// Where a hooping lies in its hoop: as it was meant to, and as it was measured.
#pragma once

#include <span>

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
/// Rows of a setting on cloth that lies as measured, whether they stay in the field or not.
Pattern onMeasuredCloth(const Hooping& hooping, size_t setting, const Fit& lies);
/// How far places keep from a field's edge, mm: the least of them; negative where one lies outside.
/// In an oval, with half axes a and b, a place at r = |(x/a, y/b)| keeps at least (1 - r) · min(a,
/// b) (r is a norm whose unit ball is the field), which is what is given. Infinite without places.
double roomIn(const Field& field, std::span<const Point> places);
/// The same for the thread of rows in the field's frame.
double roomIn(const Field& field, const Pattern& rows);
/// Holds an alignment against the field: sewing of any setting that would leave it, as the cloth
/// lies, is re-hoop, with how far and where. The fit stays as it is.
void holdInField(Alignment& alignment, const Hooping& hooping, const Field& field);
/// Crosses to needle for a hooping: its shared marks, and the ends of the layout's centre lines
/// that its field holds. Expected hoop places are where a perfect hooping would put them, with the
/// error that each is found with.
std::vector<Mark> expectedMarks(const Hooping& hooping, double error_mm = MarkErrors{}.needle_mm);

}  // namespace rt
