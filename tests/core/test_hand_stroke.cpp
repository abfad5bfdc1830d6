#include <QtTest>

#include "hand_stroke.h"
#include "random_pattern.h"
#include "run.h"

namespace test_hand_stroke {

using namespace rt;
using testing::between;

class TestHandStroke : public QObject {
  Q_OBJECT
 private slots:
  void fewPointsGiveNothing() {
    QVERIFY(handStroke({}).points.empty());
    QVERIFY(handStroke({{1, 1}}).points.empty());
    QVERIFY(handStroke({{1, 1}, {1, 1}}).points.empty());
    QCOMPARE(handStroke({{0, 0}, {5, 0}}).points.size(), size_t{2});
  }
  void thinnedLinesStayNear() {
    std::mt19937 random = testing::seeded(421);
    for (int i = 0; i < 100; ++i) {
      std::vector<Point> line{{0, 0}};
      for (int k = 0; k < 200; ++k)
        line.push_back(line.back() + Point{between(random, -1, 2), between(random, -1, 1)});
      const std::vector<Point> thin = thinned(line, 0.7);
      QVERIFY(thin.size() <= line.size());
      QVERIFY(thin.front() == line.front() && thin.back() == line.back());
      for (Point p : line) {
        double least = INFINITY;
        for (size_t k = 1; k < thin.size(); ++k)
          least = std::min(least, pointSegmentDistance(p, thin[k - 1], thin[k]));
        QVERIFY(least <= 0.7 + 1e-9);
      }
    }
  }
  void aShakyArcBecomesSmooth() {
    std::mt19937 random = testing::seeded(422);
    std::vector<Point> drawn;
    for (int deg = 0; deg <= 180; deg += 2)
      drawn.push_back(Transform::turning(deg)(Point{-40 + between(random, -0.1, 0.1), 0}));
    const HandStroke s = handStroke(drawn);
    QVERIFY(!s.closed);
    for (Point p : s.points) QVERIFY(std::abs(length(p) - 40) < 0.6);
    for (size_t k = 2; k < s.points.size(); ++k) {  // no kinks
      const Point a = s.points[k - 1] - s.points[k - 2], b = s.points[k] - s.points[k - 1];
      QVERIFY(std::abs(degrees(std::atan2(cross(a, b), dot(a, b)))) < 20);
    }
  }
  void cornersStayAndEndsClose() {
    std::vector<Point> square;
    const Point corner[5] = {{0, 0}, {30, 0}, {30, 30}, {0, 30}, {0, 1}};
    for (int side = 0; side < 4; ++side)
      for (int k = 0; k < 30; ++k) square.push_back(mix(corner[side], corner[side + 1], k / 30.0));
    const HandStroke s = handStroke(square);
    QVERIFY(s.closed);
    QVERIFY(s.points.front() == s.points.back());
    for (int c = 1; c < 4; ++c) {
      double least = INFINITY;
      for (Point p : s.points) least = std::min(least, distance(p, corner[c]));
      QVERIFY(least < 0.5);
    }
  }
};

RT_TEST(TestHandStroke)

}  // namespace test_hand_stroke
#include "test_hand_stroke.moc"
