#include <QtTest>

#include "error.h"
#include "polygon.h"
#include "random_pattern.h"
#include "run.h"

namespace test_geometry {

using namespace rt;
using testing::between;

class TestGeometry : public QObject {
  Q_OBJECT
 private slots:
  void transformsInvert() {
    std::mt19937 random = testing::seeded(3);
    for (int i = 0; i < 300; ++i) {
      const Transform t = Transform::moving({between(random, -50, 50), 7}) *
                          Transform::turning(between(random, -180, 180)) *
                          Transform::scaling(between(random, 0.1, 3), between(random, 0.1, 3));
      const Point p{between(random, -90, 90), between(random, -90, 90)};
      QVERIFY(distance((*t.inverse())(t(p)), p) < 1e-9);
    }
    QVERIFY(!Transform::scaling(0, 1).inverse());
  }
  void turningIsClockwiseAsSeen() {
    const Point p = Transform::turning(90)({1, 0});
    QVERIFY(distance(p, {0, 1}) < 1e-12);  // y runs down
  }
  void arcFromChordMeetsItsChordAndSagitta() {
    std::mt19937 random = testing::seeded(5);
    for (int i = 0; i < 300; ++i) {
      const double c = between(random, 1, 400), s = between(random, 0.1, 300);
      const Arc arc = arcFromChord(c, s);
      QVERIFY(std::abs(distance(arc.centre, {c / 2, 0}) - arc.radius_mm) <
              1e-9 * arc.radius_mm + 1e-9);
      QVERIFY(std::abs(distance(arc.centre, {0, s}) - arc.radius_mm) < 1e-9 * arc.radius_mm + 1e-9);
      QVERIFY((s > c / 2) == (arc.span_deg > 180));
      QVERIFY(std::abs(radians(arc.span_deg) * arc.radius_mm - arc.arc_length_mm) <
              1e-9 * arc.arc_length_mm);
    }
    QVERIFY_THROWS_EXCEPTION(Error, arcFromChord(0, 5));
    QVERIFY_THROWS_EXCEPTION(Error, arcFromChord(10, -1));
  }
  void arcThroughFindsTheCircle() {
    std::mt19937 random = testing::seeded(6);
    for (int i = 0; i < 300; ++i) {
      const Point centre{between(random, -50, 50), between(random, -50, 50)};
      const double r = between(random, 2, 200), a = between(random, 0, 6),
                   u = between(random, 0.2, 2.5), v = between(random, 0.2, 2.5);
      auto at = [&](double t) { return centre + Point{r * std::cos(t), r * std::sin(t)}; };
      const Arc arc = arcThrough(at(a), at(a + u), at(a + u + v));
      QVERIFY(std::abs(arc.radius_mm - r) < 1e-6 * r);
      QVERIFY(distance(arc.centre, centre) < 1e-6 * r);
      QVERIFY(std::abs(radians(arc.span_deg) - (u + v)) < 1e-6);
    }
    QVERIFY_THROWS_EXCEPTION(Error, arcThrough({0, 0}, {1, 1}, {2, 2}));
    QVERIFY_THROWS_EXCEPTION(Error, arcThrough({0, 0}, {0, 0}, {2, 2}));
  }
  void areasAddUp() {
    const Area square{{{0, 0}, {10, 0}, {10, 10}, {0, 10}}},
        other{{{5, 5}, {15, 5}, {15, 15}, {5, 15}}};
    QVERIFY(std::abs(area_mm2(united(square, other)) - 175) < 0.01);
    QVERIFY(std::abs(area_mm2(intersection(square, other)) - 25) < 0.01);
    QVERIFY(std::abs(area_mm2(difference(square, other)) - 75) < 0.01);
    QVERIFY(std::abs(area_mm2(grown(square, -1)) - 64) < 0.1);
    QCOMPARE(separated(united(square, {{{30, 0}, {31, 0}, {31, 1}}})).size(), size_t{2});
  }
  void holesAreNotInside() {
    const Area ring{{{0, 0}, {10, 0}, {10, 10}, {0, 10}}, {{3, 3}, {7, 3}, {7, 7}, {3, 7}}};
    QVERIFY(contains(ring, {1, 1}));
    QVERIFY(!contains(ring, {5, 5}));
    QVERIFY(!contains(ring, {11, 5}));
  }
  void segmentDistanceAgreesWithSampling() {
    std::mt19937 random = testing::seeded(8);
    for (int i = 0; i < 200; ++i) {
      Point p[4];
      for (Point& q : p) q = {between(random, 0, 10), between(random, 0, 10)};
      double least = 1e9;
      for (int k = 0; k <= 100; ++k)
        least = std::min(least, pointSegmentDistance(mix(p[0], p[1], k / 100.0), p[2], p[3]));
      const double exact = segmentDistance(p[0], p[1], p[2], p[3]);
      QVERIFY(exact <= least + 1e-9);
      QVERIFY(least - exact < 0.08);
    }
  }
  void resampleKeepsEndsAndStep() {
    const std::vector<Point> line{{0, 0}, {10, 0}, {10, 10}};
    const auto out = resample(line, 3);
    QCOMPARE(out.front(), line.front());
    QCOMPARE(out.back(), line.back());
    for (size_t i = 1; i < out.size(); ++i) QVERIFY(distance(out[i - 1], out[i]) <= 3 + 1e-9);
  }
};

RT_TEST(TestGeometry)

}  // namespace test_geometry
#include "test_geometry.moc"
