// The faces that ship with the program.
#pragma once

#include <filesystem>
#include <vector>

#include "stroke_face.h"

namespace rt {

/// What data/faces/faces.json lists, letters not read yet. Throws Error with file and key.
std::vector<StrokeFace> listFaces(const std::filesystem::path& data_folder);
/// One face with its letters. Throws Error naming the known ids.
StrokeFace loadFace(const std::filesystem::path& data_folder, const std::string& id);
/// Text in composed form (NFC), as lettering takes it.
std::string composed(const std::string& utf8);

}  // namespace rt
