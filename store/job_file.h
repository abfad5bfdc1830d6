// Job files (`.rapt`, SQLite), described in docs/formats.md.
#pragma once

#include <filesystem>

#include "job.h"

namespace rt {

/// Writes the whole job beside the file, flushed, then puts it in the file's place: whatever
/// happens, the file is the old or the new one. Throws Error.
void saveJob(const Job& job, const std::filesystem::path& path);
/// Throws Error for anything that is not a job file; the file is only read.
Job loadJob(const std::filesystem::path& path);

}  // namespace rt
