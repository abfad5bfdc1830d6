// Small changes that save a hooping or a cut: each does what it says.
#include <QtTest>

#include "actions.h"
#include "compose_actions.h"
#include "demo.h"
#include "plan_advice.h"
#include "planner.h"
#include "random_pattern.h"
#include "run.h"

namespace test_plan_advice {

using namespace rt;

class TestPlanAdvice : public QObject {
  Q_OBJECT
  Bench bench_;

  HoopingPlan planOf(const Job& job) {
    return planHoopings(sewnLayout(job), planOptionsOf(job, bench_));
  }
  /// A demo layout sized to a width, in a field of its own.
  Job sizedTo(double width_mm, const std::string& hoop) {
    Job job = demoJob(bench_, "tally-tags");
    Box all;
    for (const Piece& p : job.pieces) all.add(boundsOf(p));
    job = actions::scaledWhole(std::move(job), width_mm / all.width(), bench_);
    job.plan_settings = {};
    job.plan_settings.hoop = hoop;
    return job;
  }

 private slots:
  void initTestCase() { bench_ = openBench(); }

  void everythingSmallerKeepsItsPlaces() {
    std::mt19937 random = testing::seeded(611);
    const Job job = demoJob(bench_, "wardens-gilet");
    Box before;
    for (const Piece& p : job.pieces) before.add(boundsOf(p));
    for (int round = 0; round < 4; ++round) {
      const double f = testing::between(random, 0.8, 1.2);
      const Job other = actions::scaledWhole(job, f, bench_);
      QCOMPARE(other.pieces.size(), job.pieces.size());
      for (size_t i = 0; i < job.pieces.size(); ++i) {
        const Box a = boundsOf(job.pieces[i]), b = boundsOf(other.pieces[i]);
        const Point want = before.centre() + (a.centre() - before.centre()) * f;
        QVERIFY(distance(b.centre(), want) < 0.2);
        // stitches are made anew at the size: their ends need not scale to the hundredth
        QVERIFY2(std::abs(b.width() - a.width() * f) < 0.6 + 0.01 * a.width(),
                 qPrintable(QString("%1 for %2").arg(b.width()).arg(a.width() * f)));
      }
    }
  }

  void aLayoutALittleTooWideIsMadeSmaller() {
    const Job job = sizedTo(101, "100x100");
    const HoopingPlan plan = planOf(job);
    QVERIFY(plan.hoopings.size() > 1);
    const std::vector<PlanAdvice> found = planAdvice(job, plan, bench_, {});
    QVERIFY(!found.empty());
    QVERIFY(std::any_of(found.begin(), found.end(), [](const PlanAdvice& a) {
      return a.hoopings == 1 &&
             (a.what == PlanAdvice::What::SmallerLayout || a.what == PlanAdvice::What::OtherFrame);
    }));
    for (size_t i = 0; i < found.size(); ++i) {
      const PlanAdvice& a = found[i];
      const HoopingPlan with = planOf(a.job);  // it does what it says
      QCOMPARE(static_cast<int>(with.hoopings.size()), a.hoopings);
      QCOMPARE(static_cast<int>(with.crossings.size()), a.cut);
      QVERIFY(std::pair(with.hoopings.size(), with.crossings.size()) <
              std::pair(plan.hoopings.size(), plan.crossings.size()));
      QVERIFY(i == 0 ||
              std::pair(found[i - 1].hoopings, found[i - 1].cut) <= std::pair(a.hoopings, a.cut));
      QVERIFY(!inWords(a).empty());
    }
  }

  void whereNothingIsCutNothingIsAdvised() {
    const Job job = sizedTo(80, "100x100");
    QVERIFY(planAdvice(job, planOf(job), bench_, {}).empty());
  }

  void enoughGivesWhatWasFound() {
    const Job job = sizedTo(101, "100x100");
    const HoopingPlan plan = planOf(job);
    const Watch enough = [](const WorkProgress& at) { return at.best > 0 ? Go::Enough : Go::On; };
    const std::vector<PlanAdvice> found = planAdvice(job, plan, bench_, enough);
    QVERIFY(!found.empty());
    QVERIFY_THROWS_EXCEPTION(
        Stopped, planAdvice(job, plan, bench_, [](const WorkProgress&) { return Go::Stop; }));
  }
};

RT_TEST(TestPlanAdvice)

}  // namespace test_plan_advice
#include "test_plan_advice.moc"
