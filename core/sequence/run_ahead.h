// What lies ahead of a running machine: when it waits for a person, and what each thread still
// takes.
#pragma once

#include "thread_take.h"
#include "time_model.h"

namespace rt {

/// Why a machine waits for a person.
enum class Wait { Thread, Stop, Bobbin, Done };

struct NextWait {
  Wait why = Wait::Done;
  size_t row = 0;      ///< Row that it waits before; past the last one at the end.
  double seconds = 0;  ///< Until then, by the model.
  Colour thread;       ///< That is asked for.
  friend bool operator==(const NextWait&, const NextWait&) = default;
};

/// What is on the machine.
struct Threaded {
  std::vector<Colour> needles;  ///< Threads that it changes to by itself.
  double bobbin_mm = 0;         ///< Thread on a full bobbin; 0: not known.
  size_t bobbin_from = 0;       ///< Row that a full one was put in before.
  ThreadTake take;
};

/// The next time from a row on. The thread at work counts as threaded. A thread that is on no
/// needle, a stop, an empty bobbin, or the end, whichever comes first.
NextWait nextWait(const Pattern& pattern, size_t from, const Threaded& machine,
                  const TimeModel& model);

/// One run of a thread.
struct ThreadRun {
  Colour thread;
  size_t from = 0, to = 0;  ///< Rows [from, to).
  double seconds = 0;       ///< All of it, by the model; the change to it counted.
  double left_s = 0;        ///< Of rows from `now` on.
  friend bool operator==(const ThreadRun&, const ThreadRun&) = default;
};
std::vector<ThreadRun> threadRuns(const Pattern& pattern, size_t now, const TimeModel& model,
                                  Needles needles);

}  // namespace rt
