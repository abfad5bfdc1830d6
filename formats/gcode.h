// Stitch lists as open machine code.
#pragma once

#include <filesystem>

#include "pattern.h"

namespace rt {

struct GcodeOptions {
  double step_mm = 0.1;  ///< Coordinates are multiples of it.
};

struct GcodeResult {
  size_t moves = 0, stitches = 0;  ///< G0 and G1 lines.
};

/// ISO 6983 in millimetres, absolute, Y up: `G0` a jump, `G1` a needle point, `M5` a cut, `M6 Tn`
/// thread n by first use, `M0` a wait, `M30` the end. Every point is rounded by itself, so that
/// nothing drifts. Throws Error for a step that is none.
std::string gcodeOf(const Pattern& pattern, const GcodeOptions& options,
                    GcodeResult* result = nullptr);
GcodeResult writeGcode(const Pattern& pattern, const GcodeOptions& options,
                       const std::filesystem::path& path);

}  // namespace rt
