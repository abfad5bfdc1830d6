#include "statistics.h"

#include <algorithm>

namespace rt {
namespace {

void addSegment(Statistics& sum, Point from, Point to) {
  const double mm = distance(from, to);
  sum.bounds.add(from);
  sum.bounds.add(to);
  sum.thread_mm += mm;
  if (mm > 0) {
    sum.longest_mm = std::max(sum.longest_mm, mm);
    sum.shortest_mm = sum.shortest_mm == 0 ? mm : std::min(sum.shortest_mm, mm);
  }
}

}  // namespace

Statistics statisticsOf(const Pattern& pattern, const TimeModel& model) {
  Statistics sum;
  NeedleWalk walk;
  std::vector<bool> used(pattern.threads.size());
  for (const Stitch& stitch : pattern.stitches) {
    const NeedleWalk::Step step = walk.next(stitch);
    sum.jumps += stitch.op == Op::Jump;
    sum.trims += stitch.op == Op::Trim;
    sum.stops += stitch.op == Op::Stop;
    if (stitch.op != Op::Stitch) continue;
    sum.stitches += 1;
    sum.colour_changes += step.colourChange;
    if (!used[stitch.thread]) sum.colours.push_back(pattern.colourOf(stitch));
    used[stitch.thread] = true;
    if (step.sewn) addSegment(sum, step.from, stitch.at);
  }
  sum.sewing_time_s = sewingTime_s(pattern, model);
  return sum;
}

double topThread_mm(const Statistics& statistics, double cloth_mm) {
  return statistics.thread_mm + 2 * cloth_mm * static_cast<double>(statistics.stitches);
}

}  // namespace rt
