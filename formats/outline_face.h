// Letters from a font file.
#pragma once

#include <filesystem>

#include "face.h"

namespace rt {

/// Reads a TrueType or OpenType file. Throws Error if it holds no letters.
std::shared_ptr<const OutlineSource> openOutlines(const std::filesystem::path& file);

}  // namespace rt
