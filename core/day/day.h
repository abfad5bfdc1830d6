// A day over several machines: jobs in pieces and hoopings, machines with needles, frames, hands,
// hours and stock; and what is done when. Times are whole seconds of local time from 1970-01-01.
#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "pattern.h"

namespace rt {

using DaySecond = int64_t;
inline constexpr DaySecond kDay_s = 86'400;

/// From (inclusive) to (exclusive).
struct DaySpan {
  DaySecond from = 0, to = 0;
  friend bool operator==(const DaySpan&, const DaySpan&) = default;
};

/// What one thread sews of a hooping.
struct DaySew {
  Colour thread;
  double s = 0;       ///< At pace 1, without colour changes.
  double metres = 0;  ///< Of top thread.
};

struct DayHooping {
  std::string frame;
  double backing_mm2 = 0;
  std::vector<DaySew> sew;
  std::optional<double> hoop_s, unhoop_s;  ///< Of this hooping alone.
};

struct DayJob {
  std::string id;
  std::optional<DaySecond> due, from;
  double weight = 1;
  int pieces = 1;
  std::vector<int> after;  ///< Jobs, by their place in the day, that are done before it begins.
  std::vector<DayHooping> hoopings;
};

struct DayMachine {
  std::string id;
  std::vector<std::optional<Colour>> needles;  ///< One at least; unset: empty.
  std::vector<std::string> frames;             ///< That it takes.
  double pace = 1;
};

/// A machine out of order or a hand that is away; the other of the two is -1.
struct DayClosed {
  int machine = -1, hand = -1;
  DaySpan span;
};

/// When machines sew without anybody near: not at all, through breaks, or always.
enum class SewsAlone { Never, Breaks, Always };

struct DayTimes {
  double hoop_s = 300, mount_s = 180, thread_s = 60, off_s = 60, unhoop_s = 120;
};

/// What is not listed is unlimited.
struct DayStock {
  std::vector<std::pair<Colour, double>> metres;
  std::optional<double> backing_mm2;
};

struct Day {
  DaySecond from = 0;
  std::vector<DaySpan> hours;  ///< Of every day, from its midnight; rising.
  int days = 1;                ///< From the day of `from`.
  int hands = 1;
  SewsAlone sews_alone = SewsAlone::Never;
  std::vector<DayMachine> machines;
  std::map<std::string, int> frames;
  DayTimes times;
  DayStock stock;
  std::vector<DayJob> jobs;
  std::vector<DayClosed> closed;
};

/// One piece of a job, hooping by hooping: hooped at the table, mounted, threaded where no needle
/// holds the thread, sewn, taken off, unhooped.
struct DayTask {
  enum class What { Hoop, Mount, Thread, Sew, Off, Unhoop };
  What what = What::Hoop;
  int job = 0, piece = 0, hooping = 0;  ///< From 0.
  int machine = -1, hand = -1;          ///< From 0; -1: none.
  int step = -1;                        ///< Of a sewing or a threading, from 0.
  int needle = -1;                      ///< Of a threading, from 0.
  std::optional<Colour> thread;
  DaySpan span;
  bool begun = false;  ///< Happened, or under way: kept as it is.
  friend bool operator==(const DayTask&, const DayTask&) = default;
};
std::string_view name(DayTask::What what);

/// What a plan is judged by, in this order; times in seconds.
struct DayCost {
  double left_out = 0;  ///< Sum of weights of pieces left out.
  double late_s = 0;    ///< Sum over jobs of weight and time past due.
  DaySecond ends = 0;
  int threads = 0;
  DaySecond waiting_s = 0;  ///< That machines stand mounted without a task.
};
/// Below 0: `a` is better.
int compared(const DayCost& a, const DayCost& b);

struct DayLeftOut {
  enum class Why { NoFrame, NoMachine, Stock, Time, After };
  int job = 0, piece = 0;
  Why why = Why::Time;
  std::string what;  ///< The frame, thread, backing or job that is lacking.
};

struct DayPlan {
  std::vector<DayTask> tasks;  ///< In order of their beginning.
  DayCost cost;
  std::vector<double> late_s;  ///< By job, unweighted.
  std::vector<DayLeftOut> left_out;
  /// Proven: of plans that leave out no more weight; `ends` of those of no more lateness.
  double least_late_s = 0;
  DaySecond least_ends = 0;
  bool proven = false;  ///< Lateness and end are at their bounds, and nothing else had to go.
};

}  // namespace rt
