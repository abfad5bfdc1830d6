// In which order columns are sewn: every one once, without a gap, and needle points apart.
#include <QtTest>

#include "column_ground.h"
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
  /// Tours come the best first, and the one that is asked for alone is the first of them.
  void furtherToursComeAfterTheBest() {
    std::mt19937 random = testing::seeded(913);
    for (int round = 0; round < 40; ++round) {
      const ColumnGraph g = crossedLines(random, 3 + round % 6);
      const std::vector<int> part = connectedJoints(g, 0);
      const Point entry{testing::between(random, 0, 40), 0}, exit{40, 40};
      const std::vector<ColumnTour> tours = columnTours(g, part, entry, exit, 5);
      QVERIFY(!tours.empty() && tours.size() <= 5);
      const ColumnTour best = columnTour(g, part, entry, exit);
      QCOMPARE(best.from, tours[0].from);
      QCOMPARE(best.steps.size(), tours[0].steps.size());
      for (const ColumnTour& t : tours) {
        QCOMPARE(t.steps.size() >= 2 * part.size() - 2, true);  // every edge, under and covered
        int at = t.from;
        for (const TourStep& s : t.steps) {
          QCOMPARE(s.node, at);
          at = otherJoint(g.edges[static_cast<size_t>(s.edge)], s.node);
        }
        const double away = distance(g.joints[static_cast<size_t>(t.from)], entry) +
                            distance(g.joints[static_cast<size_t>(at)], exit);
        QVERIFY(std::abs(away - t.away_mm) < 1e-9);
      }
    }
  }
  /// What is sewn over later hides a way; what is finished shows it, but along its own thread.
  void groundKnowsWhatWillBeSeen() {
    ColumnGround ground({-1, -1, 31, 11}, 2);
    std::vector<Point> satin;  // upright stitches from 0 to 30
    for (int k = 0; k <= 150; ++k) satin.push_back({k * 0.2, k % 2 ? 10.0 : 0.0});
    ground.add(0, satin);
    const Point a{5, 5}, b{25, 5};
    QCOMPARE(ground.seen_mm(a, b, 3), 0.0);  // not finished: it will lie on top
    ground.finish(0, 2);
    QVERIFY(std::abs(ground.seen_mm(a, b, 3) - 20) < 0.01);
    QCOMPARE(ground.seen_mm(a, b, 2), 0.0);                               // before it is
    QVERIFY(ground.seen_mm({5, 1}, {5.2, 9}, 3) < 0.01);                  // along its thread
    QVERIFY(std::abs(ground.seen_mm({0, 20}, {10, 20}, 0) - 10) < 1e-9);  // on bare ground
    QVERIFY(ground.covers({15, 5}) && !ground.covers({15, 12}));
    ground.startOver();
    QCOMPARE(ground.seen_mm(a, b, 3), 0.0);
  }
  /// A finished column in between is gone round under one that is still to come.
  void theLeastSeenWayGoesRound() {
    std::mt19937 random = testing::seeded(914);
    ColumnGround ground({-1, -1, 31, 21}, 2);
    std::vector<Point> lower, upper;
    for (int k = 0; k <= 150; ++k) {
      lower.push_back({k * 0.2, k % 2 ? 10.0 : 0.0});
      upper.push_back({k * 0.2, k % 2 ? 20.0 : 10.0});
    }
    ground.add(0, lower);
    ground.add(1, upper);
    ground.finish(0, 1);
    ground.finish(1, 9);
    for (int round = 0; round < 30; ++round) {
      const Point a{testing::between(random, 1, 12), testing::between(random, 7, 9)},
          b{testing::between(random, 18, 29), testing::between(random, 7, 9)};
      const std::vector<Point> line = ground.leastSeen(a, b, 5);
      QVERIFY(line.front() == a && line.back() == b);
      QVERIFY(ground.seen_mm(std::array{a, b}, 5) > 5);
      QVERIFY2(ground.seen_mm(line, 5) < 2, qPrintable(QString::number(ground.seen_mm(line, 5))));
      QVERIFY(ground.cost_mm(line, 5) <= ground.cost_mm(std::array{a, b}, 5) + 1e-9);
      QVERIFY(polylineLength(line) < 2 * distance(a, b) + 8);
      // once both are finished nothing hides it: straight is as good
      QVERIFY(ground.leastSeen(a, b, 10).size() < 5);
    }
  }
  /// Where other columns lie a point goes on rather than back; at an edge it never does.
  void crowdedPointsGoOnUnderCover() {
    Strand s;
    for (int k = 0; k < 40; ++k) s.add({k * 0.1, k % 2 ? 4.0 : 0.0}, Kind::Satin);
    const Strand back = spreadOut(s, kNeedleRoom_mm, [](Point p) { return p.y >= 0 && p.y <= 4; });
    for (Point p : back.points) QVERIFY(p.y > -1e-9 && p.y < 4 + 1e-9);
    const Strand on = spreadOut(s, kNeedleRoom_mm, [](Point) { return true; });
    QVERIFY(std::any_of(on.points.begin(), on.points.end(),
                        [](Point p) { return p.y < -0.1 || p.y > 4.1; }));
    QVERIFY(nearPoints(on, 0.28) <= nearPoints(back, 0.28));
    for (size_t i = 0; i < s.points.size(); ++i)
      QVERIFY(distance(on.points[i], s.points[i]) <= 0.6);
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
        QVERIFY(distance(out.points[i], s.points[i]) <= 0.5 + 1e-9);
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
