// Measuring with points: arcs, angles, lines.
#include <QtTest>

#include "gauge.h"
#include "random_pattern.h"
#include "run.h"

namespace test_gauge {

using namespace rt;
using testing::between;

class TestGauge : public QObject {
  Q_OBJECT

  static Point onCircle(Point centre, double radius, double angle) {
    return centre + Point{std::cos(angle), std::sin(angle)} * radius;
  }

 private slots:
  void arcsAreFoundFromTheirPoints() {
    std::mt19937 random = testing::seeded(21);
    for (int round = 0; round < 300; ++round) {
      const Point centre{between(random, -500, 500), between(random, -500, 500)};
      const double radius = std::exp(between(random, std::log(5), std::log(2000)));
      const double begin = between(random, -3, 3);
      const double span = between(random, 0.2, 5.5) * (random() % 2 ? 1 : -1);
      const int count = 3 + static_cast<int>(random() % 5);
      std::vector<Point> points;
      for (int i = 0; i < count; ++i)
        points.push_back(onCircle(centre, radius, begin + span * i / (count - 1)));
      const auto arc = arcThrough(points);
      QVERIFY(arc);
      if (std::abs(span) / (count - 1) >= 3.1) continue;  // which way round is not told by so few
      QVERIFY2(std::abs(arc->radius_mm - radius) < 1e-6 * radius,
               qPrintable(QString::number(round)));
      QVERIFY(distance(arc->centre, centre) < 1e-6 * radius);
      QVERIFY(arc->rms_mm < 1e-6 * radius);
      QVERIFY(distance(arc->middle, onCircle(centre, radius, begin + span / 2)) < 1e-5 * radius);
      QVERIFY(std::abs(arc->chord_mm - 2 * radius * std::abs(std::sin(span / 2))) < 1e-5 * radius);
      QVERIFY(std::abs(arc->sagitta_mm - radius * (1 - std::cos(span / 2))) < 1e-5 * radius);
    }
  }

  void pointsThatAreOffFitBest() {
    std::mt19937 random = testing::seeded(22);
    for (int round = 0; round < 40; ++round) {
      const double radius = between(random, 40, 120);
      std::vector<Point> points;
      for (int i = 0; i < 9; ++i)
        points.push_back(onCircle({3, 4}, radius + between(random, -0.2, 0.2), 0.2 * i));
      const auto arc = arcThrough(points);
      QVERIFY(arc);
      QVERIFY(arc->rms_mm > 0 && arc->rms_mm < 0.2);
      // no circle near it is better
      const auto rms = [&](Point centre, double r) {
        double sum = 0;
        for (Point p : points) sum += std::pow(distance(p, centre) - r, 2);
        return std::sqrt(sum / 9);
      };
      for (const auto& [dx, dy, dr] : {std::array{0.05, 0., 0.}, {0., 0.05, 0.}, {0., 0., 0.05}})
        for (double sign : {-1.0, 1.0})
          QVERIFY(rms(arc->centre + Point{dx, dy} * sign, arc->radius_mm + dr * sign) >=
                  arc->rms_mm - 1e-12);
    }
  }

  void whatIsNoArcIsNone() {
    QVERIFY(!arcThrough(std::vector<Point>{}));
    QVERIFY(!arcThrough(std::vector<Point>{{0, 0}, {1, 1}}));
    QVERIFY(!arcThrough(std::vector<Point>{{0, 0}, {50, 50}, {100, 100}}));
    QVERIFY(!arcThrough(std::vector<Point>{{7, 7}, {7, 7}, {7, 7}}));
    QVERIFY(!arcThrough(std::vector<Point>{{0, 0}, {1, NAN}, {2, 0}}));
  }

  void anglesAndLines() {
    std::mt19937 random = testing::seeded(23);
    for (int round = 0; round < 200; ++round) {
      const Point v{between(random, -50, 50), between(random, -50, 50)};
      const double turn = between(random, -3, 3), angle = between(random, 0.01, 3.1);
      const double r = between(random, 1, 90), s = between(random, 1, 90);
      const Point a = onCircle(v, r, turn), b = onCircle(v, s, turn + angle);
      QVERIFY(std::abs(angleBetween_deg(a, v, b) - degrees(angle)) < 1e-8);
      QVERIFY(std::abs(offLine_mm(b, v, a) - s * std::sin(angle)) < 1e-9 * s + 1e-9);
    }
    QCOMPARE(angleBetween_deg({1, 1}, {1, 1}, {2, 2}), 0.0);
    QCOMPARE(offLine_mm({3, 4}, {0, 0}, {0, 0}), 5.0);
  }
};

RT_TEST(TestGauge)

}  // namespace test_gauge
#include "test_gauge.moc"
