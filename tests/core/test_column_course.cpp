// Cuts by an outline, and the centre line of one column.
#include <QtTest>

#include "column_course.h"
#include "cover_grid.h"
#include "random_pattern.h"
#include "run.h"

namespace test_column_course {

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
    const Claim claim(owner, 20, 10, OutlineCut(bar(4, 60)));
    QVERIFY(!claim.outside({{-1, 0}, {1, 0}}, 0.4, false));
    const auto all = claim.outside({{5, 0}, {9, 0}}, 0.4, false);
    QVERIFY(all && std::abs(all->width_mm() - 4) < 1e-9);
    const auto part = claim.outside({{0, 0}, {6, 0}}, 0.4, false);
    QVERIFY(part && part->right.x == 6 && std::abs(part->left.x - 1.6) < 0.25);
    const auto through = claim.outside({{-6, 0}, {6, 0}}, 0.4, true);
    QVERIFY(through && std::abs(through->width_mm() - 12) < 1e-9);  // most of it is bare
    QVERIFY(!claim.outside({{-2, 0}, {2, 0}}, 0.2, false));         // edge to edge, and no farther
    QVERIFY(!claim.outside({{-2.3, 0}, {2.3, 0}}, 0.2, true));  // its neighbours reach both corners
    const auto both = claim.outside({{-2.3, 0}, {2.3, 0}}, 0.2, false);
    QVERIFY(both && std::abs(both->width_mm() - 4.6) < 1e-9);
    // along the owner's edge the lap is not deep anywhere: a rung does not go on and on for it
    const auto along = claim.outside({{2.2, -6}, {1.9, 6}}, 0.4, false);
    QVERIFY(along && along->width_mm() < 11);
    QVERIFY(along->left.y == -6);
  }

  void anOwnersGroundReachesAsFarAsItsRungsDo() {
    // the outline opens to the right into another bar: the owner's rungs go in there
    const Area cross = united(bar(4, 60), transformed(bar(40, 6), Transform::moving({18, 0})));
    const Course owner({{0, -20}, {0, 20}}, {{0, 2}, {40, 2}}, false);
    const OutlineCut outline(cross);
    const auto rung = owner.rung(20, outline);
    QVERIFY(rung);
    const double right = std::max(rung->left.x, rung->right.x);
    QVERIFY(right > 2.3);
    const auto part = Claim(owner, 20, 10, outline).outside({{0, 0}, {9, 0}}, 0.4, false);
    QVERIFY(part && std::abs(part->left.x - (right - 0.4)) < 0.25);
  }

  void rungsOfTheTightestCurvesDoNotCross() {
    // a hook of radius 0.8 in a stroke 4 mm wide
    std::vector<Point> line{{-8, 0.8}};
    for (int deg = -90; deg <= 90; deg += 5) line.push_back(Transform::turning(deg)(Point{0.8, 0}));
    line.push_back({-8, -0.8});
    std::reverse(line.begin(), line.end());
    const Area stroke = widened(line, 4, LineEnd::Round);
    const double mm = polylineLength(line);
    const Course c(line, {{0, 2}, {mm, 2}}, false);
    const OutlineCut outline(stroke);
    int looked = 0;
    for (double at = 7.5; at < mm - 7.5; at += 0.2) {
      const auto a = c.rung(at, outline), b = c.rung(at + 0.6, outline);
      if (!a || !b) continue;
      ++looked;
      const Point u = a->right - a->left, v = b->right - b->left;
      const double d = cross(u, v);
      if (std::abs(d) < 1e-9) continue;
      const double t = cross(b->left - a->left, v) / d, w = cross(b->left - a->left, u) / d;
      // they may meet at their very ends, where the curve has its centre
      QVERIFY2(!(t > 0.1 && t < 0.9 && w > 0.1 && w < 0.9), qPrintable(QString("at %1").arg(at)));
    }
    QVERIFY(looked > 5);
  }

  void crowdedPointsStandBack() {
    SatinOptions o;
    o.pull_mm = 0;
    ZigzagWriter fan(o, 0);
    for (int k = 0; k <= 60; ++k) {  // rungs of 4 mm about one point, 0.2 mm apart outside
      const Transform turn = Transform::turning(k * 3.0);
      fan.add({turn(Point{0.3, 0}), turn(Point{4, 0})});
    }
    int inside = 0, all = 0;
    for (Point p : fan.needlePoints()) {
      if (length(p) > 3.9) continue;
      ++all;
      inside += length(p) < 0.9;
    }
    QCOMPARE(all, 31);
    QVERIFY2(inside < all / 2, qPrintable(QString::number(inside)));
    QVERIFY(inside >= 3);  // and the edge stays sewn
  }

  /// In a fan, however wide and tight and however its rungs slant on its inner edge, thread is
  /// nowhere much denser than where they lie level, and nowhere thin.
  void fansAreNoKnots() {
    std::mt19937 random = testing::seeded(174);
    for (int i = 0; i < 30; ++i) {
      SatinOptions o;
      o.pull_mm = 0;
      o.split_over_mm = 100;
      o.spacing_mm = between(random, 0.35, 0.45);
      const double outer = between(random, 3.5, 8), inner = between(random, 0.15, 0.6),
                   slant = i % 2 ? between(random, 0, 0.8) : 0;
      ZigzagWriter fan(o, 0);
      const double step = o.spacing_mm / 2 / outer;  // half the spacing apart outside
      for (double turn = 0; turn < 2.4; turn += step) {
        const double a = turn + 0.1;
        fan.add({Point{std::cos(a), std::sin(a)} * (inner + slant * (1 + std::sin(2 * a))),
                 Point{std::cos(a), std::sin(a)} * outer});
      }
      const std::vector<Point> points = fan.needlePoints();
      const double level = 2 / o.spacing_mm;
      for (double r = 1.2; r + 0.8 < outer; r += 0.3)
        for (double a = 0.8; a < 1.8; a += 0.1) {
          const Point c = Point{std::cos(a), std::sin(a)} * r;
          constexpr double kDisc_mm = 0.7;
          double thread = 0;
          for (size_t k = 1; k < points.size(); ++k) {
            const double mm = distance(points[k - 1], points[k]);
            const int parts = static_cast<int>(mm / 0.02) + 1;
            for (int n = 0; n < parts; ++n)
              thread += distance(mix(points[k - 1], points[k], (n + 0.5) / parts), c) < kDisc_mm
                            ? mm / parts
                            : 0;
          }
          const double density = thread / (kPi * kDisc_mm * kDisc_mm);
          QVERIFY2(density < 1.5 * level,
                   qPrintable(QString("%1 of %2 at %3").arg(density).arg(level).arg(r)));
          if (r > inner + 3 * slant + 1)
            QVERIFY2(density > 0.6 * level,
                     qPrintable(QString("%1 of %2 at %3").arg(density).arg(level).arg(r)));
        }
    }
  }

  void whatOthersCoverIsLeftToThem() {
    CoverGrid grid({-10, -10, 10, 10}, 0.4);
    std::vector<Rung> rungs;
    for (double y = -5; y <= 5; y += 0.2) rungs.push_back({{-2, y}, {2, y}});
    grid.add(rungs);
    QVERIFY(!grid.left({{0, -3}, {0, 3}}, 0.3));
    const auto part = grid.left({{0, 0}, {6, 0}}, 0.3);
    QVERIFY(part && part->right.x == 6 && part->left.x > 1.2 && part->left.x < 2.1);
    const auto whole = grid.left({{5, -3}, {5, 3}}, 0.3);
    QVERIFY(whole && std::abs(whole->width_mm() - 6) < 1e-9);
    CoverGrid open({-10, -10, 10, 10}, 0.4);
    open.add({{{-2, 0}, {2, 0}}, {{-2, 2}, {2, 2}}});  // far apart: nothing lies between them
    QVERIFY(open.left({{-1, 1}, {1, 1}}, 0.1));
    // too large to be kept cell by cell: nothing counts as covered
    CoverGrid huge({-1e5, -1e5, 1e5, 1e5}, 0.4);
    huge.add(rungs);
    QVERIFY(huge.left({{0, -3}, {0, 3}}, 0.3));
  }

  /// A column's mates are those that end at it: it covers their ends as if they were bare.
  void theOwnerCoversItsMates() {
    CoverGrid grid({-10, -10, 10, 10}, 0.4);
    std::vector<Rung> one, other;
    for (double y = -5; y <= 5; y += 0.2) {
      one.push_back({{-4, y}, {0, y}});
      other.push_back({{0, y}, {4, y}});
    }
    grid.add(one, 3);
    grid.add(other, 4);
    QVERIFY(!grid.left({{-3, 0}, {3, 0}}, 0.3));
    const auto left = grid.left({{-3, 0}, {3, 0}}, 0.3, {3});
    QVERIFY(left && left->left.x == -3 && std::abs(left->right.x - 0.4) < 0.3);
    QVERIFY(grid.left({{-3, 0}, {3, 0}}, 0.3, {3, 4})->width_mm() > 5.9);
    // what is not as wide as thread is no rung
    QVERIFY(!grid.left({{-3, 0}, {4.15, 0}}, 0.3));
  }

  /// Where the outline bends otherwise than the centre, rungs come nearer until its edge is even.
  void rungsAreEvenedByTheirEdges() {
    std::vector<Point> edge{{0, 6}};  // a straight lower edge, a wave above
    for (int k = 0; k <= 300; ++k) edge.push_back({k * 0.1, 3 + std::sin(k * 0.1)});
    edge.push_back({30, 6});
    const OutlineCut outline(simplified({edge}, FillRule::NonZero));
    const Course c({{0, 5}, {30, 5}}, {{0, 3.5}, {30, 3.5}}, false);
    const std::vector<double> places = c.rungPlaces(1, 29, {.spacing_mm = 0.4}, outline);
    for (size_t i = 2; i < places.size(); ++i) {
      const auto a = c.rung(places[i - 2], outline), b = c.rung(places[i], outline);
      QVERIFY(a && b);
      QVERIFY2(std::max(distance(a->left, b->left), distance(a->right, b->right)) < 0.5,
               qPrintable(QString("at %1").arg(places[i])));
    }
    QVERIFY(places.size() < 28 / 0.2 * 1.3);
    QCOMPARE(places.front(), 1.0);
    QVERIFY(std::abs(places.back() - 29) < 1e-9);
  }

  void placesOfRungsAreEvenOnAStraightLine() {
    const Course c({{0, 0}, {30, 0}}, {{0, 2}, {30, 2}}, false);
    const std::vector<double> at = c.rungPlaces(0, 30, {.spacing_mm = 0.4}, OutlineCut(bar(80, 4)));
    QCOMPARE(at.size(), size_t{151});
    for (size_t i = 1; i < at.size(); ++i) QVERIFY(std::abs(at[i] - at[i - 1] - 0.2) < 1e-6);
    // a stretch of no length has two rungs in one place
    for (double mm : c.rungPlaces(7, 7, {.spacing_mm = 0.4}, OutlineCut(bar(80, 4))))
      QCOMPARE(mm, 7.0);
  }

  void theyCloseUpInTightCurves() {
    std::vector<Point> curve;
    for (int i = 0; i <= 60; ++i)
      curve.push_back({3 * std::sin(i * kPi / 60), 3 - 3 * std::cos(i * kPi / 60)});
    const Course c(curve, {{0, 2.5}, {20, 2.5}}, false);
    const OutlineCut cut(widened(curve, 5, LineEnd::Butt));
    const size_t tight = c.rungPlaces(0, c.total(), {.spacing_mm = 0.4}, cut).size();
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

RT_TEST(TestColumnCourse)

}  // namespace test_column_course
#include "test_column_course.moc"
