// From an order of hands' tasks to a plan, each as early as it can be. Part of the day's planner;
// not for other rooms.
#pragma once

#include "day_calendar.h"

namespace rt {

/// One hooping of one piece.
struct DayItem {
  int job = 0, piece = 0, hooping = 0;
  int before = -1;            ///< The item before it of its piece.
  bool last = false;          ///< Of its piece.
  std::vector<int> machines;  ///< That take its frame.
  int frame = 0;              ///< By its place among the day's frames.
  DaySecond hoop_s = 0, unhoop_s = 0;
};

/// All that a decoder asks of a day, worked out once.
class DayModel {
 public:
  /// `begun`: tasks that happened or are under way; the rest begins at `now`.
  DayModel(const Day& day, std::vector<DayTask> begun, DaySecond now);

  const Day& day() const { return day_; }
  const DayCalendar& calendar() const { return calendar_; }
  const std::vector<DayItem>& items() const { return items_; }
  const std::vector<DayTask>& begun() const { return begun_; }
  DaySecond now() const { return now_; }
  int itemOf(int job, int piece, int hooping) const;
  const DayHooping& hooping(const DayItem& item) const {
    return day_.jobs[static_cast<size_t>(item.job)].hoopings[static_cast<size_t>(item.hooping)];
  }
  DaySecond sews_s(const DayItem& item, size_t step, int machine) const;
  int frames(int frame) const { return frames_[static_cast<size_t>(frame)]; }
  size_t frameKinds() const { return frames_.size(); }
  DaySecond mount_s() const { return mount_; }
  DaySecond thread_s() const { return thread_; }
  DaySecond off_s() const { return off_; }
  size_t pieces() const { return pieceCount_; }
  /// Of all jobs, one after another.
  size_t pieceAt(int job, int piece) const {
    return firstPiece_[static_cast<size_t>(job)] + static_cast<size_t>(piece);
  }
  /// Hands' tasks that an item takes at most.
  int mostTasks(size_t item) const;

 private:
  Day day_;
  DayCalendar calendar_;
  std::vector<DayItem> items_;
  std::vector<DayTask> begun_;
  std::vector<int> frames_;
  std::vector<size_t> firstItem_, firstPiece_;
  size_t pieceCount_ = 0;
  DaySecond now_ = 0, mount_ = 0, thread_ = 0, off_ = 0;
};

/// An order of hands' tasks: each entry is an item's next one. A machine for every item, and which
/// pieces are left out.
struct DayOrder {
  std::vector<int> tokens;
  std::vector<int> machine;  ///< By item.
  std::vector<bool> out;     ///< By piece.
};

struct DayDecoded {
  std::vector<DayTask> tasks;
  DayCost cost;
  std::vector<double> late_s;  ///< By job.
  std::vector<bool> out;       ///< By piece, with those for which there was no time.
};

/// Decodes in the order's own sequence; what cannot go yet waits for its turn. `greedy`: instead,
/// always the task that can begin first, of those the most pressing by `rank` of its item; the
/// order that comes of it is written back.
DayDecoded decoded(const DayModel& model, const DayOrder& order);
DayDecoded dispatched(const DayModel& model, DayOrder& order, const std::vector<double>& rank);

}  // namespace rt
