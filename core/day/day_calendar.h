// When hands may work and machines may sew. Part of the day's planner; not for other rooms.
#pragma once

#include <span>

#include "day.h"

namespace rt {

/// Spans in order that neither touch nor overlap.
using DaySpans = std::vector<DaySpan>;

/// The spans joined where they touch or overlap, in order.
DaySpans joined(DaySpans spans);
/// What of `spans` lies outside `but`.
DaySpans without(const DaySpans& spans, const DaySpans& but);
/// Seconds of the spans before `at`.
DaySecond lengthBefore(const DaySpans& spans, DaySecond at);

class DayCalendar {
 public:
  explicit DayCalendar(const Day& day);
  /// When a hand is there, a task within one span.
  const DaySpans& hand(int hand) const { return hands_[static_cast<size_t>(hand)]; }
  /// When a machine may sew.
  const DaySpans& sewing(int machine) const { return sewing_[static_cast<size_t>(machine)]; }
  /// When a machine is out of order.
  const DaySpans& closed(int machine) const { return closed_[static_cast<size_t>(machine)]; }
  /// When any hand is there or the machine sews, and it is not out of order.
  DaySpans open(int machine) const;
  DaySecond end() const { return end_; }

 private:
  std::vector<DaySpans> hands_, sewing_, closed_;
  DaySecond end_ = 0;
};

/// The first span of `length` seconds at or after `ready` within one of `free`; nothing if there is
/// none.
std::optional<DaySecond> firstFit(const DaySpans& free, DaySecond ready, DaySecond length);
/// Sewing of `length` seconds that rests outside `open`: from its first second to its end.
std::optional<DaySpan> sewnWithin(const DaySpans& open, DaySecond ready, DaySecond length);
/// Takes a span out of those that are free; it lies within one.
void take(DaySpans& free, DaySpan span);

}  // namespace rt
