// JSON of job files read with bounds. Part of this room.
#pragma once

#include <nlohmann/json.hpp>
#include <string>

namespace rt {

using Json = nlohmann::json;

/// Throws Error on text that is no JSON or is nested deeper than any part of a job.
Json parsedPart(const std::string& text);

}  // namespace rt
