// Whole files in, whole files out.
#pragma once

#include <filesystem>
#include <string>
#include <string_view>

namespace rt {

/// The whole file. Throws Error if it is missing, a directory or not readable.
std::string readFile(const std::filesystem::path& path);
/// Writes beside the file, flushes to the disk, then renames: the file is there whole or as it was.
/// Never creates folders. Throws Error.
void writeFile(const std::filesystem::path& path, std::string_view content);
/// Throws Error with the line unless the text is UTF-8 without NUL bytes.
void requireUtf8(std::string_view text, const std::string& where);

}  // namespace rt
