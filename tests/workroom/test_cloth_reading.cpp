// The whole way round on cloth of springs that the program knows nothing of: a swatch is sewn,
// photographed and learned from, and other layouts then lie as they were foretold and drawn.
#include <QtTest>

#include "cloth_compensation.h"
#include "cloth_file.h"
#include "cloth_reading.h"
#include "cloth_swatch.h"
#include "data_folder.h"
#include "error.h"
#include "row_fill.h"
#include "run.h"
#include "satin.h"
#include "sewn_places.h"
#include "springs.h"

namespace test_cloth_reading {

using namespace rt;
using testing::between;

const Field kFrame{84, 76};

std::vector<TagPlace> tags() {
  return {{500, {-54, -50}, 0}, {501, {54, -50}, 0}, {502, {54, 50}, 0}, {503, {-54, 50}, 0}};
}

std::vector<Photo> photosOf(const Scene& scene, std::mt19937& random, int count) {
  return testing::photosOf(scene, random, count, 215, 1800);
}

PhotoSetup setup() {
  PhotoSetup s;
  s.base.field = kFrame;
  s.hoop_tags = tags();
  return s;
}

/// A block with its outline, and columns about it.
Pattern layout() {
  Pattern p;
  FillOptions fill;
  fill.pull_mm = 0, fill.angle_deg = 20;
  Ring ring;
  const Box box = Box::around({0, 6}, 44, 22);
  for (int i = 0; i < 4; ++i) ring.push_back(box.corner(i));
  appendStrands(p, fillRows({ring}, fill, box.corner(0)), {{1}, "block"});
  SatinOptions satin;
  satin.pull_mm = 0;
  for (int i = 0; i < 4; ++i) {
    const std::vector<Point> line{{-30.0 + 18 * i, -30}, {-26.0 + 18 * i, -14}};
    appendStrands(p, std::vector<Strand>{tidied(satinAlong(line, 2.0 + i, satin))}, {{2}, "bar"});
  }
  ring.push_back(ring.front());
  Strand run;
  run.add(ring.front(), Kind::Run);
  runAlong(run, ring, 2, Kind::Run);
  appendStrands(p, std::vector<Strand>{run}, {{3}, "outline"});
  return p;
}

Distances distancesBetween(const Pattern& rows, const std::vector<Point>& a,
                           const std::function<Point(size_t)>& b) {
  std::vector<double> mm;
  for (size_t row = 0; row < rows.stitches.size(); ++row)
    if (rows.stitches[row].op == Op::Stitch) mm.push_back(distance(a[row], b(row)));
  return distancesOf(mm);
}

class TestClothReading : public QObject {
  Q_OBJECT

 private slots:
  /// Pieces of thread that lie off by amounts of their own are found there.
  void elementsAreFoundWhereTheyLie() {
    std::mt19937 random = testing::seeded(921);
    const Pattern swatch = clothSwatch(60, 60, 0.4, 0.4).pattern;
    const std::vector<SewnElement> elements = sewnElements(swatch);
    QVERIFY(elements.size() > 120);
    const std::vector<size_t> shapes = shapesOfRows(swatch);
    std::map<size_t, Point> by;
    for (size_t shape : shapes)
      by.try_emplace(shape, Point{between(random, -0.3, 0.3), between(random, -0.3, 0.3)});
    std::vector<Point> lies(swatch.stitches.size());
    for (size_t row = 0; row < lies.size(); ++row)
      lies[row] = swatch.stitches[row].at + by[shapes[row]];
    const Photo photo = photosOf(testing::sceneOf(swatch, lies, tags()), random, 1)[0];
    const Plane plane = *readPhoto(photo, setup()).found.plane;
    const auto places = sewnPlaces(photo, plane, swatch, elements, {0.9, 1.0});
    QVERIFY(places.size() > elements.size() * 3 / 5);
    std::vector<double> off;
    for (const SewnPlace& p : places) {
      const double a = radians(p.covariance.longAxis_deg());
      const Point d = p.by - by[shapes[elements[p.element].rows.front()]];
      off.push_back(std::abs(cross(Point{std::cos(a), std::sin(a)}, d)));
    }
    const Distances d = distancesOf(off);
    QVERIFY2(d.median_mm < 0.05, qPrintable(QString::number(d.median_mm)));
  }

  void aSwatchTeachesItsCloth() {
    std::mt19937 random = testing::seeded(922);
    const Pattern swatch = clothSwatch(60, 60, 0.4, 0.4).pattern;
    const ClothMake make = clothMake("jersey", 2);
    MovingCloth scrap(kFrame.width_mm, kFrame.height_mm, make, 5);
    const Scene scene = testing::sceneOf(swatch, sewnOn(scrap, swatch), tags());
    const ClothKnown start = startingCloth(dataFolder(), "jersey");
    const ClothPhotoLesson read = learnedFromPhotos(
        start, swatch, {photosOf(scene, random, 2), {"first", "second"}, setup()});
    QCOMPARE(read.found.size(), 2u);
    QVERIFY(read.lesson.after.median_mm < 0.5 * read.lesson.before.median_mm);

    const Pattern drawn = layout();
    const ClothLaw& law = read.lesson.known.law;
    const ClothMotion motion = clothMotion(drawn, law, kFrame);
    MovingCloth plain(kFrame.width_mm, kFrame.height_mm, make, 6);
    const std::vector<Point> lies = sewnOn(plain, drawn);
    const auto asDrawn = [&](size_t row) { return drawn.stitches[row].at; };
    const Distances nothing = distancesBetween(drawn, lies, asDrawn);
    const Distances foretold = distancesBetween(
        drawn, lies, [&](size_t row) { return drawn.stitches[row].at + motion.moved[row]; });
    QVERIFY2(foretold.median_mm < nothing.median_mm / 2.5 && foretold.p95_mm < nothing.p95_mm / 2.5,
             qPrintable(QString("%1 %2 of %3 %4")
                            .arg(foretold.median_mm)
                            .arg(foretold.p95_mm)
                            .arg(nothing.median_mm)
                            .arg(nothing.p95_mm)));
    const double bound = motionBound_mm(drawn, law, motion);
    QVERIFY2(foretold.p95_mm <= bound, qPrintable(QString::number(bound)));

    MovingCloth third(kFrame.width_mm, kFrame.height_mm, make, 7);
    const ClothCompensation c = compensated(drawn, law, kFrame);
    const Distances made = distancesBetween(drawn, sewnOn(third, c.sewn), asDrawn);
    QVERIFY2(made.median_mm < 0.15 && made.p95_mm < 0.35,
             qPrintable(QString("%1 %2").arg(made.median_mm).arg(made.p95_mm)));
    QVERIFY(made.median_mm < nothing.median_mm / 2);
  }

  /// Of cloth that nothing was learned of, the starting values never do harm.
  void startingValuesDoNoHarm() {
    const Pattern drawn = layout();
    const struct {
      const char *cloth, *fabric;
    } kinds[] = {{"canvas", "canvas"}, {"sheer", "sheer"}};
    for (const auto& kind : kinds) {
      const ClothKnown start = startingCloth(dataFolder(), kind.fabric);
      const auto asDrawn = [&](size_t row) { return drawn.stitches[row].at; };
      MovingCloth plain(kFrame.width_mm, kFrame.height_mm, clothMake(kind.cloth, 4), 8);
      MovingCloth other(kFrame.width_mm, kFrame.height_mm, clothMake(kind.cloth, 4), 8);
      const Distances nothing = distancesBetween(drawn, sewnOn(plain, drawn), asDrawn);
      const Pattern sewn = compensated(drawn, start.law, kFrame).sewn;
      const Distances made = distancesBetween(drawn, sewnOn(other, sewn), asDrawn);
      QVERIFY2(made.median_mm < 1.1 * nothing.median_mm && made.p95_mm < 1.1 * nothing.p95_mm,
               kind.cloth);
    }
  }

  void aPhotoOfSomethingElseIsNamed() {
    std::mt19937 random = testing::seeded(923);
    const Pattern swatch = clothSwatch(60, 60, 0.4, 0.4).pattern;
    const ClothKnown start = startingCloth(dataFolder(), "jersey");
    Scene bare;
    bare.hoop_tags = tags();
    for (const bool frame : {true, false}) {
      if (!frame) bare.hoop_tags.clear();
      try {
        learnedFromPhotos(start, swatch, {photosOf(bare, random, 1), {"bare.png"}, setup()});
        QFAIL("taken");
      } catch (const Error& e) {
        QCOMPARE(e.where(), std::string("bare.png"));
      }
    }
  }
};

RT_TEST(TestClothReading)

}  // namespace test_cloth_reading

#include "test_cloth_reading.moc"
