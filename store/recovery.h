// Autosaved copies: what comes back after a crash.
#pragma once

#include <filesystem>
#include <optional>

#include "job.h"

namespace rt {

/// Keeps one autosaved copy for each job in a folder of its own.
class Recovery {
 public:
  explicit Recovery(std::filesystem::path folder);
  /// Saves a copy; `saved_as` is the job's own file, or empty. Throws Error.
  void keep(const Job& job, const std::filesystem::path& saved_as);
  /// The edits are safe in the job's own file (or given up): the copy goes.
  void forget(const Job& job);
  /// A copy of edits to this job that were never saved.
  struct Found {
    Job job;
    std::filesystem::path saved_as;
  };
  std::optional<Found> find(const std::string& job_id) const;
  /// The newest copy of all, for a start without a file.
  std::optional<Found> newest() const;

 private:
  std::filesystem::path copyOf(const std::string& job_id) const;
  std::optional<Found> load(const std::filesystem::path& copy) const;
  std::filesystem::path folder_;
};

}  // namespace rt
