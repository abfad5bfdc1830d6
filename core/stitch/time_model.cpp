#include "time_model.h"

#include <algorithm>

namespace rt {

double TimeWalk::next(const Stitch& stitch) {
  const NeedleWalk::Step step = walk_.next(stitch);
  double seconds = 0;
  switch (stitch.op) {
    case Op::Stitch: {
      const double over = std::max(0.0, distance(step.from, stitch.at) - model_.long_from_mm);
      seconds = 60 / model_.stitches_per_minute * (1 + model_.slower_per_mm * over);
      if (step.colourChange)
        seconds += needles_ == Needles::One ? model_.colour_change_s : model_.needle_change_s;
      break;
    }
    case Op::Jump:
      seconds = model_.jump_start_s;
      if (placed_) seconds += distance(at_, stitch.at) / model_.jump_mm_per_s;
      break;
    case Op::Trim:
      return model_.trim_s;
    case Op::Stop:
      return model_.stop_s;
    case Op::End:
      return 0;
  }
  at_ = stitch.at;
  placed_ = true;
  return seconds;
}

TimeModel slowed(TimeModel m, double factor) {
  m.stitches_per_minute /= factor;
  m.jump_mm_per_s /= factor;
  for (double* seconds :
       {&m.jump_start_s, &m.trim_s, &m.colour_change_s, &m.needle_change_s, &m.stop_s})
    *seconds *= factor;
  return m;
}

double timeFactor(const std::vector<SewnRun>& runs, size_t least_runs) {
  std::vector<double> factors;
  for (const SewnRun& r : runs)
    if (r.predicted_s > 0 && r.taken_s > 0) factors.push_back(r.taken_s / r.predicted_s);
  if (factors.empty() || factors.size() < least_runs) return 1;
  std::sort(factors.begin(), factors.end());
  const size_t n = factors.size();
  return std::clamp((factors[(n - 1) / 2] + factors[n / 2]) / 2, 0.2, 5.0);
}

double sewingTime_s(const Pattern& pattern, const TimeModel& model, Needles needles) {
  TimeWalk walk(model, needles);
  double sum = 0;
  for (const Stitch& stitch : pattern.stitches) sum += walk.next(stitch);
  return sum;
}

}  // namespace rt
