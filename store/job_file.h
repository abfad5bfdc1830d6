// Job files (`.rapt`, SQLite), described in docs/formats.md.
#pragma once

#include <filesystem>

#include "work.h"

namespace rt {

/// Writes the whole work beside the file, flushed, then puts it in the file's place: whatever
/// happens, the file is the old or the new one. Parts of a newer program that were read are
/// written back. Throws Error.
void saveWork(const Work& work, const std::filesystem::path& path);
/// Reads every format that there was, checked. Throws Error for anything that is not a job file;
/// the file is only read.
Work loadWork(const std::filesystem::path& path);
/// A job alone, without plan or record.
void saveJob(const Job& job, const std::filesystem::path& path);
Job loadJob(const std::filesystem::path& path);

}  // namespace rt
