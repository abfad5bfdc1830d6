// Autosaved copies: what comes back after a crash.
#pragma once

#include <filesystem>
#include <memory>
#include <optional>

#include "file_lock.h"
#include "work.h"

namespace rt {

/// Keeps one autosaved copy for each job, file and window in a folder of its own: a variant that
/// was saved under another name has a copy of its own, and two windows never write one between
/// them. `keep` may be called from another thread.
class Recovery {
 public:
  explicit Recovery(std::filesystem::path folder);
  ~Recovery();
  /// Saves a copy; `saved_as` is the job's own file, or empty, `stamp` that file's as it was last
  /// read or written here. Throws Error.
  void keep(const Work& work, const std::filesystem::path& saved_as,
            const std::string& stamp = {}) const;
  /// The edits are safe in the job's own file (or given up): the copy goes.
  void forget(const std::string& job_id, const std::filesystem::path& saved_as) const;
  /// A copy of edits that were never saved.
  struct Found {
    Work work;
    std::filesystem::path saved_as;
    bool diverged = false;  ///< The file was saved by others since: both hold what the other lacks.
  };
  /// The copy for a job that was loaded from its file, if it holds what the file does not; one that
  /// does not (its file was saved and the program ended before the copy was forgotten) is removed.
  /// Copies of windows that are open are theirs.
  std::optional<Found> find(const Work& saved, const std::filesystem::path& path) const;
  /// The newest copy that can be read and whose window is gone, for a start without a file. Copies
  /// that the job's own file has overtaken are removed.
  std::optional<Found> newest() const;
  /// A stamp for a file that this window saves: whoever finds a copy knows by it whether the file
  /// was saved by the copy's own window.
  std::string newStamp() const;

 private:
  struct Copy {
    std::filesystem::path file;
    std::string window;  ///< Empty: of an earlier program.
  };
  std::filesystem::path copyOf(const std::string& job_id,
                               const std::filesystem::path& saved_as) const;
  std::vector<Copy> orphans() const;
  std::optional<Found> load(const Copy& copy) const;
  bool outlived(Found& found, const Copy& copy, const Work& saved) const;
  void adopt(const Copy& copy, const Found& found) const;
  void remove(const std::filesystem::path& copy) const;
  std::filesystem::path folder_;
  std::string window_;
  std::unique_ptr<AliveMark> alive_;
};

}  // namespace rt
