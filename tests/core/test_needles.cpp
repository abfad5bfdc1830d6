#include <QtTest>
#include <map>

#include "error.h"
#include "needles.h"
#include "random_pattern.h"
#include "run.h"

namespace test_needles {

using namespace rt;

namespace {

Pattern runsOf(const std::vector<int>& colours) {
  Pattern p;
  for (size_t i = 0; i < colours.size(); ++i) {
    Stitch s;
    s.thread = p.threadIndex({static_cast<uint32_t>(colours[i] + 1)});
    s.at = {static_cast<double>(i), 0};
    p.stitches.push_back(s);
    s.at.y = 2;
    p.stitches.push_back(s);
  }
  return p;
}

/// Fewest loads onto needles by trying every choice of what to take off.
int fewestLoads(const std::vector<int>& runs, size_t i, std::vector<int> on, size_t needles) {
  while (i < runs.size() && std::find(on.begin(), on.end(), runs[i]) != on.end()) ++i;
  if (i == runs.size()) return 0;
  if (on.size() < needles) {
    on.push_back(runs[i]);
    return fewestLoads(runs, i + 1, on, needles);
  }
  int best = 1 << 20;
  for (int& place : on) {
    const int was = place;
    place = runs[i];
    best = std::min(best, 1 + fewestLoads(runs, i + 1, on, needles));
    place = was;
  }
  return best;
}

}  // namespace

class TestNeedles : public QObject {
  Q_OBJECT
 private slots:
  void nonsenseIsRefused() {
    for (int n : {0, -1, 100}) QVERIFY_THROWS_EXCEPTION(Error, planNeedles({}, n));
    QVERIFY(planNeedles({}, 3).steps.empty());
  }
  void enoughNeedlesNeedNoHand() {
    const NeedlePlan plan = planNeedles(runsOf({0, 1, 2, 0, 1, 2, 3}), 4);
    QCOMPARE(plan.rethreadings, 0);
    QCOMPARE(plan.steps[0].needle, plan.steps[3].needle);
  }
  void oneNeedleIsThreadedAtEveryChange() {
    QCOMPARE(planNeedles(runsOf({0, 1, 0, 2}), 1).rethreadings, 3);
  }
  void theThreadMissedLastGoesFirst() {
    const NeedlePlan plan = planNeedles(runsOf({0, 1, 2, 0, 1}), 2);
    QCOMPARE(plan.rethreadings, 2);
    QCOMPARE(plan.steps[2].needle, 1);  // 1 is used after 0 again
  }
  void noOrderOfThreadsIsBetter() {
    std::mt19937 random = testing::seeded(521);
    for (int i = 0; i < 60; ++i) {
      std::vector<int> runs;
      for (int k = 0; k < 9; ++k) {
        const int colour = static_cast<int>(random() % 5);
        if (runs.empty() || runs.back() != colour) runs.push_back(colour);
      }
      const int needles = 1 + static_cast<int>(random() % 4);
      const NeedlePlan plan = planNeedles(runsOf(runs), needles);
      QCOMPARE(plan.rethreadings, fewestLoads(runs, 0, {}, static_cast<size_t>(needles)));
      std::map<int, int> on;  // what the steps say is true of the machine
      for (const NeedleStep& s : plan.steps) {
        const bool there = on.count(s.needle) && on[s.needle] == s.thread;
        QCOMPARE(s.rethread, on.count(s.needle) && !there);
        on[s.needle] = s.thread;
      }
    }
  }
};

RT_TEST(TestNeedles)

}  // namespace test_needles
#include "test_needles.moc"
