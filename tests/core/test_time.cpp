#include <QtTest>

#include "random_pattern.h"
#include "run.h"
#include "statistics.h"

namespace test_time {

using namespace rt;
using testing::patternFrom;

namespace {

/// The model by hand: each row's part, as data/time-model.json states it.
double byHand(const Pattern& p, const TimeModel& m, Needles needles) {
  double sum = 0;
  NeedleWalk walk;
  Point at;
  bool placed = false;
  for (const Stitch& s : p.stitches) {
    const NeedleWalk::Step step = walk.next(s);
    if (s.op == Op::Trim) sum += m.trim_s;
    if (s.op == Op::Stop) sum += m.stop_s;
    if (s.op == Op::Jump)
      sum += m.jump_start_s + (placed ? distance(at, s.at) / m.jump_mm_per_s : 0);
    if (s.op == Op::Stitch) {
      const double mm = step.sewn ? distance(step.from, s.at) : 0;
      sum += 60 / m.stitches_per_minute;
      if (mm > m.long_from_mm)
        sum += 60 / m.stitches_per_minute * m.slower_per_mm * (mm - m.long_from_mm);
      if (step.colourChange) sum += needles == Needles::One ? m.colour_change_s : m.needle_change_s;
    }
    if (s.op == Op::Stitch || s.op == Op::Jump) at = s.at, placed = true;
  }
  return sum;
}

}  // namespace

class TestTime : public QObject {
  Q_OBJECT
 private slots:
  void agreesWithTheModelByHand() {
    std::mt19937 random = testing::seeded(171);
    for (int i = 0; i < 60; ++i) {
      const Pattern p = testing::wander(random, 500, 90);
      TimeModel m;
      m.stitches_per_minute = testing::between(random, 300, 1200);
      m.trim_s = testing::between(random, 1, 20);
      for (Needles n : {Needles::One, Needles::Many})
        QVERIFY(std::abs(sewingTime_s(p, m, n) - byHand(p, m, n)) < 1e-6);
    }
  }
  void partsAddUpToTheWhole() {
    std::mt19937 random = testing::seeded(172);
    const Pattern p = testing::wander(random, 800, 50);
    const TimeModel m;
    TimeWalk walk(m, Needles::One);
    double sum = 0;
    for (const Stitch& s : p.stitches) {
      const double part = walk.next(s);
      QVERIFY(part >= 0);
      sum += part;
    }
    QVERIFY(std::abs(sum - sewingTime_s(p, m)) < 1e-9);
  }
  void sevenHundredStitchesTakeAMinute() {
    Pattern p = patternFrom("stitch 0,0");
    for (int i = 1; i < 700; ++i) {
      Stitch s = p.stitches[0];
      s.at = {i * 2.0, 0};
      p.stitches.push_back(s);
    }
    QVERIFY(std::abs(sewingTime_s(p, {}) - 60) < 1e-6);
  }
  void topThreadGoesDownAndUpAtEachPoint() {
    Statistics s;
    s.thread_mm = 1000;
    s.stitches = 400;
    QCOMPARE(topThread_mm(s, 0.5), 1400.0);
    QCOMPARE(topThread_mm(s, 0), 1000.0);
  }
  void statisticsDoNotDependOnPlace() {
    std::mt19937 random = testing::seeded(173);
    for (int i = 0; i < 30; ++i) {
      const Pattern p = testing::wander(random, 300, 50);
      const Transform t =
          Transform::moving({33, -71}) * Transform::turning(testing::between(random, 0, 360));
      const Statistics a = statisticsOf(p, {}), b = statisticsOf(transformed(p, t), {});
      QCOMPARE(a.stitches, b.stitches);
      QCOMPARE(a.colour_changes, b.colour_changes);
      QVERIFY(std::abs(a.thread_mm - b.thread_mm) < 1e-6);
      QVERIFY(std::abs(a.longest_mm - b.longest_mm) < 1e-9);
      QVERIFY(std::abs(a.sewing_time_s - b.sewing_time_s) < 1e-6);
    }
  }
};

RT_TEST(TestTime)

}  // namespace test_time
#include "test_time.moc"
