// What bare stitches come apart into.
#include <QtTest>

#include "column_graph.h"
#include "drawn_blocks.h"
#include "random_pattern.h"
#include "relay.h"
#include "row_fill.h"
#include "run.h"
#include "satin.h"
#include "sections.h"

namespace test_sections {

using namespace rt;
using testing::between;

namespace {

std::vector<Point> zigzag(Point from, double length, double width, double spacing) {
  std::vector<Point> p;
  const int rungs = static_cast<int>(length / (spacing / 2));
  for (int k = 0; k <= rungs; ++k)
    p.push_back(from + Point{k * spacing / 2, k % 2 == 0 ? -width / 2 : width / 2});
  return p;
}

std::vector<Point> run(Point from, Point to, double step) {
  const std::vector<Point> line{from, to};
  return resample(line, step);
}

void add(std::vector<Point>& to, const std::vector<Point>& more) {
  to.insert(to.end(), more.begin(), more.end());
}

size_t count(const std::vector<Section>& sections, Kind kind) {
  return static_cast<size_t>(std::count_if(sections.begin(), sections.end(),
                                           [&](const Section& s) { return s.kind == kind; }));
}

/// Sections follow each other from the first needle point to the last.
void areComplete(const std::vector<Section>& s, size_t points) {
  QVERIFY(!s.empty());
  QCOMPARE(s.front().first, size_t{0});
  QCOMPARE(s.back().last, points - 1);
  for (size_t i = 1; i < s.size(); ++i) QCOMPARE(s[i].first, s[i - 1].last);
}

}  // namespace

class TestSections : public QObject {
  Q_OBJECT
 private slots:
  void nothingAndOnePointHaveNone() {
    QVERIFY(sectionsOf({}, Kind::Unknown).empty());
    const std::vector<Point> one{{1, 2}};
    QVERIFY(sectionsOf(one, Kind::Unknown).empty());
  }

  void sectionsFollowEachOtherWhateverIsSewn() {
    std::mt19937 random = testing::seeded(281);
    for (int i = 0; i < 300; ++i) {
      std::vector<Point> p{{0, 0}};
      const int n = 1 + static_cast<int>(random() % 200);
      for (int k = 0; k < n; ++k)
        p.push_back(p.back() + Point{between(random, -3, 3), between(random, -3, 3)});
      areComplete(sectionsOf(p, Kind::Unknown), p.size());
      if (QTest::currentTestFailed()) return;
    }
  }

  void aRunThenAColumnComeApart() {
    std::mt19937 random = testing::seeded(282);
    for (int i = 0; i < 30; ++i) {
      std::vector<Point> p = run({-30, 0}, {0, 0}, 2.5);
      add(p, zigzag({0.2, 0}, 30, between(random, 1.5, 5), between(random, 0.3, 0.6)));
      const std::vector<Section> s = sectionsOf(p, Kind::Unknown);
      areComplete(s, p.size());
      QCOMPARE(s.front().kind, Kind::Run);
      QCOMPARE(s.back().kind, Kind::Satin);
    }
  }

  void underlayAndCoverAreTwoLadders() {
    std::vector<Point> p = zigzag({0, 0}, 30, 3, 2.4);
    std::vector<Point> back = zigzag({0, 0}, 30, 4, 0.4);
    std::reverse(back.begin(), back.end());
    add(p, back);
    const std::vector<Section> s = sectionsOf(p, Kind::Unknown);
    areComplete(s, p.size());
    QCOMPARE(count(s, Kind::Satin), size_t{2});
    QVERIFY(std::abs(s.back().spacing_mm - 0.4) < 0.02);
    QVERIFY(std::abs(s.front().spacing_mm - 2.4) < 0.1);
  }

  void rowsWithAndWithoutStepsAreFills() {
    testing::BlockMaker make;
    make.fill({0, 0, 30, 20}, 0.4, 3.0);
    std::vector<Point> p;
    for (const Stitch& s : make.pattern.stitches)
      if (s.op == Op::Stitch) p.push_back(s.at);
    std::vector<Section> s = sectionsOf(p, Kind::Unknown);
    QCOMPARE(count(s, Kind::Fill), size_t{1});
    QVERIFY(s[0].steps);
    QVERIFY(std::abs(s[0].spacing_mm - 0.4) < 1e-6);
    FillOptions o;
    o.row_spacing_mm = 0.3;
    const Area box{{{0, 0}, {30, 0}, {30, 20}, {0, 20}}};
    s = sectionsOf(fillRows(box, o, {0, 0})[0].points, Kind::Unknown);
    QCOMPARE(count(s, Kind::Fill), size_t{1});
    QVERIFY(!s[0].steps);
    QVERIFY(std::abs(s[0].spacing_mm - 0.3) < 0.01);
  }

  void theAngleIsThatOfTheRows() {
    for (double deg : {0.0, 25.0, 90.0, 140.0}) {
      FillOptions o;
      o.angle_deg = deg;
      const Area box{{{-15, -12}, {15, -12}, {15, 12}, {-15, 12}}};
      const auto points = fillRows(box, o, {-15, -12})[0].points;
      double angle = 0, most = 0;
      for (const Section& s : sectionsOf(points, Kind::Unknown))
        if (s.thread_mm > most) most = s.thread_mm, angle = s.angle_deg;
      QVERIFY2(std::abs(std::remainder(angle - deg, 180)) < 4, qPrintable(QString::number(angle)));
    }
  }

  void aDrawnZigzagIsNoColumn() {
    std::vector<Point> p;
    for (int i = 0; i < 20; ++i) p.push_back({i * 5.0, i % 2 ? 12.0 : 0.0});
    QCOMPARE(count(sectionsOf(p, Kind::Unknown), Kind::Satin), size_t{0});
  }

  void threadToAndFroInOnePlaceIsNoColumn() {
    std::vector<Point> p;
    for (int i = 0; i < 20; ++i) p.push_back({i % 2 ? 4.0 : 0.0, 0});
    QCOMPARE(count(sectionsOf(p, Kind::Unknown), Kind::Satin), size_t{0});
  }

  // --- sewing them again

  void relayingInPlaceChangesLittle() {
    std::mt19937 random = testing::seeded(283);
    for (int i = 0; i < 30; ++i) {
      const double spacing = between(random, 0.3, 0.7), width = between(random, 1.5, 5);
      const std::vector<Point> p = zigzag({0, 0}, between(random, 10, 40), width, spacing);
      const std::vector<Section> s = sectionsOf(p, Kind::Unknown);
      QCOMPARE(s.size(), size_t{1});
      Strand strand;
      RelayOptions o;
      o.least_column_mm = 0;
      relay(s[0], p, o, strand);
      QVERIFY(strand.points.size() >= p.size() - 1 && strand.points.size() <= p.size() + 1);
      for (Point q : strand.points) QVERIFY(std::abs(std::abs(q.y) - width / 2) < 1e-6);
      QVERIFY(distance(strand.exit(), p.back()) < spacing);
    }
  }

  void columnsEndOnTheSideWhereTheyDid() {
    std::mt19937 random = testing::seeded(284);
    for (int i = 0; i < 60; ++i) {
      const std::vector<Point> p = zigzag({0, 0}, between(random, 6, 40), 3, 0.4);
      const double r = between(random, 0.5, 2.2);
      std::vector<Point> to;
      for (Point q : p) to.push_back(q * r);
      Strand strand;
      RelayOptions o;
      o.least_column_mm = 0;
      relay(sectionsOf(p, Kind::Unknown)[0], to, o, strand);
      QVERIFY((strand.exit().y > 0) == (to.back().y > 0));
    }
  }

  void pullIsMadeGoodOnBothEdges() {
    const std::vector<Point> p = zigzag({0, 0}, 30, 3, 0.4);
    RelayOptions o;
    o.pull_mm = 0.3;
    Strand strand;
    relay(sectionsOf(p, Kind::Unknown)[0], p, o, strand);
    const Box box = boundsOf(strand.points);
    QVERIFY(std::abs(box.height() - 3.3) < 0.02);
  }
};

RT_TEST(TestSections)

}  // namespace test_sections
#include "test_sections.moc"
