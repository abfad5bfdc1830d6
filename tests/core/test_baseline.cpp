// Where straight text comes to lie, and text as bytes.
#include <QtTest>

#include "baseline.h"
#include "error.h"
#include "letter.h"
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
      Lettering level;
      level.pattern = testing::wander(random, 40, 60);
      level.glyphs.resize(3);
      for (PlacedGlyph& g : level.glyphs) {
        g.at = {between(random, -80, 80), between(random, -80, 80)};
        g.gap_at = g.at + Point{2, 1};
        g.angle_deg = between(random, -40, 40);
      }
      const double turn_deg = between(random, -180, 180);
      const Transform by = Transform::turning(turn_deg);
      const Lettering other = turned(level, turn_deg);
      for (size_t k = 0; k < level.glyphs.size(); ++k) {
        QVERIFY(distance(other.glyphs[k].at, by(level.glyphs[k].at)) < 1e-9);
        QVERIFY(distance(other.glyphs[k].gap_at, by(level.glyphs[k].gap_at)) < 1e-9);
        QVERIFY(std::abs(other.glyphs[k].angle_deg - level.glyphs[k].angle_deg - turn_deg) < 1e-9);
      }
      // stitches that are made here keep 0.01 mm: off by half of it each way at most
      for (size_t k = 0; k < level.pattern.stitches.size(); ++k)
        QVERIFY(distance(other.pattern.stitches[k].at, by(level.pattern.stitches[k].at)) < 0.00708);
      QCOMPARE(turned(level, 0).pattern, level.pattern);
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
      QVERIFY_THROWS_EXCEPTION(Error, decodeUtf8(broken));
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
