// Job files that were opened or saved last, newest first.
#pragma once

#include <filesystem>
#include <vector>

namespace rt {

/// Those that are still there, a dozen at most; none if the list cannot be read.
std::vector<std::filesystem::path> recentJobs(const std::filesystem::path& list);
/// Puts a file first. Keeps quiet where the list cannot be written: it is a convenience.
void noteRecentJob(const std::filesystem::path& list, const std::filesystem::path& job);

}  // namespace rt
