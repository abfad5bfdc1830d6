// Planning 40 pieces and a border over several hoopings.
#include <benchmark/benchmark.h>
#include <sys/resource.h>

#include "nest.h"
#include "planner.h"
#include "samples.h"

namespace {

using namespace rt;

/// Plans again and again over one kind of hoop.
void planInto(benchmark::State& state, const Pattern& p) {
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
  planInto(state, p);
}

/// 500,000 stitches in pieces of several sizes over twelve hoopings or so.
void planHoopings500000(benchmark::State& state) {
  Pattern p;
  for (int i = 0; i < 40; ++i) {
    Pattern one = bench::fills(12'500);
    const Box box = threadBounds(one);
    const double scale = (50 + 5 * (i % 7)) / box.width();
    one = transformed(one, Transform::moving({(i % 8) * 92.0, i / 8 * 92.0}) *
                               Transform{scale, 0, 0, scale, 0, 0} *
                               Transform::moving({-box.left, -box.top}));
    for (size_t k = 1; k < one.pieces.size(); ++k)
      one.pieces[k] = "piece " + std::to_string(i) + "." + std::to_string(k);
    append(p, one);
  }
  planInto(state, p);
  rusage used{};
  getrusage(RUSAGE_SELF, &used);
  state.counters["stitches"] = static_cast<double>(countRows(p.stitches, Op::Stitch));
  state.counters["most_MB"] = static_cast<double>(used.ru_maxrss) / 1024;  // of all benches so far
}

/// A hundred pieces of six kinds.
void nest100(benchmark::State& state) {
  std::vector<NestKind> kinds;
  for (int i = 0; i < 6; ++i)
    kinds.push_back({"kind " + std::to_string(i), 22.0 + 9 * i, 70.0 - 8 * i, i < 4 ? 17 : 16});
  const Hoop hoop{"300x200", "", {300, 200, HoopShape::Rectangle}};
  size_t hoopings = 0;
  int bound = 0;
  for (auto _ : state) {
    const NestedBatch batch = nestMixed(kinds, hoop, {5, true});
    hoopings = batch.hoopings.size();
    bound = batch.lower_bound;
  }
  state.counters["hoopings"] = static_cast<double>(hoopings);
  state.counters["lower_bound"] = bound;
}

}  // namespace

BENCHMARK(planHoopings40)->Unit(benchmark::kMillisecond);
BENCHMARK(planHoopings500000)->Unit(benchmark::kMillisecond);
BENCHMARK(nest100)->Unit(benchmark::kMillisecond);
