#include <QtTest>

#include "apart.h"
#include "border.h"
#include "clip.h"
#include "error.h"
#include "random_pattern.h"
#include "run.h"
#include "statistics.h"

namespace test_arrange {

using namespace rt;
using testing::between;

namespace {

Piece pieceOf(Pattern pattern, int id = 1) {
  Piece p;
  p.id = id;
  p.name = "motif";
  p.place.at = centre(pattern);
  p.stitches = std::make_shared<const Pattern>(std::move(pattern));
  return p;
}

Piece randomPiece(std::mt19937& random) {
  Piece p = pieceOf(testing::wander(random, 120, between(random, 8, 30)));
  p.place.turn_deg = between(random, -180, 180);
  p.place.mirrored = random() % 2;
  return p;
}

/// All needle points of pieces, sorted, to 0.001 mm.
std::vector<std::pair<long, long>> needles(const std::vector<Piece>& pieces) {
  std::vector<std::pair<long, long>> out;
  for (const Stitch& s : laidOut(pieces).stitches)
    if (s.op == Op::Stitch) out.emplace_back(std::lround(s.at.x * 1e3), std::lround(s.at.y * 1e3));
  std::sort(out.begin(), out.end());
  return out;
}

bool near(double a, double b) {
  return std::abs(a - b) < 1e-6;
}

}  // namespace

/// A border of a random motif; none where no whole repeats close it, which must say what would.
std::optional<Border> closedBorder(std::mt19937& random, const BorderOptions& o) {
  try {
    return borderOf(pieceOf(testing::wander(random, 60, 20)), o, 2);
  } catch (const Error& e) {
    if (!QString(e.what()).contains("longer")) throw;
    return std::nullopt;
  }
}

class TestArrange : public QObject {
  Q_OBJECT
 private slots:
  void anchorsAreWhereTheySay() {
    std::mt19937 random = testing::seeded(211);
    for (int i = 0; i < 90; ++i) {
      const Anchor a = static_cast<Anchor>(i % 9);
      const Point want{between(random, -50, 50), between(random, -50, 50)};
      const Box box = boundsOf(anchoredAt(randomPiece(random), a, want));
      QVERIFY(distance(anchorOf(box, a), want) < 1e-9);
    }
  }
  void sizesAreExact() {
    std::mt19937 random = testing::seeded(212);
    for (int i = 0; i < 40; ++i) {
      const double want = between(random, 2, 200);
      QVERIFY(near(boundsOf(sizedToWidth(randomPiece(random), want)).width(), want));
      QVERIFY(near(boundsOf(sizedToHeight(randomPiece(random), want)).height(), want));
    }
    QVERIFY_THROWS_EXCEPTION(Error, sizedToWidth(randomPiece(random), 0));
  }
  void gapsAreEven() {
    std::mt19937 random = testing::seeded(213);
    for (Axis axis : {Axis::X, Axis::Y}) {
      std::vector<Piece> pieces;
      for (int i = 0; i < 5; ++i) {
        pieces.push_back(randomPiece(random));
        pieces.back().place.at = {between(random, -200, 200), between(random, -200, 200)};
      }
      std::vector<Piece> out = distributed(pieces, axis);
      auto low = [&](const Piece& p) {
        return axis == Axis::X ? boundsOf(p).left : boundsOf(p).top;
      };
      auto high = [&](const Piece& p) {
        return axis == Axis::X ? boundsOf(p).right : boundsOf(p).bottom;
      };
      std::sort(out.begin(), out.end(),
                [&](const Piece& a, const Piece& b) { return low(a) < low(b); });
      const double gap = low(out[1]) - high(out[0]);
      for (size_t i = 1; i < out.size(); ++i) QVERIFY(near(low(out[i]) - high(out[i - 1]), gap));
    }
  }
  void gridsRepeatExactly() {
    std::mt19937 random = testing::seeded(214);
    for (int i = 0; i < 20; ++i) {
      const Piece p = randomPiece(random);
      RepeatOptions o{1 + static_cast<int>(random() % 6), 1 + static_cast<int>(random() % 4),
                      between(random, 0, 9), between(random, 0, 9), i % 2 == 0};
      const std::vector<Piece> all = repeatedInGrid(p, o, 7);
      QCOMPARE(all.size(), static_cast<size_t>(o.columns * o.rows));
      QVERIFY(all[0] == p);
      const Box first = boundsOf(p);
      for (size_t k = 0; k < all.size(); ++k) {
        const int c = static_cast<int>(k) % o.columns, r = static_cast<int>(k) / o.columns;
        const Box box = boundsOf(all[k]);
        QVERIFY(near(box.left, first.left + c * (first.width() + o.gap_x_mm)));
        QVERIFY(near(box.top, first.top + r * (first.height() + o.gap_y_mm)));
        if (k > 0) QCOMPARE(all[k].id, 6 + static_cast<int>(k));
      }
    }
    QVERIFY_THROWS_EXCEPTION(Error, repeatedInGrid(randomPiece(random), {0, 3, 1, 1, false}, 1));
    QVERIFY_THROWS_EXCEPTION(Error,
                             repeatedInGrid(randomPiece(random), {90000, 90000, 1, 1, false}, 1));
  }
  void arcsAndLinesGoWhereTheyShould() {
    std::mt19937 random = testing::seeded(215);
    const Piece p = randomPiece(random);
    const Point c{between(random, -80, 80), 90}, from = p.place.at;
    const std::vector<Piece> ring = repeatedAlongArc(p, c, 360, 12, 2);
    for (size_t i = 0; i < ring.size(); ++i) {
      QVERIFY(near(distance(ring[i].place.at, c), distance(from, c)));
      QVERIFY(std::abs(wrapDegrees(ring[i].place.turn_deg - p.place.turn_deg -
                                   30.0 * static_cast<double>(i))) < 1e-6);
    }
    QVERIFY(distance(ring.back().place.at, ring[0].place.at) > 1);
    const std::vector<Piece> line = repeatedAlongLine(p, {300, 40}, 5, 2);
    QVERIFY(distance(boundsOf(line.back()).centre(), {300, 40}) < 1e-9);
  }
  void bordersCloseWithWholeRepeats() {
    std::mt19937 random = testing::seeded(216);
    int made = 0;
    for (int i = 0; i < 60; ++i) {
      const BorderOptions o{between(random, 150, 400),
                            between(random, 120, 300),
                            between(random, 8, 20),
                            {3, -2},
                            {}};
      const std::optional<Border> closed = closedBorder(random, o);
      if (!closed) continue;
      const Border& border = *closed;
      ++made;
      QVERIFY(std::abs(border.stretch_across - 1) <= kMostStretch + 1e-9);
      QVERIFY(std::abs(border.stretch_down - 1) <= kMostStretch + 1e-9);
      QCOMPARE(border.pieces.size(), static_cast<size_t>(2 * (border.across + border.down) + 4));
      Box all;
      for (const Piece& p : border.pieces) all.add(boundsOf(p));
      QVERIFY(near(all.width(), o.width_mm) && near(all.height(), o.height_mm));
      QVERIFY(distance(all.centre(), o.centre) < 1e-6);
    }
    QVERIFY(made > 10);
  }
  void mitredCornersEndOnTheDiagonal() {
    std::mt19937 random = testing::seeded(231);
    int made = 0;
    for (int i = 0; i < 40; ++i) {
      const BorderOptions o{between(random, 150, 400),
                            between(random, 120, 300),
                            between(random, 8, 20),
                            {3, -2},
                            BorderCorner::Mitred};
      const std::optional<Border> closed = closedBorder(random, o);
      if (!closed) continue;
      const Border& border = *closed;
      ++made;
      const Box outer = Box::around(o.centre, o.width_mm, o.height_mm);
      for (const Piece& p : border.pieces) {
        const Pattern laid = laidOut(p);
        forEachSegment(laid, [&](Point from, Point to, size_t row) {
          // a tie may reach a little past the short stitch that it holds
          const double over = laid.stitches[row].kind == Kind::Tie ? 0.8 : 0.02;
          QVERIFY(outer.grown(over).contains(from) && outer.grown(over).contains(to));
        });
        // a level side stays nearer to the level edge than to the upright one, all along
        const double turn = std::abs(std::remainder(p.place.turn_deg, 180));
        if (!(p.source == PieceSource(StitchSource{p.name, nullptr, 1, 1, 1}))) continue;
        QVERIFY(turn < 1e-9);  // a cut repeat keeps no turn: it was laid out before the cut
        int levels = 0, uprights = 0;
        forEachSegment(laidOut(p), [&](Point, Point b, size_t) {
          const double x = std::min(b.x - outer.left, outer.right - b.x),
                       y = std::min(b.y - outer.top, outer.bottom - b.y);
          levels += y < x - 0.8;  // ties at the cut reach a little over it
          uprights += x < y - 0.8;
        });
        QVERIFY2(levels == 0 || uprights == 0,
                 qPrintable(QString("%1 level, %2 upright").arg(levels).arg(uprights)));
      }
    }
    QVERIFY(made > 8);
  }
  void whatIsClippedLiesInsideAndNothingElseIsLost() {
    std::mt19937 random = testing::seeded(232);
    for (int i = 0; i < 60; ++i) {
      const Pattern p = testing::wander(random, 80, 40);
      const HalfPlane plane{threadBounds(p).centre(),
                            unit({between(random, -1, 1), between(random, -1, 1)})};
      const Pattern in = clipped(p, std::array{plane});
      double kept = 0, expected = 0;
      forEachSegment(in, [&](Point a, Point b, size_t row) {
        const bool tie = in.stitches[row].kind == Kind::Tie;
        QVERIFY(plane.depth_mm(a) > (tie ? -1.0 : -0.02) &&
                plane.depth_mm(b) > (tie ? -1.0 : -0.02));
        if (!tie) kept += distance(a, b);
      });
      forEachSegment(p, [&](Point a, Point b, size_t) {
        const int parts = 400;
        int inside = 0;
        for (int k = 0; k < parts; ++k) inside += plane.depth_mm(mix(a, b, (k + 0.5) / parts)) >= 0;
        expected += distance(a, b) * inside / parts;
      });
      // links along the cut add a little, stitches under 0.4 mm at it fall away
      QVERIFY2(std::abs(kept - expected) < 0.06 * expected + 12,
               qPrintable(QString("%1 of %2").arg(kept).arg(expected)));
    }
  }
  void bastingIsExactAndLong() {
    const Box box{-30, -20, 50, 40};
    const Pattern p = bastingAround(box, 5, {0x808080});
    const Box got = threadBounds(p);
    QVERIFY(near(got.width(), 80) && near(got.height(), 60));
    QVERIFY(statisticsOf(p, {}).longest_mm <= 5 + 1e-6);
  }
  void nothingIsLostWhenADesignIsTakenApart() {
    std::mt19937 random = testing::seeded(217);
    for (int i = 0; i < 30; ++i) {
      const Piece p = randomPiece(random);
      for (ApartBy by : {ApartBy::Colour, ApartBy::Trim, ApartBy::Region}) {
        const std::vector<Piece> parts = takenApart(p, by, 50);
        // stitches that only land (no thread) may gain a landing, never a needle point
        QCOMPARE(needles(parts), needles({p}));
        double thread = 0, whole = statisticsOf(laidOut(p), {}).thread_mm;
        for (const Piece& q : parts) thread += statisticsOf(laidOut(q), {}).thread_mm;
        QVERIFY(std::abs(thread - whole) < 1e-3);
      }
      const Box b = boundsOf(p);
      const Ring half{
          {b.left, b.top}, {b.centre().x, b.top}, {b.centre().x, b.bottom}, {b.left, b.bottom}};
      QCOMPARE(needles(cutOut(p, half, 50)), needles({p}));
    }
  }
  void partsByColourHaveOneEach() {
    std::mt19937 random = testing::seeded(218);
    const Piece p = pieceOf(testing::wander(random, 3000, 60));
    const size_t colours = statisticsOf(*p.stitches, {}).colours.size();
    const std::vector<Piece> parts = takenApart(p, ApartBy::Colour, 9);
    QCOMPARE(parts.size(), colours);
    for (const Piece& q : parts) QCOMPARE(statisticsOf(*q.stitches, {}).colours.size(), size_t{1});
  }
};

RT_TEST(TestArrange)

}  // namespace test_arrange
#include "test_arrange.moc"
