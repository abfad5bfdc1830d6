// Planning 40 pieces and a border over several hoopings.
#include <benchmark/benchmark.h>

#include "planner.h"
#include "samples.h"

namespace {

using namespace rt;

void planHoopings40(benchmark::State& state) {
  Pattern p;
  for (int i = 0; i < 40; ++i) {
    Pattern one = transformed(bench::fills(900), Transform::scaling(0.9, 0.9));
    one = transformed(
        one, Transform::moving({static_cast<double>(i % 8) * 66, static_cast<double>(i / 8) * 66}));
    one.pieces.back() = "piece " + std::to_string(i);
    append(p, one);
  }
  const Box border{-10, -10, 530, 340};
  p.stitches.push_back({border.corner(0), 0, 0, p.pieceIndex("border"), Op::Jump, Kind::Unknown});
  for (int side = 0; side < 4; ++side)
    for (int k = 1; k <= 200; ++k)
      p.stitches.push_back({mix(border.corner(side), border.corner((side + 1) % 4), k / 200.0), 1,
                            0, p.pieceIndex("border"), Op::Stitch, Kind::Run});
  PlanOptions options;
  options.hoops = {{"200x140", "", {200, 140, HoopShape::Rectangle}}};
  size_t hoopings = 0;
  int bound = 0;
  for (auto _ : state) {
    const HoopingPlan plan = planHoopings(p, options);
    hoopings = plan.hoopings.size();
    bound = plan.lower_bound;
  }
  state.counters["hoopings"] = static_cast<double>(hoopings);
  state.counters["lower_bound"] = bound;
}

}  // namespace

BENCHMARK(planHoopings40)->Unit(benchmark::kMillisecond);
