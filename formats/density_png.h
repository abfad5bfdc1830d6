// A density map as a picture file.
#pragma once

#include <filesystem>

#include "findings.h"

namespace rt {

/// One pixel a sample, bare cloth clear, samples over the stop limit crossed by light lines. Throws
/// Error for a map over 30,000 samples wide or high.
void writeDensityPng(const Weighing& weighing, const Limit& limit,
                     const std::filesystem::path& path);

}  // namespace rt
