// One program at a time changes a job file.
#pragma once

#include <filesystem>

namespace rt {

/// Holds a file for as long as it lives: others that ask for it wait. A file that is replaced while
/// one waits is asked for anew; one that is not there yet needs no lock. Not copyable. (flock(2):
/// it goes with its program, however that ends; the file itself is not touched.)
class FileLock {
 public:
  /// Throws Error where another program keeps it for over 15 seconds.
  explicit FileLock(const std::filesystem::path& file);
  ~FileLock();
  FileLock(const FileLock&) = delete;
  FileLock& operator=(const FileLock&) = delete;

 private:
  int fd_ = -1;
};

/// A mark that this program is alive: a file that is held until the program ends, however it does.
class AliveMark {
 public:
  explicit AliveMark(std::filesystem::path file);
  ~AliveMark();
  AliveMark(const AliveMark&) = delete;
  AliveMark& operator=(const AliveMark&) = delete;
  /// Whether somebody holds the mark.
  static bool held(const std::filesystem::path& file);

 private:
  std::filesystem::path file_;
  int fd_ = -1;
};

}  // namespace rt
