// What papers say of a job, gathered for them.
#pragma once

#include "hooping_sheets.h"
#include "job_sheet.h"
#include "making.h"

namespace rt {

/// Fabric, how it is held, backing, topper, needle and thread: a line each.
std::vector<std::string> materialLines(const Brief& brief, const Bench& bench);

/// A job's sheet: part by part of its plan, or the layout as one where there is none.
JobSheetOptions jobSheetOf(const Job& job, const Pattern& layout, const HoopingPlan* plan,
                           const Bench& bench);

/// Its hooping sheets; `done` hoopings are crossed out on the small maps.
HoopingSheetOptions hoopingSheetsOf(const Job& job, const Bench& bench, std::vector<int> done);

}  // namespace rt
