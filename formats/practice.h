// Shop practice that is no limit of a fabric. The figures live in data/practice.json.
#pragma once

#include <string>

#include "hooping_rule.h"
#include "judge.h"
#include "learning.h"
#include "practice_score.h"
#include "sewing_rules.h"

namespace rt {

struct ShopPractice {
  double thin_under_letters = 1.4;  ///< Rows of a fill that stays under lettering: times as far.
  double baste_away_mm = 4;         ///< Of a basting outline from what it goes round.
  double baste_stitch_mm = 5;
  double outline_stitch_mm = 2.5;  ///< Of placement and tack-down lines.
  double tack_inside_mm = 1;       ///< Of a tack-down from the placement line.
  double monogram_larger = 1.5;    ///< The middle initial of three against its neighbours.
  double monogram_room_mm = 2.5;   ///< Between sewn initials and their frame.
  double monogram_frame_mm = 1.6;  ///< Width of the frame's column.
  LearningRule learning;
  size_t least_runs = 3;   ///< Sewn hoopings before the time model is corrected by them.
  double hooping_s = 300;  ///< To hoop, align and take out again, by hand.
  Scoring scoring;
  SewingRules sewing;
  HoopingRule hooping;
  MarkErrors marks;
  ShapeLimits shape;
  double minutes_far_off = 0.25;  ///< A run that takes so much more or less than planned is marked.
  double photo_true_mm = 0.3;     ///< What is drawn on a scan may be off by so much, 95 %.
  size_t resume_overlap_stitches = 6;  ///< Sewn again after a break, so that the ends hold.
  friend bool operator==(const ShopPractice&, const ShopPractice&) = default;
  std::string source;  ///< What the figures rest on, to be said beside them.
};

}  // namespace rt
