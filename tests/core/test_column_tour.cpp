// In which order columns are sewn: every one once, without a gap, and needle points apart.
#include <QtTest>

#include "column_tour.h"
#include "needle_room.h"
#include "random_pattern.h"
#include "rest_fill.h"
#include "run.h"

namespace test_column_tour {

using namespace rt;

namespace {

ColumnGraph crossedLines(std::mt19937& random, int count) {
  std::vector<std::vector<Point>> lines;
  const auto corner = [&] {
    return Point{8 * std::floor(testing::between(random, 0, 5)),
                 8 * std::floor(testing::between(random, 0, 5))};
  };
  for (int i = 0; i < count; ++i) lines.push_back({corner(), corner()});
  return columnGraph(lines, 0.1, 0.5, 1.2);
}

size_t nearPoints(const Strand& s, double room_mm) {
  size_t count = 0;
  for (size_t i = 1; i < s.points.size(); ++i)
    for (size_t j = 0; j < i; ++j)
      if (distance(s.points[i], s.points[j]) < room_mm - 1e-9) {
        ++count;
        break;
      }
  return count;
}

}  // namespace

class TestColumnTour : public QObject {
  Q_OBJECT
 private slots:
  void everyEdgeIsUnderAndCoveredOnceWithoutAGap() {
    std::mt19937 random = testing::seeded(911);
    for (int round = 0; round < 80; ++round) {
      const ColumnGraph g = crossedLines(random, 1 + round % 9);
      if (g.edges.empty()) continue;
      const std::vector<int> part = connectedJoints(g, g.edges[0].from);
      const ColumnTour tour = columnTour(g, part, {0, 0}, {40, 40});
      std::map<int, int> under, covered;
      int at = tour.from;
      for (const TourStep& s : tour.steps) {
        QCOMPARE(s.node, at);  // the needle is where the step begins
        at = otherJoint(g.edges[static_cast<size_t>(s.edge)], s.node);
        if (s.what == TourStep::What::Under) ++under[s.edge];
        if (s.what != TourStep::What::Cover) continue;
        QCOMPARE(under[s.edge], 1);
        ++covered[s.edge];
      }
      size_t inPart = 0;
      for (size_t i = 0; i < g.edges.size(); ++i)
        if (std::find(part.begin(), part.end(), g.edges[i].from) != part.end()) {
          ++inPart;
          QCOMPARE(covered[static_cast<int>(i)], 1);
        }
      QCOMPARE(covered.size(), inPart);
    }
  }
  /// A bar that ends at a stem is sewn first, wherever the strand begins.
  void whatEndsAtAJointComesBeforeItsOwner() {
    const ColumnGraph g = columnGraph({{{0, 0}, {0, 20}}, {{0, 10}, {15, 10}}}, 0.1, 0.5, 1.2);
    for (Point entry : {Point{0, 0}, Point{0, 20}, Point{15, 10}}) {
      const ColumnTour tour = columnTour(g, connectedJoints(g, 0), entry, {0, 0});
      bool ownerCovered = false;
      for (const TourStep& s : tour.steps) {
        if (s.what != TourStep::What::Cover) continue;
        const ColumnEdge& e = g.edges[static_cast<size_t>(s.edge)];
        const bool bar = !e.owns_from || !e.owns_to;
        QVERIFY(!bar || !ownerCovered);
        ownerCovered |= !bar;
      }
      QVERIFY(ownerCovered);
    }
  }
  void needlePointsKeepApart() {
    std::mt19937 random = testing::seeded(912);
    for (int round = 0; round < 60; ++round) {
      Strand s;
      const double width = testing::between(random, 1.2, 6),
                   step = testing::between(random, 0.1, 0.3);
      for (int k = 0; k < 80; ++k)
        s.add({k * step + testing::between(random, -0.02, 0.02), k % 2 ? width : 0}, Kind::Satin);
      const Strand out = spreadOut(s);
      QCOMPARE(out.points.size(), s.points.size());  // satin loses no point
      QCOMPARE(out.entry().x, s.entry().x);
      QCOMPARE(out.exit().x, s.exit().x);
      QVERIFY(nearPoints(out, kNeedleRoom_mm) <= nearPoints(s, kNeedleRoom_mm));
      for (size_t i = 0; i < s.points.size(); ++i) {
        QVERIFY(distance(out.points[i], s.points[i]) <= std::min(0.9, 0.4 * width + 0.1) + 1e-9);
        if (i > 0) QVERIFY(distance(out.points[i], out.points[i - 1]) <= kSplitSatinOver_mm);
      }
    }
    Strand crowd;  // of an inner edge: with room inward all find a place
    for (int k = 0; k < 40; ++k) crowd.add({k * 0.1, k % 2 ? 4.0 : 0.0}, Kind::Satin);
    QVERIFY(nearPoints(spreadOut(crowd), 0.28) < 4);
    QVERIFY(nearPoints(crowd, 0.28) > 30);
  }
  /// A column half as wide as its area runs on to the outline, and past its end.
  void bareGroundGoesToTheColumnBesideIt() {
    const Area area{{{0, 0}, {20, 0}, {20, 6}, {0, 6}}};
    const OutlineCut outline(area);
    const Course course({{0, 2}, {16, 2}}, {{0, 2}, {16, 2}}, false);
    CourseStretch s;
    for (double mm = 0.4; mm <= 16; mm += 0.2) {
      s.places_mm.push_back(mm);
      s.rungs.emplace_back(Rung{{mm, 0.1}, {mm, 3.0}});
    }
    CoverGrid cover(boundsOf(area).grown(1), 0.4);
    cover.add(s.all());
    RestGrid rest(area, cover);
    QVERIFY(!rest.none());
    QVERIFY(std::abs(rest.reach_mm({8, 3}, {0, 1}, 5) - 3) < 0.2);
    QCOMPARE(rest.reach_mm({8, 1}, {0, 1}, 1), 0.0);  // covered there
    Filled f;
    for (int round = 0; round < 4; ++round) {
      f = filled(course, {s}, rest, outline, 0.4);
      if (f.gained_mm2 < 0.1) break;
      s = f.stretches[0];
      cover.add(s.all());
      rest.update(cover);
    }
    QVERIFY(s.after.size() > 8);  // of the 4 mm beyond its end
    for (const auto& rung : s.rungs) QVERIFY(std::max(rung->left.y, rung->right.y) > 5.8);
    for (const Rung& r : s.all()) {
      QVERIFY(boundsOf(area).grown(0.05).contains(r.left));
      QVERIFY(boundsOf(area).grown(0.05).contains(r.right));
    }
    QVERIFY(rest.none());
  }
};

RT_TEST(TestColumnTour)

}  // namespace test_column_tour
#include "test_column_tour.moc"
