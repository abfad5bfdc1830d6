#include <QtTest>

#include "column_graph.h"
#include "random_pattern.h"
#include "run.h"
#include "shape.h"

namespace test_digitise {

using namespace rt;
using testing::between;

namespace {

/// Share of an area's sample points that lie within half a thread's width of the strands.
double covered(const std::vector<Strand>& strands, const Area& area, double width_mm) {
  const Box box = boundsOf(area);
  int inside = 0, hit = 0;
  for (double y = box.top + 0.1; y < box.bottom; y += 0.31)
    for (double x = box.left + 0.1; x < box.right; x += 0.29) {
      if (!contains(area, {x, y})) continue;
      ++inside;
      bool near = false;
      for (const Strand& s : strands)
        for (size_t i = 1; i < s.points.size() && !near; ++i)
          near = pointSegmentDistance({x, y}, s.points[i - 1], s.points[i]) <= width_mm / 2;
      hit += near;
    }
  return inside > 0 ? static_cast<double>(hit) / inside : 0;
}

Area disc(Point c, double r) {
  Ring ring;
  for (int i = 0; i < 60; ++i)
    ring.push_back(c + Point{r * std::cos(i * kPi / 30), r * std::sin(i * kPi / 30)});
  return {ring};
}

size_t shortOnes(const Pattern& p, double& longest) {
  size_t count = 0;
  longest = 0;
  forEachSegment(p, [&](Point a, Point b, size_t row) {
    if (p.stitches[row].kind == Kind::Tie) return;
    count += distance(a, b) < 0.4 - 1e-9;
    longest = std::max(longest, distance(a, b));
  });
  return count;
}

}  // namespace

class TestDigitise : public QObject {
  Q_OBJECT
 private slots:
  /// Whatever holes it has: one connected area is one strand, its ways lie inside it and under rows
  /// that follow, close rows or far apart.
  void aConnectedAreaIsOneStrand() {
    std::mt19937 random = testing::seeded(63);
    for (int round = 0; round < 40; ++round) {
      Area area{{{0, 0}, {50, 0}, {50, 40}, {0, 40}}};
      for (int hole = 0; hole < 6; ++hole)
        area = difference(
            area, disc({between(random, 4, 46), between(random, 4, 36)}, between(random, 1.5, 4)));
      const std::vector<Area> parts = separated(area);
      if (parts.size() != 1) continue;
      FillOptions o;
      o.row_spacing_mm = round % 2 ? 3.0 : 0.3;
      o.angle_deg = between(random, 0, 180);
      const auto strands = fillRows(area, o, {between(random, 0, 50), 0});
      QCOMPARE(strands.size(), size_t{1});
      const Area room = grown(area, 0.4);  // a hole may begin between two rows
      double shown = 0;                    // of ways across finished rows
      const Strand& s = strands[0];
      for (size_t i = 1; i < s.points.size(); ++i) {
        const Point middle = mix(s.points[i - 1], s.points[i], 0.5);
        QVERIFY2(contains(room, middle) || o.row_spacing_mm < 1,
                 qPrintable(QString("round %1 at %2, %3").arg(round).arg(middle.x).arg(middle.y)));
        if (s.kinds[i] != Kind::Underlay) continue;
        QVERIFY2(contains(room, middle), qPrintable(QString("round %1: a way").arg(round)));
        if (o.row_spacing_mm > 1) continue;
        bool under = false;  // a row that follows lies over it
        for (size_t k = i + 1; k < s.points.size() && !under; ++k)
          under =
              s.kinds[k] == Kind::Fill &&
              pointSegmentDistance(middle, s.points[k - 1], s.points[k]) < 0.46;  // beside its row
        const Point row{std::cos(radians(o.angle_deg)), std::sin(radians(o.angle_deg))};
        const Point way = s.points[i] - s.points[i - 1];
        if (!under && std::abs(cross(unit(way), row)) > 0.42) shown += std::hypot(way.x, way.y);
      }
      QVERIFY2(shown < 5, qPrintable(QString("round %1: %2 mm").arg(round).arg(shown)));
    }
  }
  void aFillCoversItsArea() {
    std::mt19937 random = testing::seeded(61);
    for (int i = 0; i < 6; ++i) {
      const Area area = disc({0, 0}, between(random, 6, 14));
      FillOptions o;
      o.row_spacing_mm = 0.25;
      o.angle_deg = between(random, 0, 180);
      QVERIFY(covered(fillRows(area, o, {0, 0}), area, 0.4) > 0.97);
    }
  }
  void holesStayOpen() {
    Area ring = disc({0, 0}, 15);
    ring.push_back(disc({2, 1}, 5)[0]);
    for (double angle : {0.0, 37.0, 90.0}) {
      FillOptions o;
      o.row_spacing_mm = 0.3;
      o.angle_deg = angle;
      const auto strands = fillRows(ring, o, {0, 0});
      QVERIFY(covered(strands, disc({2, 1}, 4.6), 0.3) < 0.15);
      QVERIFY(covered(strands, ring, 0.4) > 0.96);
    }
  }
  void rowsKeepTheirSpacing() {
    FillOptions o;
    o.row_spacing_mm = 0.3;
    o.pull_mm = 0;
    const auto strands = fillRows({{{0, 0}, {30, 0}, {30, 20}, {0, 20}}}, o, {0, 0});
    double length = 0;
    for (const Strand& s : strands) length += polylineLength(s.points);
    QVERIFY(std::abs(length / 600 - 1 / 0.3) < 0.15);
  }
  void stitchesKeepTheirLimits() {
    std::mt19937 random = testing::seeded(62);
    for (int i = 0; i < 8; ++i) {
      Area area = disc({0, 0}, between(random, 4, 20));
      area.push_back(disc({between(random, -2, 2), 0}, 1.5)[0]);
      FillOptions o;
      o.angle_deg = between(random, 0, 180);
      o.row_spacing_mm = between(random, 0.2, 0.6);
      Pattern p;
      appendStrands(p, fillRows(area, o, {0, 0}), {{0x112233}, "disc"});
      double longest = 0;
      const size_t shorts = shortOnes(p, longest);
      QVERIFY(longest <= 12);
      QVERIFY(static_cast<double>(shorts) <= 0.03 * static_cast<double>(p.stitches.size()));
    }
  }
  void longMovesAreTrimmedAndTied() {
    std::vector<Strand> strands(2);
    strands[0].add({0, 0}, Kind::Run);
    strands[0].add({3, 0}, Kind::Run);
    strands[1].add({30, 0}, Kind::Run);
    strands[1].add({33, 0}, Kind::Run);
    Pattern p;
    appendStrands(p, strands, {{0}, ""});
    size_t trims = 0, ties = 0;
    for (const Stitch& s : p.stitches) trims += s.op == Op::Trim, ties += s.kind == Kind::Tie;
    QCOMPARE(trims, size_t{2});
    QVERIFY(ties >= 8);
  }
  void satinSpacingIsAlongTheCentre() {
    SatinOptions o;
    o.spacing_mm = 0.5;
    o.pull_mm = 0;
    const std::vector<Point> line{{0, 0}, {40, 0}};
    const Strand s = satinAlong(line, 3, o);
    QVERIFY(std::abs(s.points[2].x - s.points[0].x - 0.5) < 0.02);
    for (Point p : s.points) QVERIFY(std::abs(std::abs(p.y) - 1.5) < 1e-9);
  }
  void wideSatinIsSplit() {
    const std::vector<Point> line{{0, 0}, {20, 0}};
    const Strand s = satinAlong(line, 9, {});
    for (size_t i = 1; i < s.points.size(); ++i)
      QVERIFY(distance(s.points[i - 1], s.points[i]) <= 7.01);
  }
  void connectedColumnsAreOneStrand() {
    // an H: the crossbar meets both stems away from their ends
    const std::vector<std::vector<Point>> lines{
        {{0, 0}, {0, 20}}, {{10, 0}, {10, 20}}, {{0, 10}, {10, 10}}};
    ColumnSewing how;
    const auto strands = sewColumns(columnGraph(lines, 0.05, 0.6, 1.2), how, {0, 0}, {10, 0});
    QCOMPARE(strands.size(), size_t{1});
    for (const auto& line : lines)
      QVERIFY(covered(strands, widened(line, 1.0, LineEnd::Butt), 0.4) > 0.95);
  }
  void jointsAreNotLumps() {
    const std::vector<std::vector<Point>> lines{{{0, 0}, {20, 0}}, {{10, 0}, {10, 20}}};
    ColumnSewing how;
    how.width_mm = 4;
    double inJoint = 0;
    const Box joint{8, -2, 12, 2};
    for (const Strand& s : sewColumns(columnGraph(lines, 0.05, 2, 4), how, {0, 0}, {20, 0}))
      for (size_t i = 1; i < s.points.size(); ++i)
        if (joint.contains(mix(s.points[i - 1], s.points[i], 0.5)))
          inJoint += distance(s.points[i - 1], s.points[i]);
    QVERIFY2(inJoint / 16 < 7.5, qPrintable(QString::number(inJoint / 16)));
  }
  /// Strokes with corners, round ends and crossings are covered as they are drawn, and nothing
  /// beside them.
  void drawnStrokesAreCoveredToTheirCorners() {
    std::mt19937 random = testing::seeded(64);
    for (int i = 0; i < 24; ++i) {
      Shape s;
      s.line_width_mm = between(random, 1.6, 4.5);
      s.closed = i % 3 == 0;
      s.end = i % 3 == 1 ? LineEnd::Round : LineEnd::Butt;
      s.join = i % 2 ? LineJoin::Round : LineJoin::Mitre;
      const double turn = between(random, 0, 360), turned = between(random, 40, 110);
      for (Point p : {Point{-18, -15}, Point{16, -13},
                      Point{16, -13} + Transform::turning(turned)(Point{26, 0})})
        s.line.push_back(Transform::turning(turn)(p));
      const SewnShape sewn = digitise(s, {}, {0, 0});
      const double within = covered(sewn.strands, inkOf(s), 0.45);
      QVERIFY2(within > 0.96, qPrintable(QString("%1: %2").arg(i).arg(within)));
      const Area far = grown(inkOf(s), 0.55);
      for (const Strand& strand : sewn.strands)
        for (Point p : strand.points) QVERIFY(contains(far, p));
    }
  }
  /// A line wider than a thread is two runs that lie apart; a thin one is one run.
  void thinLinesAreOneRunOrTwo() {
    std::mt19937 random = testing::seeded(65);
    for (int i = 0; i < 40; ++i) {
      Shape s;
      s.line_width_mm = i % 2 ? between(random, 0.66, 0.99) : between(random, 0.1, 0.6);
      s.closed = i % 4 > 1;
      s.line = {{0, 0}, {between(random, 20, 30), between(random, -5, 5)}, {15, 20}};
      const SewnShape sewn = digitise(s, {}, {0, 0});
      QCOMPARE(sewn.kind, Kind::Run);
      QCOMPARE(sewn.strands.size(), size_t{1});
      double thread = 0, length = polylineLength(s.line);
      if (s.closed) length += distance(s.line.front(), s.line.back());
      const std::vector<Point>& points = sewn.strands[0].points;
      for (size_t k = 1; k < points.size(); ++k) thread += distance(points[k - 1], points[k]);
      QVERIFY(std::abs(thread / length - (i % 2 ? 2 : 1)) < 0.1);
      // within the ink, but for the thread's own half
      for (Point p : points) QVERIFY(contains(grown(inkOf(s), 0.05), p));
      if (i % 2) QVERIFY(covered(sewn.strands, inkOf(s), 0.4) > 0.75);
    }
  }
  void tidyingKeepsEndsAndLimits() {
    std::mt19937 random = testing::seeded(63);
    for (int i = 0; i < 200; ++i) {
      Strand s;
      for (int k = 0; k < 40; ++k)
        s.add({between(random, 0, 20), between(random, 0, 0.8)}, Kind::Run);
      const Strand t = tidied(s);
      QVERIFY(distance(t.entry(), s.entry()) < 0.01);
      for (size_t k = 1; k < t.points.size(); ++k) {
        QVERIFY(distance(t.points[k - 1], t.points[k]) >= kShortestStitch_mm - 1e-9);
        QVERIFY(distance(t.points[k - 1], t.points[k]) <= kLongestStitch_mm + 1e-9);
      }
    }
  }
  void shapesWithoutAreaAreLeft() {
    Shape shape;
    shape.area = {{{0, 0}, {5, 0}, {10, 0}}};
    QCOMPARE(digitise(shape, {}, {0, 0}).kind, Kind::Unknown);
    shape.area = {{{0, 0}, {0.5, 0}, {0.5, 0.5}}};
    QCOMPARE(digitise(shape, {}, {0, 0}).kind, Kind::Unknown);
  }
  void strokesBecomeRunsOrSatinByWidth() {
    Shape shape;
    shape.line = {{0, 0}, {20, 5}};
    shape.line_width_mm = 0.5;
    QCOMPARE(digitise(shape, {}, {0, 0}).kind, Kind::Run);
    shape.line_width_mm = 3;
    QCOMPARE(digitise(shape, {}, {0, 0}).kind, Kind::Satin);
  }
};

RT_TEST(TestDigitise)

}  // namespace test_digitise
#include "test_digitise.moc"
