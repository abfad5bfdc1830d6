#include <QtTest>
#include <set>

#include "ramp.h"
#include "random_pattern.h"
#include "regions.h"
#include "run.h"

namespace test_regions {

using namespace rt;
using testing::between;

namespace {

/// Regions by the slow and obvious way: flood over a dense grid.
std::vector<double> slowAreas(const DensityMap& map, int64_t columns, int64_t rows, double limit) {
  std::set<std::pair<int64_t, int64_t>> open;
  for (int64_t r = 0; r < rows; ++r)
    for (int64_t c = 0; c < columns; ++c)
      if (map.density(c, r) > limit) open.insert({c, r});
  std::vector<double> areas;
  while (!open.empty()) {
    std::vector<std::pair<int64_t, int64_t>> todo{*open.begin()};
    open.erase(open.begin());
    size_t count = 0;
    while (!todo.empty()) {
      const auto [c, r] = todo.back();
      todo.pop_back();
      ++count;
      for (int64_t dr = -1; dr <= 1; ++dr)
        for (int64_t dc = -1; dc <= 1; ++dc)
          if (open.erase({c + dc, r + dr}) > 0) todo.push_back({c + dc, r + dr});
    }
    areas.push_back(static_cast<double>(count) * map.lattice().cell_mm * map.lattice().cell_mm);
  }
  std::sort(areas.begin(), areas.end());
  return areas;
}

double lightness(Colour c) {
  auto linear = [](double v) {
    v /= 255;
    return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
  };
  const double y = 0.2126 * linear(c.rgb >> 16 & 255) + 0.7152 * linear(c.rgb >> 8 & 255) +
                   0.0722 * linear(c.rgb & 255);
  return y > 0.008856 ? 116 * std::cbrt(y) - 16 : 903.3 * y;
}

}  // namespace

class TestRegions : public QObject {
  Q_OBJECT
 private slots:
  void agreesWithAPlainFlood() {
    std::mt19937 random = testing::seeded(141);
    for (int round = 0; round < 10; ++round) {
      const Pattern p = testing::wander(random, 1500, 45);
      const Frame frame = frameFor({0, 0, 45, 45}, 0.3);
      DensityMap map(frame.lattice);
      map.add(p);
      const double limit = between(random, 0.8, 2.5);
      std::vector<double> areas;
      for (const Region& r : regionsOver(map, Measure::Thread, [&](Point) { return limit; }))
        areas.push_back(r.area_mm2);
      std::sort(areas.begin(), areas.end());
      const std::vector<double> slow = slowAreas(map, frame.columns + 2, frame.rows + 2, limit);
      QCOMPARE(areas.size(), slow.size());
      for (size_t i = 0; i < areas.size(); ++i) QVERIFY(std::abs(areas[i] - slow[i]) < 1e-9);
    }
  }
  void worstComesFirstAndPeaksLieInside() {
    std::mt19937 random = testing::seeded(142);
    const Pattern p = testing::wander(random, 3000, 60);
    DensityMap map({{-1, -1}, 0.25});
    map.add(p);
    double before = INFINITY;
    for (const Region& r : regionsOver(map, Measure::Thread, [](Point) { return 1.2; })) {
      QVERIFY(r.peak / r.limit_at_peak <= before);
      before = r.peak / r.limit_at_peak;
      QVERIFY(r.bounds.contains(r.peak_at));
      QVERIFY(r.mean <= r.peak && r.mean > 1.2);
      QVERIFY(r.area_mm2 <= r.bounds.width() * r.bounds.height() + 1e-9);
      QVERIFY(std::abs(densityAt(p, r.peak_at) - r.peak) < 0.02);
    }
  }
  void nothingOverNothing() {
    const DensityMap empty;
    QVERIFY(regionsOver(empty, Measure::Thread, [](Point) { return 0.0; }).empty());
    QVERIFY(regionsOver(empty, Measure::Holes, [](Point) { return 0.0; }).empty());
  }
  void regionsCrossTileBorders() {
    // one long bar of thread over several tiles is one region
    Pattern p =
        testing::patternFrom("jump 0,0 stitch 80,0 stitch 0,0.2 stitch 80,0.4 stitch 0,0.6");
    DensityMap map({{-1, -1}, 0.25});
    map.add(p);
    QCOMPARE(regionsOver(map, Measure::Thread, [](Point) { return 1.5; }).size(), size_t{1});
    QVERIFY(map.tileCount() > 3);
  }
  void theSummaryMeetsTheSamples() {
    std::mt19937 random = testing::seeded(143);
    const Pattern p = testing::wander(random, 900, 30);
    const Frame frame = frameFor({0, 0, 30, 30}, 0.25);
    DensityMap map(frame.lattice);
    map.add(p);
    double peak = 0, sum = 0;
    size_t covered = 0;
    for (int64_t r = 0; r < frame.rows; ++r)
      for (int64_t c = 0; c < frame.columns; ++c) {
        const double d = map.density(c, r);
        peak = std::max(peak, d);
        if (d >= kCovered_mm_per_mm2) sum += d, ++covered;
      }
    const DensitySummary s = summaryOf(map);
    QVERIFY(std::abs(s.peak_mm_per_mm2 - peak) < 1e-9);
    QVERIFY(std::abs(s.mean_mm_per_mm2 - sum / static_cast<double>(covered)) < 1e-6);
    QVERIFY(std::abs(s.covered_mm2 - static_cast<double>(covered) / 16) < 1e-9);
  }
  void theFrameCoversTheGrownBounds() {
    std::mt19937 random = testing::seeded(144);
    for (int i = 0; i < 100; ++i) {
      const Box b{between(random, -50, 0), between(random, -50, 0), between(random, 1, 50),
                  between(random, 1, 50)};
      const double cell = between(random, 0.1, 0.7);
      const Frame f = frameFor(b, cell);
      QCOMPARE(f.lattice.origin, (Point{b.left - 1, b.top - 1}));
      QVERIFY(static_cast<double>(f.columns) * cell >= b.width() + 2 - 1e-6);
      QVERIFY(static_cast<double>(f.columns - 1) * cell < b.width() + 2);
      QVERIFY(static_cast<double>(f.rows) * cell >= b.height() + 2 - 1e-6);
    }
    QCOMPARE(frameFor({}, 0.25).columns, int64_t{0});
  }
  void theRampDarkensEvenly() {
    double before = 101, leastStep = 100, mostStep = 0;
    for (int i = 0; i <= 10; ++i) {
      const double l = lightness(rampColour(1.15 * 9 * i / 10, 9));
      QVERIFY(l < before);
      if (i > 0)
        leastStep = std::min(leastStep, before - l), mostStep = std::max(mostStep, before - l);
      before = l;
    }
    QVERIFY2(mostStep < 2.5 * leastStep, qPrintable(QString("%1 %2").arg(leastStep).arg(mostStep)));
    QCOMPARE(rampColour(-5, 9), rampColour(0, 9));
    QCOMPARE(rampColour(500, 9), rampColour(50, 9));
  }
};

RT_TEST(TestRegions)

}  // namespace test_regions
#include "test_regions.moc"
