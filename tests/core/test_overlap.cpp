#include <QtTest>

#include "overlap.h"
#include "random_pattern.h"
#include "run.h"

namespace test_overlap {

using namespace rt;
using testing::patternFrom;

class TestOverlap : public QObject {
  Q_OBJECT
 private slots:
  void crossingBlocksOverlap() {
    const Pattern p = patternFrom("jump 0,0 stitch 10,0 trim jump 5,-5 stitch 5,5");
    QCOMPARE(overlappingBlocks(p, blocksOf(p)).size(), size_t{1});
  }
  void blocksApartDoNotThoughTheirBoxesMeet() {
    const Pattern p = patternFrom("jump 0,0 stitch 10,10 trim jump 1,0 stitch 10,9");
    QVERIFY(overlappingBlocks(p, blocksOf(p)).empty());
  }
  void threadsCloserThanTheirWidthShareArea() {
    const Pattern near = patternFrom("jump 0,0 stitch 10,0 trim jump 0,0.39 stitch 10,0.39");
    const Pattern far = patternFrom("jump 0,0 stitch 10,0 trim jump 0,0.41 stitch 10,0.41");
    QCOMPARE(overlappingBlocks(near, blocksOf(near)).size(), size_t{1});
    QVERIFY(overlappingBlocks(far, blocksOf(far)).empty());
  }
  void agreesWithTryingAllPairs() {
    std::mt19937 random = testing::seeded(31);
    for (int round = 0; round < 15; ++round) {
      const Pattern p = testing::wander(random, 400, 50);
      const std::vector<Block> blocks = blocksOf(p);
      std::vector<std::vector<std::pair<Point, Point>>> thread(blocks.size());
      forEachSegment(p, [&](Point a, Point b, size_t row) {
        for (size_t k = 0; k < blocks.size(); ++k)
          if (row >= blocks[k].first && row < blocks[k].last) thread[k].emplace_back(a, b);
      });
      std::vector<std::pair<int, int>> slow;
      for (size_t i = 0; i < blocks.size(); ++i)
        for (size_t j = i + 1; j < blocks.size(); ++j) {
          bool meets = false;
          for (const auto& [a0, a1] : thread[i])
            for (const auto& [b0, b1] : thread[j])
              meets = meets || segmentDistance(a0, a1, b0, b1) < kThreadWidth_mm;
          if (meets) slow.emplace_back(static_cast<int>(i), static_cast<int>(j));
        }
      QVERIFY(overlappingBlocks(p, blocks) == slow);
    }
  }
};

RT_TEST(TestOverlap)

}  // namespace test_overlap
#include "test_overlap.moc"
