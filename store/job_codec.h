// Parts of a job as JSON. Part of this room.
#pragma once

#include <string>

#include "work.h"

namespace rt {

std::string briefJson(const Brief& brief);
Brief briefFrom(const std::string& json);
std::string placementJson(const Placement& place);
Placement placementFrom(const std::string& json);
std::string sourceJson(const PieceSource& source);
PieceSource sourceFrom(const std::string& json);
std::string zoneJson(const Zone& zone);
Zone zoneFrom(const std::string& json);
std::string sequenceJson(const SequenceSettings& settings);
SequenceSettings sequenceFrom(const std::string& json);
std::string planSettingsJson(const PlanSettings& settings);
PlanSettings planSettingsFrom(const std::string& json);
/// Tolerance, swatch, accepted proof and the next free id.
std::string jobSettingsJson(const Job& job);
void readJobSettings(const std::string& json, Job& job);
/// A plan but for its hoopings' stitches, which are bytes.
std::string madePlanJson(const HoopingPlan& plan);
HoopingPlan madePlanFrom(const std::string& json);
/// A fact's kind, and the rest of it. A kind that is not known comes back as it was.
std::string kindOf(const Happening& happening);
std::string happeningJson(const Happening& happening);
Happening happeningFrom(const std::string& kind, const std::string& json);

}  // namespace rt
