// Reading 1,000,000 stitches, beside a plain reader: one getline per row, one strtod per field.
#include <benchmark/benchmark.h>

#include <cstdlib>
#include <sstream>

#include "samples.h"
#include "stitch_csv.h"

namespace {

const std::string& million() {
  static const std::string text = rt::writeStitchCsv(rt::bench::fills(1'000'000));
  return text;
}

void readStitches(benchmark::State& state) {
  million();  // made once, before the clock runs
  for (auto _ : state)
    benchmark::DoNotOptimize(rt::readStitchCsv(million(), "bench").pattern.stitches.size());
  state.SetBytesProcessed(static_cast<int64_t>(state.iterations() * million().size()));
}

void readPlainly(benchmark::State& state) {
  struct Row {
    double x, y;
    std::string op, thread, block, piece, kind;
  };
  for (auto _ : state) {
    std::istringstream in(million());
    std::string line;
    std::vector<Row> rows;
    while (std::getline(in, line)) {
      if (line.empty() || line[0] == '#' || line[0] == 'x') continue;
      std::istringstream fields(line);
      std::string x, y;
      Row row{};
      std::getline(fields, x, ',');
      std::getline(fields, y, ',');
      std::getline(fields, row.op, ',');
      std::getline(fields, row.thread, ',');
      std::getline(fields, row.block, ',');
      std::getline(fields, row.piece, ',');
      std::getline(fields, row.kind, ',');
      row.x = std::strtod(x.c_str(), nullptr);
      row.y = std::strtod(y.c_str(), nullptr);
      rows.push_back(row);
    }
    benchmark::DoNotOptimize(rows.size());
  }
}

}  // namespace

BENCHMARK(readStitches)->Unit(benchmark::kMillisecond);
BENCHMARK(readPlainly)->Unit(benchmark::kMillisecond);
