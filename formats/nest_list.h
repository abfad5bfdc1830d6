// The list of a batch: `name,width_mm,height_mm,count`.
#pragma once

#include <filesystem>
#include <vector>

#include "nest.h"

namespace rt {

/// Columns are found by name; lines that begin with # are comments. Throws Error with the line.
std::vector<NestKind> readNestList(const std::filesystem::path& path);

}  // namespace rt
