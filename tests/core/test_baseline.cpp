// Where straight text comes to lie, and text as bytes.
#include <QtTest>

#include "baseline.h"
#include "error.h"
#include "random_pattern.h"
#include "run.h"
#include "thread_gap.h"

namespace test_baseline {

using namespace rt;
using testing::between;

class TestBaseline : public QObject {
  Q_OBJECT
 private slots:
  void straightTextStaysWhereItIs() {
    const Baseline line({}, 12);
    QCOMPARE(line.at(7)({7, -3}), (Point{7, 9}));
    QCOMPARE(line.angle_deg(50), 0.0);
  }

  void theMiddleStandsAtTheCrossOnAnyArc() {
    std::mt19937 random = testing::seeded(331);
    for (int i = 0; i < 60; ++i) {
      LetterOptions o;
      o.arc_radius_mm = between(random, 20, 500);
      o.arc_side = i % 2 ? ArcSide::Inside : ArcSide::Outside;
      const Baseline line(o, 0);
      QVERIFY(length(line.at(0)({0, 0})) < 1e-9);
      // and runs on to the right, along the circle
      const double x = between(random, 0.1, o.arc_radius_mm);
      const Point p = line.at(x)({x, 0});
      QVERIFY(p.x > 0);
      const Point centre{0, i % 2 ? -o.arc_radius_mm : o.arc_radius_mm};
      QVERIFY(std::abs(distance(p, centre) - o.arc_radius_mm) < 1e-6);
      QVERIFY((p.y > 0) == (i % 2 == 0));
    }
  }

  void aTurnTurnsAllOfIt() {
    std::mt19937 random = testing::seeded(332);
    for (int i = 0; i < 40; ++i) {
      LetterOptions o;
      o.arc_radius_mm = between(random, 30, 300);
      const Baseline level(o, 0);
      o.turn_deg = between(random, -180, 180);
      const Baseline turned(o, 0);
      const Transform by = Transform::turning(o.turn_deg);
      const double x = between(random, -30, 30);
      QVERIFY(distance(turned.at(x)({x, -8}), by(level.at(x)({x, -8}))) < 1e-9);
    }
  }

  void bytesAndLettersComeBack() {
    std::mt19937 random = testing::seeded(333);
    for (int i = 0; i < 500; ++i) {
      const char32_t c = static_cast<char32_t>(1 + random() % 0x10ffff);
      if (c >= 0xd800 && c < 0xe000) continue;
      const std::u32string back = decodeUtf8(encodeUtf8(c));
      QCOMPARE(back.size(), size_t{1});
      QCOMPARE(static_cast<uint32_t>(back[0]), static_cast<uint32_t>(c));
    }
    for (const char* broken : {"\xff", "\xc3", "a\x80", "\xe2\x82", "\xc0\xaf"})
      QVERIFY_EXCEPTION_THROWN(decodeUtf8(broken), Error);
  }

  void theLeastGapIsTheLeast() {
    std::mt19937 random = testing::seeded(334);
    for (int i = 0; i < 60; ++i) {
      ThreadSegments a, b;
      auto any = [&](double x) { return Point{x + between(random, 0, 9), between(random, 0, 20)}; };
      for (int k = 0; k < 30; ++k) {
        a.emplace_back(any(0), any(0));
        b.emplace_back(any(10), any(10));
      }
      double least = INFINITY;
      for (const auto& s : a)
        for (const auto& t : b)
          least = std::min(least, segmentDistance(s.first, s.second, t.first, t.second));
      QVERIFY(std::abs(gapBetween(a, b).mm - least) < 1e-12);
      QVERIFY(std::abs(gapBetween(b, a).mm - least) < 1e-12);
    }
    QVERIFY(std::isinf(gapBetween({}, {}).mm));
  }
};

RT_TEST(TestBaseline)

}  // namespace test_baseline
#include "test_baseline.moc"
