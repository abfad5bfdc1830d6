// Autosaved copies: what comes back after a crash.
#pragma once

#include <filesystem>
#include <optional>

#include "work.h"

namespace rt {

/// Keeps one autosaved copy for each job and file in a folder of its own: a variant that was saved
/// under another name has a copy of its own. `keep` may be called from another thread.
class Recovery {
 public:
  explicit Recovery(std::filesystem::path folder);
  /// Saves a copy; `saved_as` is the job's own file, or empty. Throws Error.
  void keep(const Work& work, const std::filesystem::path& saved_as) const;
  /// The edits are safe in the job's own file (or given up): the copy goes.
  void forget(const std::string& job_id, const std::filesystem::path& saved_as) const;
  /// A copy of edits that were never saved.
  struct Found {
    Work work;
    std::filesystem::path saved_as;
  };
  /// The copy for a job that was loaded from its file, if it is later than the file; one that is
  /// not (its file was saved and the program ended before the copy was forgotten) is removed.
  std::optional<Found> find(const Work& saved, const std::filesystem::path& path) const;
  /// The newest copy that can be read, for a start without a file. Copies that the job's own file
  /// has overtaken are removed.
  std::optional<Found> newest() const;

 private:
  std::filesystem::path copyOf(const std::string& job_id,
                               const std::filesystem::path& saved_as) const;
  std::optional<Found> load(const std::filesystem::path& copy) const;
  std::filesystem::path folder_;
};

}  // namespace rt
