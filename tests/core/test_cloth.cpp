// Cloth that moves: the sheet against what can be worked out by hand, laws that hold for any
// sewing, and figures found again from what they did.
#include <QTemporaryDir>
#include <QtTest>

#include "cloth_compensation.h"
#include "cloth_file.h"
#include "cloth_learning.h"
#include "cloth_swatch.h"
#include "data_folder.h"
#include "error.h"
#include "file_io.h"
#include "random_pattern.h"
#include "row_fill.h"
#include "run.h"
#include "satin.h"
#include "sheet_sewing.h"
#include "statistics.h"

namespace test_cloth {

using namespace rt;
using testing::between;

const Field kField{200, 140};

/// Cloth that does nothing until a test gives it something to do.
ClothLaw still() {
  ClothLaw law;
  for (const ClothFigureInfo& f : clothFigures()) law.at(f.figure) = {f.least, 0.1};
  law.at(ClothFigure::ThreadStiffness).value = 0.5;
  law.at(ClothFigure::StretchRatio).value = 1;
  law.at(ClothFigure::Shear).value = 0.4;
  law.at(ClothFigure::Reach).value = 5000;
  law.at(ClothFigure::EdgeLength).value = 1;
  for (ClothFigure f : {ClothFigure::EachStitch, ClothFigure::Push, ClothFigure::EdgeX,
                        ClothFigure::EdgeY, ClothFigure::Lag})
    law.at(f).value = 0;
  law.at(ClothFigure::Scatter).value = 0.04;
  law.at(ClothFigure::Unexplained).value = 0.2;
  return law;
}
ClothLaw with(ClothLaw law, ClothFigure f, double v) {
  law.at(f).value = v;
  return law;
}
ClothLaw pulling(double part) {
  return with(with(still(), ClothFigure::PullX, part), ClothFigure::PullY, part);
}
/// A knit as it may be.
ClothLaw knit(std::mt19937& random) {
  ClothLaw law = pulling(between(random, 0.01, 0.04));
  law.at(ClothFigure::StretchRatio).value = between(random, 0.5, 1.5);
  law.at(ClothFigure::Push).value = between(random, 0, 0.3);
  law.at(ClothFigure::Reach).value = between(random, 20, 60);
  law.at(ClothFigure::EdgeX).value = between(random, 0.05, 0.25);
  law.at(ClothFigure::EdgeY).value = between(random, 0.05, 0.25);
  law.at(ClothFigure::Lag).value = between(random, 0, 0.01);
  return law;
}

Ring rectangle(Point at, double w, double h) {
  const Box b = Box::around(at, w, h);
  return {b.corner(0), b.corner(1), b.corner(2), b.corner(3)};
}
void addFill(Pattern& p, Point at, double w, double h, double angle) {
  FillOptions o;
  o.pull_mm = 0, o.angle_deg = angle;
  appendStrands(p, fillRows({rectangle(at, w, h)}, o, at - Point{w, h}), {{1}, "fill"});
}
void addColumn(Pattern& p, Point from, Point to, double wide) {
  SatinOptions o;
  o.pull_mm = 0;
  const std::vector<Point> line{from, to};
  appendStrands(p, std::vector<Strand>{tidied(satinAlong(line, wide, o))}, {{2}, "column"});
}
void addOutline(Pattern& p, Point at, double w, double h) {
  Ring ring = rectangle(at, w, h);
  ring.push_back(ring.front());
  Strand s;
  s.add(ring.front(), Kind::Run);
  runAlong(s, ring, 2, Kind::Run);
  appendStrands(p, std::vector<Strand>{s}, {{3}, "outline"});
}
Pattern randomDesign(std::mt19937& random) {
  Pattern p;
  for (int i = 0; i < 3; ++i) {
    const Point at{between(random, -30, 30), between(random, -20, 20)};
    if (random() % 2)
      addFill(p, at, between(random, 8, 30), between(random, 8, 30), between(random, 0, 180));
    addColumn(p, at, at + Point{between(random, -20, 20), between(random, 5, 20)},
              between(random, 1.5, 6));
  }
  addOutline(p, {0, 0}, between(random, 20, 60), between(random, 20, 50));
  return p;
}

std::vector<double> lengthsOf(const Pattern& p) {
  std::vector<double> out(p.stitches.size(), -1);
  forEachSegment(p, [&](Point a, Point b, size_t row) { out[row] = distance(a, b); });
  return out;
}

class TestCloth : public QObject {
  Q_OBJECT

 private slots:
  void nothingMovesWhereNothingPulls() {
    std::mt19937 random = testing::seeded(901);
    ClothLaw law = pulling(1e-4);
    law.at(ClothFigure::ThreadStiffness).value = 0.01;
    const Pattern p = randomDesign(random);
    QVERIFY(movedBy(p, clothMotion(p, law, kField)).worst_mm < 1e-4);
  }

  /// A band of level thread across tall cloth is a rod: between clamps that are W apart a band of
  /// L shortens by s · k · w / c · (1 - L/W), thread too thin to stiffen it.
  void aBandShortensAsARodDoes() {
    const double wide = 24, whole = 80, pull = 0.05, stiff = 0.01;
    ClothLaw law = with(pulling(pull), ClothFigure::ThreadStiffness, stiff);
    law.at(ClothFigure::PullY).value = 1e-4;
    Pattern band;
    addFill(band, {0, 0}, wide, 240, 0);
    double thread = 0;
    forEachSegment(band, [&](Point a, Point b, size_t) { thread += std::abs(b.x - a.x); });
    const double density = thread / (wide * 240), own = 1 / (1 - 0.2 * 0.2);
    const double strain = pull * stiff * density / own * (1 - wide / whole);
    const ClothMotion m =
        clothMotion(band, law, {whole, 280}, {{{wide / 3, 0}, 0}, {{-wide / 3, 10}, 0}});
    const double ratio = m.points[0].x / (-strain * wide / 3);
    QVERIFY2(std::abs(ratio - 1) < 0.04, qPrintable(QString::number(ratio)));
    QVERIFY(std::abs(m.points[1].x / (strain * wide / 3) - 1) < 0.04);
    QVERIFY(std::abs(m.points[0].y) < strain * wide * 0.1);
  }

  /// A column's needle points come in by what the edge figures say, and by nothing else where the
  /// cloth itself stands still.
  void aColumnIsDrawnInByItsEdges() {
    ClothLaw law = pulling(1e-4);
    law.at(ClothFigure::EdgeX) = {0.2, 0.01}, law.at(ClothFigure::EdgeY) = {0.1, 0.01};
    for (double wide : {1.5, 3.0, 6.0}) {
      Pattern p;
      addColumn(p, {0, -10}, {0, 10}, wide);
      const ClothMotion m = clothMotion(p, law, kField);
      const double slant = std::hypot(wide, 0.2);
      const double in = 0.2 * (1 - std::exp(-slant));
      size_t counted = 0;
      for (size_t i = 20; i + 20 < p.stitches.size(); ++i) {
        if (p.stitches[i].kind != Kind::Satin) continue;
        const double side = p.stitches[i].at.x > 0 ? -1 : 1;
        QVERIFY(std::abs(m.moved[i].x - side * in) < 0.012);
        ++counted;
      }
      QVERIFY(counted > 10);
    }
  }

  /// Twice the pull moves cloth twice as far, and what is mirrored moves mirrored.
  void movementFollowsPullAndMirror() {
    std::mt19937 random = testing::seeded(902);
    for (int i = 0; i < 2; ++i) {
      const Pattern p = randomDesign(random);
      ClothLaw law = knit(random);
      law.at(ClothFigure::EdgeX).value = law.at(ClothFigure::EdgeY).value = 0;
      law.at(ClothFigure::Lag).value = 0;
      ClothLaw less = law;
      for (ClothFigure f : {ClothFigure::PullX, ClothFigure::PullY})
        less.at(f).value = law[f] / 100;
      ClothLaw twice = less;
      for (ClothFigure f : {ClothFigure::PullX, ClothFigure::PullY})
        twice.at(f).value = less[f] * 2;
      const ClothMotion one = clothMotion(p, less, kField), two = clothMotion(p, twice, kField);
      const ClothMotion whole = clothMotion(p, law, kField);
      const Pattern other = transformed(p, Transform::scaling(-1, 1));
      const ClothMotion mirrored = clothMotion(other, law, kField);
      const double scale = movedBy(p, whole).worst_mm;
      QVERIFY(scale > 0.05);
      for (size_t row = 0; row < p.stitches.size(); ++row) {
        QVERIFY(distance(two.moved[row], one.moved[row] * 2) < 0.02 * scale / 50);
        const Point m{-mirrored.moved[row].x, mirrored.moved[row].y};
        QVERIFY(distance(m, whole.moved[row]) < 0.02 * scale + 1e-6);
      }
    }
  }

  /// What is sewn last lies where it was sewn; what was sewn first has gone the whole way.
  void laterSewingLandsOnClothThatHasMoved() {
    Pattern p;
    addOutline(p, {0, 0}, 42, 32);
    const size_t first = p.stitches.size();
    addFill(p, {0, 0}, 40, 30, 0);
    const size_t filled = p.stitches.size();
    addOutline(p, {0, 0}, 42, 32);
    const ClothLaw law = pulling(0.03);
    const ClothMotion m = clothMotion(p, law, kField);
    double before = 0, after = 0;
    for (size_t i = 0; i < first; ++i)
      if (p.stitches[i].op == Op::Stitch) before = std::max(before, length(m.moved[i]));
    for (size_t i = filled; i < p.stitches.size(); ++i)
      if (p.stitches[i].op == Op::Stitch) after = std::max(after, length(m.moved[i]));
    QVERIFY2(before > 0.2, qPrintable(QString::number(before)));
    QVERIFY(after < 0.2 * before);
    // and bare cloth goes toward the fill
    const ClothMotion marks = clothMotion(p, law, kField, {{{28, 0}, 0}, {{28, 0}, filled}});
    QVERIFY(marks.points[0].x < -0.05);
    QVERIFY(std::abs(marks.points[1].x) < 0.3 * std::abs(marks.points[0].x));
  }

  void theListKeepsItsRows() {
    std::mt19937 random = testing::seeded(903);
    for (int i = 0; i < 4; ++i) {
      Pattern p = randomDesign(random);
      const ClothLaw law = knit(random);
      const ClothCompensation c = compensated(p, law, kField);
      QCOMPARE(c.sewn.stitches.size(), p.stitches.size());
      QCOMPARE(c.sewn.threads, p.threads);
      const std::vector<double> was = lengthsOf(p), is = lengthsOf(c.sewn);
      for (size_t row = 0; row < p.stitches.size(); ++row) {
        const Stitch &a = p.stitches[row], &b = c.sewn.stitches[row];
        QVERIFY(a.op == b.op && a.kind == b.kind && a.thread == b.thread && a.piece == b.piece);
        QVERIFY(kField.contains(b.at));
        if (is[row] > 12) QVERIFY(was[row] > 12);
        if (is[row] >= 0 && is[row] < 0.3) QVERIFY(was[row] < 0.3);
      }
      QVERIFY2(c.after.median_mm < 0.25 * c.before.median_mm,
               qPrintable(QString("%1 %2").arg(c.before.median_mm).arg(c.after.median_mm)));
      QVERIFY(c.after.p95_mm < 0.4 * c.before.p95_mm);
    }
  }

  /// Long satin at the limit of a stitch cannot be made wider: its ends stay, and it is said.
  void noStitchBecomesTooLong() {
    Pattern p;
    p.threadIndex({1});
    for (int i = 0; i <= 60; ++i)
      p.stitches.push_back(
          {{i % 2 ? 5.95 : -5.95, -12 + i * 0.4}, 0, 0, 0, Op::Stitch, Kind::Satin});
    ClothLaw law = pulling(0.03);
    law.at(ClothFigure::EdgeX).value = 0.3;
    const ClothCompensation c = compensated(p, law, kField);
    for (double mm : lengthsOf(c.sewn)) QVERIFY(mm <= 12.0);
    QVERIFY2(
        c.held_rows > 20,
        qPrintable(
            QString("%1 %2 %3").arg(c.held_rows).arg(c.before.median_mm).arg(c.after.median_mm)));
  }

  /// Long chains at the limit that end at the edge of the field: whatever has to give way, lengths
  /// and field hold.
  void lengthsAndFieldHoldTogether() {
    std::mt19937 random = testing::seeded(907);
    for (int i = 0; i < 6; ++i) {
      Pattern p;
      p.threadIndex({1});
      const double half = between(random, 5.9, 5.999), edge = between(random, 6.0, 6.05);
      for (int k = 0; k <= 300; ++k)
        p.stitches.push_back({{(k % 2 ? half : -half) + (k > 150 ? (k - 150) * 0.0003 : 0),
                               -28 + k * between(random, 0.15, 0.2)},
                              0,
                              0,
                              0,
                              Op::Stitch,
                              Kind::Satin});
      const Field field{2 * edge + 0.2, 80};
      ClothLaw law = knit(random);
      law.at(ClothFigure::EdgeX).value = 0.3;
      const ClothCompensation c = compensated(p, law, field);
      const std::vector<double> was = lengthsOf(p), is = lengthsOf(c.sewn);
      for (size_t row = 0; row < p.stitches.size(); ++row) {
        QVERIFY(field.contains(c.sewn.stitches[row].at));
        if (is[row] > 12 + 1e-9) QVERIFY(was[row] > 12);
        if (is[row] >= 0 && is[row] < 0.3 - 1e-9) QVERIFY(was[row] < 0.3);
      }
    }
  }

  /// Needle points foretold by chance: 95 of 100 lie within the bound.
  void theBoundHoldsWhatItSays() {
    std::mt19937 random = testing::seeded(904);
    const Pattern p = randomDesign(random);
    const ClothLaw law = knit(random);
    const ClothMotion m = clothMotion(p, law, kField);
    const double bound = motionBound_mm(p, law, m);
    std::normal_distribution<double> normal(0, 1);
    double within = 0, count = 0;
    for (int round = 0; round < 40; ++round)
      for (size_t row = 0; row < p.stitches.size(); ++row) {
        if (p.stitches[row].op != Op::Stitch) continue;
        const double sigma = std::hypot(law[ClothFigure::Scatter],
                                        law[ClothFigure::Unexplained] * length(m.moved[row]));
        within += std::hypot(normal(random), normal(random)) * sigma <= bound;
        ++count;
      }
    QVERIFY2(std::abs(within / count - 0.95) < 0.01, qPrintable(QString::number(within / count)));
  }

  /// A swatch whose cloth is known: what is learned foretells another layout nearly as that cloth
  /// itself does, with places measured to 0.03 mm and one in forty taken wrongly.
  /// A law close by is followed without solving anew: what is missed falls with the square of the
  /// step, and is little against what changes.
  void aLawBesideIsFollowedToFirstOrder() {
    std::mt19937 random = testing::seeded(947);
    const Pattern swatch = clothSwatch(44, 44, 0.4, 0.4).pattern;
    const Field field{80, 80};
    const SheetSewing sewing(swatch, field);
    const ClothLaw law = knit(random);
    const SheetSewing::Stages stages = sewing.stages(law);
    const SheetSewing::Course course = sewing.course(stages, law);
    const auto apart = [](const SheetField& a, const SheetField& b) {
      double most = 0;
      for (size_t k = 0; k < a.size(); ++k) most = std::max(most, distance(a[k], b[k]));
      return most;
    };
    for (ClothFigure f : {ClothFigure::ThreadStiffness, ClothFigure::StretchRatio,
                          ClothFigure::Shear, ClothFigure::Reach}) {
      double missed[2], changed[2];
      for (int k = 0; k < 2; ++k) {
        const ClothLaw near = with(law, f, law[f] * (k == 0 ? 1.04 : 1.02));
        const SheetField there = sewing.course(sewing.stages(near), near).back();
        missed[k] = apart(sewing.beside(stages, course, near).back(), there);
        changed[k] = apart(course.back(), there);
      }
      const QByteArray said = QByteArray::number(static_cast<int>(f)) + ": missed " +
                              QByteArray::number(missed[0]) + ", " + QByteArray::number(missed[1]) +
                              " of " + QByteArray::number(changed[0]);
      QVERIFY2(changed[1] > 1e-5 && missed[1] < 0.05 * changed[1], said);
      QVERIFY2(missed[1] < 0.3 * missed[0] + 1e-12, said);
    }
  }
  void figuresAreFoundAgain() {
    std::mt19937 random = testing::seeded(905);
    const ClothKnown start = startingCloth(dataFolder(), "jersey");
    const Pattern swatch = clothSwatch(44, 44, 0.4, 0.4).pattern;
    const std::vector<size_t> shapes = shapesOfRows(swatch);
    const Field frame{64, 64};
    const ClothLaw truth = knit(random);
    const ClothMotion moved = clothMotion(swatch, truth, frame);
    std::normal_distribution<double> noise(0, 0.03);
    std::vector<ClothSight> sights;
    for (size_t row = 0; row < swatch.stitches.size(); row += 5) {
      if (swatch.stitches[row].op != Op::Stitch) continue;
      Point by = moved.moved[row] + Point{noise(random), noise(random)};
      if (random() % 40 == 0) by = by + Point{between(random, -1, 1), between(random, -1, 1)};
      sights.push_back({{row}, by, {0.0009, 0, 0.0009}, shapes[row]});
    }
    const ClothLesson lesson = learned(start, swatch, frame, sights);
    QCOMPARE(lesson.known.learned_from, 1);
    QVERIFY(lesson.after.median_mm < 0.5 * lesson.before.median_mm);
    QVERIFY(lesson.outliers > 2 && lesson.outliers < sights.size() / 10);
    Pattern other;
    addFill(other, {-8, 4}, 34, 28, 30);
    addColumn(other, {20, -20}, {24, 14}, 4);
    const ClothMotion is = clothMotion(other, truth, kField);
    const ClothMotion told = clothMotion(other, lesson.known.law, kField);
    std::vector<double> off, nothing;
    for (size_t row = 0; row < other.stitches.size(); ++row) {
      if (other.stitches[row].op != Op::Stitch) continue;
      off.push_back(distance(is.moved[row], told.moved[row]));
      nothing.push_back(length(is.moved[row]));
    }
    const Distances left = distancesOf(off), all = distancesOf(nothing);
    QVERIFY2(left.median_mm < all.median_mm / 6 && left.p95_mm < all.p95_mm / 5,
             qPrintable(QString("%1 %2 of %3 %4")
                            .arg(left.median_mm)
                            .arg(left.p95_mm)
                            .arg(all.median_mm)
                            .arg(all.p95_mm)));
    for (size_t i = 0; i < kClothMoving; ++i) {
      const ClothValue &v = lesson.known.law.figures[i], &was = start.law.figures[i];
      QVERIFY2(v.sigma <= was.sigma * (v.value > was.value ? v.value / was.value : 1) * 1.01,
               clothFigures()[i].name.data());
    }
    // a second swatch of the same cloth makes it surer
    const ClothLesson again = learned(lesson.known, swatch, frame, sights);
    QCOMPARE(again.known.learned_from, 2);
    QVERIFY(again.known.law.figures[0].sigma < lesson.known.law.figures[0].sigma);
  }

  void nothingLearnedStaysAsItWas() {
    const ClothKnown start = startingCloth(dataFolder(), "terry");
    const ClothLesson lesson =
        learned(start, clothSwatch(60, 60, 0.4, 0.4).pattern, {100, 100}, {});
    QCOMPARE(lesson.known, start);
    QVERIFY_THROWS_EXCEPTION(Error, learned(start, clothSwatch(60, 60, 0.4, 0.4).pattern,
                                            {100, 100}, {{{0}, {0, 0}, {1, 0, 1}, 0}}));
  }

  void theSwatchFitsAndIsSewnInSixMinutes() {
    for (const auto& [w, h] : {std::pair{60.0, 60.0}, {40.0, 45.0}, {120.0, 80.0}}) {
      const ClothSwatch s = clothSwatch(w, h, 0.4, 0.4);
      const Box box = threadBounds(s.pattern);
      QVERIFY(box.left >= -w / 2 && box.right <= w / 2 && box.top >= -h / 2 && box.bottom <= h / 2);
      QVERIFY(sewingTime_s(s.pattern, TimeModel{}) < 360);
      QVERIFY(s.marks.size() == 8 && s.shapes.size() > 25);
      for (double mm : lengthsOf(s.pattern)) QVERIFY(mm <= 12);
      // fills, outlines, rings, and columns of three widths each way
      QSet<QString> kinds;
      for (const SwatchShape& shape : s.shapes) kinds.insert(QString::fromStdString(shape.kind));
      QCOMPARE(kinds, (QSet<QString>{"mark", "fill", "outline", "column", "ring"}));
    }
    QVERIFY_THROWS_EXCEPTION(Error, clothSwatch(30, 60, 0.4, 0.4));
    QVERIFY_THROWS_EXCEPTION(Error, clothSwatch(60, 1e9, 0.4, 0.4));
  }

  void everyFabricHasStartingValues() {
    for (const char* id :
         {"woven-cotton", "canvas", "jersey", "terry", "felt", "leather", "sheer", "corded"}) {
      const ClothKnown known = startingCloth(dataFolder(), id);
      QCOMPARE(known.learned_from, 0);
      for (const ClothFigureInfo& f : clothFigures())
        QVERIFY(known.law.figures[static_cast<size_t>(f.figure)].sigma > 0);
    }
    QVERIFY_THROWS_EXCEPTION(Error, startingCloth(dataFolder(), "tin"));
  }

  void aClothIsReadAsItWasWritten() {
    std::mt19937 random = testing::seeded(906);
    QTemporaryDir dir;
    const std::filesystem::path file = dir.filePath("cloth.json").toStdString();
    ClothKnown known = startingCloth(dataFolder(), "sheer");
    known.law = knit(random);
    known.learned_from = 3, known.backing = "wash-away";
    writeFile(file, clothJson(known));
    const ClothKnown back = readCloth(file, dataFolder());
    QCOMPARE(back.learned_from, 3);
    QCOMPARE(back.backing, known.backing);
    for (const ClothFigureInfo& f : clothFigures())
      QVERIFY(std::abs(back.law[f.figure] - known.law[f.figure]) <=
              1e-5 * std::abs(known.law[f.figure]));
    QCOMPARE(clothJson(back), clothJson(known));
    for (const char* bad :
         {"[]", "{\"fabric\": \"tin\", \"parameters\": []}", "{\"fabric\": \"sheer\"}",
          "{\"fabric\": \"sheer\", \"parameters\": [{\"name\": \"pull_x\", \"value\": -1, "
          "\"sigma\": 1}]}",
          "{\"fabric\": \"sheer\", \"parameters\": [{\"name\": \"pull_x\", \"value\": 0.01}]}",
          "{\"fabric\": \"sheer\", \"learned_from\": -1, \"parameters\": []}"}) {
      writeFile(file, bad);
      QVERIFY_THROWS_EXCEPTION(Error, readCloth(file, dataFolder()));
    }
  }

  void sewingOutsideTheFieldIsRefused() {
    Pattern p;
    addColumn(p, {90, 0}, {105, 0}, 3);
    QVERIFY_THROWS_EXCEPTION(Error, clothMotion(p, pulling(0.02), kField));
    QVERIFY_THROWS_EXCEPTION(Error, compensated(p, pulling(0.02), kField));
    QCOMPARE(movedBy({}, clothMotion({}, pulling(0.02), kField)).worst_mm, 0.0);
  }
};

RT_TEST(TestCloth)

}  // namespace test_cloth

#include "test_cloth.moc"
