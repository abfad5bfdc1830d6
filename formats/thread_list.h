// The user's own list of threads, CSV in and out.
#pragma once

#include <filesystem>

#include "thread_shelf.h"

namespace rt {

/// Columns are found by name: `colour` (#rrggbb) is needed; `code`, `name`, `metres` may be there.
/// Lines that begin with # before the columns' names are comments.
/// Quoting is not read. Throws Error with file and line.
std::vector<ShelfThread> readThreads(const std::filesystem::path& file);
std::string threadsCsv(const std::vector<ShelfThread>& shelf);

}  // namespace rt
