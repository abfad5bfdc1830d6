#include <QtTest>

#include "error.h"
#include "gauge.h"
#include "measured_curve.h"
#include "random_pattern.h"
#include "run.h"

namespace test_measured_curve {
using namespace rt;

class TestMeasuredCurve : public QObject {
  Q_OBJECT
  using Given = MeasuredCurve::Given;

 private slots:
  /// Chord and sagitta are measured one after the other: neither changes by the other.
  void chordAndSagittaAreTwoUnknowns() {
    TextSource text;
    text.arc_side = ArcSide::Outside;
    bendTo(text, 200);
    MeasuredCurve c = text.curve;
    c.given = Given::Chord;
    c.chord_mm = 9 * 25.4;
    follow(text, c);
    QCOMPARE(text.arc_radius_mm, 0.0);  // half of what a circle takes is not one yet
    c.sagitta_mm = 2.25 * 25.4;
    follow(text, c);
    QCOMPARE(text.curve.chord_mm, 9 * 25.4);
    QCOMPARE(text.curve.sagitta_mm, 2.25 * 25.4);
    QVERIFY(std::abs(text.arc_radius_mm / 25.4 - 5.625) < 1e-9);  // R = c²/8s + s/2
  }

  /// What was given of a curve stays whatever else of the text changes.
  void whatWasGivenStays() {
    std::mt19937 random = testing::seeded(731);
    for (int round = 0; round < 200; ++round) {
      const double radius = testing::between(random, 40, 900),
                   clear = testing::between(random, 1, 30);
      TextSource text;
      text.arc_side = round % 2 ? ArcSide::Inside : ArcSide::Outside;
      MeasuredCurve c;
      c.given = static_cast<Given>(round % 3);
      c.radius_mm = radius;
      const double half = testing::between(random, 0.2, 1.4);
      c.chord_mm = 2 * radius * std::sin(half);
      c.sagitta_mm = radius * (1 - std::cos(half));
      const int points = 3 + round % 6;
      for (int k = 0; k < points; ++k) {
        const double a = -half + 2 * half * k / (points - 1);
        c.points_mm.push_back({17 + radius * std::sin(a), -5 + radius * std::cos(a)});
      }
      if (round % 4 != 0) c.clear_mm = clear;
      follow(text, c);
      for (double height : {6.0, 20.0, 41.0}) {
        text.height_mm = height;
        text.text += "x";
        follow(text);
        QCOMPARE(text.curve, c);
        QVERIFY(std::abs(fitted(text.curve).radius_mm - radius) < 1e-6 * radius);
        const double feet = c.clear_mm ? clear : 0,
                     heads = c.clear_mm && text.arc_side == ArcSide::Inside ? height : 0;
        QVERIFY2(std::abs(text.arc_radius_mm - (radius + feet + heads)) < 1e-6 * radius,
                 qPrintable(QString::number(round)));
      }
    }
  }

  /// Points by ruler are off the circle by what they were measured wrong.
  void residualsAreThoseOfThePoints() {
    std::mt19937 random = testing::seeded(732);
    std::normal_distribution<double> off(0, 0.5);
    double sum = 0;
    constexpr int kRounds = 60, kPoints = 12;
    for (int round = 0; round < kRounds; ++round) {
      const double radius = testing::between(random, 80, 400);
      MeasuredCurve c;
      c.given = Given::Points;
      for (int k = 0; k < kPoints; ++k) {
        const double a = -0.8 + 1.6 * k / (kPoints - 1), r = radius + off(random);
        c.points_mm.push_back({r * std::sin(a), r * std::cos(a)});
      }
      const FittedCurve f = fitted(c);
      sum += f.rms_mm * f.rms_mm;
      QVERIFY(std::abs(f.radius_mm - radius) < 0.06 * radius + 3);
    }
    // three unknowns are taken out of every twelve points
    const double expected = 0.5 * std::sqrt(1 - 3.0 / kPoints);
    QVERIFY(std::abs(std::sqrt(sum / kRounds) - expected) < 0.06);
  }

  void whatMakesNoCircleIsRefused() {
    MeasuredCurve c;
    c.given = Given::Points;
    c.points_mm = {{0, 0}, {10, 0}, {20, 0}};
    QVERIFY_THROWS_EXCEPTION(Error, fitted(c));
    c.points_mm = {{0, 0}, {10, 5}};
    QVERIFY_THROWS_EXCEPTION(Error, fitted(c));
  }

  void chordOfABaselineIsItsOwnCurve() {
    std::mt19937 random = testing::seeded(733);
    for (int round = 0; round < 100; ++round) {
      const double radius = testing::between(random, 30, 500),
                   length = testing::between(random, 5, 2.9 * radius);
      const ChordOf chord = chordOf(radius, length);
      QVERIFY(std::abs(arcFromChord(chord.chord_mm, chord.sagitta_mm).radius_mm - radius) <
              1e-6 * radius);
    }
  }
};

RT_TEST(TestMeasuredCurve)

}  // namespace test_measured_curve
#include "test_measured_curve.moc"
