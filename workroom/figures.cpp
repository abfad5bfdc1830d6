#include "figures.h"

#include <cmath>
#include <set>

#include "density_map.h"
#include "needles.h"
#include "order.h"
#include "statistics.h"
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
  Job with = job, without = job;
  with.sequence.hidden_margin_mm = 0;
  without.sequence.hidden_margin_mm =
      job.sequence.hidden_margin_mm > 0 ? job.sequence.hidden_margin_mm : 1.0;
  const Pattern kept = sewnLayout(with), taken = sewnLayout(without);
  const Needles needles = job.sequence.needles > 1 ? Needles::Many : Needles::One;
  const Statistics before = statisticsOf(kept, time), after = statisticsOf(taken, time);
  f.stitches_before = before.stitches;
  f.stitches_after = after.stitches;
  f.thread_before_mm = before.thread_mm;
  f.thread_after_mm = after.thread_mm;
  f.hidden_trims_before = before.trims;
  f.hidden_trims_after = after.trims;
  f.hidden_before_s = sewingTime_s(kept, time, needles);
  f.hidden_after_s = sewingTime_s(taken, time, needles);
  f.peak_before = summaryOf(kept).peak_mm_per_mm2;
  f.peak_after = summaryOf(taken).peak_mm_per_mm2;
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

ClothMovement clothMovement(const Job& job, const ClothKnown& cloth, const Watch& watch) {
  constexpr double kApart_mm = 4;  // of the places that are shown
  Job plain = job;
  plain.sequence.cloth.reset();
  const Pattern drawn = sewnLayout(plain);
  ClothMovement out;
  if (threadBounds(drawn).empty()) return out;
  watched(watch, 0.3, "letting the cloth go");
  const ClothCompensation made = compensated(drawn, cloth.law, clothAround(drawn));
  out.drawn = made.before, out.aside = made.moved, out.bound_mm = made.bound_mm;
  std::set<std::pair<int, int>> taken;
  for (size_t row = 0; row < drawn.stitches.size(); ++row) {
    const Stitch& s = drawn.stitches[row];
    if (s.op != Op::Stitch) continue;
    const auto cell = [](double v) { return static_cast<int>(std::floor(v / kApart_mm)); };
    if (taken.insert({cell(s.at.x), cell(s.at.y)}).second)
      out.goes.emplace_back(s.at, made.goes[row]);
  }
  return out;
}

}  // namespace rt
