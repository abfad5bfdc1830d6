#include <QtTest>
#include <algorithm>

#include "hand_order.h"
#include "making_words.h"
#include "overlap.h"
#include "patches.h"
#include "run.h"

namespace test_hand_order {

using namespace rt;
using testing::between;
using testing::blockPrints;
using testing::patternFrom;
using testing::randomPatches;

namespace {

std::vector<Colour> coloursOf(const std::vector<ColourRun>& runs) {
  std::vector<Colour> out;
  for (const ColourRun& r : runs) out.push_back(r.colour);
  return out;
}

/// Which colours lie on which, by the blocks' own prints: an order must not change it.
std::multiset<std::array<double, 4>> overlapsOf(const Pattern& p) {
  std::multiset<std::array<double, 4>> out;
  const std::vector<Block> blocks = blocksOf(p);
  for (const auto& [a, b] : overlappingBlocks(p, blocks)) {
    const Point from = blocks[static_cast<size_t>(a)].entry,
                to = blocks[static_cast<size_t>(b)].entry;
    out.insert({from.x, from.y, to.x, to.y});
  }
  return out;
}

}  // namespace

class TestHandOrder : public QObject {
  Q_OBJECT
 private slots:
  void nothingSewnHasNoRuns() {
    QVERIFY(colourRuns({}).empty());
    QVERIFY(inColourOrder({}, {{0xff0000}}).why == std::nullopt);
  }
  void runsCountWhatIsSewnInOneThread() {
    const Pattern p = patternFrom(
        "#ff0000 jump 0,0 stitch 5,0 trim jump 20,0 stitch 22,0 stitch 25,0 #00ff00 jump 40,0 "
        "stitch 45,0 #ff0000 jump 60,0 stitch 65,0 end");
    const std::vector<ColourRun> runs = colourRuns(p);
    QCOMPARE(runs.size(), size_t{3});
    QCOMPARE(runs[0].blocks, size_t{2});
    QCOMPARE(runs[0].stitches, size_t{3});
    QVERIFY(runs[2].colour == Colour{0xff0000});
  }
  void whatLiesApartIsSewnAsWished() {
    const Pattern p = patternFrom(
        "#ff0000 jump 0,0 stitch 5,0 #00ff00 jump 20,0 stitch 25,0 #0000ff jump 40,0 stitch 45,0 "
        "end");
    const std::vector<Colour> wish{{0x0000ff}, {0xff0000}, {0x00ff00}};
    const HandOrder o = inColourOrder(p, wish);
    QVERIFY(!o.why);
    QVERIFY(coloursOf(colourRuns(o.pattern)) == wish);
  }
  void whatLiesOnAnotherIsRefusedByName() {
    testing::BlockMaker m;
    m.colour = {0x2f5d50};
    m.fill({0, 0, 20, 20}, 0.5, 3, true);
    m.colour = {0x8a5a2b};
    m.fill({5, 5, 15, 15}, 0.5, 3, true);
    Pattern p = m.pattern;
    p.pieces = {"", "reeds", "heron"};
    for (Stitch& s : p.stitches) s.piece = s.thread == 0 ? 1 : 2;
    const HandOrder o = inColourOrder(p, {{0x8a5a2b}, {0x2f5d50}});
    QVERIFY(o.why);
    QCOMPARE(inWords(*o.why).find("heron in #8a5a2b lies on reeds in #2f5d50"), size_t{0});
    QVERIFY(colourRuns(o.pattern)[0].colour == Colour{0x2f5d50});  // and nothing is turned over
  }
  void theRunsThatAreThereAreAWishThatHolds() {
    std::mt19937 random = testing::seeded(551);
    for (int i = 0; i < 60; ++i) {
      const Pattern p = randomPatches(random, 2 + static_cast<int>(random() % 14), 4, 40);
      const std::vector<Colour> now = coloursOf(colourRuns(p));
      const HandOrder o = inColourOrder(p, now);
      QVERIFY(!o.why);
      QVERIFY(colourRuns(o.pattern).size() <=
              now.size());  // a colour may go earlier where it is free
      QVERIFY(blockPrints(o.pattern) == blockPrints(p));
    }
  }
  void noWishTurnsAnOverlapOverOrLosesABlock() {
    std::mt19937 random = testing::seeded(552);
    size_t refused = 0, done = 0;
    for (int i = 0; i < 150; ++i) {
      const Pattern p =
          randomPatches(random, 3 + static_cast<int>(random() % 16), 5, between(random, 20, 120));
      std::vector<Colour> wish = p.threads;
      std::shuffle(wish.begin(), wish.end(), random);
      if (i % 3 == 0) wish.resize(1 + random() % wish.size());
      const HandOrder o = inColourOrder(p, wish);
      QVERIFY(blockPrints(o.pattern) == blockPrints(p));
      QVERIFY(overlapsOf(o.pattern) == overlapsOf(p));
      (!o.why ? done : refused) += 1;
      if (wish.size() == p.threads.size())
        QCOMPARE(coloursOf(colourRuns(o.pattern)) == wish, !o.why);
    }
    QVERIFY(refused > 20 && done > 20);
  }
  void aStopThatAPersonAskedForStays() {
    Pattern p = patternFrom(
        "#ff0000 jump 0,0 stitch 5,0 stop #00ff00 jump 20,0 stitch 25,0 #ff0000 jump 40,0 "
        "stitch 45,0 end");
    for (Stitch& s : p.stitches)
      if (s.op == Op::Stop) s.kind = Kind::Mark;
    const HandOrder o = inColourOrder(p, {{0x00ff00}, {0xff0000}});
    QCOMPARE(countRows(o.pattern.stitches, Op::Stop), size_t{1});
    QVERIFY(o.why && inWords(*o.why).find("comes after a wait") != std::string::npos);
    QVERIFY(colourRuns(o.pattern)[0].colour == Colour{0xff0000});
  }
};

RT_TEST(TestHandOrder)

}  // namespace test_hand_order
#include "test_hand_order.moc"
