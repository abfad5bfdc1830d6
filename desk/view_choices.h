// How a person likes to look at things: kept for the program, not in any job.
#pragma once

#include <filesystem>

namespace rt {

struct ViewChoices {
  bool inches = false;  ///< Inches first on screen.
  bool dark = false;
  double scan_strength = 0.8;  ///< How strongly a scan shows under the pieces, 0 to 1.
  friend bool operator==(const ViewChoices&, const ViewChoices&) = default;
};
/// As it ships if there is no file or it cannot be read.
ViewChoices readViewChoices(const std::filesystem::path& file);
/// Keeps quiet where it cannot be written: the choice then holds for this run.
void writeViewChoices(const std::filesystem::path& file, const ViewChoices& choices);

}  // namespace rt
