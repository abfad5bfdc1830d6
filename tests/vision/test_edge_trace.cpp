// Edges of cloth found along rough strokes.
#include <QtTest>

#include "edge_trace.h"
#include "random_pattern.h"
#include "run.h"

namespace test_edge_trace {

using namespace rt;
using testing::between;

class TestEdgeTrace : public QObject {
  Q_OBJECT

  /// Two cloths that meet along a curve, with weave and noise.
  template <class Edge>
  static FlatPicture pictured(std::mt19937& random, double contrast, Edge&& edge) {
    FlatPicture p;
    p.step_mm = 0.15;
    p.width = 800, p.height = 600;
    p.plane = {-60, -45, -60 + 0.15 * 799, -45 + 0.15 * 599};
    std::normal_distribution<double> noise(0, 3);
    for (int y = 0; y < p.height; ++y)
      for (int x = 0; x < p.width; ++x) {
        const Point at{p.plane.left + x * p.step_mm, p.plane.top + y * p.step_mm};
        const double weave = 4 * std::sin(at.x * 9) * std::sin(at.y * 9);
        const double level = 150 + weave + (at.y > edge(at.x) ? contrast : 0) + noise(random);
        for (int c = 0; c < 3; ++c)
          p.bgr.push_back(static_cast<uint8_t>(std::clamp(level, 0.0, 255.0)));
      }
    return p;
  }

 private slots:
  void anEdgeIsFoundFromARoughStroke() {
    std::mt19937 random = testing::seeded(481);
    for (int round = 0; round < 8; ++round) {
      const double bow = between(random, -0.006, 0.006), slope = between(random, -0.3, 0.3);
      const double up = between(random, -10, 10);
      const auto edge = [&](double x) { return up + slope * x + bow * x * x; };
      const FlatPicture p =
          pictured(random, between(random, 14, 60) * (random() % 2 ? 1 : -1), edge);
      std::vector<Point> stroke;
      for (double x = -45; x <= 45; x += 6)
        stroke.push_back({x, edge(x) + between(random, -1.5, 1.5)});
      const std::vector<Point> found = edgeAlong(p, stroke, 3);
      QVERIFY(found.size() > 80);
      double sum = 0;
      for (size_t i = 0; i < found.size(); ++i) {
        const Point at = found[i];
        const double off = std::abs(at.y - edge(at.x)) / std::hypot(1.0, slope + 2 * bow * at.x);
        sum += off;
        // at its ends an edge is told by one side only
        const double most = i < 2 || i + 2 >= found.size() ? 1.2 : 0.5;
        QVERIFY2(off < most, qPrintable(QString("%1 at %2").arg(off).arg(at.x)));
      }
      QVERIFY2(sum / static_cast<double>(found.size()) < 0.12,
               qPrintable(QString::number(sum / static_cast<double>(found.size()))));
    }
  }

  void whereThereIsNoEdgeTheStrokeIsFollowed() {
    std::mt19937 random = testing::seeded(482);
    const FlatPicture p = pictured(random, 0, [](double) { return 0.0; });
    const std::vector<Point> found = edgeAlong(p, {{-40, 3}, {40, 3}}, 3);
    QVERIFY(found.size() >= 80);
    for (Point at : found) QVERIFY(std::abs(at.y - 3) <= 3.01);
  }

  void strokesThatAreNoneGiveNothing() {
    std::mt19937 random = testing::seeded(483);
    const FlatPicture p = pictured(random, 40, [](double) { return 0.0; });
    QVERIFY(edgeAlong(p, {}, 3).empty());
    QVERIFY(edgeAlong(p, {{1, 1}}, 3).empty());
    QVERIFY(edgeAlong(p, {{1, 1}, {1, 1}}, 3).empty());
    QVERIFY(edgeAlong(p, {{0, 0}, {900, 0}}, 3).empty());
    QVERIFY(edgeAlong({}, {{0, 0}, {9, 0}}, 3).empty());
  }
};

RT_TEST(TestEdgeTrace)

}  // namespace test_edge_trace
#include "test_edge_trace.moc"
