// Predicted errors against random trials, through the same fit as alignment uses.
#include <QtTest>
#include <map>

#include "fit.h"
#include "random_pattern.h"
#include "run.h"
#include "seam_budget.h"

namespace test_seam_budget {

using namespace rt;
using testing::between;

namespace {

Hooping clamping(int index, Point centre, std::vector<PlanMark> marks, int settings = 1) {
  Hooping h;
  h.index = index;
  h.id = "h" + std::to_string(index);
  h.origin = centre;
  for (int s = 1; s <= settings; ++s) {
    PlanSetting one;
    one.index = s;
    one.id = h.id + "." + std::to_string(s);
    one.field = {Box::around(centre + Point{0, 90.0 * (s - 1)}, 200, 140), 0, HoopShape::Rectangle};
    h.settings.push_back(one);
  }
  h.marks = std::move(marks);
  return h;
}

/// A row of clampings; neighbours share two marks.
std::vector<Hooping> inARow(int count, int settings) {
  std::vector<Hooping> out;
  std::vector<PlanMark> before;
  for (int i = 0; i < count; ++i) {
    const double x = i * 180.0;
    std::vector<PlanMark> marks = before;
    const std::string name = "M" + std::to_string(2 * i);
    before = {{name + "a", "cross", {x + 88, -52}, true},
              {name + "b", "cross", {x + 91, 47}, true}};
    if (i == 0) marks = {{"L1", "cross", {-80, -50}, true}, {"L2", "cross", {-75, 55}, true}};
    if (i + 1 < count) marks.insert(marks.end(), before.begin(), before.end());
    out.push_back(clamping(i + 1, {x, 0}, marks, settings));
  }
  return out;
}

/// One trial: where each setting of each clamping really puts the layout, as a map of the plane.
std::vector<std::vector<Transform>> trial(const std::vector<Hooping>& hoopings, TieStyle style,
                                          double mark_mm, double setting_mm, std::mt19937& random) {
  std::normal_distribution<double> normal(0, 1);
  const auto off = [&](double sigma) {
    return Point{sigma * normal(random), sigma * normal(random)};
  };
  std::vector<std::vector<Transform>> lies;
  std::map<std::string, Point> sewn;  // where marks of a chain really came to lie
  for (size_t h = 0; h < hoopings.size(); ++h) {
    std::vector<Mark> seen;
    for (const PlanMark& m : placingMarks(hoopings, h, style)) {
      const bool there = style == TieStyle::Chain && sewn.count(m.id) > 0;
      seen.push_back({m.id, m.at, (there ? sewn[m.id] : m.at) + off(mark_mm), mark_mm});
    }
    const Transform first = fitMarks(seen, FitKind::Rigid).toHoop;
    lies.emplace_back();
    for (size_t s = 0; s < hoopings[h].settings.size(); ++s)
      lies.back().push_back(s == 0 ? first : Transform::moving(off(setting_mm)) * first);
    for (const PlanMark& m : hoopings[h].marks) {
      if (sewn.count(m.id)) continue;
      size_t sewer = 0;
      const Box arms = Box{m.at.x, m.at.y, m.at.x, m.at.y}.grown(4);
      while (sewer + 1 < hoopings[h].settings.size() &&
             !hoopings[h].settings[sewer].field.holds(arms))
        ++sewer;
      sewn[m.id] = lies.back()[sewer](m.at);
    }
  }
  return lies;
}

double within95Of(std::vector<double> distances) {
  std::sort(distances.begin(), distances.end());
  return distances[distances.size() * 95 / 100];
}

}  // namespace

class TestSeamBudget : public QObject {
  Q_OBJECT
 private slots:
  void theBoundHoldsForAnyShapeOfError() {
    std::mt19937 random = testing::seeded(301);
    std::normal_distribution<double> normal(0, 1);
    for (double narrow : {0.0, 0.2, 0.6, 1.0}) {
      std::vector<double> far;
      for (int i = 0; i < 40000; ++i)
        far.push_back(std::hypot(normal(random), narrow * normal(random)));
      const double bound = within95_mm({1, 0, narrow * narrow});
      QVERIFY2(std::abs(bound / within95Of(far) - 1) < 0.015, qPrintable(QString::number(narrow)));
    }
    QCOMPARE(within95_mm({}), 0.0);
    QVERIFY(std::abs(within95_mm({1, 0, 1}) - kWithin95) < 1e-3);
    QVERIFY(std::abs(within95_mm({1, 0, 0}) - 1.96) < 2e-3);
  }
  void predictionsAgreeWithTrials_data() {
    QTest::addColumn<bool>("chain");
    QTest::addColumn<int>("settings");
    QTest::newRow("star") << false << 1;
    QTest::newRow("chain") << true << 1;
    QTest::newRow("star of clampings with settings") << false << 2;
    QTest::newRow("chain of clampings with settings") << true << 2;
  }
  void predictionsAgreeWithTrials() {
    QFETCH(bool, chain);
    QFETCH(int, settings);
    constexpr int kTrials = 10000;
    constexpr double kMark_mm = 0.15, kSetting_mm = 0.1;
    const TieStyle style = chain ? TieStyle::Chain : TieStyle::Star;
    const std::vector<Hooping> hoopings = inARow(4, settings);
    Hoop frame;
    frame.setting_error_mm = kSetting_mm;
    const SeamBudget budget(hoopings, {frame}, style, kMark_mm);
    std::mt19937 random = testing::seeded(302);
    std::vector<std::vector<std::vector<Transform>>> trials;
    for (int i = 0; i < kTrials; ++i)
      trials.push_back(trial(hoopings, style, kMark_mm, kSetting_mm, random));
    const auto last = static_cast<size_t>(settings) - 1;
    for (size_t h = 0; h < hoopings.size(); ++h) {
      const Point p = hoopings[h].settings[last].field.box.corner(2);
      std::vector<double> far, gap;
      for (const auto& t : trials) {
        far.push_back(distance(t[h][last](p), p));
        if (h > 0) gap.push_back(distance(t[h][last](p), t[h - 1][0](p)));
      }
      const double predicted = within95_mm(budget.at(h, last, p));
      QVERIFY2(
          std::abs(predicted / within95Of(far) - 1) < 0.05,
          qPrintable(
              QString("hooping %1: %2, trials %3").arg(h + 1).arg(predicted).arg(within95Of(far))));
      if (h == 0) continue;
      const double seam = within95_mm(budget.between(h - 1, 0, h, last, p));
      QVERIFY2(
          std::abs(seam / within95Of(gap) - 1) < 0.05,
          qPrintable(QString("seam %1: %2, trials %3").arg(h + 1).arg(seam).arg(within95Of(gap))));
    }
  }
  void marksFartherApartHoldTheAngleBetter() {
    const auto at = [](double apart) {
      const std::vector<Hooping> one{
          clamping(1, {0, 0},
                   {{"A", "cross", {-apart / 2, 0}, true}, {"B", "cross", {apart / 2, 0}, true}})};
      return within95_mm(SeamBudget(one, {Hoop{}}, TieStyle::Star, 0.15).at(0, 0, {100, 70}));
    };
    QVERIFY(at(160) < at(80));
    QVERIFY(at(80) < at(40));
    // two marks d apart: an angle error of sigma times root 2 over d
    const double far = std::sqrt(2.0) * 0.15 / 40 * std::hypot(100, 70);
    QVERIFY(at(40) > 1.96 * far * 0.9 && at(40) < kWithin95 * std::hypot(far, 0.15));
  }
  void aMarkThatTwoShareIsLookedForTwice() {
    const std::vector<PlanMark> marks{{"A", "cross", {-60, 0}, true},
                                      {"B", "cross", {60, 0}, true}};
    const std::vector<Hooping> two{clamping(1, {0, 0}, marks), clamping(2, {0, 20}, marks)};
    const SeamBudget budget(two, {Hoop{}}, TieStyle::Star, 0.15);
    const double own = budget.at(0, 0, {0, 10}).xx, gap = budget.between(0, 0, 1, 0, {0, 10}).xx;
    QVERIFY(std::abs(gap - 2 * own) < 1e-12);
  }
};

RT_TEST(TestSeamBudget)

}  // namespace test_seam_budget
#include "test_seam_budget.moc"
