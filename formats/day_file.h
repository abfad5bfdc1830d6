// A day as a JSON file, what was done of it, and its plan; docs/formats.md says what they hold.
#pragma once

#include <filesystem>
#include <functional>

#include "day.h"

namespace rt {

/// Hoopings of a job file, its path as it stands in the day, relative to it.
using DayJobReader = std::function<std::vector<DayHooping>(const std::filesystem::path& file)>;

/// Throws Error naming member and remedy.
Day readDay(const std::filesystem::path& file, const DayJobReader& job);
/// Tasks of `DONE.json`. Throws Error for jobs, machines or steps that the day does not have.
std::vector<DayTask> readDone(const std::filesystem::path& file, const Day& day);
/// The plan as one JSON object.
std::string dayPlanJson(const Day& day, const DayPlan& plan, DaySecond now,
                        const std::vector<std::string>& warnings);

/// `2027-03-02T08:00` or with seconds. Throws Error.
DaySecond daySecondFrom(const std::string& text, const std::string& where);
std::string daySecondText(DaySecond at);

}  // namespace rt
