#include <QtTest>

#include "error.h"
#include "random_pattern.h"
#include "resize.h"
#include "run.h"

namespace test_resize {

using namespace rt;
using testing::between;

namespace {

std::vector<Point> zigzag(double width_mm, double spacing_mm, int rungs, double angle_deg) {
  std::vector<Point> p;
  for (int i = 0; i < rungs; ++i)
    p.push_back(Transform::turning(angle_deg)({i * spacing_mm / 2, i % 2 == 0 ? 0 : width_mm}));
  return p;
}

std::vector<Point> tatami(double width_mm, double spacing_mm, int rows, double length_mm) {
  std::vector<Point> p;
  for (int r = 0; r < rows; ++r) {
    const bool right = r % 2 == 0;
    for (double x = 0; x <= width_mm; x += length_mm)
      p.push_back({right ? x : width_mm - x, r * spacing_mm});
  }
  return p;
}

}  // namespace

class TestResize : public QObject {
  Q_OBJECT
 private slots:
  void satinIsRecognisedWithItsSpacing() {
    std::mt19937 random = testing::seeded(51);
    for (int i = 0; i < 60; ++i) {
      const double spacing = between(random, 0.3, 0.8);
      const Recognised r =
          recognise(zigzag(between(random, 1.5, 6), spacing, 120, between(random, 0, 180)));
      QCOMPARE(r.kind, Kind::Satin);
      QVERIFY(std::abs(r.spacing_mm - spacing) < 0.05 * spacing);
    }
  }
  void fillIsRecognisedWithItsSpacing() {
    const Recognised r = recognise(tatami(42, 0.4, 60, 3.5));
    QCOMPARE(r.kind, Kind::Fill);
    QVERIFY(std::abs(r.spacing_mm - 0.4) < 0.02);
  }
  void aLineIsARun() {
    std::vector<Point> line;
    for (int i = 0; i < 40; ++i) line.push_back({i * 2.5, std::sin(i * 0.2) * 4});
    QCOMPARE(recognise(line).kind, Kind::Run);
  }
  void keepingScalesEveryPoint() {
    std::mt19937 random = testing::seeded(52);
    const Pattern p = testing::wander(random, 500, 40);
    const Resized r = resizeKeeping(p, 1.05, 0.95);
    QCOMPARE(r.pattern.stitches.size(), p.stitches.size());
    for (size_t i = 0; i < p.stitches.size(); ++i) {
      QVERIFY(std::abs(r.pattern.stitches[i].at.x - 1.05 * p.stitches[i].at.x) < 1e-12);
      QVERIFY(std::abs(r.pattern.stitches[i].at.y - 0.95 * p.stitches[i].at.y) < 1e-12);
    }
  }
  void aLargeChangeIsWarnedOf() {
    const Pattern p = testing::patternFrom("jump 0,0 stitch 3,0 stitch 6,0");
    QVERIFY(resizeKeeping(p, 1.08, 1.08).warnings.empty());
    QVERIFY(!resizeKeeping(p, 0.7, 0.7).warnings.empty());
  }
  void absurdScalesAreRefused() {
    const Pattern p = testing::patternFrom("jump 0,0 stitch 3,0");
    for (double bad : {0.0, -1.0, double(NAN), double(INFINITY), 1000.0})
      QVERIFY_THROWS_EXCEPTION(Error, resizeKeeping(p, bad, 1));
  }
};

RT_TEST(TestResize)

}  // namespace test_resize
#include "test_resize.moc"
