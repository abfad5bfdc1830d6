#include <QtTest>

#include "blocks.h"
#include "random_pattern.h"
#include "run.h"
#include "strand.h"

namespace test_strand {

using namespace rt;
using testing::between;

namespace {

std::vector<Point> randomCurve(std::mt19937& random) {
  std::vector<Point> line{{0, 0}};
  double angle = 0;
  for (int i = 0; i < 60; ++i) {
    angle += between(random, -0.25, 0.25);
    line.push_back(line.back() + Point{std::cos(angle), std::sin(angle)} * 0.7);
  }
  return line;
}

double strays(const std::vector<Point>& line, const std::vector<Point>& sewn) {
  double worst = 0;
  for (Point p : line) {
    double least = INFINITY;
    for (size_t i = 1; i < sewn.size(); ++i)
      least = std::min(least, pointSegmentDistance(p, sewn[i - 1], sewn[i]));
    worst = std::max(worst, least);
  }
  return worst;
}

}  // namespace

class TestStrand : public QObject {
  Q_OBJECT
 private slots:
  void runsKeepEndsLengthAndCourse() {
    std::mt19937 random = testing::seeded(321);
    for (int i = 0; i < 80; ++i) {
      const std::vector<Point> line = randomCurve(random);
      const double step = between(random, 1.5, 4), stray = between(random, 0.05, 0.3);
      Strand s;
      runWithin(s, line, step, stray, Kind::Run);
      QVERIFY(distance(s.entry(), line.front()) < 1e-9);
      QVERIFY(distance(s.exit(), line.back()) < 1e-9);
      for (size_t k = 1; k < s.points.size(); ++k)
        QVERIFY(distance(s.points[k - 1], s.points[k]) <= step + 1e-6);
      QVERIFY2(strays(line, s.points) < stray + 0.05,
               qPrintable(QString("%1 for %2").arg(strays(line, s.points)).arg(stray)));
    }
  }

  void straightRunsAreEven() {
    Strand s;
    const std::vector<Point> line{{0, 0}, {10, 0}};
    runWithin(s, line, 3, 0.1, Kind::Run);
    QCOMPARE(s.points.size(), size_t{5});
    for (size_t k = 1; k < s.points.size(); ++k)
      QVERIFY(std::abs(s.points[k].x - s.points[k - 1].x - 2.5) < 1e-9);
  }

  void emptyAndPointLinesDoNothingWrong() {
    Strand s;
    runWithin(s, {}, 2, 0.1, Kind::Run);
    QVERIFY(s.empty());
    const std::vector<Point> point{{3, 4}};
    runWithin(s, point, 2, 0.1, Kind::Run);
    QVERIFY(s.points.size() <= 1);
  }

  void tidyStrandsHaveNoShortAndNoLongStitches() {
    std::mt19937 random = testing::seeded(322);
    for (int i = 0; i < 60; ++i) {
      Strand s;
      s.add({0, 0}, Kind::Run);
      for (int k = 0; k < 80; ++k)
        s.add(
            s.exit() + Point{between(random, -0.6, 0.6) * (k % 9 ? 1 : 40), between(random, -1, 1)},
            Kind::Run);
      const double least = i % 2 ? 0.4 : 0.15;
      const Strand t = tidied(s, 9, least);
      for (size_t k = 1; k < t.points.size(); ++k) {
        const double mm = distance(t.points[k - 1], t.points[k]);
        QVERIFY(mm <= 9.02);
        QVERIFY(mm >= least - 0.011);
      }
      QVERIFY(distance(t.entry(), s.entry()) < 0.01);
      if (distance(s.entry(), s.exit()) > 1) QVERIFY(distance(t.exit(), s.exit()) < 0.01);
    }
  }

  void everyLongMoveIsTrimmed() {
    std::mt19937 random = testing::seeded(323);
    for (int i = 0; i < 40; ++i) {
      std::vector<Strand> strands;
      Point at;
      for (int k = 0; k < 12; ++k) {
        at = at + Point{between(random, -8, 8), between(random, -8, 8)};
        Strand s;
        const std::vector<Point> line{at, at + Point{6, 2}};
        runAlong(s, line, 2, Kind::Run);
        at = s.exit();
        strands.push_back(s);
      }
      Pattern p;
      appendStrands(p, strands, {{0x123456}, "run"});
      Point last;
      bool cut = true;
      for (const Stitch& s : p.stitches) {
        if (s.op == Op::Jump && !cut) QVERIFY(distance(last, s.at) <= kLongestLooseMove_mm + 0.02);
        if (s.op == Op::Trim) cut = true;
        if (s.op == Op::Stitch) cut = false;
        if (s.op == Op::Stitch || s.op == Op::Jump) last = s.at;
      }
      QCOMPARE(p.stitches.back().op, Op::Trim);
    }
  }

  void eachBlockIsTiedAtBothEnds() {
    Strand s;
    const std::vector<Point> line{{0, 0}, {20, 0}};
    runAlong(s, line, 2.5, Kind::Run);
    Pattern p;
    appendStrands(p, std::vector{s}, {{0}, ""});
    size_t first = 0, last = 0;
    for (size_t i = 0; i < p.stitches.size(); ++i)
      if (p.stitches[i].kind == Kind::Tie) (i < p.stitches.size() / 2 ? first : last) += 1;
    QCOMPARE(first, size_t{3});
    QCOMPARE(last, size_t{2});
  }
};

RT_TEST(TestStrand)

}  // namespace test_strand
#include "test_strand.moc"
