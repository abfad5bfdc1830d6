// What the machine reports, kept as it comes: no end of window, machine or power loses what was
// sewn, whichever job is in hand.
#pragma once

#include <filesystem>

#include "record.h"

namespace rt {

/// A file of lines for each plan in a folder of its own; lines are only added. Not copyable.
class SewnJournal {
 public:
  explicit SewnJournal(std::filesystem::path folder);
  ~SewnJournal();
  SewnJournal(const SewnJournal&) = delete;
  SewnJournal& operator=(const SewnJournal&) = delete;

  /// Adds a line; it survives an end of this program at once, and of the power when it says an
  /// event. False where it cannot be written (a full disk): nothing is thrown while a machine
  /// sews.
  bool add(const RowsSewn& fact);
  /// All facts of a plan, oldest first. A line that was torn off is left out.
  std::vector<RowsSewn> of(const std::string& plan) const;

 private:
  std::filesystem::path fileOf(const std::string& plan) const;
  std::filesystem::path folder_;
  std::string open_;  ///< Plan whose file is open.
  int fd_ = -1;
};

}  // namespace rt
