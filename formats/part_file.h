// A file under way: written beside its target and put in its place whole, or not at all.
#pragma once

#include <filesystem>

namespace rt {

/// Owns a part file beside the target until `commit` or destruction; not copyable. Links are
/// followed: what they point to is replaced, the link stays. Part files that a killed program left
/// beside the target are removed first. SIGINT and SIGTERM take part files along if
/// `removePartsOnSignals` was called.
class PartFile {
 public:
  /// Throws Error for an empty name, a folder, or a place that cannot be written to.
  explicit PartFile(const std::filesystem::path& target);
  ~PartFile();
  PartFile(const PartFile&) = delete;
  PartFile& operator=(const PartFile&) = delete;

  /// Where to write. It exists and is empty.
  const std::filesystem::path& path() const { return part_; }
  /// Flushes the part to the disk and renames it over the target. Throws Error; the target is then
  /// as it was.
  void commit();

 private:
  std::filesystem::path target_, part_;
  int slot_ = -1;
};

/// A file that another library makes beside a part: an end by a signal takes it along, and so does
/// the end of this object. Not copyable.
class GoneOnSignal {
 public:
  explicit GoneOnSignal(std::filesystem::path file);
  ~GoneOnSignal();
  GoneOnSignal(const GoneOnSignal&) = delete;
  GoneOnSignal& operator=(const GoneOnSignal&) = delete;

 private:
  std::filesystem::path file_;
  int slot_ = -1;
};

/// Parts of a file or folder that programs which are gone left beside it, …
void removeStaleParts(const std::filesystem::path& target);
/// … or of all files in a folder.
void removeStalePartsIn(const std::filesystem::path& folder);
/// An end by Ctrl+C or SIGTERM leaves no part file. For programs, once at their start.
void removePartsOnSignals();

}  // namespace rt
