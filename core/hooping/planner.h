// A layout split over as few hoopings as it takes.
#pragma once

#include <string>

#include "blocks.h"
#include "cover.h"
#include "judge.h"
#include "watch.h"

namespace rt {

/// A hoop as measured once: its stitching field.
struct Hoop {
  std::string id, name;
  Field field;
  friend bool operator==(const Hoop&, const Hoop&) = default;
};

/// Star: every hooping is tied to the same cross, errors do not add. Chain: each to the one before.
enum class TieStyle { Star, Chain };

struct PlanOptions {
  std::vector<Hoop> hoops;
  double overlap_mm = 10;  ///< Neighbouring fields overlap at least by this.
  bool turn = false;       ///< Fields may be turned by 90°.
  TieStyle style = TieStyle::Star;
  double mark_error_mm = kNeedleError_mm;
  int most_nodes = 4000;  ///< Bounds the search; see coverBoxes.
  friend bool operator==(const PlanOptions&, const PlanOptions&) = default;
};

/// A cross that two hoopings share; sewn by the earlier, found by the later.
struct PlanMark {
  std::string id, kind = "cross";
  Point at;  ///< Layout frame, mm.
  friend bool operator==(const PlanMark&, const PlanMark&) = default;
};

struct Hooping {
  std::string id;  ///< Within its plan: given once, kept whatever the order becomes.
  int index = 1;   ///< Sewing order, from 1.
  int hoop = 0;    ///< Index into PlanOptions::hoops.
  std::string hoop_id;
  int turn_deg = 0;      ///< 0 or 90.
  Box field;             ///< Layout frame.
  Pattern pattern;       ///< Layout frame; ties and marks of the cut included.
  size_t stitches = 0;   ///< Without ties, marks and basting.
  double thread_mm = 0;  ///< Likewise.
  std::vector<PlanMark> marks;
  double predicted_error_mm =
      0;  ///< 95 % bound at the worst corner of what it sews, against the layout.
  friend bool operator==(const Hooping&, const Hooping&) = default;
};

/// Where two hoopings meet.
struct Seam {
  int first = 1, second = 2;  ///< Hooping indices.
  Point at;
  double error_mm = 0;  ///< 95 % bound of the gap between the two there.
  friend bool operator==(const Seam&, const Seam&) = default;
};

struct HoopingPlan {
  std::vector<Hooping> hoopings;
  int lower_bound = 0;
  std::vector<std::string> crossings;  ///< Pieces (or blocks) that were cut.
  size_t cut_stitches = 0;             ///< Places where a cut parts a thread.
  std::vector<Seam> seams;
  double worst_seam_error_mm = 0;
  std::vector<std::string> warnings;
  friend bool operator==(const HoopingPlan&, const HoopingPlan&) = default;
};

/// Plans the fewest hoopings: whole pieces first, then whole blocks, and cuts through blocks where
/// that saves a hooping or nothing else fits. Every stitch goes to exactly one hooping; what lies
/// on top is not sewn before what lies under it, or a warning says so. Throws Error for an empty
/// layout, no hoop, or a field too small to overlap; Stopped when the watch says so.
HoopingPlan planHoopings(const Pattern& pattern, const PlanOptions& options,
                         const Watch& watch = {});

/// The error budget alone, for placed hoopings with their marks; fills predicted errors and seams.
void predictErrors(HoopingPlan& plan, TieStyle style, double mark_error_mm);

}  // namespace rt
