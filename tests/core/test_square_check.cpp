// Three lengths that say whether hand-drawn lines are square.
#include <QtTest>

#include "random_pattern.h"
#include "run.h"
#include "square_check.h"

namespace test_square_check {

using namespace rt;

class TestSquareCheck : public QObject {
  Q_OBJECT
 private slots:
  void largeLayoutsAreHeldAgainstThreeFourFive() {
    const SquareCheck c = squareCheckFor({-250, -150, 250, 150});
    QCOMPARE(c.along_mm, 200.0);
    QCOMPARE(c.up_mm, 150.0);
    QCOMPARE(c.diagonal_mm, 250.0);
    QVERIFY(std::abs(c.per_half_degree_mm - 1.047) < 0.01);
    QVERIFY(std::abs(c.costs_mm - 2.182) < 0.001);
    const SquareCheck tall = squareCheckFor({-150, -250, 150, 250});
    QVERIFY(tall.along_mm == 150 && tall.up_mm == 200);
  }
  void armsStayWithinTheLayoutAndTellTheAngle() {
    std::mt19937 random = testing::seeded(905);
    for (int i = 0; i < 200; ++i) {
      const Box box{-testing::between(random, 1, 400), -testing::between(random, 1, 400),
                    testing::between(random, 1, 400), testing::between(random, 1, 400)};
      const SquareCheck c = squareCheckFor(box);
      QVERIFY(c.along_mm <= std::max(-box.left, box.right) + 1e-9);
      QVERIFY(c.up_mm <= std::max(-box.top, box.bottom) + 1e-9);
      // lines at 90.5 degrees, drawn out: the diagonal is longer by what is said
      const Point end = Transform::turning(-90.5)({c.up_mm, 0});
      QVERIFY(std::abs(distance({c.along_mm, 0}, end) - c.diagonal_mm - c.per_half_degree_mm) <
              1e-6);
    }
  }
  void nothingAndALineHaveNoSquare() {
    QCOMPARE(squareCheckFor({}).diagonal_mm, 0.0);
    QCOMPARE(squareCheckFor({-10, 0, 10, 0}).diagonal_mm, 0.0);
  }
};

RT_TEST(TestSquareCheck)

}  // namespace test_square_check
#include "test_square_check.moc"
