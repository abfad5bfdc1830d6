// Where the program's data lies.
#pragma once

#include <filesystem>

namespace rt {

/// The folder with fabrics.json, faces/ and demo/: RAPT_THIMBLE_DATA if set, else beside an
/// installed program, else the source tree's. Throws Error if none is there.
std::filesystem::path dataFolder();

}  // namespace rt
