#include <QtTest>
#include <map>

#include "cuts.h"
#include "order.h"
#include "random_pattern.h"
#include "run.h"
#include "statistics.h"
#include "strand.h"
#include "travel.h"

namespace test_travel {

using namespace rt;
using testing::between;

namespace {

/// Runs and small satins scattered in a few colours.
Pattern scattered(std::mt19937& random, int blocks, int colours, double room_mm) {
  Pattern p;
  for (int i = 0; i < blocks; ++i) {
    Strand s;
    Point at{between(random, 0, room_mm), between(random, 0, room_mm)};
    const bool run = random() % 2 == 0;
    for (int k = 0; k < 6; ++k) {
      s.add(at, run ? Kind::Run : Kind::Satin);
      at = at + (run ? Point{2, between(random, -1, 1)} : Point{0.3, k % 2 ? 3.0 : -3.0});
    }
    const Colour colour{static_cast<uint32_t>(0x102030 * (1 + random() % colours))};
    appendStrands(p, std::vector{s}, {colour, ""});
  }
  return p;
}

/// Sewn segments without direction, so that a run turned round counts as the same.
std::map<std::array<long, 5>, int> segmentsOf(const Pattern& p) {
  std::map<std::array<long, 5>, int> out;
  forEachSegment(p, [&](Point a, Point b, size_t row) {
    std::array<long, 2> u{std::lround(a.x * 1000), std::lround(a.y * 1000)},
        v{std::lround(b.x * 1000), std::lround(b.y * 1000)};
    if (v < u) std::swap(u, v);
    out[{u[0], u[1], v[0], v[1], static_cast<long>(p.colourOf(p.stitches[row]).rgb)}] += 1;
  });
  return out;
}

}  // namespace

class TestTravel : public QObject {
  Q_OBJECT
 private slots:
  void nothingAndOneBlock() {
    QCOMPARE(shortestTravel(Pattern{}).after_mm, 0.0);
    std::mt19937 random = testing::seeded(431);
    const Pattern one = scattered(random, 1, 1, 10);
    QVERIFY(shortestTravel(one).pattern == one);
  }
  void waysGetShorterAndNothingElseChanges() {
    std::mt19937 random = testing::seeded(432);
    int gained = 0;
    for (int i = 0; i < 40; ++i) {
      const Pattern p = scattered(random, 4 + static_cast<int>(random() % 30), 3, 60);
      const Travelled t = shortestTravel(p);
      QVERIFY(t.after_mm <= t.before_mm + 1e-9);
      gained += t.after_mm < 0.8 * t.before_mm;
      QVERIFY(segmentsOf(t.pattern) == segmentsOf(p));
      const Statistics a = statisticsOf(p, {}), b = statisticsOf(t.pattern, {});
      QCOMPARE(b.colour_changes, a.colour_changes);
      // the ways that are told are those of the result
      double ways = 0;
      const std::vector<Block> blocks = blocksOf(t.pattern);
      for (size_t k = 1; k < blocks.size(); ++k)
        ways += distance(blocks[k - 1].exit, blocks[k].entry);
      QVERIFY2(std::abs(ways - t.after_mm) < 0.01,
               qPrintable(QString("%1 and %2").arg(ways).arg(t.after_mm)));
    }
    QVERIFY(gained > 5);
  }
  /// Of two blocks that overlap the later one stays the later one.
  void noOverlapIsTurnedOver() {
    std::mt19937 random = testing::seeded(433);
    for (int i = 0; i < 30; ++i) {
      const Pattern p = scattered(random, 14, 1, 14);  // crowded: much overlaps
      const Travelled t = shortestTravel(p, {false});
      const auto before = blocksOf(p), after = blocksOf(t.pattern);
      QCOMPARE(after.size(), before.size());
      auto placeOf = [&](const Block& b) {
        for (size_t k = 0; k < after.size(); ++k)
          if (after[k].entry == b.entry && after[k].exit == b.exit) return k;
        return SIZE_MAX;
      };
      for (const auto& [early, late] : overlappingBlocks(p, before))
        QVERIFY(placeOf(before[static_cast<size_t>(early)]) <
                placeOf(before[static_cast<size_t>(late)]));
    }
  }
  void fiveHundredBlocksAreDone() {
    std::mt19937 random = testing::seeded(434);
    const Travelled t = shortestTravel(scattered(random, 500, 1, 400));
    QVERIFY(t.after_mm < 0.3 * t.before_mm);
  }
  void cutsAreListedInOrder() {
    std::mt19937 random = testing::seeded(435);
    const Pattern p = scattered(random, 20, 2, 80);
    const std::vector<CutSpot> cuts = cutSpots(p);
    QCOMPARE(cuts.size(), size_t{19});
    for (size_t k = 0; k < cuts.size(); ++k) {
      QVERIFY(cuts[k].machine);
      if (k > 0) QVERIFY(cuts[k].stitch > cuts[k - 1].stitch);
    }
    Pattern loose = p;  // without its trims every far move is left for the scissors
    std::erase_if(loose.stitches, [](const Stitch& s) { return s.op == Op::Trim; });
    for (const CutSpot& c : cutSpots(loose)) QVERIFY(!c.machine);
  }
};

RT_TEST(TestTravel)

}  // namespace test_travel
#include "test_travel.moc"
