// What happened to one hooping from the first stitch to the last, told from the ledger's lines.
#pragma once

#include "ledger_entry.h"

namespace rt {

struct RunStory {
  std::string job_id, job_title;
  int hooping = 1;
  std::string began, ended;  ///< ISO 8601, UTC; `ended` is empty where it was not sewn through.
  double planned_s = 0, taken_s = 0;  ///< By the model and by the machine's clock; 0: not told.
  int breaks = 0, bobbins = 0, folds = 0, lost = 0;
  int stepped_back = 0, skipped = 0;
  std::string aligned;  ///< ready, check or rehoop; empty: no alignment was kept before it.
  double rotation_deg = 0, worst_mm = 0, rms_mm = 0;  ///< Of that alignment.
  bool overruled = false;
  std::string outcome;  ///< How it sewed out, of the first outcome after it.
  friend bool operator==(const RunStory&, const RunStory&) = default;
};

/// One for each time a hooping was begun, in that order. `entries` are in the order in which they
/// happened. Lines of other stations in between belong to their own job.
std::vector<RunStory> storiesIn(const std::vector<LedgerEntry>& entries);

}  // namespace rt
