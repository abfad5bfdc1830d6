#include <QtTest>

#include "drawn_blocks.h"
#include "error.h"
#include "hidden.h"
#include "random_pattern.h"
#include "run.h"

namespace test_hidden {

using namespace rt;
using testing::between;

namespace {

/// Cells of 0.1 mm under thread of the usual width: slow and obvious.
size_t coveredCells(const Pattern& p, const Box& box, double thread_mm, std::vector<bool>& cells) {
  const double cell = 0.1;
  const int columns = static_cast<int>(box.width() / cell),
            rows = static_cast<int>(box.height() / cell);
  cells.assign(static_cast<size_t>(columns * rows), false);
  forEachSegment(p, [&](Point a, Point b, size_t) {
    const int parts = std::max(1, static_cast<int>(distance(a, b) / 0.05));
    for (int k = 0; k <= parts; ++k) {
      const Point m = mix(a, b, static_cast<double>(k) / parts);
      for (double y = m.y - thread_mm / 2; y <= m.y + thread_mm / 2; y += cell / 2)
        for (double x = m.x - thread_mm / 2; x <= m.x + thread_mm / 2; x += cell / 2) {
          if (distance({x, y}, m) > thread_mm / 2) continue;
          const int c = static_cast<int>((x - box.left) / cell),
                    r = static_cast<int>((y - box.top) / cell);
          if (c >= 0 && r >= 0 && c < columns && r < rows)
            cells[static_cast<size_t>(r * columns + c)] = true;
        }
    }
  });
  return static_cast<size_t>(std::count(cells.begin(), cells.end(), true));
}

/// Share of the covered area that differs.
double coverLost(const Pattern& before, const Pattern& after) {
  const Box box = threadBounds(before).grown(1);
  std::vector<bool> a, b;
  const size_t all = coveredCells(before, box, 0.4, a);
  coveredCells(after, box, 0.4, b);
  size_t lost = 0;
  for (size_t i = 0; i < a.size(); ++i) lost += a[i] != b[i];
  return static_cast<double>(lost) / static_cast<double>(all);
}

}  // namespace

class TestHidden : public QObject {
  Q_OBJECT
 private slots:
  void nothingUnderNothingStays() {
    QVERIFY(withoutHidden({}).pattern == Pattern{});
    testing::BlockMaker m;
    m.fill({0, 0, 20, 20}, 0.3, 3);
    m.fill({30, 0, 50, 20}, 0.3, 3);
    const Unhidden u = withoutHidden(m.pattern);
    QVERIFY(u.pattern == m.pattern);
    QCOMPARE(u.blocks_cut, size_t{0});
  }
  void aMarginThatWouldShowIsRefused() {
    for (double margin : {0.0, -1.0, 0.1, double(NAN), 100.0})
      QVERIFY_THROWS_EXCEPTION(Error, withoutHidden({}, {margin}));
  }
  void waysUnderTheCoverAreSeenWhereTheBlockWasNeverSewn() {
    // up one leg, across and down the other; the cover hides all but the feet, and the short way
    // between them lies under it too, off the block's own path
    testing::BlockMaker m;
    Pattern& p = m.pattern;
    const uint16_t thread = p.threadIndex({0x203040});
    auto row = [&](double x, double y, Op op) {
      p.stitches.push_back(
          {{x, y}, 0, thread, 0, op, op == Op::Stitch ? Kind::Run : Kind::Unknown});
    };
    row(5, 10, Op::Jump);
    for (double y = 8; y >= -30; y -= 2) row(5, y, Op::Stitch);
    for (double x = 7; x <= 35; x += 2) row(x, -30, Op::Stitch);
    for (double y = -28; y <= 10; y += 2) row(35, y, Op::Stitch);
    row(35, 10, Op::Trim);
    m.colour = {0xff0000};
    m.fill({-5, -40, 45, -2}, 0.25, 3);
    const Unhidden u = withoutHidden(p);
    QCOMPARE(u.blocks_cut, size_t{1});
    QVERIFY(u.thread_before_mm - u.thread_after_mm > 40);
    // the feet are joined by a way, not by a cut
    QCOMPARE(countRows(u.pattern.stitches, Op::Trim), countRows(p.stitches, Op::Trim));
    QVERIFY(coverLost(p, u.pattern) < 0.002);
  }
  void aFillUnderAFillLosesItsMiddle() {
    testing::BlockMaker m;
    m.fill({0, 0, 40, 40}, 0.3, 3);
    m.colour = {0xff0000};
    m.fill({10, 10, 30, 30}, 0.25, 3);
    const Unhidden u = withoutHidden(m.pattern);
    // 20 x 20 mm of cover, 1 mm of margin: 18 x 18 of 40 x 40 mm go
    const double gone = u.thread_before_mm - u.thread_after_mm;
    QVERIFY2(std::abs(gone - 18 * 18 / 0.3) < 0.12 * 18 * 18 / 0.3,
             qPrintable(QString::number(gone)));
    QVERIFY(coverLost(m.pattern, u.pattern) < 0.002);
    QCOMPARE(u.blocks_cut, size_t{1});
    // the way round the hole needs few cuts
    const auto trims = std::count_if(u.pattern.stitches.begin(), u.pattern.stitches.end(),
                                     [](const Stitch& s) { return s.op == Op::Trim; });
    QVERIFY2(trims <= 5, qPrintable(QString::number(trims)));
  }
  void whatIsWhollyCoveredGoesWithItsTrim() {
    testing::BlockMaker m;
    m.run({{18, 20}, {20, 20}, {22, 20}});
    m.colour = {0xff0000};
    m.fill({10, 10, 30, 30}, 0.25, 3);
    const Unhidden u = withoutHidden(m.pattern);
    QCOMPARE(blocksOf(u.pattern).size(), size_t{1});
    QVERIFY(u.pattern.stitches.front().op == Op::Jump);
  }
  void neighboursOfABlockThatIsGoneStayApart() {
    testing::BlockMaker m;
    m.run({{0, 0}, {3, 0}}, false);
    m.colour = {0x0000ff};
    m.run({{19, 20}, {21, 20}}, false);
    m.colour = {0x2f5d50};
    m.pattern.stitches.push_back({{4, 0}, 9, 0, 0, Op::Stitch, Kind::Run});
    m.pattern.stitches.push_back({{7, 0}, 9, 0, 0, Op::Stitch, Kind::Run});
    m.colour = {0xff0000};
    m.fill({10, 10, 30, 30}, 0.25, 3);
    const Unhidden u = withoutHidden(m.pattern);
    QCOMPARE(blocksOf(u.pattern).size(), size_t{3});
    QCOMPARE(u.thread_after_mm, u.thread_before_mm - 2);
  }
  void openCoverHidesNothing() {
    testing::BlockMaker m;
    m.fill({0, 0, 40, 40}, 0.3, 3);
    m.colour = {0xff0000};
    m.fill({10, 10, 30, 30}, 1.5, 3);  // 1.1 mm of cloth between its rows
    QVERIFY(withoutHidden(m.pattern).pattern == m.pattern);
  }
  void earlierSewingHidesNothing() {
    testing::BlockMaker m;
    m.fill({10, 10, 30, 30}, 0.25, 3);
    m.colour = {0xff0000};
    m.run({{12, 20}, {15, 20}, {18, 20}, {21, 20}});
    QVERIFY(withoutHidden(m.pattern).pattern == m.pattern);
  }
  void satinsAreCutAtTheCover() {
    testing::BlockMaker m;
    m.satin({0, 20}, 40, 4, 0.4);
    m.colour = {0xff0000};
    m.fill({10, 10, 30, 30}, 0.25, 3);
    const Unhidden u = withoutHidden(m.pattern);
    QVERIFY(u.thread_after_mm < u.thread_before_mm * 0.95);
    QVERIFY(coverLost(m.pattern, u.pattern) < 0.002);
  }
  void coverIsKeptAndNothingFloats() {
    std::mt19937 random = testing::seeded(511);
    for (int i = 0; i < 12; ++i) {
      testing::BlockMaker m;
      for (int k = 0; k < 5; ++k) {
        m.colour = {static_cast<uint32_t>(0x303030u * (1 + random() % 4))};
        const Point at{between(random, 0, 25), between(random, 0, 25)};
        const Box box{at.x, at.y, at.x + between(random, 4, 20), at.y + between(random, 4, 20)};
        if (k % 3 == 2)
          m.satin({box.left, box.centre().y}, box.width(), 3, 0.4);
        else
          m.fill(box, between(random, 0.22, 0.4), 3);
      }
      const Unhidden u = withoutHidden(m.pattern);
      const double lost = coverLost(m.pattern, u.pattern);
      QVERIFY2(lost < 0.002, qPrintable(QString("round %1: %2").arg(i).arg(lost)));
      QVERIFY(u.thread_after_mm <= u.thread_before_mm);
      // long ways are cut, stitches stay within bounds
      NeedleWalk walk;
      Point at;
      bool any = false;
      for (const Stitch& s : u.pattern.stitches) {
        const auto step = walk.next(s);
        if (step.sewn) QVERIFY(distance(step.from, s.at) <= kLongestStitch_mm);
        if (s.op == Op::Jump && any)
          QVERIFY2(distance(at, s.at) <= kLongestLooseMove_mm, "a long move without a cut");
        if (s.op == Op::Trim) any = false;
        if (s.op == Op::Stitch) at = s.at, any = true;
      }
    }
  }
  void aWiderMarginKeepsMore() {
    testing::BlockMaker m;
    m.fill({0, 0, 40, 40}, 0.3, 3);
    m.colour = {0xff0000};
    m.fill({8, 8, 32, 32}, 0.25, 3);
    double before = 0;
    for (double margin : {0.5, 1.0, 2.0, 4.0}) {
      const double left = withoutHidden(m.pattern, {margin}).thread_after_mm;
      QVERIFY(left > before);
      before = left;
    }
  }
};

RT_TEST(TestHidden)

}  // namespace test_hidden
#include "test_hidden.moc"
