// The shelf of frames: a JSON file of what was measured once.
#pragma once

#include <filesystem>
#include <vector>

#include "frame.h"

namespace rt {

/// Frames of a shelf file. Throws Error with file, frame and key; an empty shelf is an error.
std::vector<Hoop> readShelf(const std::filesystem::path& path);
/// The same text as it is read: `{"hoops": [...]}`.
std::string shelfJson(const std::vector<Hoop>& hoops);
/// The frames of `own`, then those of `shop` whose ids are not among them.
std::vector<Hoop> joinedShelf(const std::vector<Hoop>& own, const std::vector<Hoop>& shop);

/// `200x140` in plain decimals, mm; what scanf would take for hexadecimal is none.
std::optional<std::pair<double, double>> sizeFrom(const std::string& text);
/// A hoop by id, or a bare field written `200x140` (mm). Throws Error naming the known ids.
Hoop hoopFor(const std::vector<Hoop>& hoops, const std::string& text);

}  // namespace rt
