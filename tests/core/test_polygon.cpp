#include <QtTest>

#include "polygon.h"
#include "random_pattern.h"
#include "run.h"
#include "side_by_side.h"

namespace test_polygon {

using namespace rt;
using testing::between;

namespace {

Ring disc(Point centre, double radius, int n = 40) {
  Ring out;
  for (int k = 0; k < n; ++k)
    out.push_back(centre + Transform::turning(k * 360.0 / n)(Point{radius, 0}));
  return out;
}

Ring square(Point at, double side) {
  return {at, at + Point{side, 0}, at + Point{side, side}, at + Point{0, side}};
}

/// An area as one operation leaves it: outlines one way, holes the other.
Area ringOf(Point centre, double outer, double inner) {
  return difference(Area{disc(centre, outer)}, Area{disc(centre, inner)});
}

}  // namespace

class TestPolygon : public QObject {
  Q_OBJECT
 private slots:
  void nothingUnitedIsNothing() {
    QVERIFY(united(std::span<const Area>()).empty());
    const std::vector<Area> empties(3);
    QVERIFY(united(empties).empty());
    QVERIFY(boundsOf(Area{}).empty());
  }
  /// Every place on a level line is inside exactly where the crossings say so.
  void levelLinesCrossWhereTheAreaBegins() {
    std::mt19937 random = testing::seeded(478);
    for (int i = 0; i < 60; ++i) {
      Area area = ringOf({between(random, -5, 5), between(random, -5, 5)}, between(random, 4, 12),
                         between(random, 1, 3.9));
      // corners on the lines themselves count once
      if (random() % 2) area = united(area, Area{square({-10, -2}, 4)});
      const double top = i % 2 ? -12 : between(random, -13, -11), step = i % 2 ? 1 : 0.7;
      const auto crossings = levelCrossings(area, top, step, 40);
      QCOMPARE(crossings.size(), size_t{40});
      for (int row = 0; row < 40; ++row) {
        const std::vector<double>& xs = crossings[static_cast<size_t>(row)];
        QVERIFY(xs.size() % 2 == 0);
        QVERIFY(std::is_sorted(xs.begin(), xs.end()));
        for (int k = 0; k < 20; ++k) {
          const Point p{between(random, -18, 18), top + row * step};
          size_t left = 0;
          for (double x : xs) left += x < p.x;
          QCOMPARE(left % 2 == 1, contains(area, p));
        }
      }
    }
    QVERIFY(levelCrossings({square({0, 0}, 4)}, 0, 1, 0).empty());
  }
  void croppingKeepsWhatLiesInTheBox() {
    std::mt19937 random = testing::seeded(479);
    for (int i = 0; i < 60; ++i) {
      const Area area = ringOf({between(random, -5, 5), between(random, -5, 5)},
                               between(random, 4, 12), between(random, 1, 3.9));
      const Box box = Box::around({between(random, -8, 8), between(random, -8, 8)},
                                  between(random, 1, 14), between(random, 1, 14));
      const Area frame{{{box.left, box.top},
                        {box.right, box.top},
                        {box.right, box.bottom},
                        {box.left, box.bottom}}};
      const Area part = simplified(cropped(area, box), FillRule::EvenOdd);
      QVERIFY(std::abs(area_mm2(part) - area_mm2(intersection(area, frame))) < 1e-3);
    }
  }
  void cornersOfLinesAreDrawnAsAsked() {
    const std::vector<Point> line{{0, 0}, {20, 0}, {20, 20}};
    auto corner = [&](LineJoin join, double limit = 4) {
      const Area a = widened(line, {.width_mm = 4, .join = join, .mitre_limit = limit});
      return area_mm2(intersection(a, {square({20, -2}, 2)}));
    };
    QVERIFY(std::abs(corner(LineJoin::Mitre) - 4) < 0.01);
    QVERIFY(std::abs(corner(LineJoin::Round) - kPi) < 0.1);
    QVERIFY(corner(LineJoin::Bevel) < 3.5 && corner(LineJoin::Bevel) > 1.9);
    // a closed line has its corner at its beginning too
    const std::vector<Point> ring{{0, 0}, {20, 0}, {20, 20}, {0, 20}};
    QVERIFY(std::abs(area_mm2(widened(ring, {.width_mm = 4, .closed = true})) - 4 * 80) < 0.1);
  }
  void areasOfKnownShapes() {
    QVERIFY(std::abs(area_mm2({square({0, 0}, 10)}) - 100) < 1e-6);
    QVERIFY(std::abs(area_mm2(ringOf({3, 4}, 10, 5)) - kPi * 75) < 2);
    QVERIFY(std::abs(area_mm2(grown({square({0, 0}, 10)}, 1)) - (140 + kPi)) < 0.2);
    QVERIFY(grown({square({0, 0}, 10)}, -6).empty());
  }
  /// All at once is the same as one after another.
  void unitedAtOnceAgreesWithOneByOne() {
    std::mt19937 random = testing::seeded(471);
    for (int i = 0; i < 60; ++i) {
      std::vector<Area> parts;
      Area oneByOne;
      for (size_t k = 2 + random() % 6; k > 0; --k) {
        const Point c{between(random, -20, 20), between(random, -20, 20)};
        const double r = between(random, 4, 12);
        Area part =
            random() % 2 ? ringOf(c, r, r * 0.6) : simplified({disc(c, r)}, FillRule::EvenOdd);
        if (random() % 3 == 0) part = transformed(part, Transform::scaling(-1, 1));  // mirrored
        oneByOne = united(oneByOne, part);
        parts.push_back(std::move(part));
      }
      const Area atOnce = united(parts);
      QVERIFY2(std::abs(area_mm2(atOnce) - area_mm2(oneByOne)) < 0.02,
               qPrintable(QString("%1 and %2").arg(area_mm2(atOnce)).arg(area_mm2(oneByOne))));
      QVERIFY(area_mm2(difference(atOnce, oneByOne)) < 0.02);
    }
  }
  void insideIsInsideOfOneOfThem() {
    std::mt19937 random = testing::seeded(472);
    for (int i = 0; i < 40; ++i) {
      const Area a = ringOf({0, 0}, 15, 9), b{square({2, -4}, between(random, 4, 18))};
      const Area both = united(a, b), shared = intersection(a, b), rest = difference(a, b);
      for (int k = 0; k < 60; ++k) {
        const Point p{between(random, -18, 22), between(random, -18, 18)};
        const bool inA = contains(a, p), inB = contains(b, p);
        // beside an edge the lattice decides
        const double near = 2e-3;
        bool edge = false;
        for (const Area* area : {&a, &b})
          for (const Ring& ring : *area)
            for (size_t v = 0; v < ring.size(); ++v)
              edge |= pointSegmentDistance(p, ring[v], ring[(v + 1) % ring.size()]) < near;
        if (edge) continue;
        QCOMPARE(contains(both, p), inA || inB);
        QCOMPARE(contains(shared, p), inA && inB);
        QCOMPARE(contains(rest, p), inA && !inB);
      }
    }
  }
  void partsAreLargestFirstWithTheirHoles() {
    const Area all = united(ringOf({0, 0}, 6, 3), ringOf({40, 0}, 12, 5));
    const std::vector<Area> parts = separated(all);
    QCOMPARE(parts.size(), size_t{2});
    QVERIFY(area_mm2(parts[0]) > area_mm2(parts[1]));
    for (const Area& part : parts) QCOMPARE(part.size(), size_t{2});
  }
  void aWidenedLineIsAsWideAsAsked() {
    const std::vector<Point> line{{0, 0}, {30, 0}};
    for (auto [end, length] : {std::pair(LineEnd::Butt, 30.0), {LineEnd::Square, 34.0}})
      QVERIFY(std::abs(area_mm2(widened(line, 4, end)) - 4 * length) < 0.01);
    QVERIFY(std::abs(area_mm2(widened(line, 4, LineEnd::Round)) - (120 + kPi * 4)) < 0.4);
  }

  void everyPieceOfWorkIsDoneOnce() {
    for (size_t n : {0, 1, 2, 3, 100}) {
      std::vector<std::atomic<int>> done(n);
      sideBySide(n, [&](size_t i) { done[i] += 1; });
      for (const auto& d : done) QCOMPARE(d.load(), 1);
    }
  }
  void aProblemInEitherThreadComesBack() {
    for (size_t bad = 0; bad < 6; ++bad)
      QVERIFY_THROWS_EXCEPTION(std::runtime_error, sideBySide(6, [&](size_t i) {
                                 if (i == bad) throw std::runtime_error("no");
                               }));
  }
};

RT_TEST(TestPolygon)

}  // namespace test_polygon
#include "test_polygon.moc"
