// Predicted errors of a plan: covariances carried from marks to fields, along star or chain.
#pragma once

#include "planner.h"

namespace rt {

/// Where each setting will land, as far as it can be known beforehand: small movements as sums of
/// independent normal errors. Linear about the plan: turns are thousandths.
class SeamBudget {
 public:
  /// Sources: each mark each time a hooping looks for it (`mark_error_mm`, one sigma a coordinate),
  /// and each setting of a clamping after the first (its frame's setting error).
  SeamBudget(const std::vector<Hooping>& hoopings, const std::vector<Hoop>& hoops, TieStyle style,
             double mark_error_mm);

  /// Of the place where setting `s` of hooping `h` (from 0) puts a layout point, mm².
  PlaceCovariance at(size_t h, size_t s, Point p) const;
  /// Of the gap between where two settings put the same layout point, mm².
  PlaceCovariance between(size_t h, size_t s, size_t g, size_t t, Point p) const;

 private:
  /// A movement of the plane: moves (dx, dy) and turns by `turn` radians about `about`; each a row
  /// of weights over the sources.
  struct Movement {
    Point about;
    std::vector<double> dx, dy, turn;
  };
  /// The displacement of a point: two rows over the sources.
  std::pair<std::vector<double>, std::vector<double>> displacement(const Movement& m, size_t h,
                                                                   size_t s, Point p) const;
  Movement fitted(const std::vector<Point>& marks,
                  const std::vector<std::pair<std::vector<double>, std::vector<double>>>& moved);

  std::vector<Movement> movement_;            // by hooping
  std::vector<std::vector<size_t>> setting_;  // by hooping and setting: first of its two sources
  size_t sources_ = 0;
  std::vector<double> sigma_;  // of each source, mm
};

/// The marks of hooping `h` that it is placed by: in a chain those that an earlier one sewed, if
/// they are two or more.
std::vector<PlanMark> placingMarks(const std::vector<Hooping>& hoopings, size_t h, TieStyle style);

/// Two places per centre line that a hooping without two marks is placed by.
std::vector<Point> centreLine(const Hooping& hooping);

/// Fills predicted errors and the errors of the seams, whose places are chosen among `meeting[i]`,
/// the places where thread of both sides of plan.seams[i] meets.
void predictErrors(HoopingPlan& plan, const std::vector<Hoop>& hoops, TieStyle style,
                   double mark_error_mm, const std::vector<std::vector<Point>>& meeting);

}  // namespace rt
