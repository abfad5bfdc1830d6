// Job files (`.rapt`, SQLite), described in docs/formats.md.
#pragma once

#include <filesystem>

#include "work.h"

namespace rt {

/// Writes the whole work beside the file, flushed, then puts it in the file's place: whatever
/// happens, the file is the old or the new one. Parts of a newer program that were read are
/// written back. Throws Error, also for a work that could not be opened again.
void saveWork(const Work& work, const std::filesystem::path& path);
/// The same with the stamp that the file is to carry.
void saveWork(const Work& work, const std::filesystem::path& path, const std::string& stamp);
/// A text that is another whenever the file was saved anew; by size and time for files of earlier
/// programs. Empty: there is no such file.
std::string savedStamp(const std::filesystem::path& path);
/// Reads every format that there was, checked. Throws Error for anything that is not a job file;
/// the file is only read.
Work loadWork(const std::filesystem::path& path);
/// A job alone, without plan or record.
void saveJob(const Job& job, const std::filesystem::path& path);
Job loadJob(const std::filesystem::path& path);

}  // namespace rt
