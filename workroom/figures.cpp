#include "figures.h"

#include "density_map.h"
#include "hidden.h"
#include "needles.h"
#include "order.h"
#include "travel.h"

namespace rt {

SequenceFigures sequenceFigures(const Job& job, const TimeModel& time, const Watch& watch) {
  SequenceFigures f;
  const Pattern plain = laidOut(job.pieces);
  if (threadBounds(plain).empty()) return f;
  const Ordered ordered = orderColours(plain);
  f.changes_before = ordered.colour_changes_before;
  f.changes_after = ordered.colour_changes_after;
  f.trims_before = ordered.trims_before;
  f.trims_after = ordered.trims_after;
  f.bound = ordered.lower_bound;
  watched(watch, 0.2, "seeking hidden stitches");
  const double margin = job.sequence.hidden_margin_mm > 0 ? job.sequence.hidden_margin_mm : 1.0;
  const Unhidden u = withoutHidden(plain, {margin});
  f.stitches_before = u.stitches_before;
  f.stitches_after = u.stitches_after;
  f.thread_before_mm = u.thread_before_mm;
  f.thread_after_mm = u.thread_after_mm;
  f.peak_before = summaryOf(plain).peak_mm_per_mm2;
  f.peak_after = summaryOf(u.pattern).peak_mm_per_mm2;
  watched(watch, 0.6, "laying out");
  const Pattern sewn = sewnLayout(job);
  Job unshortened = job;  // as it is sewn but for the ways
  unshortened.sequence.shortest_travel = false;
  const Travelled t = shortestTravel(job.sequence.shortest_travel ? sewnLayout(unshortened) : sewn);
  f.travel_before_mm = t.before_mm;
  f.travel_after_mm = t.after_mm;
  f.one_before_s = sewingTime_s(plain, time, Needles::One);
  f.many_before_s = sewingTime_s(plain, time, Needles::Many);
  f.one_after_s = sewingTime_s(sewn, time, Needles::One);
  f.many_after_s = sewingTime_s(sewn, time, Needles::Many);
  f.rethreadings = planNeedles(sewn, job.sequence.needles).rethreadings;
  return f;
}

}  // namespace rt
