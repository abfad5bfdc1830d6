#include <QtTest>

#include "area_columns.h"
#include "medial_axis.h"
#include "random_pattern.h"
#include "run.h"

namespace test_medial_axis {

using namespace rt;
using testing::between;

namespace {

Area rectangle(double w, double h) {
  return {{{-w / 2, -h / 2}, {w / 2, -h / 2}, {w / 2, h / 2}, {-w / 2, h / 2}}};
}

Ring circle(Point c, double r, bool reversed = false) {
  Ring ring;
  for (int i = 0; i < 72; ++i) {
    const double a = (reversed ? -1 : 1) * i * kPi / 36;
    ring.push_back(c + Point{r * std::cos(a), r * std::sin(a)});
  }
  return ring;
}

double lengthOf(const AxisBranch& b) {
  double sum = 0;
  for (size_t i = 1; i < b.line.size(); ++i) sum += distance(b.line[i - 1].at, b.line[i].at);
  return sum;
}

double nearestEdge(const Area& area, Point p) {
  double least = INFINITY;
  for (const Ring& ring : area)
    for (size_t i = 0; i < ring.size(); ++i)
      least = std::min(least, pointSegmentDistance(p, ring[i], ring[(i + 1) % ring.size()]));
  return least;
}

/// Branch ends at each joint, most first.
std::vector<int> degrees(const MedialAxis& axis) {
  std::vector<int> d(axis.joints.size());
  for (const AxisBranch& b : axis.branches) {
    d[static_cast<size_t>(b.from)] += 1;
    d[static_cast<size_t>(b.to)] += 1;
  }
  std::sort(d.rbegin(), d.rend());
  return d;
}

/// A stroke of some letters: lines widened.
Area strokes(const std::vector<std::vector<Point>>& lines, double width) {
  Area all;
  for (const auto& line : lines) all = united(all, widened(line, width, LineEnd::Butt));
  return all;
}

Area turned(const Area& area, double deg) {
  return transformed(area, Transform::turning(deg));
}

}  // namespace

class TestMedialAxis : public QObject {
  Q_OBJECT
 private slots:
  void nothingHasNoAxis() {
    QVERIFY(medialAxis({}).branches.empty());
    QVERIFY(medialAxis({{{0, 0}, {1, 0}}}).branches.empty());
    QVERIFY(medialAxis(rectangle(10, 0.05)).branches.empty());
  }

  void aBarHasOneBranchInItsMiddle() {
    std::mt19937 random = testing::seeded(231);
    for (int i = 0; i < 12; ++i) {
      const double w = between(random, 14, 40), h = between(random, 1.5, 4),
                   deg = between(random, 0, 180);
      const MedialAxis axis = medialAxis(turned(rectangle(w, h), deg));
      QCOMPARE(axis.branches.size(), size_t{1});
      const Transform level = Transform::turning(-deg);
      for (const AxisPoint& p : axis.branches[0].line) {
        QVERIFY(std::abs(level(p.at).y) < 0.15);
        QVERIFY(std::abs(p.radius_mm - h / 2) < 0.1);
      }
      // corners are pruned: the axis ends half a width before the bar does
      QVERIFY(std::abs(lengthOf(axis.branches[0]) - (w - h)) < 0.6);
    }
  }

  void everyDiscTouchesTheOutline() {
    std::mt19937 random = testing::seeded(232);
    for (int i = 0; i < 10; ++i) {
      std::vector<std::vector<Point>> lines;
      for (int k = 0; k < 3; ++k)
        lines.push_back({{between(random, -20, 20), between(random, -20, 20)},
                         {between(random, -20, 20), between(random, -20, 20)}});
      const Area area = strokes(lines, between(random, 2, 5));
      for (const AxisBranch& b : medialAxis(area).branches)
        for (const AxisPoint& p : b.line) {
          QVERIFY(contains(area, p.at));
          // joints that were united lie between theirs
          QVERIFY(std::abs(nearestEdge(area, p.at) - p.radius_mm) < 0.8 * p.radius_mm + 0.1);
        }
    }
  }

  void aRingGoesRoundOnce() {
    const MedialAxis axis = medialAxis({circle({3, 4}, 10), circle({3, 4}, 7, true)});
    QCOMPARE(axis.branches.size(), size_t{1});
    QCOMPARE(axis.branches[0].from, axis.branches[0].to);
    QVERIFY(std::abs(lengthOf(axis.branches[0]) - 2 * kPi * 8.5) < 1);
    for (const AxisPoint& p : axis.branches[0].line)
      QVERIFY(std::abs(distance(p.at, {3, 4}) - 8.5) < 0.15);
  }

  void aCrossIsOneJointOfFour() {
    const Area plus = strokes({{{-12, 0}, {12, 0}}, {{0, -12}, {0, 12}}}, 3);
    for (double deg : {0.0, 17.0, 45.0}) {
      const MedialAxis axis = medialAxis(turned(plus, deg));
      QCOMPARE(degrees(axis)[0], 4);
      QCOMPARE(axis.branches.size(), size_t{4});
    }
  }

  void aTeeIsOneJointOfThree() {
    const MedialAxis axis = medialAxis(strokes({{{-12, 0}, {12, 0}}, {{0, 0}, {0, 14}}}, 3));
    QCOMPARE(degrees(axis)[0], 3);
    QCOMPARE(axis.branches.size(), size_t{3});
  }

  void aSharpCornerIsKeptAsAJoint() {
    const Area el = strokes({{{0, 0}, {0, 16}}, {{-1.5, 14.5}, {14, 14.5}}}, 3);
    const MedialAxis axis = medialAxis(el);
    QCOMPARE(axis.branches.size(), size_t{2});
    double corner = 0;
    for (const AxisJoint& j : axis.joints) corner = std::max(corner, j.corner);
    QVERIFY(corner > 0.15);
  }

  void widthsAreTold() {
    const StrokeWidths w = strokeWidths(medialAxis(rectangle(30, 3)));
    QVERIFY(std::abs(w.median_mm - 3) < 0.15);
    QVERIFY(w.most_mm < 3.4);
    QVERIFY(w.length_mm > 24 && w.length_mm < 29);
  }

  // --- columns along it

  void satinStaysWithinTheOutline() {
    std::mt19937 random = testing::seeded(233);
    for (int i = 0; i < 15; ++i) {
      std::vector<std::vector<Point>> lines;
      for (int k = 0; k < 4; ++k)
        lines.push_back({{between(random, -20, 20), between(random, -20, 20)},
                         {between(random, -20, 20), between(random, -20, 20)}});
      const Area area = strokes(lines, between(random, 1.5, 4));
      AreaColumnOptions o;
      o.satin.pull_mm = 0;
      for (const ColumnEdge& e : areaColumns(area, o).edges)
        for (Point p : e.satin)
          QVERIFY2(contains(area, p) || nearestEdge(area, p) < 0.05,
                   qPrintable(QString("%1 mm outside").arg(nearestEdge(area, p))));
    }
  }

  void pullWidensAColumn() {
    auto width = [](double pull) {
      AreaColumnOptions o;
      o.satin.pull_mm = pull;
      Box box;
      for (const ColumnEdge& e : areaColumns(rectangle(30, 3), o).edges)
        for (Point p : e.satin) box.add(p);
      return box.height();
    };
    QVERIFY(std::abs(width(0.6) - width(0.2) - 0.4) < 1e-6);
    QVERIFY(std::abs(width(0.2) - 3) < 0.02);  // a usual pull and the thread's width cancel out
  }

  void columnsReachTheEndsOfTheirStrokes() {
    std::mt19937 random = testing::seeded(234);
    for (int i = 0; i < 20; ++i) {
      const double w = between(random, 10, 40), h = between(random, 1.2, 5);
      AreaColumnOptions o;
      Box box;
      for (const ColumnEdge& e : areaColumns(rectangle(w, h), o).edges)
        for (Point p : e.satin) box.add(p);
      QVERIFY(std::abs(box.width() - w) < 0.35);
    }
  }

  void eachConnectedPartIsOneStrand() {
    std::mt19937 random = testing::seeded(235);
    for (int i = 0; i < 12; ++i) {
      std::vector<std::vector<Point>> lines;
      for (int k = 0; k < 3; ++k)
        lines.push_back({{between(random, -15, 15), between(random, -15, 15)},
                         {between(random, -15, 15), between(random, -15, 15)}});
      const Area area = strokes(lines, 2.5);
      const std::vector<Strand> strands =
          sewColumns(areaColumns(area, {}), ColumnSewing{}, {-20, 0}, {20, 0});
      QCOMPARE(strands.size(), separated(area).size());
    }
  }

  void narrowColumnsAreTwoRuns() {
    AreaColumnOptions o;
    o.least_column_mm = 1.0;
    const ColumnGraph g = areaColumns(rectangle(30, 0.7), o);
    QCOMPARE(g.edges.size(), size_t{1});
    QVERIFY(g.edges[0].narrow);
    QVERIFY(g.edges[0].satin.size() < 30);
    for (const Strand& s : sewColumns(g, ColumnSewing{}, {-15, 0}, {-15, 0}))
      for (size_t k = 1; k < s.kinds.size(); ++k) QVERIFY(s.kinds[k] != Kind::Satin);
  }

  void wideColumnsAreSplitAndHaveAZigzagBelow() {
    const ColumnGraph g = areaColumns(rectangle(40, 8.5), {});
    QVERIFY(!g.edges.empty());
    QVERIFY(g.edges[0].under.size() > 10);
    double longest = 0;
    for (size_t i = 1; i < g.edges[0].satin.size(); ++i)
      longest = std::max(longest, distance(g.edges[0].satin[i - 1], g.edges[0].satin[i]));
    QVERIFY(longest <= kSplitSatinOver_mm + 0.2);
  }

  void aDotIsSewn() {
    for (double r : {0.8, 1.5, 3.0}) {
      const ColumnGraph g = areaColumns({circle({5, 5}, r)}, {});
      QCOMPARE(g.edges.size(), size_t{1});
      Box box;
      for (Point p : g.edges[0].satin) box.add(p);
      QVERIFY(std::abs(box.width() - 2 * r) < 0.6 && std::abs(box.height() - 2 * r) < 0.4);
    }
  }
  /// A jog of the outline, as where a stroke's ends overlap, does not cut the axis.
  void jogsDoNotCutTheAxis() {
    std::mt19937 random = testing::seeded(461);
    for (int i = 0; i < 40; ++i) {
      Ring ring;
      const int n = 60;
      for (int k = 0; k < n; ++k) {
        const Point p = Transform::turning(k * 360.0 / n)(Point{0, -12});
        ring.push_back(p);
        if (random() % 8 == 0)  // a step aside and back, a few hundredths of a millimetre long
          ring.push_back(p + Point{testing::between(random, -0.02, 0.02),
                                   testing::between(random, -0.02, 0.02)});
      }
      Ring hole;
      for (int k = n; k-- > 0;) hole.push_back(Transform::turning(k * 360.0 / n)(Point{0, -9}));
      AxisOptions o;
      o.step_mm = 0.3;
      const MedialAxis axis = medialAxis({ring, hole}, o);
      double length = 0;
      for (const AxisBranch& b : axis.branches)
        for (size_t k = 1; k < b.line.size(); ++k)
          length += distance(b.line[k - 1].at, b.line[k].at);
      QVERIFY2(std::abs(length - 2 * kPi * 10.5) < 2, qPrintable(QString::number(length)));
    }
  }
};

RT_TEST(TestMedialAxis)

}  // namespace test_medial_axis
#include "test_medial_axis.moc"
