// A frame of a shelf file as JSON. Part of this room; not for others.
#pragma once

#include "frame.h"
#include "json_reading.h"

namespace rt {

/// Throws Error with file, frame and key.
Hoop hoopFrom(const Json& object, const std::string& file);
Json hoopJson(const Hoop& hoop);

}  // namespace rt
