// Letters, sizing, ordering and drawings: what a person waits for at Compose.
#include <benchmark/benchmark.h>

#include "artwork.h"
#include "data_folder.h"
#include "faces.h"
#include "letter.h"
#include "order.h"
#include "resize.h"
#include "samples.h"
#include "travel.h"

namespace {

using namespace rt;

/// Forty characters of a face, one a benchmark.
void letters40(benchmark::State& state, const char* id) {
  const Face face = loadFace(dataFolder(), id);
  LetterOptions o;
  o.height_mm = 20;
  for (auto _ : state)
    benchmark::DoNotOptimize(letter("Quillfen marsh warden hide of the reed b", face, o));
}

void respace100000(benchmark::State& state) {
  const Pattern p = bench::fills(100'000);
  RespaceOptions o;
  o.scale_x = o.scale_y = 1.25;
  for (auto _ : state) benchmark::DoNotOptimize(resizeRespacing(p, o));
}

/// A small square of zigzag, trimmed.
void addSquare(Pattern& p, Point at, double side, uint16_t thread) {
  p.stitches.push_back({at, 0, thread, 0, Op::Jump, Kind::Unknown});
  for (int k = 0; k < 40; ++k)
    p.stitches.push_back(
        {at + Point{k % 2 ? side : 0.0, k * 0.2}, 0, thread, 0, Op::Stitch, Kind::Fill});
  p.stitches.push_back({at, 0, thread, 0, Op::Trim, Kind::Unknown});
}

/// Squares in nine colours, every other one over its neighbour.
Pattern squares(int blocks) {
  Pattern p;
  for (int i = 0; i < blocks; ++i)
    addSquare(p, {(i % 25) * 9.0, (i / 25) * 11.0}, 10,
              p.threadIndex({static_cast<uint32_t>(0x101010 * (1 + i * 7 % 9))}));
  return p;
}

void order500(benchmark::State& state) {
  const Pattern p = squares(500);
  Ordered made;
  for (auto _ : state) made = orderColours(p);
  state.counters["before"] = static_cast<double>(made.colour_changes_before);
  state.counters["after"] = static_cast<double>(made.colour_changes_after);
  state.counters["bound"] = made.lower_bound;
}

/// Small squares of one colour, left where a shuffle put them.
void travel500(benchmark::State& state) {
  Pattern p;
  const uint16_t thread = p.threadIndex({0x2f5d50});
  for (int i = 0; i < 500; ++i) {
    const int at = i * 187 % 500;
    addSquare(p, {(at % 25) * 12.0, (at / 25) * 12.0}, 6, thread);
  }
  Travelled made;
  for (auto _ : state) made = shortestTravel(p);
  state.counters["before_mm"] = made.before_mm;
  state.counters["after_mm"] = made.after_mm;
}

void digitise200(benchmark::State& state) {
  std::string svg =
      "<svg xmlns='http://www.w3.org/2000/svg' width='400mm' height='300mm' viewBox='0 0 400 300'>";
  for (int i = 0; i < 200; ++i) {
    const std::string x = std::to_string((i % 20) * 20), y = std::to_string((i / 20) * 30 + 10);
    svg += i % 2 ? "<ellipse cx='" + x + "' cy='" + y + "' rx='9' ry='7' fill='#884422'/>"
                 : "<path d='M" + x + " " + y + "q8 -14 16 0q-8 6 -16 0z' fill='#224488'/>";
  }
  svg += "</svg>";
  for (auto _ : state) {
    Artwork a = readArtwork(svg, "bench");
    placeArtwork(a, 0);
    benchmark::DoNotOptimize(digitiseArtwork(a, {}, "bench"));
  }
}

}  // namespace

BENCHMARK_CAPTURE(letters40, plain_stroke, "plain-stroke")->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(letters40, sans_bold, "sans-bold")->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(letters40, serif_bold, "serif-bold")->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(letters40, brush_script, "brush-script")->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(letters40, round_script, "round-script")->Unit(benchmark::kMillisecond);
BENCHMARK(respace100000)->Unit(benchmark::kMillisecond);
BENCHMARK(order500)->Unit(benchmark::kMillisecond);
BENCHMARK(travel500)->Unit(benchmark::kMillisecond);
BENCHMARK(digitise200)->Unit(benchmark::kMillisecond);
