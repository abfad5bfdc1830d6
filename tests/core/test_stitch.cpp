#include <QtTest>

#include "blocks.h"
#include "random_pattern.h"
#include "run.h"
#include "statistics.h"

namespace test_stitch {

using namespace rt;
using testing::patternFrom;

class TestStitch : public QObject {
  Q_OBJECT
 private slots:
  void threadLiesFromTheLanding() {
    QCOMPARE(testing::sewnLength(patternFrom("jump 0,0 stitch 3,0 stitch 3,4")), 7.0);
  }
  void firstStitchWithoutJumpLaysNone() {
    QCOMPARE(testing::sewnLength(patternFrom("stitch 5,5 stitch 5,8")), 3.0);
  }
  void afterTrimThreadStartsAnew() {
    QCOMPARE(testing::sewnLength(patternFrom("stitch 0,0 stitch 2,0 trim stitch 9,0 stitch 9,1")),
             3.0);
    QCOMPARE(testing::sewnLength(patternFrom("stitch 0,0 stitch 2,0 trim jump 9,0 stitch 9,1")),
             3.0);
  }
  void colourChangeStartsAnewUnlessJumped() {
    QCOMPARE(testing::sewnLength(
                 patternFrom("#ff0000 stitch 0,0 stitch 2,0 #0000ff stitch 9,0 stitch 9,1")),
             3.0);
    QCOMPARE(testing::sewnLength(
                 patternFrom("#ff0000 stitch 0,0 stitch 2,0 #0000ff jump 8,0 stitch 9,0")),
             3.0);
    QCOMPARE(testing::sewnLength(
                 patternFrom("#ff0000 stitch 0,0 stitch 2,0 jump 8,0 #0000ff stitch 9,0")),
             3.0);
  }
  void stopKeepsTheThread() {
    QCOMPARE(testing::sewnLength(patternFrom("stitch 0,0 stop stitch 2,0")), 2.0);
  }
  void statisticsCount() {
    const Statistics s = statisticsOf(patternFrom("#ff0000 jump 0,0 stitch 3,0 trim #00ff00 jump "
                                                  "9,0 stitch 9,4 stop #ff0000 stitch 1,1 end"),
                                      {});
    QCOMPARE(s.stitches, size_t{3});
    QCOMPARE(s.jumps, size_t{2});
    QCOMPARE(s.trims, size_t{1});
    QCOMPARE(s.stops, size_t{1});
    QCOMPARE(s.colour_changes, size_t{2});
    QCOMPARE(s.colours.size(), size_t{2});
    QCOMPARE(s.bounds, (Box{0, 0, 9, 4}));
    QCOMPARE(s.longest_mm, 4.0);
    QCOMPARE(s.shortest_mm, 3.0);
  }
  void emptyIsZero() {
    const Statistics s = statisticsOf({}, {});
    QCOMPARE(s.stitches, size_t{0});
    QVERIFY(s.bounds.empty());
    QCOMPARE(s.sewing_time_s, 0.0);
  }
  void blocksEndWhereSewingBreaks() {
    QCOMPARE(blocksOf(patternFrom("stitch 0,0 stitch 2,0 jump 4,0 stitch 6,0")).size(),
             size_t{1});  // 2 mm: goes on
    QCOMPARE(blocksOf(patternFrom("stitch 0,0 stitch 2,0 jump 6,0 stitch 8,0")).size(),
             size_t{2});  // 4 mm
    QCOMPARE(blocksOf(patternFrom("stitch 0,0 stitch 2,0 jump 4,0 jump 6,0 stitch 8,0")).size(),
             size_t{2});
    QCOMPARE(blocksOf(patternFrom("stitch 0,0 stitch 2,0 stop stitch 3,0")).size(), size_t{2});
    QCOMPARE(
        blocksOf(patternFrom("#ff0000 stitch 0,0 stitch 2,0 #00ff00 stitch 2,0 stitch 3,0")).size(),
        size_t{2});
  }
  void blocksHoldAllThread() {
    std::mt19937 random = testing::seeded(21);
    for (int i = 0; i < 40; ++i) {
      const Pattern p = testing::wander(random, 800, 60);
      double sum = 0;
      size_t stitches = 0, last = 0;
      for (const Block& b : blocksOf(p)) {
        QVERIFY(b.first >= last && b.last > b.first);
        last = b.last;
        sum += b.thread_mm;
        stitches += b.stitches;
      }
      QVERIFY(std::abs(sum - testing::sewnLength(p)) < 1e-6);
      QCOMPARE(stitches, statisticsOf(p, {}).stitches);
    }
  }
  void oneNeedleWaitsLongerThanMany() {
    const Pattern p = patternFrom("#ff0000 stitch 0,0 stitch 2,0 #0000ff stitch 9,0 stitch 9,1");
    const TimeModel m;
    QVERIFY(std::abs(sewingTime_s(p, m, Needles::One) - sewingTime_s(p, m, Needles::Many) -
                     (m.colour_change_s - m.needle_change_s)) < 1e-9);
  }
  void longStitchesAreSlower() {
    const TimeModel m;
    QVERIFY(sewingTime_s(patternFrom("jump 0,0 stitch 10,0"), m) >
            sewingTime_s(patternFrom("jump 0,0 stitch 3,0"), m));
  }
  void appendMatchesColoursAndPieces() {
    Pattern a = patternFrom("#ff0000 stitch 0,0 end"),
            b = patternFrom("#00ff00 stitch 1,1 #ff0000 stitch 2,2");
    append(a, b);
    QCOMPARE(a.threads.size(), size_t{2});
    QCOMPARE(a.stitches.size(), size_t{3});
    QCOMPARE(a.colourOf(a.stitches[2]).hex(), std::string("#ff0000"));
  }
};

RT_TEST(TestStitch)

}  // namespace test_stitch
#include "test_stitch.moc"
