// How long sewing takes, and how much thread it uses. Figures live in data/time-model.json.
#pragma once

#include "pattern.h"

namespace rt {

/// Stated assumptions; each is a judgement that a shop tunes on its own machine.
struct TimeModel {
  double stitches_per_minute = 700;  ///< On stitches up to `long_from_mm`.
  double long_from_mm = 4;           ///< Longer stitches slow the machine …
  double slower_per_mm = 0.15;       ///< … by this part of a stitch's time for each mm over.
  double jump_mm_per_s = 60;         ///< Frame speed without sewing.
  double jump_start_s = 0.3;         ///< Lost at each jump.
  double trim_s = 7;                 ///< Cut, lift and restart.
  double colour_change_s = 90;       ///< One needle: re-threading by hand.
  double needle_change_s = 9;        ///< Many needles: the machine changes by itself.
  double stop_s = 30;                ///< Waiting for a person at a `stop` row.
  friend bool operator==(const TimeModel&, const TimeModel&) = default;
};

/// The model with all its times multiplied.
TimeModel slowed(TimeModel model, double factor);

/// A hooping that was sewn through.
struct SewnRun {
  double predicted_s = 0, taken_s = 0;
};
/// What runs that were sewn say of the model: the median of taken over predicted times, once there
/// are `least_runs`; 1 until then. The median, so that one run with a long pause moves nothing.
double timeFactor(const std::vector<SewnRun>& runs, size_t least_runs = 3);

enum class Needles { One, Many };

/// Time of one row after another: feed every row in order.
class TimeWalk {
 public:
  TimeWalk(const TimeModel& model, Needles needles) : model_(model), needles_(needles) {}
  /// Seconds that this row takes, including a colour change just before it.
  double next(const Stitch& stitch);

 private:
  TimeModel model_;
  Needles needles_;
  NeedleWalk walk_;
  Point at_;
  bool placed_ = false;
};

double sewingTime_s(const Pattern& pattern, const TimeModel& model, Needles needles = Needles::One);

}  // namespace rt
