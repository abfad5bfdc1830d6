// When a running machine next waits for a person, and how a decision over a hooping is scored.
#include <QtTest>

#include "practice_score.h"
#include "random_pattern.h"
#include "run.h"
#include "run_ahead.h"
#include "thread_shelf.h"

namespace test_run_ahead {

using namespace rt;

namespace {

/// So many stitches of 2 mm in each colour, one run after another.
Pattern runs(const std::vector<std::pair<uint32_t, int>>& colours) {
  Pattern p;
  double x = 0;
  for (const auto& [rgb, n] : colours) {
    const uint16_t thread = p.threadIndex(Colour{rgb});
    for (int i = 0; i < n; ++i) p.stitches.push_back({{x += 2, 0}, 1, thread, 0, Op::Stitch, {}});
  }
  return p;
}

}  // namespace

class TestRunAhead : public QObject {
  Q_OBJECT
 private slots:
  void aThreadThatIsOnNoNeedleIsAskedFor() {
    const Pattern p = runs({{1, 100}, {2, 50}, {3, 70}});
    const TimeModel model;
    NextWait w = nextWait(p, 0, {}, model);
    QCOMPARE(w.why, Wait::Thread);
    QCOMPARE(w.row, size_t{100});
    QCOMPARE(w.thread, (Colour{2}));
    QVERIFY(std::abs(w.seconds - 100 * 60 / model.stitches_per_minute) < 0.5);
    // from where it waits that thread is at work
    QCOMPARE(nextWait(p, 100, {}, model).row, size_t{150});
    w = nextWait(p, 0, {{Colour{1}, Colour{2}}, 0, 0, {}}, model);
    QCOMPARE(w.row, size_t{150});
    w = nextWait(p, 160, {}, model);
    QCOMPARE(w.why, Wait::Done);
    QCOMPARE(w.row, p.stitches.size());
  }
  void aStopAndAnEmptyBobbinComeFirst() {
    Pattern p = runs({{1, 100}, {2, 100}});
    p.stitches.insert(p.stitches.begin() + 40, {{80, 0}, 1, 0, 0, Op::Stop, {}});
    QCOMPARE(nextWait(p, 0, {}, {}).why, Wait::Stop);
    QCOMPARE(nextWait(p, 0, {}, {}).row, size_t{40});
    QCOMPARE(nextWait(p, 41, {}, {}).why, Wait::Thread);
    // 30 stitches of 2 mm and 0.5 mm of cloth twice take 90 mm of top thread
    Threaded machine;
    machine.take.cloth_mm = 0.5;
    machine.bobbin_mm = 90 * SewingRules{}.bobbin_share;
    const NextWait w = nextWait(p, 0, machine, {});
    QCOMPARE(w.why, Wait::Bobbin);
    QVERIFY(w.row >= 29 && w.row <= 31);
    // looked at from farther on it is the same place, until a full one is put in
    QCOMPARE(nextWait(p, 20, machine, {}).row, w.row);
    machine.bobbin_from = w.row;
    const NextWait next = nextWait(p, w.row, machine, {});
    QVERIFY(next.row > w.row);
  }
  void timeLeftByThreadAddsUp() {
    std::mt19937 random = testing::seeded(990);
    for (int round = 0; round < 20; ++round) {
      std::vector<std::pair<uint32_t, int>> colours;
      for (int i = 0; i < 6; ++i)
        colours.push_back(
            {static_cast<uint32_t>(i), static_cast<int>(testing::between(random, 1, 80))});
      const Pattern p = runs(colours);
      const auto now =
          static_cast<size_t>(testing::between(random, 0, static_cast<double>(p.stitches.size())));
      double whole = 0, left = 0;
      size_t next = 0;
      for (const ThreadRun& r : threadRuns(p, now, {}, Needles::One)) {
        QCOMPARE(r.from, next);
        next = r.to;
        whole += r.seconds;
        left += r.left_s;
        QVERIFY(r.left_s <= r.seconds + 1e-9);
      }
      QCOMPARE(next, p.stitches.size());
      QVERIFY(std::abs(whole - sewingTime_s(p, {})) < 1e-6);
      QVERIFY(now == 0 ? std::abs(left - whole) < 1e-6 : left < whole);
    }
  }
  void decisionsAreScoredAgainstTheTruth() {
    const Field field{200, 140, HoopShape::Rectangle};
    const Transform lies = Transform::moving({2, 1}) * Transform::turning(1.5);
    PracticeScore s = scoreOf(lies, lies, field, 0.5, true, {});
    QVERIFY(s.right && s.measured);
    QCOMPARE(s.points, 100);
    QVERIFY(scoreOf(lies, lies, field, 0.5, false, {}).points < 50);  // it could have been sewn
    const Transform off = Transform::moving({0.3, 0}) * lies;
    s = scoreOf(lies, off, field, 0.5, true, {});
    QVERIFY(s.right && s.points > 60 && s.points < 100);
    QVERIFY(std::abs(s.worst_mm - 0.3) < 1e-9);
    s = scoreOf(lies, Transform::moving({3, 0}) * lies, field, 0.5, true, {});
    QVERIFY(!s.right);
    QCOMPARE(s.points, 0);  // a ruined item
    s = scoreOf(lies, std::nullopt, field, 0.5, false, {});
    QVERIFY(s.right && !s.measured);
  }
};

RT_TEST(TestRunAhead)

}  // namespace test_run_ahead
#include "test_run_ahead.moc"
