// A plan as files in a folder: a stitch list a hooping, and plan.json.
#pragma once

#include <filesystem>

#include "planner.h"

namespace rt {

/// Writes the folder, made if it is missing: after it the folder holds this plan and no file of an
/// older one; other people's files in it stay. A failure, a full disk or an end of the program
/// leaves the folder as it was. plan.json is there only with all that it names. Gives its text.
/// Throws Error.
std::string writePlanFolder(const std::filesystem::path& folder, const HoopingPlan& plan);

/// What writePlanFolder wrote: hoopings with their settings' stitches, marks and errors. Throws
/// Error naming the file and what is wrong with it.
HoopingPlan readPlanFolder(const std::filesystem::path& folder);

}  // namespace rt
