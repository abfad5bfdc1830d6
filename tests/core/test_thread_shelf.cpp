#include <QtTest>

#include "drawn_blocks.h"
#include "random_pattern.h"
#include "run.h"
#include "statistics.h"
#include "thread_shelf.h"

namespace test_thread_shelf {

using namespace rt;
using testing::between;

namespace {

Colour any(std::mt19937& random) {
  return {static_cast<uint32_t>(random() & 0xffffff)};
}

std::vector<ShelfThread> shelf() {
  return {{"1", "reed", {0x5a6e2c}, 0}, {"2", "mist", {0x8fa6b8}, 0}, {"3", "peat", {0x2a2320}, 0}};
}

}  // namespace

class TestThreadShelf : public QObject {
  Q_OBJECT
 private slots:
  void differencesAreADistance() {
    std::mt19937 random = testing::seeded(261);
    for (int i = 0; i < 500; ++i) {
      const Colour a = any(random), b = any(random);
      QVERIFY(colourDifference(a, a) < 1e-9);
      QVERIFY(std::abs(colourDifference(a, b) - colourDifference(b, a)) < 1e-9);
      QVERIFY(std::isfinite(colourDifference(a, b)) && colourDifference(a, b) >= 0);
    }
  }
  void knownDifferences() {
    // black to white is the whole lightness scale; one step of a byte is hardly seen
    QVERIFY(std::abs(colourDifference({0x000000}, {0xffffff}) - 100) < 0.01);
    QVERIFY(colourDifference({0x808080}, {0x818181}) < 0.5);
    // of pure red, green and blue the last two lie farther apart in this measure's figures
    QVERIFY(std::abs(colourDifference({0xff0000}, {0x00ff00}) - 86.61) < 0.1);
    QVERIFY(std::abs(colourDifference({0xff0000}, {0x0000ff}) - 52.88) < 0.1);
    QVERIFY(std::abs(colourDifference({0x00ff00}, {0x0000ff}) - 83.19) < 0.1);
  }
  void greysDifferByLightnessAlone() {
    for (int v = 0; v < 240; v += 15) {
      const uint32_t a = static_cast<uint32_t>(v) * 0x010101, b = a + 0x0f0f0f;
      QVERIFY(colourDifference({a}, {b}) > 0.5);
    }
  }
  void theNearestIsNearest() {
    std::mt19937 random = testing::seeded(262);
    for (int i = 0; i < 200; ++i) {
      const Colour c = any(random);
      const std::vector<ShelfThread> all = shelf();
      const ShelfMatch m = *nearestThread(all, c);
      for (const ShelfThread& t : all) QVERIFY(m.difference <= colourDifference(t.colour, c));
    }
    QVERIFY(!nearestThread({}, {0}));
  }
  void patternsGoToTheShelfAndLoseNothing() {
    std::mt19937 random = testing::seeded(263);
    const Pattern p = testing::wander(random, 3000, 60);
    const Pattern q = onShelf(p, shelf());
    QCOMPARE(q.stitches.size(), p.stitches.size());
    QVERIFY(q.threads.size() <= 3);
    for (size_t i = 0; i < p.stitches.size(); ++i) {
      QCOMPARE(q.stitches[i].at, p.stitches[i].at);
      QCOMPARE(q.colourOf(q.stitches[i]),
               nearestThread(shelf(), p.colourOf(p.stitches[i]))->thread->colour);
    }
    QCOMPARE(onShelf(p, {}), p);
  }
  void needsAddUpToTheWhole() {
    std::mt19937 random = testing::seeded(264);
    const Pattern p = testing::wander(random, 4000, 80);
    double top = 0;
    size_t stitches = 0;
    for (const ThreadNeed& n : threadNeeds(p, {0.8})) {
      top += n.top_mm;
      stitches += n.stitches;
      QVERIFY(std::abs(n.bobbin_mm - SewingRules{}.bobbin_share * n.top_mm) < 1e-9);
    }
    const double laid = statisticsOf(p, {}).thread_mm;
    QVERIFY(std::abs(top - laid - 1.6 * static_cast<double>(stitches)) < 1e-6 * top);
  }
  void theBobbinRunsOutWhereItIsUsedUp() {
    testing::BlockMaker make;
    make.fill({0, 0, 40, 40}, 0.4, 3.5);
    double all = 0;
    for (const ThreadNeed& n : threadNeeds(make.pattern, {0.5})) all += n.bobbin_mm;
    QVERIFY(!bobbinRunsOutAt(make.pattern, {0.5}, all + 1));
    const auto half = bobbinRunsOutAt(make.pattern, {0.5}, all / 2);
    QVERIFY(half);
    Pattern first = make.pattern;
    first.stitches.resize(*half + 1);
    double used = 0;
    for (const ThreadNeed& n : threadNeeds(first, {0.5})) used += n.bobbin_mm;
    QVERIFY(used > all / 2 && used < all / 2 + 3);
  }
};

RT_TEST(TestThreadShelf)

}  // namespace test_thread_shelf
#include "test_thread_shelf.moc"
