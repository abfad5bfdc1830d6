// How the pieces of a job become one sewing.
#include <QtTest>

#include "drawn_blocks.h"
#include "job.h"
#include "random_pattern.h"
#include "statistics.h"

using namespace rt;
using testing::between;

namespace {

Piece square(int id, Point at, double side, uint32_t rgb) {
  testing::BlockMaker make;
  make.colour = {rgb};
  make.fill({-side / 2, -side / 2, side / 2, side / 2}, 0.4, 3);
  Piece p;
  p.id = id;
  p.name = "square " + std::to_string(id);
  p.place.at = at;
  p.stitches = std::make_shared<const Pattern>(make.pattern);
  return p;
}

/// Red and blue in turn, none over another.
Job checkers(int count) {
  Job job;
  for (int i = 0; i < count; ++i)
    job.pieces.push_back(square(i + 1, {i * 20.0, 0}, 10, i % 2 ? 0xcc0000 : 0x0000cc));
  return job;
}

Statistics sewn(const Job& job) {
  return statisticsOf(sewnLayout(job), {});
}

}  // namespace

class TestSewnLayout : public QObject {
  Q_OBJECT
 private slots:
  void plainSettingsChangeNothing() {
    const Job job = checkers(5);
    QVERIFY(sewnLayout(job) == laidOut(job.pieces));
    QVERIFY(sewnLayout({}).stitches.empty());
  }

  void coloursAreGatheredWhereNothingForbidsIt() {
    Job job = checkers(8);
    QCOMPARE(sewn(job).colour_changes, size_t{7});
    job.sequence.fewest_colours = true;
    QCOMPARE(sewn(job).colour_changes, size_t{1});
    QCOMPARE(sewn(job).stitches, statisticsOf(laidOut(job.pieces), {}).stitches);
  }

  void overlapsKeepTheirOrder() {
    Job job;
    job.sequence.fewest_colours = true;
    for (int i = 0; i < 4; ++i)  // each lies over the one before
      job.pieces.push_back(square(i + 1, {i * 4.0, 0}, 10, i % 2 ? 0xcc0000 : 0x0000cc));
    QCOMPARE(sewn(job).colour_changes, size_t{3});
  }

  void coveredStitchesGoButForTheMargin() {
    Job job;
    job.pieces = {square(1, {0, 0}, 30, 0x0000cc), square(2, {0, 0}, 16, 0xcc0000)};
    const double before = sewn(job).thread_mm;
    double last = 0;
    for (double margin : {0.5, 1.0, 3.0}) {
      job.sequence.hidden_margin_mm = margin;
      const double after = sewn(job).thread_mm;
      // the wider the margin, the more stays
      QVERIFY(after < before && after > last);
      const double hidden = (16 - 2 * margin) * (16 - 2 * margin) / 0.4;
      QVERIFY2(std::abs(before - after - hidden) < 0.25 * hidden + 20,
               qPrintable(QString("%1 for %2").arg(before - after).arg(hidden)));
      last = after;
    }
  }

  void aStopComesJustBeforeItsPiece() {
    Job job = checkers(4);
    job.sequence.stops = {{3, "lay the topper"}};
    const Pattern p = sewnLayout(job);
    QCOMPARE(statisticsOf(p, {}).stops, size_t{1});
    size_t at = 0;
    while (p.stitches[at].op != Op::Stop) ++at;
    for (size_t row = 0; row < at; ++row) {
      const std::string& piece = p.pieces[p.stitches[row].piece];
      QVERIFY(piece == "square 1" || piece == "square 2");
    }
    QCOMPARE(p.pieces[p.stitches[at + 1].piece], std::string("square 3"));
  }

  void stopsForPiecesThatWentAreForgotten() {
    Job job = checkers(3);
    job.sequence.stops = {{99, "take the tag off"}};
    QCOMPARE(sewn(job).stops, size_t{0});
    job.sequence.stops = {{1, "before everything nobody has to wait"}};
    QCOMPARE(sewn(job).stops, size_t{0});
  }

  void aMoveByHandIsAnotherLayout() {
    Job job = checkers(3);
    const size_t before = printOf(sewnLayout(job));
    job.pieces[1].place.at.x += 0.01;
    QVERIFY(printOf(sewnLayout(job)) != before);
    job.pieces[1].place.at.x -= 0.01;
    QCOMPARE(printOf(sewnLayout(job)), before);
  }

  void jobsDifferByTheirSettings() {
    const Job a = checkers(2);
    Job b = a;
    b.sequence.needles = 6;
    QVERIFY(!(a == b));
    b = a;
    b.sequence.stops = {{1, "note"}};
    QVERIFY(!(a == b));
  }
};

QTEST_APPLESS_MAIN(TestSewnLayout)
#include "test_sewn_layout.moc"
