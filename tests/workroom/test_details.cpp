#include <QtTest>

#include "details.h"
#include "error.h"
#include "findings.h"
#include "outlines.h"
#include "random_pattern.h"
#include "run.h"
#include "statistics.h"
#include "swatch.h"

namespace test_details {

using namespace rt;

class TestDetails : public QObject {
  Q_OBJECT
  Bench bench_ = openBench();
  const Fabric& cotton() const { return fabricById(bench_.shop.fabrics, "woven-cotton"); }

  static std::vector<Point> wave() {
    std::vector<Point> out;
    for (int k = 0; k <= 100; ++k) out.push_back({20 + k * 0.6, 10 + 8 * std::sin(k * 0.08)});
    return out;
  }
  Piece drawn(Detail kind, double width = 2) const {
    return detailFromStroke(wave(), {kind, width, {0x8a5a2b}}, cotton(), bench_).piece;
  }

 private slots:
  void tooShortAndTooNarrowAreRefused() {
    QVERIFY_THROWS_EXCEPTION(Error, detailFromStroke({{0, 0}, {0.3, 0}}, {}, cotton(), bench_));
    QVERIFY_THROWS_EXCEPTION(Error,
                             detailFromStroke(wave(), {Detail::Satin, 0.4, {}}, cotton(), bench_));
  }
  /// Each kind lies where it was drawn.
  void detailsLieWhereTheyWereDrawn() {
    for (Detail kind : {Detail::Run, Detail::DoubleRun, Detail::Satin}) {
      const Pattern p = laidOut(drawn(kind, 2));
      const std::vector<Point> line = wave();
      const double reach = kind == Detail::Satin ? 1.6 : 0.6;
      forEachSegment(p, [&](Point, Point b, size_t) {
        double least = INFINITY;
        for (size_t k = 1; k < line.size(); ++k)
          least = std::min(least, pointSegmentDistance(b, line[k - 1], line[k]));
        QVERIFY2(least < reach, qPrintable(QString("%1 mm off").arg(least)));
      });
      QVERIFY(std::abs(threadBounds(p).left - 20) < 2 && std::abs(threadBounds(p).right - 80) < 2);
    }
  }
  void aDoubleRunGoesThereAndBack() {
    const double once = statisticsOf(laidOut(drawn(Detail::Run)), {}).thread_mm,
                 twice = statisticsOf(laidOut(drawn(Detail::DoubleRun)), {}).thread_mm;
    QVERIFY2(std::abs(twice - 2 * once) < 0.1 * once,
             qPrintable(QString("%1 and %2").arg(once).arg(twice)));
  }
  void aFillFillsItsOutline() {
    std::vector<Point> ring;
    for (int deg = 0; deg <= 360; deg += 4) ring.push_back(Transform::turning(deg)(Point{15, 0}));
    const Piece p = detailFromStroke(ring, {Detail::Fill, 2, {0x2f5d50}}, cotton(), bench_).piece;
    const Weighing w = weigh(laidOut(p), cotton(), {});
    QVERIFY(std::abs(w.report.summary.covered_mm2 - kPi * 225) < 150);
  }
  void outlinesComeFirstAndWait() {
    Job job;
    for (int k = 0; k < 3; ++k) {
      Piece p = drawn(Detail::Satin, 3);
      p.id = job.next_piece_id++;
      p.name += std::to_string(k);
      p.place.at = p.place.at + Point{0, 30.0 * k};
      job.pieces.push_back(p);
    }
    job.pieces[2].place.scale_x = 1.2;  // not equal to the others
    const Job done = outlinedFirst(job, job.pieces[0].id, {});
    QCOMPARE(done.pieces.size(), size_t{7});
    for (int k = 0; k < 2; ++k) {
      QVERIFY(done.pieces[static_cast<size_t>(k)].name.starts_with("placement"));
      QVERIFY(done.pieces[static_cast<size_t>(k + 2)].name.starts_with("tack-down"));
    }
    QCOMPARE(done.sequence.stops.size(), size_t{1});
    QCOMPARE(done.sequence.stops[0].piece, done.pieces[2].id);
    QCOMPARE(statisticsOf(sewnLayout(done), {}).stops, size_t{1});
    // the placement line runs around the cover, no more than a little outside it
    const Box cover = boundsOf(done.pieces[4]), line = boundsOf(done.pieces[0]);
    QVERIFY(cover.grown(1.6).contains(line) && line.grown(0.8).contains(cover));
  }
  void swatchStepsWeighWhatTheySay() {
    for (const Fabric& f : bench_.shop.fabrics) {
      const Job job = swatchJob(f, bench_);
      QCOMPARE(job.swatch.size(), size_t{28});
      for (const Piece& p : job.pieces) {
        if (p.name != "fill" && p.name != "satin") continue;
        const Pattern laid = laidOut(p);
        for (const SwatchStep& s : job.swatch) {
          if (s.row != p.name) continue;
          const Point at{(s.step - 3.5) * 22, boundsOf(p).centre().y};
          const Weighing w = weigh(cropped(laid, Box::around(at, 8, 8)), f, {});
          const Lattice& l = w.frame.lattice;
          const double d = w.map.density(static_cast<int64_t>((at.x - l.origin.x) / l.cell_mm),
                                         static_cast<int64_t>((at.y - l.origin.y) / l.cell_mm));
          QVERIFY2(std::abs(d / s.value - 1) < 0.08,
                   qPrintable(QString("%1 step %2: %3 for %4")
                                  .arg(QString::fromStdString(p.name))
                                  .arg(s.step)
                                  .arg(d)
                                  .arg(s.value)));
        }
      }
      QCOMPARE(outcomesOf(job, "fill", 4).size(), size_t{4});
      QVERIFY(outcomesOf(job, "fill", 4).back().failed);
      QCOMPARE(outcomesOf(job, "fill", 0).size(), size_t{6});
      for (const char* row : {"column", "letter"}) {  // from easy to hard, like the densities
        const auto sizes = outcomesOf(job, row, 3);
        QCOMPARE(sizes.size(), size_t{3});
        QVERIFY(sizes[0].value > sizes[1].value && sizes[1].value > sizes[2].value);
        QVERIFY(!sizes[0].failed && !sizes[1].failed && sizes[2].failed);
      }
      QVERIFY_THROWS_EXCEPTION(Error, outcomesOf(job, "fill", 9));
    }
  }
};

RT_TEST(TestDetails)

}  // namespace test_details
#include "test_details.moc"
