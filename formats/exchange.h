// The JSON and CSV files of docs/formats.md that are not stitches.
#pragma once

#include <filesystem>

#include "fabric.h"
#include "judge.h"
#include "photo_marks.h"
#include "planner.h"

namespace rt {

/// Alignment set-up. Only the parts that the fit needs.
AlignmentSetup readAlignmentSetup(const std::filesystem::path& path);
/// The whole of it, with tags and crosses. Throws Error for an id or name that is listed twice.
PhotoSetup readPhotoSetup(const std::filesystem::path& path);
/// `name,layout_x_mm,layout_y_mm,hoop_x_mm,hoop_y_mm`. Throws Error with the line.
std::vector<Mark> readNeedlePoints(const std::filesystem::path& path,
                                   double error_mm = MarkErrors{}.needle_mm);
std::vector<Zone> readZones(const std::filesystem::path& path);

/// The name of a setting's stitch list within its plan's folder.
std::string settingFile(const Hooping& hooping, const PlanSetting& setting);
/// The plan as its JSON, files named as settingFile does.
std::string planJson(const HoopingPlan& plan);

}  // namespace rt
