// The density map beside drawing the same segments anti-aliased and box-filtering them.
#include <benchmark/benchmark.h>

#include <opencv2/imgproc.hpp>

#include "density_map.h"
#include "samples.h"

namespace {

using namespace rt;

const Pattern& sample(size_t stitches) {
  static std::map<size_t, Pattern> made;
  auto& p = made[stitches];
  if (p.stitches.empty()) p = bench::fills(stitches);
  return p;
}

void densityMap(benchmark::State& state) {
  const Pattern& p = sample(static_cast<size_t>(state.range(0)));
  const Frame frame = frameFor(threadBounds(p), 0.25);
  for (auto _ : state) {
    DensityMap map(frame.lattice);
    map.add(p);
    benchmark::DoNotOptimize(map.tileCount());
  }
}

void drawAndFilter(benchmark::State& state) {
  const Pattern& p = sample(static_cast<size_t>(state.range(0)));
  const Frame frame = frameFor(threadBounds(p), 0.25);
  for (auto _ : state) {
    cv::Mat sum =
        cv::Mat::zeros(static_cast<int>(frame.rows), static_cast<int>(frame.columns), CV_16U);
    cv::Mat layer = cv::Mat::zeros(sum.size(), CV_8U);
    constexpr int kShift = 6;
    forEachSegment(p, [&](Point a, Point b, size_t) {
      auto px = [&](Point q) {
        return cv::Point(static_cast<int>((q.x - frame.lattice.origin.x) / 0.25 * (1 << kShift)),
                         static_cast<int>((q.y - frame.lattice.origin.y) / 0.25 * (1 << kShift)));
      };
      cv::line(layer, px(a), px(b), cv::Scalar(40), 1, cv::LINE_AA, kShift);
    });
    cv::boxFilter(layer, sum, CV_16U, cv::Size(8, 8), cv::Point(-1, -1), false);
    benchmark::DoNotOptimize(sum.data);
  }
}

/// One piece of 5,000 stitches moved in a layout of 200,000: its own map is made anew and
/// exchanged.
void movePiece(benchmark::State& state) {
  const Pattern& all = sample(200'000);
  const Pattern piece = bench::fills(5'000);
  const Lattice lattice{{-20, -20}, 0.25};
  DensityMap map(lattice), own(lattice);
  map.add(all);
  own.add(piece);
  map.add(own);
  double x = 0;
  for (auto _ : state) {
    map.add(own, -1);
    own = DensityMap(lattice);
    own.add(transformed(piece, Transform::moving({x += 0.37, 2})));
    map.add(own);
  }
}

}  // namespace

BENCHMARK(densityMap)
    ->Arg(125'000)
    ->Arg(250'000)
    ->Arg(500'000)
    ->Arg(1'000'000)
    ->Unit(benchmark::kMillisecond);
BENCHMARK(drawAndFilter)->Arg(1'000'000)->Unit(benchmark::kMillisecond);
BENCHMARK(movePiece)->Unit(benchmark::kMillisecond);
