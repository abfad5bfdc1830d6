#include <QtTest>

#include "error.h"
#include "judge.h"
#include "random_pattern.h"
#include "run.h"

namespace test_alignment {

using namespace rt;
using testing::between;

namespace {

std::vector<Mark> marksUnder(const Transform& lies, const std::vector<Point>& places,
                             std::mt19937* random = nullptr, double sigma = 0) {
  std::vector<Mark> marks;
  std::normal_distribution<double> error(0, sigma);
  for (Point p : places) {
    Mark m{std::string(1, static_cast<char>('A' + marks.size())), p, lies(p),
           MarkErrors{}.needle_mm};
    if (random) m.hoop = m.hoop + Point{error(*random), error(*random)};
    marks.push_back(m);
  }
  return marks;
}

const std::vector<Point> kCorners{{-90, -60}, {90, -60}, {90, 60}, {-90, 60}};
const AlignmentSetup kSetup{{200, 140, HoopShape::Rectangle}, 0.5, 0, 0, FitKind::Rigid};

}  // namespace

class TestAlignment : public QObject {
  Q_OBJECT
 private slots:
  void rigidFitFindsTurnAndOffset() {
    std::mt19937 random = testing::seeded(71);
    for (int i = 0; i < 200; ++i) {
      const double turn = between(random, -170, 170);
      const Point by{between(random, -30, 30), between(random, -30, 30)};
      const Fit fit = fitMarks(marksUnder(Transform::moving(by) * Transform::turning(turn),
                                          {{0, 0}, {50, 3}, {-20, 40}}),
                               FitKind::Rigid);
      QVERIFY(std::abs(wrapDegrees(fit.rotation_deg - turn)) < 1e-9);
      QVERIFY(std::abs(fit.dx_mm - by.x) < 1e-9 && std::abs(fit.dy_mm - by.y) < 1e-9);
      QVERIFY(fit.rms_mm < 1e-9);
    }
  }
  void affineFitTellsItsParts() {
    std::mt19937 random = testing::seeded(72);
    for (int i = 0; i < 200; ++i) {
      const double turn = between(random, -170, 170), sx = between(random, 0.97, 1.03),
                   sy = between(random, 0.97, 1.03), skew = between(random, -2, 2);
      const Transform k{1, std::tan(radians(skew)), 0, 1, 0, 0};
      const Fit fit = fitMarks(marksUnder(Transform::moving({3, -4}) * Transform::turning(turn) *
                                              Transform::scaling(sx, sy) * k,
                                          kCorners),
                               FitKind::Affine);
      QVERIFY(std::abs(wrapDegrees(fit.rotation_deg - turn)) < 1e-6);
      QVERIFY(std::abs(fit.scale_x - sx) < 1e-9 && std::abs(fit.scale_y - sy) < 1e-9);
      // the contract's skew comes before the sizes: R · diag · K
      QVERIFY2(std::abs(fit.skew_deg - skew) < 1e-6,
               qPrintable(QString("%1 for %2").arg(fit.skew_deg).arg(skew)));
    }
  }
  void the95PercentBoundHolds() {
    std::mt19937 random = testing::seeded(73);
    int within = 0;
    const int rounds = 2000;
    for (int i = 0; i < rounds; ++i) {
      const Transform lies = Transform::moving({2, 1}) * Transform::turning(3);
      const Fit fit =
          fitMarks(marksUnder(lies, kCorners, &random, MarkErrors{}.needle_mm), FitKind::Rigid);
      within += distance(fit.toHoop({100, 70}), lies({100, 70})) <= fit.error95_mm({100, 70});
    }
    // the bound is a circle around an ellipse, and grows when marks disagree: rather more than 95 %
    QVERIFY2(within > 0.94 * rounds, qPrintable(QString::number(within)));
  }
  /// A shift that all marks share is not evened out by many of them; the stated covariance is that
  /// of many trials through the fit itself.
  void sharedErrorsAreCarriedTogether() {
#ifdef RT_SANITIZE
    constexpr int kLayouts = 2;
#else
    constexpr int kLayouts = 8;
#endif
    std::mt19937 random = testing::seeded(79);
    std::normal_distribution<double> one(0, 1);
    for (int i = 0; i < kLayouts; ++i) {
      std::vector<Mark> marks = marksUnder({}, kCorners);
      for (Mark& m : marks) {
        m.hoop = m.layout;
        const double own = between(random, 0.01, 0.05);
        // a shift, a turn and a stretch about the middle
        m.shared = {{0.06, -0.02}, quarterTurn(m.layout) * 4e-4, {m.layout.x * 5e-4, 0}};
        m.shared_by = "photo";
        double square = own * own;
        for (Point p : m.shared) square += dot(p, p) / 2;
        m.error_mm = std::sqrt(square);
      }
      const Point at{between(random, -90, 90), between(random, -60, 60)};
      const PlaceCovariance said = fitMarks(marks, FitKind::Rigid).covarianceAt(at);
      PlaceCovariance seen;
      constexpr int kTrials = 4000;
      for (int trial = 0; trial < kTrials; ++trial) {
        const double common[3] = {one(random), one(random), one(random)};
        std::vector<Mark> off = marks;
        for (Mark& m : off) {
          double own = m.error_mm * m.error_mm;
          for (size_t k = 0; k < 3; ++k)
            m.hoop = m.hoop + m.shared[k] * common[k], own -= dot(m.shared[k], m.shared[k]) / 2;
          m.hoop = m.hoop + Point{one(random), one(random)} * std::sqrt(own);
        }
        const Point by = fitMarks(off, FitKind::Rigid).toHoop(at) - at;
        seen.xx += by.x * by.x / kTrials, seen.yy += by.y * by.y / kTrials;
        seen.xy += by.x * by.y / kTrials;
      }
      // trials are not inflated by how marks disagree: they do as they say, on the whole
      QVERIFY2(
          std::abs(said.longAxis_mm() / seen.longAxis_mm() - 1) < 0.08,
          qPrintable(QString("%1 said, %2 seen").arg(said.longAxis_mm()).arg(seen.longAxis_mm())));
      QVERIFY(std::abs(said.shortAxis_mm() / seen.shortAxis_mm() - 1) < 0.08);
    }
  }
  void honestMarksAreReady() {
    std::mt19937 random = testing::seeded(74);
    int ready = 0;
    for (int i = 0; i < 200; ++i)
      ready +=
          align(marksUnder(Transform::turning(between(random, -9, 9)), kCorners, &random, 0.05),
                kSetup)
              .status == Readiness::Ready;
    QVERIFY2(ready > 190, qPrintable(QString::number(ready)));
  }
  void stretchIsNamed() {
    const Alignment a = align(marksUnder(Transform::scaling(1.01, 1.01), kCorners), kSetup);
    QCOMPARE(a.status == Readiness::Ready, false);
    QVERIFY(std::abs(a.stretch - 0.01) < 1e-6);
    QVERIFY(a.missing.empty());
    QCOMPARE(align(marksUnder(Transform::scaling(1.02, 1.02), kCorners), kSetup).status,
             Readiness::Rehoop);
  }
  void shearIsNamed() {
    const Alignment a =
        align(marksUnder({1, std::tan(radians(0.8)), 0, 1, 0, 0}, kCorners), kSetup);
    QVERIFY(a.status != Readiness::Ready);
    QVERIFY(std::abs(a.out_of_square_deg - 0.8) < 0.01);
  }
  void aWrongMarkIsNotBelieved() {
    std::mt19937 random = testing::seeded(75);
    for (int i = 0; i < 60; ++i) {
      const Transform lies = Transform::moving({4, 2}) * Transform::turning(between(random, -5, 5));
      std::vector<Mark> marks =
          marksUnder(lies, {{-90, -60}, {90, -60}, {90, 60}, {-90, 60}, {0, 0}}, &random, 0.04);
      const size_t wrong = random() % marks.size();
      marks[wrong].hoop = marks[wrong].hoop + Point{between(random, 3, 8), between(random, -8, -3)};
      const Alignment a = align(marks, kSetup);
      QCOMPARE(a.missing.size(), size_t{1});
      QCOMPARE(a.missing[0].id, marks[wrong].id);
      QVERIFY(distance(a.fit.toHoop({0, 0}), lies({0, 0})) < 0.15);
      QVERIFY(a.status == Readiness::Check);
    }
  }
  /// A camera knows a tag to a few µm, cloth lies no flatter than some hundredths of a millimetre:
  /// what is far below the tolerance is no reason for a check, and is in the bound all the same.
  void aSureMarkMayLieALittleOff() {
    std::mt19937 random = testing::seeded(76);
    for (int i = 0; i < 60; ++i) {
      const Transform lies =
          Transform::moving({1, -2}) * Transform::turning(between(random, -5, 5));
      std::vector<Mark> marks = marksUnder(lies, kCorners, &random, 0.002);
      for (Mark& m : marks) m.error_mm = 0.002;
      const double sure = align(marks, kSetup).error_worst_mm;
      const Point way = Transform::turning(between(random, 0, 360)).turn({1, 0});
      Mark& off = marks[random() % marks.size()];
      off.hoop = off.hoop + way * (kSetup.tolerance_mm * 0.08);
      const Alignment a = align(marks, kSetup);
      QVERIFY(a.status == Readiness::Ready && a.missing.empty());
      QVERIFY(a.error_worst_mm > 2 * sure);
      off.hoop = off.hoop + way * kSetup.tolerance_mm;
      QVERIFY(align(marks, kSetup).status != Readiness::Ready);
    }
  }
  void leavingTheFieldIsRehoop() {
    AlignmentSetup setup = kSetup;
    setup.layout_width_mm = 190;
    setup.layout_height_mm = 130;
    QCOMPARE(align(marksUnder(Transform::moving({2, 0}), kCorners), setup).status,
             Readiness::Ready);
    QCOMPARE(align(marksUnder(Transform::moving({9, 0}), kCorners), setup).status,
             Readiness::Rehoop);
    setup.field.shape = HoopShape::Oval;
    QCOMPARE(align(marksUnder(Transform::moving({0, 0}), kCorners), setup).status,
             Readiness::Rehoop);
  }
  void marksCloseTogetherGiveLargeErrors() {
    const Alignment a = align(marksUnder({}, {{0, 0}, {8, 0}}), kSetup);
    QCOMPARE(a.status, Readiness::Rehoop);
    QVERIFY(!a.notes.empty());
  }
  void truthReachesAsFarAsItSays() {
    std::mt19937 random = testing::seeded(118);
    for (int round = 0; round < 40; ++round) {
      std::vector<Mark> marks;
      for (int i = 0; i < 4; ++i) {
        const Point at{testing::between(random, -90, 90), testing::between(random, -60, 60)};
        marks.push_back({std::string(1, static_cast<char>('A' + i)), at,
                         at + Point{testing::between(random, -0.1, 0.1), 2}, 0.1});
      }
      const Fit fit = fitMarks(marks, FitKind::Rigid);
      const double limit = testing::between(random, 0.15, 0.6);
      for (const Mark& m : marks) {
        const double r = trueWithin_mm(fit, m.layout, limit);
        if (fit.error95_mm(m.layout) > limit) {
          QCOMPARE(r, 0.0);
          continue;
        }
        double worst = 0;
        for (int i = 0; i < 90; ++i) {
          const double way = radians(4 * i);
          const Point out{std::cos(way), std::sin(way)};
          QVERIFY(fit.error95_mm(m.layout + out * (r * 0.98)) <= limit * 1.002);
          worst = std::max(worst, fit.error95_mm(m.layout + out * (r + 0.5 + 0.02 * r)));
        }
        QVERIFY(r >= 999 || worst > limit);  // it could not be larger
      }
    }
  }

  void whatCannotBeFittedIsAnError() {
    QVERIFY_THROWS_EXCEPTION(Error, align(marksUnder({}, {{0, 0}}), kSetup));
    QVERIFY_THROWS_EXCEPTION(Error, align(marksUnder({}, {{5, 5}, {5, 5}}), kSetup));
    AlignmentSetup affine = kSetup;
    affine.kind = FitKind::Affine;
    QVERIFY_THROWS_EXCEPTION(Error, align(marksUnder({}, {{0, 0}, {10, 0}, {20, 0}}), affine));
  }
  void moreMarksNeverHurt() {
    std::mt19937 random = testing::seeded(76);
    for (int i = 0; i < 100; ++i) {
      std::vector<Mark> marks = marksUnder({}, {{between(random, -90, 0), between(random, -60, 0)},
                                                {between(random, 5, 90), between(random, 5, 60)}});
      const double before = expectedError95_mm(marks, {80, -50});
      marks.push_back(
          {"C", {between(random, -90, 90), between(random, -60, 60)}, {}, MarkErrors{}.needle_mm});
      QVERIFY(expectedError95_mm(marks, {80, -50}) <= before + 1e-9);
    }
  }
};

RT_TEST(TestAlignment)

}  // namespace test_alignment
#include "test_alignment.moc"
