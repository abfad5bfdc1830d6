// The faces that ship with the program.
#pragma once

#include <filesystem>
#include <vector>

#include "face.h"

namespace rt {

/// What data/faces/faces.json lists, letters not read yet. Throws Error with file and key.
std::vector<Face> listFaces(const std::filesystem::path& data_folder);
/// One face with its letters. Throws Error naming the known ids.
Face loadFace(const std::filesystem::path& data_folder, const std::string& id);
/// Text in composed form (NFC), as lettering takes it.
std::string composed(const std::string& utf8);

}  // namespace rt
