#include <QtTest>

#include "error.h"
#include "polygon.h"
#include "random_pattern.h"
#include "run.h"
#include "svg_path.h"

namespace test_svg_path {

using namespace rt;

namespace {

std::vector<SubPath> path(const std::string& d, double tolerance = 0.01) {
  return parsePath(d, tolerance, "test");
}

double areaOf(const std::string& d) {
  const auto subs = path(d, 0.001);
  return std::abs(signedArea_mm2(subs.at(0).points));
}

}  // namespace

class TestSvgPath : public QObject {
  Q_OBJECT
 private slots:
  void linesInAllWritings() {
    for (const char* d : {"M0 0 L10 0 L10 5 Z", "m0,0 10,0 0,5z", "M0 0H10V5Z", "M0 0h10v5z",
                          "M 0,0 L 10 0 10 5 z", "M0 0l1e1 0 0 .5e1z"}) {
      const auto subs = path(d);
      QCOMPARE(subs.size(), size_t{1});
      QVERIFY(subs[0].closed);
      QCOMPARE(subs[0].points.size(), size_t{3});
      QCOMPARE(subs[0].points[2], (Point{10, 5}));
    }
  }
  void numbersRunTogether() {
    const auto subs = path("M.5.5-1-1+2+2");
    QCOMPARE(subs[0].points, (std::vector<Point>{{0.5, 0.5}, {-1, -1}, {2, 2}}));
  }
  void arcsAreCircles() {
    QVERIFY(std::abs(areaOf("M0 10A10 10 0 0 1 20 10A10 10 0 0 1 0 10Z") - kPi * 100) < 0.3);
    QVERIFY(std::abs(areaOf("M0 10A10 5 0 1 0 20 10A10 5 0 1 0 0 10Z") - kPi * 50) < 0.3);
    // flags may stand without spaces
    QVERIFY(std::abs(areaOf("M0 10A10 10 0 0120 10A10 10 0 010 10Z") - kPi * 100) < 0.3);
    // radii too small are grown to reach
    QVERIFY(std::abs(areaOf("M0 0A1 1 0 0 1 20 0A1 1 0 0 1 0 0Z") - kPi * 100) < 0.3);
  }
  void curvesKeepWithinTheirTolerance() {
    std::mt19937 random = testing::seeded(161);
    for (int i = 0; i < 100; ++i) {
      auto v = [&] { return testing::between(random, -40, 40); };
      const Point p0{v(), v()}, p1{v(), v()}, p2{v(), v()}, p3{v(), v()};
      char d[300];
      std::snprintf(d, sizeof d, "M%.4f %.4f C%.4f %.4f %.4f %.4f %.4f %.4f", p0.x, p0.y, p1.x,
                    p1.y, p2.x, p2.y, p3.x, p3.y);
      const auto subs = path(d, 0.05);
      for (int k = 0; k <= 50; ++k) {
        const double t = k / 50.0, u = 1 - t;
        const Point q =
            p0 * (u * u * u) + p1 * (3 * u * u * t) + p2 * (3 * u * t * t) + p3 * (t * t * t);
        double least = 1e9;
        for (size_t j = 1; j < subs[0].points.size(); ++j)
          least =
              std::min(least, pointSegmentDistance(q, subs[0].points[j - 1], subs[0].points[j]));
        QVERIFY2(least < 0.06, qPrintable(QString::number(least)));
      }
    }
  }
  void smoothCurvesMirrorTheirHandles() {
    const auto one = path("M0 0C0 10 10 10 10 0S20 -10 20 0");
    const auto two = path("M0 0C0 10 10 10 10 0C10 -10 20 -10 20 0");
    QCOMPARE(one[0].points, two[0].points);
    const auto three = path("M0 0Q5 10 10 0T20 0"), four = path("M0 0Q5 10 10 0Q15 -10 20 0");
    QCOMPARE(three[0].points, four[0].points);
  }
  void subPathsAfterClosingBeginAtTheStart() {
    const auto subs = path("M5 5h10v10z l-5 -5");
    QCOMPARE(subs.size(), size_t{2});
    QCOMPARE(subs[1].points[0], (Point{5, 5}));
    QCOMPARE(subs[1].points[1], (Point{0, 0}));
  }
  void aMoveAloneIsOnePoint() { QCOMPARE(path("M3 4")[0].points.size(), size_t{1}); }
  void rubbishIsRefused() {
    for (const char* d : {"hello", "M", "M0", "M0 0 L", "M0 0 X 5", "0 0", "M0 0 A1 1 0 2 0 5 5",
                          "M0 0 L nan 0", "M0 0 L 1e999 0", "M0 0 z 5 5"})
      QVERIFY_THROWS_EXCEPTION(Error, path(d));
    QVERIFY(path("").empty());
  }
  void matricesAreRead() {
    const Transform t = parseMatrix("matrix(1,2,3,4,5,6)");
    QCOMPARE(t({1, 1}), (Point{1 + 3 + 5, 2 + 4 + 6}));
    QCOMPARE(parseMatrix(""), Transform{});
    QCOMPARE(parseMatrix("matrix(a)"), Transform{});
  }
};

RT_TEST(TestSvgPath)

}  // namespace test_svg_path
#include "test_svg_path.moc"
