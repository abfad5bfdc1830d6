// Cuts by an outline, and the centre line of one column.
#include <QtTest>

#include "column_course.h"
#include "random_pattern.h"

using namespace rt;
using testing::between;

namespace {

/// A random area, wound as polygon clipping leaves it.
Area randomArea(std::mt19937& random) {
  Area all;
  for (int i = 0; i < 4; ++i) {
    const std::vector<Point> line{{between(random, -15, 15), between(random, -15, 15)},
                                  {between(random, -15, 15), between(random, -15, 15)}};
    all = united(all, widened(line, between(random, 2, 7), LineEnd::Round));
  }
  return all;
}

std::vector<AxisPoint> axis(std::initializer_list<Point> points, double radius) {
  std::vector<AxisPoint> out;
  for (Point p : points) out.push_back({p, radius});
  return out;
}

Area bar(double w, double h) {
  return simplified({{{-w / 2, -h / 2}, {w / 2, -h / 2}, {w / 2, h / 2}, {-w / 2, h / 2}}},
                    FillRule::NonZero);
}

}  // namespace

class TestColumnCourse : public QObject {
  Q_OBJECT
 private slots:
  void cutsAgreeWithALookAlongTheLine() {
    std::mt19937 random = testing::seeded(311);
    for (int i = 0; i < 400; ++i) {
      const Area area = randomArea(random);
      const OutlineCut cut(area);
      const Point at{between(random, -15, 15), between(random, -15, 15)};
      const Point way = Transform::turning(between(random, 0, 360)).turn({1, 0});
      const double reach = between(random, 1, 5);
      const auto found = cut.inside(at, way, reach);
      if (contains(area, at)) {
        QVERIFY(found);
        QVERIFY(found->first <= 1e-9 && found->second >= -1e-9);
      }
      if (!found) continue;
      QVERIFY(found->first < reach && found->second > -reach);
      // the stretch is inside, and what lies just beyond it (if looked at) is not
      for (double t = 0.05; t < 1; t += 0.1) {
        const double mm = found->first + t * (found->second - found->first);
        if (found->second - found->first > 0.01) QVERIFY(contains(area, at + way * mm));
      }
      const double beyond = found->second + 1e-4;
      if (beyond < reach) QVERIFY(!contains(area, at + way * beyond));
    }
  }

  void nothingNearIsNothing() {
    const OutlineCut cut(bar(10, 4));
    QVERIFY(!cut.inside({0, 30}, {1, 0}, 3));
    QVERIFY(!cut.inside({0, 5}, {0, 1}, 2));
    QVERIFY(cut.inside({0, 3}, {0, 1}, 2));                        // not in it, but within reach
    QVERIFY(OutlineCut(bar(100, 100)).inside({0, 0}, {1, 0}, 3));  // no edge within reach
  }

  void rungsStandAcrossAndAreCutByTheOutline() {
    const OutlineCut cut(bar(40, 3));
    const Course c({{-18, 0}, {0, 0}, {18, 0}}, {{0, 1.5}, {36, 1.5}}, false);
    for (double mm = 1; mm < 35; mm += 1.7) {
      const auto rung = c.rung(mm, cut);
      QVERIFY(rung);
      QVERIFY(std::abs(rung->width_mm() - 3) < 1e-6);
      QVERIFY(std::abs(rung->left.x - rung->right.x) < 1e-6);
    }
  }

  void aRungReachesNoFartherThanTheStrokeIsWide() {
    const OutlineCut cut(bar(40, 40));
    const Course c({{-15, 0}, {15, 0}}, {{0, 2}, {30, 2}}, false);
    const auto rung = c.rung(15, cut);
    QVERIFY(rung && rung->width_mm() < 2 * (2 * 1.25 + 0.1) + 1e-9);
  }

  void halfWidthsRunEvenlyBetweenTheirPlaces() {
    const Course c({{0, 0}, {30, 0}}, {{0, 1}, {10, 3}, {30, 3}}, false);
    QVERIFY(std::abs(c.half(5) - 2) < 1e-9);
    QVERIFY(std::abs(c.half(20) - 3) < 1e-9);
    QVERIFY(std::abs(c.half(-5) - 1) < 1e-9);
  }

  void aCourseReachesToTheOutline() {
    const OutlineCut cut(bar(40, 3));
    Course c({{-10, 0}, {10, 0}}, {{0, 1.5}, {20, 1.5}}, false);
    c.joints_mm = {0, 20};
    c.reach(false, 30, cut);
    QVERIFY(std::abs(c.at(c.total()).x - 20) < 0.15);
    c.reach(true, 30, cut);
    QVERIFY(std::abs(c.at(0).x + 20) < 0.15);
    QVERIFY(std::abs(c.at(c.joints_mm[0]).x + 10) < 1e-6);  // joints stay where they were
    QVERIFY(std::abs(c.at(c.joints_mm[1]).x - 10) < 1e-6);
  }

  void aCourseReachesToItsOwner() {
    const Course owner({{0, -20}, {0, 20}}, {{0, 2}, {40, 2}}, false);
    Course c({{-15, 1}, {-6, 1}}, {{0, 1}, {9, 1}}, false);
    c.reachTo(false, owner, 20, 12);
    QVERIFY(std::abs(c.at(c.total()).x) < 0.15);
  }

  void onlyWhatLiesOutsideTheOwnerIsLeft() {
    const Course owner({{0, -20}, {0, 20}}, {{0, 2}, {40, 2}}, false);
    QVERIFY(!owner.outside({{-1, 0}, {1, 0}}, 20, 10, 0.4));
    const auto all = owner.outside({{5, 0}, {9, 0}}, 20, 10, 0.4);
    QVERIFY(all && std::abs(all->width_mm() - 4) < 1e-9);
    const auto part = owner.outside({{0, 0}, {6, 0}}, 20, 10, 0.4);
    QVERIFY(part && part->right.x == 6 && std::abs(part->left.x - 1.6) < 0.25);
    const auto through = owner.outside({{-6, 0}, {6, 0}}, 20, 10, 0.4);
    QVERIFY(through && std::abs(through->width_mm() - 12) < 1e-9);
  }

  void placesOfRungsAreEvenOnAStraightLine() {
    const Course c({{0, 0}, {30, 0}}, {{0, 2}, {30, 2}}, false);
    const std::vector<double> at = c.rungPlaces(0, 30, 0.2);
    QCOMPARE(at.size(), size_t{151});
    for (size_t i = 1; i < at.size(); ++i) QVERIFY(std::abs(at[i] - at[i - 1] - 0.2) < 1e-6);
  }

  void theyCloseUpInTightCurves() {
    std::vector<Point> curve;
    for (int i = 0; i <= 60; ++i)
      curve.push_back({3 * std::sin(i * kPi / 60), 3 - 3 * std::cos(i * kPi / 60)});
    const Course c(curve, {{0, 2.5}, {20, 2.5}}, false);
    const size_t tight = c.rungPlaces(0, c.total(), 0.2).size();
    QVERIFY(tight > 1.2 * c.total() / 0.2);
    QVERIFY(tight < 2.6 * c.total() / 0.2);
  }

  void joinedBranchesGoStraightAcrossTheirJoint() {
    // the axis dips toward a branch at the joint; the course does not
    const Area area = bar(40, 3);
    const OutlineCut cut(area);
    CourseMaker maker(cut, 0.4);
    maker.add(axis({{-18, 0}, {-10, 0}, {-4, 0}, {-1, 0.2}, {0, 0.6}}, 1.5), 0);
    maker.add(axis({{0, 0.6}, {1, 0.2}, {4, 0}, {10, 0}, {18, 0}}, 1.5), 2.0);
    maker.close(0);
    const Course c = maker.open(true, true);
    for (double mm = 0; mm < c.total(); mm += 0.5) QVERIFY(std::abs(c.at(mm).y) < 0.08);
    QCOMPARE(c.joints_mm.size(), size_t{3});
    QVERIFY(std::abs(c.at(c.joints_mm[1]).x) < 0.3);
  }

  void zigzagsAlternateAndSplit() {
    SatinOptions o;
    o.pull_mm = 0.2;
    ZigzagWriter writer(o, 0.1);
    for (int k = 0; k < 50; ++k) writer.add({{k * 0.2, -2}, {k * 0.2, 2}});
    const std::vector<Point> p = writer.needlePoints();
    QCOMPARE(p.size(), size_t{50});
    for (size_t k = 0; k < p.size(); ++k) QVERIFY(std::abs(p[k].y - (k % 2 == 0 ? -2 : 2)) < 1e-9);
    QVERIFY(std::abs(writer.meanWidth_mm() - 4) < 1e-9);
    QVERIFY(!writer.narrow(1));
    QVERIFY(writer.narrow(5));
    for (Point q : writer.underlay()) QVERIFY(std::abs(q.y) < 1.51);
    for (Point q : writer.rail(0.25)) QVERIFY(std::abs(q.y + 1) < 1e-6);
  }
};

QTEST_APPLESS_MAIN(TestColumnCourse)
#include "test_column_course.moc"
