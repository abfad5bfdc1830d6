#include "run_ahead.h"

#include <algorithm>

namespace rt {

NextWait nextWait(const Pattern& pattern, size_t from, const Threaded& machine,
                  const TimeModel& model) {
  TimeWalk walk(model, Needles::Many);
  NextWait out;
  std::optional<Colour> at_work;
  double bobbin = 0;
  Point at;
  for (size_t i = 0; i < pattern.stitches.size(); ++i) {
    const Stitch& s = pattern.stitches[i];
    const Colour thread = pattern.threads[s.thread];
    const bool ahead = i >= from;
    if (s.op == Op::Stitch) {
      const bool there = !at_work || *at_work == thread ||
                         std::find(machine.needles.begin(), machine.needles.end(), thread) !=
                             machine.needles.end();
      if (ahead && i > from && !there) return {Wait::Thread, i, out.seconds, thread};
      at_work = thread;
      if (i >= machine.bobbin_from) bobbin += machine.take.bobbin_mm(distance(at, s.at));
      if (ahead && machine.bobbin_mm > 0 && bobbin > machine.bobbin_mm)
        return {Wait::Bobbin, i, out.seconds, thread};
    }
    if (s.op == Op::Stitch || s.op == Op::Jump) at = s.at;
    const double seconds = walk.next(s);
    if (!ahead) continue;
    if (s.op == Op::Stop) return {Wait::Stop, i, out.seconds, thread};
    out.seconds += seconds;
  }
  out.row = pattern.stitches.size();
  return out;
}

std::vector<ThreadRun> threadRuns(const Pattern& pattern, size_t now, const TimeModel& model,
                                  Needles needles) {
  TimeWalk walk(model, needles);
  std::vector<ThreadRun> out;
  for (size_t i = 0; i < pattern.stitches.size(); ++i) {
    const Stitch& s = pattern.stitches[i];
    const double seconds = walk.next(s);
    const Colour thread = pattern.threads[s.thread];
    if (out.empty() || (s.op == Op::Stitch && !(out.back().thread == thread)))
      out.push_back({thread, i, i, 0, 0});
    out.back().to = i + 1;
    out.back().seconds += seconds;
    if (i >= now) out.back().left_s += seconds;
  }
  return out;
}

}  // namespace rt
