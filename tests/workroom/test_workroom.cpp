#include <QTemporaryDir>
#include <QtTest>
#include <set>

#include "cures.h"
#include "demo.h"
#include "error.h"
#include "file_io.h"
#include "proof_words.h"
#include "random_pattern.h"
#include "run.h"
#include "statistics.h"
#include "stitch_csv.h"

namespace test_workroom {

using namespace rt;

namespace {

const Bench& bench() {
  static const Bench made = openBench();
  return made;
}

const Fabric& fabric(const Job& job) {
  return fabricById(bench().shop.fabrics, job.brief.fabric);
}

Verdict densityNear(const Job& job, const Box& place) {
  Verdict verdict = Verdict::Sew;
  for (const Finding& f : weigh(sewnLayout(job), fabric(job), job.zones).report.findings)
    if (f.kind == FindingKind::Density && f.bounds.overlaps(place))
      verdict = std::max(verdict, f.severity);
  return verdict;
}

}  // namespace

class TestWorkroom : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

 private slots:
  void everyDemoJobIsWhole() {
    for (const std::string& name : demoJobs(bench())) {
      const Job job = demoJob(bench(), name);
      QVERIFY(!job.title.empty() && !job.brief.item.empty());
      std::set<int> ids;
      for (const Piece& p : job.pieces) {
        QVERIFY(ids.insert(p.id).second);
        QVERIFY(p.stitches && !threadBounds(*p.stitches).empty());
        QVERIFY(length(threadBounds(*p.stitches).centre()) <
                40);  // arcs are centred on their baseline
      }
      const Box place = Box::around({0, 0}, job.brief.place_width_mm, job.brief.place_height_mm);
      QVERIFY2(place.contains(threadBounds(laidOut(job.pieces))), name.c_str());
      if (!job.brief.order_text.empty()) QCOMPARE(proofOf(job), std::string());
    }
    QVERIFY_THROWS_EXCEPTION(Error, demoJob(bench(), "none"));
  }
  void theBannerHasOneStopToCure() {
    const Job job = demoJob(bench(), "hide-banner");
    const Weighing w = weigh(laidOut(job.pieces), fabric(job), job.zones);
    QCOMPARE(w.report.verdict, Verdict::Stop);
    std::vector<std::string> pieces = w.report.findings[0].cause.pieces;
    std::sort(pieces.begin(), pieces.end());  // by share they lie close
    QCOMPARE(pieces, (std::vector<std::string>{"heron", "wing"}));
    int stops = 0;
    for (const Finding& f : w.report.findings) stops += f.severity == Verdict::Stop;
    QCOMPARE(stops, 1);
  }
  void curesLiftTheVerdictAndChangeOnlyWhatTheySay() {
    const Job job = demoJob(bench(), "hide-banner");
    const Weighing w = weigh(laidOut(job.pieces), fabric(job), job.zones);
    const std::vector<Cure> cures = curesFor(job, w.report.findings[0], bench());
    QVERIFY(cures.size() >= 2);
    for (const Cure& cure : cures) {
      QVERIFY2(densityNear(cure.job, w.report.findings[0].bounds) < Verdict::Stop,
               cure.title.c_str());
      // one piece, or the way all are sewn: never both
      int changed = !(cure.job.sequence == job.sequence);
      for (size_t i = 0; i < job.pieces.size(); ++i)
        changed += !(cure.job.pieces[i] == job.pieces[i]);
      QCOMPARE(changed, 1);
      QVERIFY(cure.result <= fabric(job).density_mm_per_mm2.stop);
    }
  }
  void stitchFilesKeepTheirPlace() {
    const std::string file = dir_.filePath("reed.stitches.csv").toStdString();
    writeFile(file,
              writeStitchCsv(testing::patternFrom("#123456 jump 10,20 stitch 30,20 stitch 30,60")));
    const Made made = pieceFromFile(file, bench().shop.fabrics[0], bench());
    QCOMPARE(made.piece.name, std::string("reed"));
    QCOMPARE(made.piece.place.at, (Point{20, 40}));
    QCOMPARE(boundsOf(made.piece), (Box{10, 20, 30, 60}));
  }
  void artworkAndTextAreMadeAgainAlike() {
    const Job job = demoJob(bench(), "tally-tags");
    for (const Piece& p : job.pieces) {
      const Piece again = remade(p, fabric(job), bench()).piece;
      QVERIFY(again == p);
    }
  }
  void widerRowsTakeLessThread() {
    Piece p = demoJob(bench(), "binocular-strap").pieces[0];
    double before = INFINITY;
    for (double spacing : {0.15, 0.25, 0.4, 0.6}) {
      std::get<ArtworkSource>(p.source).row_spacing_mm = spacing;
      p = remade(p, bench().shop.fabrics[0], bench()).piece;
      const double mm = testing::sewnLength(*p.stitches);
      QVERIFY(mm < before);
      before = mm;
    }
  }
  void filesThatCannotBeLaidOutAreNamed() {
    const std::string file = dir_.filePath("empty.csv").toStdString();
    writeFile(file, "# rapt-stitches 1\nx_mm,y_mm,op,thread\n0,0,end,#000000\n");
    QVERIFY_THROWS_EXCEPTION(Error, pieceFromFile(file, bench().shop.fabrics[0], bench()));
    QVERIFY_THROWS_EXCEPTION(Error, pieceFromFile("/", bench().shop.fabrics[0], bench()));
    TextSource none;
    none.text = "   ";
    QVERIFY_THROWS_EXCEPTION(Error, pieceFromText(none, bench().shop.fabrics[0], bench()));
  }
  void sewingKeepsItsLimitsInEveryDemo() {
    for (const std::string& name : demoJobs(bench())) {
      const Pattern p = laidOut(demoJob(bench(), name).pieces);
      size_t shorts = 0, all = 0;
      forEachSegment(p, [&](Point a, Point b, size_t row) {
        if (p.stitches[row].kind == Kind::Tie) return;
        ++all;
        shorts += distance(a, b) < 0.4 - 1e-6;
        QVERIFY(distance(a, b) <= 12 + 1e-6);
      });
      QVERIFY2(static_cast<double>(shorts) <= 0.03 * static_cast<double>(all),
               qPrintable(
                   QString("%1: %2 of %3").arg(QString::fromStdString(name)).arg(shorts).arg(all)));
    }
  }
};

RT_TEST(TestWorkroom)

}  // namespace test_workroom
#include "test_workroom.moc"
