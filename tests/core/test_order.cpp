#include <QtTest>
#include <map>
#include <set>

#include "drawn_blocks.h"
#include "error.h"
#include "order.h"
#include "patches.h"
#include "run.h"

namespace test_order {

using namespace rt;
using testing::between;
using testing::blockPrints;
using testing::patternFrom;
using testing::randomPatches;

namespace {

/// Sewn segments with their colours, sorted: what an order may not change.
std::multiset<std::array<double, 5>> threadOf(const Pattern& p) {
  std::multiset<std::array<double, 5>> out;
  forEachSegment(p, [&](Point a, Point b, size_t row) {
    out.insert({a.x, a.y, b.x, b.y, static_cast<double>(p.colourOf(p.stitches[row]).rgb)});
  });
  return out;
}

/// Fewest changes by dynamic programming over all sets of finished blocks: exact to 16 blocks.
int fewestBySets(const SequenceGraph& g) {
  const size_t n = g.colour.size();
  std::vector<uint32_t> before(n, 0);
  for (size_t b = 0; b < n; ++b)
    for (int later : g.after[b]) before[static_cast<size_t>(later)] |= 1u << b;
  std::vector<std::map<int, int>> best(size_t{1} << n);
  best[0][-1] = 0;
  for (uint32_t set = 0; set + 1 < (1u << n); ++set)
    for (const auto& [last, changes] : best[set])
      for (size_t b = 0; b < n; ++b) {
        if (set >> b & 1 || (before[b] & set) != before[b]) continue;
        const int now = changes + (last >= 0 && last != g.colour[b]);
        auto [it, fresh] = best[set | 1u << b].try_emplace(g.colour[b], now);
        if (!fresh) it->second = std::min(it->second, now);
      }
  int least = 1 << 20;
  for (const auto& [last, changes] : best.back()) least = std::min(least, changes);
  return least;
}

SequenceGraph randomGraph(std::mt19937& random, size_t n, int colours, double density) {
  SequenceGraph g;
  g.after.resize(n);
  for (size_t b = 0; b < n; ++b) {
    g.colour.push_back(static_cast<int>(random() % static_cast<unsigned>(colours)));
    for (size_t later = b + 1; later < n; ++later)
      if (between(random, 0, 1) < density) g.after[b].push_back(static_cast<int>(later));
  }
  return g;
}

bool respects(const SequenceGraph& g, const std::vector<int>& order) {
  std::vector<size_t> place(order.size());
  for (size_t i = 0; i < order.size(); ++i) place[static_cast<size_t>(order[i])] = i;
  for (size_t b = 0; b < g.after.size(); ++b)
    for (int later : g.after[b])
      if (place[b] > place[static_cast<size_t>(later)]) return false;
  return true;
}

}  // namespace

class TestOrder : public QObject {
  Q_OBJECT
 private slots:
  void noBlocksIsAnError() {
    QVERIFY_THROWS_EXCEPTION(Error, orderColours({}));
    QVERIFY_THROWS_EXCEPTION(Error, orderColours(patternFrom("jump 3,3 trim end")));
    QCOMPARE(fewestChanges({}).changes, 0);
  }
  void oneColourStaysAsItIs() {
    const Pattern p = patternFrom("stitch 0,0 stitch 3,0 trim jump 9,0 stitch 12,0 end");
    const Ordered o = orderColours(p);
    QVERIFY(o.pattern == p);
    QCOMPARE(o.colour_changes_after, size_t{0});
  }
  void freeBlocksAreGatheredByColour() {
    const Pattern p = patternFrom(
        "#ff0000 jump 0,0 stitch 5,0 #00ff00 jump 20,0 stitch 25,0 #ff0000 jump 40,0 stitch 45,0 "
        "#00ff00 jump 60,0 stitch 65,0");
    const Ordered o = orderColours(p);
    QCOMPARE(o.colour_changes_before, size_t{3});
    QCOMPARE(o.colour_changes_after, size_t{1});
    QCOMPARE(threadOf(o.pattern), threadOf(p));
    QCOMPARE(blockPrints(o.pattern), blockPrints(p));
  }
  void whatLiesOnTopStaysOnTop() {
    // red, green over it, red over that: no order saves a change
    const Pattern p = patternFrom(
        "#ff0000 jump 0,0 stitch 9,0 #00ff00 jump 3,-3 stitch 3,3 #ff0000 jump 0,2 stitch 9,2");
    const Ordered o = orderColours(p);
    QCOMPARE(o.kept_overlaps, size_t{2});
    QCOMPARE(o.colour_changes_after, size_t{2});
    QCOMPARE(o.lower_bound, 2);
  }
  void fewestAgainstAllSets() {
    std::mt19937 random = testing::seeded(501);
    for (int i = 0; i < 150; ++i) {
      const SequenceGraph g =
          randomGraph(random, 1 + random() % 11, 1 + int(random() % 5), between(random, 0, 0.6));
      const ColourOrder got = fewestChanges(g);
      QVERIFY(respects(g, got.order));
      int changes = 0;
      for (size_t k = 1; k < got.order.size(); ++k)
        changes += g.colour[static_cast<size_t>(got.order[k])] !=
                   g.colour[static_cast<size_t>(got.order[k - 1])];
      QCOMPARE(got.changes, changes);
      QCOMPARE(got.changes, fewestBySets(g));
      QVERIFY(got.proven());
    }
  }
  void theBoundHoldsWhenTheSearchIsCutShort() {
    std::mt19937 random = testing::seeded(502);
    for (int i = 0; i < 40; ++i) {
      const SequenceGraph g = randomGraph(random, 12, 4, 0.25);
      const ColourOrder hasty = fewestChanges(g, 1);
      const int best = fewestBySets(g);
      QVERIFY(respects(g, hasty.order));
      QVERIFY(hasty.lower_bound <= best && best <= hasty.changes);
    }
  }
  void aCircleIsAnErrorThatNamesABlock() {
    SequenceGraph g;
    g.colour = {0, 1, 0};
    g.after = {{1}, {2}, {0}};
    try {
      fewestChanges(g);
      QFAIL("no error");
    } catch (const Error& e) {
      QVERIFY(e.where().find("block 1") != std::string::npos);
    }
  }
  void ordersArePermutationsThatKeepEveryOverlap() {
    std::mt19937 random = testing::seeded(503);
    for (int i = 0; i < 40; ++i) {
      const Pattern p = randomPatches(random, 2 + static_cast<int>(random() % 14), 4, 40);
      const Ordered o = orderColours(p);
      QCOMPARE(blockPrints(o.pattern), blockPrints(p));
      QCOMPARE(threadOf(o.pattern), threadOf(p));
      QVERIFY(o.colour_changes_after <= o.colour_changes_before);
      QVERIFY(static_cast<size_t>(o.lower_bound) <= o.colour_changes_after);
      std::vector<size_t> place(o.order.size());
      for (size_t k = 0; k < o.order.size(); ++k) place[static_cast<size_t>(o.order[k])] = k;
      const auto pairs = overlappingBlocks(p, blocksOf(p));
      for (const auto& [early, late] : pairs)
        QVERIFY(place[static_cast<size_t>(early)] < place[static_cast<size_t>(late)]);
      QCOMPARE(o.kept_overlaps, pairs.size());
      QCOMPARE(overlappingBlocks(o.pattern, blocksOf(o.pattern)).size(), pairs.size());
    }
  }
  void orderingTwiceChangesNothingMore() {
    std::mt19937 random = testing::seeded(504);
    for (int i = 0; i < 15; ++i) {
      const Ordered once = orderColours(randomPatches(random, 12, 3, 50));
      const Ordered twice = orderColours(once.pattern);
      QCOMPARE(twice.colour_changes_before, once.colour_changes_after);
      QCOMPARE(twice.colour_changes_after, once.colour_changes_after);
    }
  }
  void aLostColourChangeStaysACut() {
    // without trims: the two red blocks end up side by side and must not be sewn together
    const Pattern p = patternFrom(
        "#ff0000 stitch 0,0 stitch 5,0 #00ff00 stitch 6,0 stitch 9,0 #ff0000 stitch 10,0 stitch "
        "12,0");
    const Ordered o = orderColours(p);
    QCOMPARE(o.colour_changes_after, size_t{1});
    QCOMPARE(threadOf(o.pattern), threadOf(p));
    QCOMPARE(blocksOf(o.pattern).size(), size_t{3});
  }
  void anOperatorsStopIsAFence() {
    const Pattern p = patternFrom(
        "#ff0000 jump 0,0 stitch 5,0 #00ff00 jump 20,0 stitch 25,0 stop jump 29,0 stitch 33,0 "
        "#ff0000 jump 40,0 stitch 45,0");
    const Ordered o = orderColours(p);
    QCOMPARE(o.colour_changes_after, size_t{2});
    size_t stop = 0;
    while (o.pattern.stitches[stop].op != Op::Stop) ++stop;
    for (size_t row = 0; row < o.pattern.stitches.size(); ++row)
      if (const Stitch& s = o.pattern.stitches[row]; s.op == Op::Stitch)
        QCOMPARE(s.at.x > 28, row > stop);
  }
  void aStopForAColourGoesWithTheColour() {
    const Pattern p = patternFrom(
        "#ff0000 jump 0,0 stitch 5,0 stop #00ff00 jump 20,0 stitch 25,0 stop #ff0000 jump 40,0 "
        "stitch 45,0");
    const Ordered o = orderColours(p);
    QCOMPARE(o.colour_changes_after, size_t{1});
    QCOMPARE(std::count_if(o.pattern.stitches.begin(), o.pattern.stitches.end(),
                           [](const Stitch& s) { return s.op == Op::Stop; }),
             std::ptrdiff_t{1});
  }
  void bastingStaysFirst() {
    testing::BlockMaker m;
    m.colour = {0xffffff};
    m.sew({{0, 0}, {30, 0}, {30, 30}}, Kind::Basting);
    m.colour = {0x0000ff};
    m.run({{100, 0}, {104, 0}});
    m.colour = {0xffffff};
    m.run({{120, 0}, {124, 0}});
    m.colour = {0x0000ff};
    m.run({{140, 0}, {144, 0}});
    const Ordered o = orderColours(m.pattern);
    QCOMPARE(blocksOf(o.pattern)[0].kind, Kind::Basting);
    QCOMPARE(o.colour_changes_after, size_t{1});
  }
  void fiveHundredBlocksGetABoundedPlan() {
    std::mt19937 random = testing::seeded(505);
    const Pattern p = randomPatches(random, 500, 12, 160);
    const Ordered o = orderColours(p);
    QCOMPARE(blockPrints(o.pattern), blockPrints(p));
    QVERIFY(o.colour_changes_after * 4 < o.colour_changes_before);
    QVERIFY(o.lower_bound >= 11);
    qInfo("500 blocks: %zu changes to %zu, bound %d", o.colour_changes_before,
          o.colour_changes_after, o.lower_bound);
  }
  void ordersByHandAreTakenOrRefusedWithTheReason() {
    const Pattern p = patternFrom(
        "#ff0000 jump 0,0 stitch 9,0 #00ff00 jump 3,-3 stitch 3,3 #0000ff jump 40,0 stitch 45,0");
    QCOMPARE(threadOf(inOrder(p, {2, 0, 1})), threadOf(p));
    try {
      inOrder(p, {1, 0, 2});
      QFAIL("no error");
    } catch (const Error& e) {
      QVERIFY(e.problem().find("block 2 lies on block 1") != std::string::npos);
    }
    for (const std::vector<int>& bad :
         std::vector<std::vector<int>>{{0, 1}, {0, 0, 1}, {0, 1, 3}, {}})
      QVERIFY_THROWS_EXCEPTION(Error, inOrder(p, bad));
  }
};

RT_TEST(TestOrder)

}  // namespace test_order
#include "test_order.moc"
