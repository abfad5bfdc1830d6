// Seams as they were sewn: both sides of each found in a photo, and the gap between them.
#pragma once

#include <memory>

#include "photo_marks.h"
#include "planner.h"
#include "watch.h"
#include "work.h"

namespace rt {

/// A seam whose two sides are sewn and in sight.
struct SeamSeen {
  Seam planned;
  Point gap;          ///< Layout frame, mm: how far the second side lies from the first, too far.
  double gap_mm = 0;  ///< Its length.
  double certain_mm = 0;  ///< 95 % bound of the error of `gap`.
  bool asPredicted() const { return gap_mm <= planned.error_mm + certain_mm; }
  /// "seam of 1 and 2: 0.21 mm off, ± 0.05; up to 0.34 was predicted".
  std::string inWords() const;
  friend bool operator==(const SeamSeen&, const SeamSeen&) = default;
};

struct SeamQuestion {
  std::shared_ptr<const ScanTaken> scan;
  PhotoSetup setup;  ///< Of the hooping that is in the frame.
  std::string plan;  ///< Id.
  std::shared_ptr<const HoopingPlan> made;
  int hooping = 1;                        ///< In the frame.
  std::vector<std::pair<int, int>> sewn;  ///< Hooping and setting, wholly sewn.
  friend bool operator==(const SeamQuestion& a, const SeamQuestion& b) {
    return a.scan->scan.id == b.scan->scan.id && a.setup == b.setup && a.plan == b.plan &&
           a.hooping == b.hooping && a.sewn == b.sewn;
  }
};

struct SeamAnswer {
  std::vector<SeamSeen> seams;  ///< Those that could be measured.
  size_t not_told = 0;  ///< Both sides sewn, but thread and cloth look alike, or all is covered.
};

/// Every seam of the hooping in the frame, with another one or between settings of its own, whose
/// two sides are sewn: each side's thread within 75 mm of the seam's worst place is found in the
/// photo, shifted and turned as one (see shiftOfSewn); the gap there is the difference. Throws
/// Error where the photo has no plane or nothing is sewn on both sides; Stopped.
SeamAnswer readSeams(const SeamQuestion& question, const Watch& watch = {});

}  // namespace rt
