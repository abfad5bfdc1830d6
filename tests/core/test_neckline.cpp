#include <QtTest>

#include "data_folder.h"
#include "error.h"
#include "faces.h"
#include "neckline.h"
#include "random_pattern.h"
#include "run.h"

namespace test_neckline {

using namespace rt;
using testing::between;

class TestNeckline : public QObject {
  Q_OBJECT
  Face face_ = loadFace(dataFolder(), "plain-stroke");

 private slots:
  void pointsOnALineAreRefused() {
    NecklineOptions n;
    n.picked = {Point{0, 0}, Point{10, 0}, Point{20, 0}};
    QVERIFY_THROWS_EXCEPTION(Error, fitNeckline("FEN", face_, {}, n));
  }
  /// Laid with the fit, every letter stands `away` from the curve and within its flat part.
  void lettersFollowTheCurve() {
    std::mt19937 random = testing::seeded(411);
    for (int i = 0; i < testing::rounds(10); ++i) {
      const double radius = between(random, 80, 300), half = between(random, 20, 55);
      const bool hangs = i % 2 == 0;
      const Point centre{between(random, -8, 8), between(random, -40, 40)};
      const auto at = [&](double deg) {
        return centre + Transform::turning(hangs ? deg : -deg)(Point{0, hangs ? radius : -radius});
      };
      NecklineOptions n;
      n.picked = {at(half), at(between(random, -5, 5)), at(-half)};
      n.away_mm = between(random, 3, 15);
      const NecklineFit fit = fitNeckline("REED", face_, {}, n);
      QCOMPARE(fit.side, hangs ? ArcSide::Inside : ArcSide::Outside);
      QVERIFY(fit.text_mm <= fit.room_mm + 1e-6);
      LetterOptions o;
      o.height_mm = fit.height_mm;
      o.arc_radius_mm = fit.radius_mm;
      o.arc_side = fit.side;
      const Lettering set = letter("REED", face_, o);
      const Transform to = transformOf(fit.place);
      double nearest = INFINITY;
      forEachSegment(set.pattern, [&](Point, Point b, size_t) {
        nearest = std::min(nearest, distance(to(b), centre) - radius);
      });
      QVERIFY2(std::abs(nearest - n.away_mm) < 0.4 + 0.02 * fit.height_mm,
               qPrintable(QString("%1 for %2").arg(nearest).arg(n.away_mm)));
      for (const PlacedGlyph& g : set.glyphs) {
        const Point way = to(g.at) - centre;
        const double deg = degrees(std::atan2(way.x, hangs ? way.y : -way.y));
        QVERIFY(std::abs(deg) <= half + 0.5);
      }
      if (fit.on_centre_line) QVERIFY(std::abs(fit.place.at.x) < 1 + fit.radius_mm / radius * 1.0);
    }
  }
  void theNextLargerHeightWouldNotFit() {
    NecklineOptions n;
    n.picked = {Point{-60, -20}, Point{0, 0}, Point{60, -20}};
    const NecklineFit fit = fitNeckline("QUILLFEN", face_, {}, n);
    LetterOptions o;
    o.height_mm = fit.height_mm + 0.2;
    const double room = fit.room_mm * (fit.radius_mm + 0.2) / fit.radius_mm;
    QVERIFY(letter("QUILLFEN", face_, o).advance_mm > room - 0.3);
    QVERIFY(pastTheFlatPart("QUILLFEN", face_, o, 40).size() >= 2);
    QVERIFY(pastTheFlatPart("QUILLFEN", face_, o, 400).empty());
  }
};

RT_TEST(TestNeckline)

}  // namespace test_neckline
#include "test_neckline.moc"
