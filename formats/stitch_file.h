// Any stitch file, told apart by its content.
#pragma once

#include <filesystem>

#include "stitch_csv.h"

namespace rt {

enum class FileKind { StitchList, StitchDrawing, Artwork, Job, Unknown };

FileKind kindOfFile(std::string_view text);
/// Reads a stitch list or a stitch drawing. Artwork and others are an Error that says what to do.
ReadResult readStitchFile(const std::filesystem::path& path);
/// Writes by the name's ending: .svg a drawing, else a list.
void writeStitchFile(const std::filesystem::path& path, const Pattern& pattern,
                     Digits digits = Digits::Hundredths);

}  // namespace rt
