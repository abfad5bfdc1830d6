#include <algorithm>

#include "day_decoder.h"
#include "day_plan.h"
#include "error.h"

namespace rt {
namespace {

[[noreturn]] void contradicts(const DayTask& t, const Day& day, const std::string& what) {
  throw Error(what,
              "done: " + std::string(name(t.what)) + " of " +
                  day.jobs[static_cast<size_t>(t.job)].id + ", piece " +
                  std::to_string(t.piece + 1) + ", hooping " + std::to_string(t.hooping + 1),
              "mend the list of what was done");
}

bool overlap(const DaySpan& a, const DaySpan& b) {
  return a.from < b.to && b.from < a.to;
}

/// The order of tasks within a hooping; threading stands between mounting and taking off.
class SoundCheck {
 public:
  SoundCheck(const Day& day, std::vector<DayTask> begun, DaySecond now)
      : day_(day), begun_(std::move(begun)), now_(now) {
    std::stable_sort(begun_.begin(), begun_.end(), [](const DayTask& a, const DayTask& b) {
      return std::pair(a.span.from, a.what) < std::pair(b.span.from, b.what);
    });
  }

  void run() {
    for (const DayTask& t : begun_) {
      if (t.span.from >= now_) contradicts(t, day_, "it begins at the time of planning or later");
      if (t.span.to < t.span.from) contradicts(t, day_, "it ends before it begins");
      alone(t);
      inTurn(t);
    }
    frames();
  }

 private:
  const DayHooping& hooping(const DayTask& t) const {
    return day_.jobs[static_cast<size_t>(t.job)].hoopings[static_cast<size_t>(t.hooping)];
  }

  void alone(const DayTask& t) const {
    for (const DayTask& o : begun_) {
      if (&o == &t || !overlap(o.span, t.span)) continue;
      if (t.hand >= 0 && o.hand == t.hand) contradicts(t, day_, "the hand does two things at once");
      if (t.machine >= 0 && o.machine == t.machine)
        contradicts(t, day_, "the machine does two things at once");
    }
  }

  struct Course {
    int stage = 0;  // hooped 1, mounted 2, off 3, unhooped 4
    int machine = -1;
    size_t steps = 0;
    DaySecond ends = 0;
  };

  void inTurn(const DayTask& t) {
    Course& c = courses_[{t.job, t.piece, t.hooping}];
    if (t.span.from < c.ends) contradicts(t, day_, "it begins before the task before it ended");
    auto after = [&](int stage, const char* what) {
      if (c.stage != stage) contradicts(t, day_, what);
    };
    switch (t.what) {
      case DayTask::What::Hoop:
        after(0, "it is hooped already");
        before(t);
        c.stage = 1;
        break;
      case DayTask::What::Mount:
        after(1, "it is not hooped, or mounted already");
        mounts(t);
        c.stage = 2, c.machine = t.machine;
        break;
      case DayTask::What::Thread:
        after(2, "it is not mounted");
        break;
      case DayTask::What::Sew:
        after(2, "it is not mounted");
        if (t.step != static_cast<int>(c.steps))
          contradicts(t, day_, "the step before it is not sewn");
        ++c.steps;
        break;
      case DayTask::What::Off:
        after(2, "it is not mounted");
        if (c.steps < hooping(t).sew.size()) contradicts(t, day_, "it is not sewn through");
        mounted_[t.machine] = {};
        c.stage = 3;
        break;
      case DayTask::What::Unhoop:
        after(3, "it is not off its machine");
        c.stage = 4;
        break;
    }
    const bool onMachine = t.what != DayTask::What::Hoop && t.what != DayTask::What::Unhoop;
    if (onMachine && t.machine != c.machine)
      contradicts(t, day_, "it is mounted on another machine");
    c.ends = t.span.to;
  }

  void mounts(const DayTask& t) {
    auto& on = mounted_[t.machine];
    if (on) contradicts(t, day_, "the machine has another hooping on it");
    const auto& frames = day_.machines[static_cast<size_t>(t.machine)].frames;
    if (std::find(frames.begin(), frames.end(), hooping(t).frame) == frames.end())
      contradicts(t, day_, "the machine does not take its frame");
    on = true;
  }

  /// The hooping before it of its piece, and the jobs before it, are done.
  void before(const DayTask& t) const {
    auto done = [&](int job, int piece, int hooping) {
      const auto it = courses_.find({job, piece, hooping});
      return it != courses_.end() && it->second.stage == 4 && it->second.ends <= t.span.from;
    };
    if (t.hooping > 0 && !done(t.job, t.piece, t.hooping - 1))
      contradicts(t, day_, "the hooping before it is not unhooped");
    for (int a : day_.jobs[static_cast<size_t>(t.job)].after) {
      const DayJob& job = day_.jobs[static_cast<size_t>(a)];
      for (int p = 0; p < job.pieces; ++p)
        if (!done(a, p, static_cast<int>(job.hoopings.size()) - 1))
          contradicts(t, day_, "job " + job.id + " comes before it and is not done");
    }
  }

  void frames() const {
    for (const DayTask& t : begun_) {
      if (t.what != DayTask::What::Hoop) continue;
      const auto many = day_.frames.find(hooping(t).frame);
      int taken = 0;
      for (const DayTask& o : begun_) {
        if (o.what != DayTask::What::Hoop || hooping(o).frame != hooping(t).frame ||
            o.span.from > t.span.from)
          continue;
        const Course& c = courses_.at({o.job, o.piece, o.hooping});
        taken += c.stage < 4 || c.ends > t.span.from;
      }
      if (many == day_.frames.end() || taken > many->second)
        contradicts(t, day_, "there are not so many frames " + hooping(t).frame);
    }
  }

  const Day& day_;
  std::vector<DayTask> begun_;
  DaySecond now_;
  std::map<std::tuple<int, int, int>, Course> courses_;
  std::map<int, std::optional<bool>> mounted_;
};

}  // namespace

void requireSound(const Day& day, const std::vector<DayTask>& begun, DaySecond now) {
  SoundCheck(day, begun, now).run();
}

}  // namespace rt
