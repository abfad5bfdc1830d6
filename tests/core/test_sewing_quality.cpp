// Letters looked at as sewing, thread by thread: nothing left bare, underlay near enough, needle
// points apart, no lump where columns meet.
#include <QtTest>

#include "data_folder.h"
#include "faces.h"
#include "letter.h"
#include "run.h"
#include "sewn_cloth.h"

namespace test_sewing_quality {

using namespace rt;
using testing::SewnFigures;

namespace {

const std::string kLetters = "AMNWXagkx58";  // acute joints, bowls, serifs, crossings

/// Means over the letters; the widest bare place and the longest stitch of all.
SewnFigures lookAt(const std::string& id, double height) {
  const Face face = loadFace(dataFolder(), id);
  LetterOptions o;
  o.height_mm = height;
  SewnFigures sum;
  const double n = static_cast<double>(kLetters.size());
  for (char c : kLetters) {
    const std::string text(1, c);
    const SewnFigures f =
        testing::sewnFigures(testing::drawnText(text, face, o), letter(text, face, o).pattern);
    for (auto m : {&SewnFigures::bare_mm2, &SewnFigures::open_edge, &SewnFigures::over12,
                   &SewnFigures::far_underlay, &SewnFigures::near_points, &SewnFigures::ties_mm,
                   &SewnFigures::ways_mm, &SewnFigures::stray_mm, &SewnFigures::peak})
      sum.*m += f.*m / n;
    sum.widest_mm = std::max(sum.widest_mm, f.widest_mm);
    sum.longest_mm = std::max(sum.longest_mm, f.longest_mm);
  }
  return sum;
}

#define AT_MOST(value, limit) \
  QVERIFY2((value) <= (limit), qPrintable(QString("%1: %2").arg(#value).arg(value)))

}  // namespace

class TestSewingQuality : public QObject {
  Q_OBJECT
 private slots:
  void lettersHoldTheLaws_data() {
    QTest::addColumn<QString>("face");
    QTest::addColumn<double>("height");
    for (const char* face : {"plain-stroke", "sans-bold", "serif-bold", "brush-script"})
      for (double height : {12.0, 40.0})
        QTest::addRow("%s at %.0f mm", face, height) << face << height;
  }
  void lettersHoldTheLaws() {
    QFETCH(QString, face);
    QFETCH(double, height);
    const SewnFigures f = lookAt(face.toStdString(), height);
    AT_MOST(f.bare_mm2, 0.2);
    AT_MOST(f.widest_mm, 1.2);
    AT_MOST(f.ways_mm, 0.6);
    AT_MOST(f.stray_mm, 1.7);
    AT_MOST(f.open_edge, height > 20 ? 0.05 : 0.085);
    AT_MOST(f.over12, 0.0005);
    AT_MOST(f.near_points, 0.06);
    AT_MOST(f.ties_mm, 0.10);
    AT_MOST(f.peak, 1.9);
    AT_MOST(f.longest_mm, kSplitSatinOver_mm + 0.02);
    if (height > 20) AT_MOST(f.far_underlay, 0.05);
  }
  /// The figures themselves: a bare corner, thread across cover and a crowd are seen.
  void figuresSeeWhatIsWrong() {
    const Area square{{{0, 0}, {10, 0}, {10, 10}, {0, 10}}};
    Pattern p;
    const uint16_t thread = p.threadIndex({0x2f5d50});
    auto row = [&](Point at, Op op, Kind kind) {
      p.stitches.push_back({at, 1, thread, 0, op, kind});
    };
    row({0, 0}, Op::Jump, Kind::Unknown);
    for (int k = 0; k <= 30; ++k) row({k % 2 ? 10.0 : 0.0, k * 0.2}, Op::Stitch, Kind::Satin);
    SewnFigures f = testing::sewnFigures(square, p);
    QVERIFY(std::abs(f.bare_mm2 - 38) < 2);  // below 6.2 mm nothing lies
    QCOMPARE(f.ways_mm, 0.0);
    QVERIFY(f.far_underlay > 0.99);
    row({5, 0}, Op::Stitch, Kind::Underlay);
    row({5, 6}, Op::Stitch, Kind::Underlay);  // up over finished satin and down again
    const double before = f.near_points;
    f = testing::sewnFigures(square, p);
    QVERIFY2(f.ways_mm > 5.5, qPrintable(QString::number(f.ways_mm)));
    row({5.1, 6.1}, Op::Stitch, Kind::Underlay);
    QVERIFY(testing::sewnFigures(square, p).near_points > before);
  }
};

RT_TEST(TestSewingQuality)

}  // namespace test_sewing_quality
#include "test_sewing_quality.moc"
