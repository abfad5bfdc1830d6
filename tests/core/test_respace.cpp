// Designs of known making are stripped to bare stitches, sized and sewn again.
#include <QtTest>

#include "column_graph.h"
#include "drawn_blocks.h"
#include "random_pattern.h"
#include "resize.h"
#include "row_fill.h"
#include "run.h"
#include "shape.h"

namespace test_respace {

using namespace rt;
using testing::between;

namespace {

const std::vector<double> kScales{0.5, 0.75, 1.25, 1.6, 2.0};

Pattern bare(Pattern p) {
  for (Stitch& s : p.stitches) s.kind = Kind::Unknown;
  return p;
}

Pattern sewn(const std::vector<Strand>& strands, uint32_t rgb = 0x2f5d50) {
  Pattern p;
  appendStrands(p, strands, {{rgb}, ""});
  return p;
}

Resized atScale(const Pattern& p, double x, double y) {
  RespaceOptions o;
  o.scale_x = x;
  o.scale_y = y;
  o.least_column_mm = 0;
  return resizeRespacing(p, o);
}
Resized atScale(const Pattern& p, double r) {
  return atScale(p, r, r);
}

/// How far thread lies outside an area at most, and how far the area's edge is from thread at
/// most, mm.
struct Fit {
  double beyond = 0, shortOf = 0;
};

Fit fitOf(const Pattern& pattern, const Area& area) {
  std::vector<std::pair<Point, Point>> edge, thread;
  for (const Ring& ring : area)
    for (size_t i = 0; i < ring.size(); ++i)
      edge.emplace_back(ring[i], ring[(i + 1) % ring.size()]);
  auto away = [](Point p, const auto& lines) {
    double least = INFINITY;
    for (const auto& [u, v] : lines) least = std::min(least, pointSegmentDistance(p, u, v));
    return least;
  };
  Fit fit;
  forEachSegment(pattern, [&](Point p, Point q, size_t) {
    thread.emplace_back(p, q);
    for (Point m : {q, mix(p, q, 0.5)})
      if (!contains(area, m)) fit.beyond = std::max(fit.beyond, away(m, edge));
  });
  for (const auto& [u, v] : edge)
    for (double t = 0; t < 1; t += 0.5 / std::max(0.5, distance(u, v)))
      fit.shortOf = std::max(fit.shortOf, away(mix(u, v, t), thread));
  return fit;
}

/// Laid thread, mm.
double threadOf(const Pattern& p) {
  double thread = 0;
  forEachSegment(p, [&](Point a, Point b, size_t) { thread += distance(a, b); });
  return thread;
}

std::vector<Point> wave(double length, double height) {
  std::vector<Point> line;
  for (int i = 0; i <= 60; ++i) line.push_back({length * i / 60, height * std::sin(i * 0.1)});
  return line;
}

/// The sized outline is met as well as the design met its own, to 0.3 mm. What the design fell
/// short by grows with the size, but does not shrink with it: least lengths of rows and stitches
/// stay.
void outlineIsKept(const Pattern& source, const Area& area, const Resized& r, double x, double y) {
  const Fit was = fitOf(source, area);
  const Fit is = fitOf(r.pattern, transformed(area, Transform::scaling(x, y)));
  const double most = std::max(x, y);
  QVERIFY2(
      is.beyond < was.beyond * most + 0.3 && is.shortOf < was.shortOf * std::max(1.0, most) + 0.3,
      qPrintable(QString("beyond %1, was %2; short of %3, was %4")
                     .arg(is.beyond)
                     .arg(was.beyond)
                     .arg(is.shortOf)
                     .arg(was.shortOf)));
}

QString told(double kept, double scale, double radius, double width) {
  return QString("%1 kept at %2, radius %3, width %4").arg(kept).arg(scale).arg(radius).arg(width);
}

/// The area of a column.
Area columnArea(const std::vector<Point>& line, double width_mm) {
  return widened(line, width_mm, LineEnd::Butt);
}

}  // namespace

class TestRespace : public QObject {
  Q_OBJECT
 private slots:
  void satinKeepsItsSpacing() {
    std::mt19937 random = testing::seeded(71);
    for (int i = 0; i < 12; ++i) {
      SatinOptions o;
      o.spacing_mm = between(random, 0.34, 0.6);
      o.split_over_mm = 100;
      o.pull_mm = 0;
      const double width = between(random, 1.5, 3.4);
      const std::vector<Point> line = wave(between(random, 30, 60), 4);
      const Pattern p = bare(sewn({satinAlong(line, width, o)}));
      for (double r : kScales) {
        const Resized done = atScale(p, r);
        QCOMPARE(done.blocks.size(), size_t{1});
        QCOMPARE(done.blocks[0].kind, Kind::Satin);
        QVERIFY(std::abs(done.blocks[0].spacing_before_mm / o.spacing_mm - 1) < 0.05);
        const Block block = blocksOf(done.pattern)[0];
        const double after = recognise(needlePoints(done.pattern, block)[0]).spacing_mm;
        QVERIFY2(std::abs(after / o.spacing_mm - 1) < 0.05,
                 qPrintable(QString("%1 for %2 at %3").arg(after).arg(o.spacing_mm).arg(r)));
        outlineIsKept(p, columnArea(line, width), done, r, r);
      }
    }
  }

  /// In a bend the steps go by the outer and the inner edge in turn: neither is the spacing.
  void curvedSatinKeepsItsThread() {
    std::mt19937 random = testing::seeded(78);
    const auto thread = [](const Pattern& p) {
      double sum = 0;
      for (size_t i = 1; i < p.stitches.size(); ++i)
        if (p.stitches[i].op == Op::Stitch) sum += distance(p.stitches[i - 1].at, p.stitches[i].at);
      return sum;
    };
    for (int i = 0; i < 30; ++i) {
      const double radius = between(random, 12, 40), width = between(random, 1.6, 5.5),
                   spacing = between(random, 0.3, 0.5), turn = between(random, 1, 4);
      Pattern p;
      p.threads.push_back({0x336699});
      const int n = static_cast<int>(2 * turn * radius / spacing);
      for (int k = 0; k <= n; ++k) {
        const double a = turn * k / n, r = radius + (k % 2 ? width : -width) / 2;
        p.stitches.push_back({Point{std::cos(a), std::sin(a)} * r, 0, 0, 0,
                              k == 0 ? Op::Jump : Op::Stitch, Kind::Unknown});
      }
      const double scale = between(random, 0.8, std::min(1.8, 6.9 / width));
      const double kept = thread(atScale(p, scale).pattern) / (thread(p) * scale * scale);
      QVERIFY2(std::abs(kept - 1) < 0.05, qPrintable(told(kept, scale, radius, width)));
    }
  }

  /// Rungs of a column that are joined by steps along its edges are a column in a bend too.
  void bentColumnsWithStepsKeepTheirThread() {
    std::mt19937 random = testing::seeded(79);
    for (int i = 0; i < 30; ++i) {
      const double radius = between(random, 5, 40), spacing = between(random, 0.3, 0.5),
                   width = between(random, 2.4, std::min(5.5, radius)),
                   turn = between(random, 1, 4);
      Pattern p;
      p.threads.push_back({0x336699});
      const int n = static_cast<int>(turn * radius / spacing);
      for (int k = 0; k <= n; ++k)
        for (int end : {0, 1}) {
          const double a = turn * k / n, r = radius + (end == k % 2 ? -width : width) / 2;
          p.stitches.push_back({Point{std::cos(a), std::sin(a)} * r, 0, 0, 0,
                                k + end == 0 ? Op::Jump : Op::Stitch, Kind::Unknown});
        }
      const double scale = between(random, 0.8, std::min(1.8, 6.9 / width));
      const Resized done = atScale(p, scale);
      QCOMPARE(done.blocks[0].kind, Kind::Satin);
      // rungs grow with the size, steps do not: thread per area is that of the rungs
      auto across = [](const Pattern& made) {
        double sum = 0;
        forEachSegment(made, [&](Point a, Point b, size_t) {
          if (distance(a, b) > 0.9) sum += distance(a, b);
        });
        return sum;
      };
      const double kept = across(done.pattern) / (across(p) * scale * scale);
      QVERIFY2(std::abs(kept - 1) < 0.05, qPrintable(told(kept, scale, radius, width)));
    }
  }
  /// A column that tapers is a run only where it is narrow.
  void taperedColumnsStaySatinWhereTheyAreWide() {
    std::mt19937 random = testing::seeded(80);
    for (int i = 0; i < 20; ++i) {
      const double length = between(random, 25, 50), wide = between(random, 2.2, 2.7);
      Pattern p;
      p.threads.push_back({0x336699});
      const int n = static_cast<int>(length / 0.2);
      auto widthAt = [&](double x) { return 0.2 + (wide - 0.2) * x / length; };
      for (int k = 0; k <= n; ++k) {
        const double x = length * k / n;
        p.stitches.push_back({{x, (k % 2 ? 0.5 : -0.5) * widthAt(x)},
                              0,
                              0,
                              0,
                              k == 0 ? Op::Jump : Op::Stitch,
                              Kind::Unknown});
      }
      RespaceOptions o;
      o.scale_x = o.scale_y = between(random, 0.5, 0.6);
      const Pattern done = resizeRespacing(p, o).pattern;
      double satin = 0, run = 0;
      forEachSegment(done, [&](Point a, Point b, size_t row) {
        const double x = mix(a, b, 0.5).x / o.scale_x, here = widthAt(x) * o.scale_x;
        if (done.stitches[row].kind == Kind::Satin) QVERIFY(here > 0.75);
        if (done.stitches[row].kind == Kind::Run) QVERIFY(here < 1.25);
        (done.stitches[row].kind == Kind::Satin ? satin : run) += std::abs(b.x - a.x);
      });
      QVERIFY(run > 0);
      QCOMPARE(satin > 0, widthAt(length - 3) * o.scale_x > 1);
    }
  }

  void fillKeepsItsRowsAndHoles() {
    std::mt19937 random = testing::seeded(72);
    for (int i = 0; i < 8; ++i) {
      const double size = between(random, 28, 44);
      Area area{{}, {}};
      for (int k = 0; k < 40; ++k) {
        const double a = k * kPi / 20;
        area[0].push_back({size / 2 * std::cos(a), size / 2.5 * std::sin(a)});
        area[1].push_back({size / 6 * std::cos(-a) + 2, size / 7 * std::sin(-a)});
      }
      FillOptions o;
      o.row_spacing_mm = between(random, 0.2, 0.34);
      o.angle_deg = between(random, 0, 180);
      o.pull_mm = 0;
      const Pattern p = bare(sewn(fillRows(area, o, {-50, 0})));
      for (double r : kScales) {
        const Resized done = atScale(p, r);
        // at one spacing, thread goes with the area
        const double want = threadOf(p) * r * r;
        const double have = threadOf(done.pattern);
        QVERIFY2(std::abs(have / want - 1) < 0.08,
                 qPrintable(QString("%1 of %2 at %3").arg(have).arg(want).arg(r)));
        const Area hole = grown({transformed(Area{area[1]}, Transform::scaling(r, r))[0]}, -0.6);
        double inHole = 0;
        forEachSegment(done.pattern, [&](Point a, Point b, size_t) {
          if (contains(hole, mix(a, b, 0.5))) inHole += distance(a, b);
        });
        QVERIFY2(inHole < 0.01 * have, qPrintable(QString("%1 in the hole").arg(inHole)));
        outlineIsKept(p, area, done, r, r);
      }
    }
  }

  /// Rows and ways told apart by the design itself: whatever the holes and the slant, thread goes
  /// with the area.
  void declaredFillsKeepTheirThread() {
    std::mt19937 random = testing::seeded(77);
    for (int i = 0; i < 10; ++i) {
      Area area{{{0, 0}, {50, 0}, {50, 42}, {0, 42}}};
      for (int hole = 0; hole < 4; ++hole) {
        const Point at{between(random, 4, 38), between(random, 4, 32)};
        const double w = between(random, 3, 9), h = between(random, 3, 9);
        const Point far = at + Point{w, h};
        area = difference(area, {{at, {far.x, at.y}, far, {at.x, far.y}}});
      }
      if (separated(area).size() != 1) continue;
      FillOptions o;
      o.row_spacing_mm = between(random, 0.25, 0.45);
      o.angle_deg = between(random, 0, 180);
      const Pattern p = sewn(fillRows(area, o, {0, 0}));
      for (double r : {0.75, 1.3, 1.6}) {
        const double want = threadOf(p) * r * r, have = threadOf(atScale(p, r).pattern);
        QVERIFY2(std::abs(have / want - 1) < 0.06,
                 qPrintable(QString("%1: %2 of %3 at %4").arg(i).arg(have).arg(want).arg(r)));
      }
    }
  }
  void rowsWithStepsKeepTheirSpacing() {
    for (double spacing : {0.4, 0.5})
      for (double r : kScales) {
        testing::BlockMaker make;
        make.fill({0, 0, 42, 30}, spacing, 3.5);
        const Resized done = atScale(bare(make.pattern), r);
        QCOMPARE(done.blocks[0].kind, Kind::Fill);
        QVERIFY(std::abs(done.blocks[0].spacing_before_mm - spacing) < 0.02);
        std::map<long, int> rows;
        forEachSegment(done.pattern, [&](Point a, Point b, size_t) {
          if (std::abs(a.y - b.y) < 0.02 && distance(a, b) > 1) rows[std::lround(a.y * 100)] += 1;
        });
        const double apart = 30 * r / static_cast<double>(rows.size() - 1);
        QVERIFY2(std::abs(apart / spacing - 1) < 0.05, qPrintable(QString::number(apart)));
        outlineIsKept(make.pattern, {{{0, 0}, {42, 0}, {42, 30}, {0, 30}}}, done, r, r);
      }
  }

  void unlikeScalesKeepTheSpacingToo() {
    FillOptions o;
    o.row_spacing_mm = 0.4;
    o.pull_mm = 0;
    o.angle_deg = 30;
    const Area area{{{-15, -10}, {15, -12}, {18, 10}, {-12, 14}}};
    const Pattern p = bare(sewn(fillRows(area, o, {-50, 0})));
    for (auto [x, y] : {std::pair(0.6, 1.4), std::pair(2.0, 0.8)}) {
      const Resized done = atScale(p, x, y);
      QVERIFY(std::abs(threadOf(done.pattern) / (threadOf(p) * x * y) - 1) < 0.08);
      outlineIsKept(p, area, done, x, y);
    }
  }

  void runsKeepTheirStitchLengthAndCorners() {
    testing::BlockMaker make;
    std::vector<Point> square;
    for (int side = 0; side < 4; ++side)
      for (int k = 0; k < 12; ++k)
        square.push_back(Transform::turning(side * 90.0)({-15 + k * 2.5, -15}));
    square.push_back(square[0]);
    make.run(square);
    for (double r : kScales) {
      const Resized done = atScale(bare(make.pattern), r);
      QCOMPARE(done.blocks[0].kind, Kind::Run);
      double longest = 0;
      size_t count = 0;
      forEachSegment(done.pattern, [&](Point a, Point b, size_t) {
        longest = std::max(longest, distance(a, b));
        count += distance(a, b) > 1;
      });
      QVERIFY(longest < 2.5 * 1.05);
      QVERIFY(count >= static_cast<size_t>(11 * 4 * r * 0.9));
      outlineIsKept(make.pattern, {{{-15, -15}, {15, -15}, {15, 15}, {-15, 15}}}, done, r, r);
    }
  }

  void underlayComesApartFromCover() {
    Shape shape;
    shape.line = wave(50, 5);
    shape.line_width_mm = 3;
    const SewnShape made = digitise(shape, {}, {});
    const Pattern p = bare(sewn(made.strands));
    for (double r : kScales) {
      const Resized done = atScale(p, r);
      QCOMPARE(done.blocks[0].kind, Kind::Satin);
      QVERIFY(std::abs(done.blocks[0].spacing_after_mm / 0.4 - 1) < 0.05);
      outlineIsKept(p, columnArea(shape.line, 3), done, r, r);
    }
  }

  void orderColoursTrimsAndStopsStay() {
    std::mt19937 random = testing::seeded(73);
    Pattern p;
    for (int i = 0; i < 6; ++i) {
      const Point at{between(random, -60, 60), between(random, -60, 60)};
      std::vector<Point> line = wave(25, 3);
      for (Point& q : line) q = q + at;
      appendStrands(p, std::vector{satinAlong(line, 2.5, {})},
                    {{0x101010u * static_cast<uint32_t>(1 + i % 3)}, "p" + std::to_string(i)});
      if (i == 3) p.stitches.push_back({at, 0, 0, 0, Op::Stop, Kind::Unknown});
    }
    const Resized done = atScale(p, 1.6);
    auto story = [](const Pattern& q) {
      std::string s;
      for (const Block& b : blocksOf(q)) s += q.threads[b.thread].hex() + q.pieces[b.piece] + ";";
      for (const Stitch& st : q.stitches)
        if (st.op == Op::Trim || st.op == Op::Stop) s += std::string(name(st.op)) + " ";
      return s;
    };
    QCOMPARE(story(done.pattern), story(p));
  }

  void rowsThatEndOnASlantKeepTheirSpacing() {
    // at a slanted edge the stitch to the next row runs on with a row on one side and stands alone
    // on the other
    std::mt19937 random = testing::seeded(77);
    for (int round = 0; round < 40; ++round) {
      const double spacing = testing::between(random, 0.25, 0.5),
                   slant = testing::between(random, 0.8, 3);
      std::vector<Point> points;
      const Transform turn = Transform::turning(testing::between(random, 0, 180));
      for (int row = 0; row < 40; ++row) {
        const double left = slant * spacing * row, right = left + 14, v = spacing * row;
        for (int k = 0; k <= 4; ++k) {
          const double u = row % 2 == 0 ? left + 3.5 * k : right - 3.5 * k;
          points.push_back(turn({u, v}));
        }
      }
      const Recognised r = recognise(points, Kind::Fill);
      QVERIFY2(
          r.kind == Kind::Fill && std::abs(r.spacing_mm - spacing) < 0.05 * spacing,
          qPrintable(QString("%1 for %2, slant %3").arg(r.spacing_mm).arg(spacing).arg(slant)));
    }
  }

  void wideSatinIsSplitAndNarrowSatinRuns() {
    const Pattern p = bare(sewn({satinAlong(wave(40, 2), 4, {})}));
    double longest = 0;
    forEachSegment(atScale(p, 2).pattern,
                   [&](Point a, Point b, size_t) { longest = std::max(longest, distance(a, b)); });
    QVERIFY(longest <= kSplitSatinOver_mm + 0.05);
    RespaceOptions o;
    o.scale_x = o.scale_y = 0.2;
    const Resized narrow = resizeRespacing(p, o);
    QVERIFY(!narrow.warnings.empty());
    QCOMPARE(recognise(needlePoints(narrow.pattern, blocksOf(narrow.pattern)[0])[0]).kind,
             Kind::Run);
  }

  void anythingAtAllComesBackWhole() {
    std::mt19937 random = testing::seeded(74);
    for (int i = 0; i < 200; ++i) {
      const Pattern p = testing::wander(random, 1 + static_cast<int>(random() % 200), 30);
      const Resized r = atScale(p, between(random, 0.4, 2.5), between(random, 0.4, 2.5));
      for (const Stitch& s : r.pattern.stitches) QVERIFY(std::isfinite(s.at.x + s.at.y));
      QCOMPARE(blocksOf(r.pattern).empty(), threadBounds(p).empty());
    }
  }
};

RT_TEST(TestRespace)

}  // namespace test_respace
#include "test_respace.moc"
