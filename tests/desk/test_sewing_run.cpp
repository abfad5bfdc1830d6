// A hooping at the machine: where it lands, whose it is, and where it goes on.
#include <QTemporaryDir>
#include <QtTest>
#include <csignal>
#include <fstream>

#include "actions.h"
#include "comes.h"
#include "compose_actions.h"
#include "demo.h"
#include "desk.h"
#include "error.h"
#include "hooping_place.h"
#include "random_pattern.h"
#include "run.h"

namespace test_sewing_run {

using namespace rt;
using Phase = MachineLink::Phase;

namespace {

#ifdef RT_SANITIZE
constexpr int kKills = 6;
#else
constexpr int kKills = 50;
#endif

struct Sewn {
  size_t row;
  Point at;
};

std::vector<Sewn> clothIn(const QString& file) {
  std::ifstream in(file.toStdString());
  std::vector<Sewn> out;
  for (std::string line; std::getline(in, line);) {
    Sewn s{};
    if (std::sscanf(line.c_str(), "%zu,%lf,%lf", &s.row, &s.at.x, &s.at.y) == 3) out.push_back(s);
  }
  return out;
}

}  // namespace

class TestSewingRun : public QObject {
  Q_OBJECT
  std::unique_ptr<QTemporaryDir> dir_;
  std::unique_ptr<Desk> desk_;

  QString cloth() const { return dir_->filePath("cloth.csv"); }

  void planGilet() {
    Job job = demoJob(desk_->bench(), "wardens-gilet");
    job.plan_settings.hoop = "160x120";
    desk_->take(job, {});
    desk_->makePlan();
    desk_->settle();
    QVERIFY(desk_->planCurrent());
    clearTheRest();
  }
  /// What a person does at Compose and Density, so that only the cloth is left to be found.
  void clearTheRest() {
    desk_->change("accept", actions::proofAccepted(desk_->job()));
    desk_->settle();
    if (desk_->weighing()->report.verdict == Verdict::Stop) desk_->overrule("as a trial");
  }
  /// Needles the marks of a hooping whose cloth lies so.
  void needle(int hooping, const Transform& lies) {
    for (Mark m : expectedMarks(*desk_->hoopingAt(hooping))) {
      m.hoop = lies(m.hoop);
      desk_->addMark(hooping, m);
    }
  }
  void connectMachine() {
    desk_->run().machine().connectMachine();
    QVERIFY(testing::comes([&] { return desk_->run().machine().phase() == Phase::Idle; }));
  }
  /// The first hooping, lying as it was meant to, in the machine.
  void loadGilet() {
    planGilet();
    needle(1, {});
    connectMachine();
    desk_->sendHooping(1);
    QVERIFY(testing::comes([&] { return desk_->run().machine().phase() == Phase::Loaded; }));
  }
  void sewToTheEnd() {
    MachineLink& m = desk_->run().machine();
    QVERIFY(
        testing::comes([&] { return m.phase() == Phase::Loaded || m.phase() == Phase::Broken; }));
    m.setSpeedUp(1000);
    desk_->sewOn();
    QVERIFY(testing::comes([&] {
      if (m.phase() == Phase::ColourWait || m.phase() == Phase::Paused) desk_->sewOn();
      return m.phase() == Phase::Done;
    }));
  }

 private slots:
  void init() {
    dir_ = std::make_unique<QTemporaryDir>();
    qputenv("RAPT_THIMBLE_STANDIN",
            QByteArray(RT_STANDIN " --free --photo-px 1800 --cloth ") + cloth().toUtf8());
    desk_ = std::make_unique<Desk>(openBench(), DeskFolders{dir_->path().toStdString()});
  }
  void cleanup() { desk_.reset(); }

  void aCrookedHoopingIsSewnWhereTheClothLies() {
    planGilet();
    const Transform lies = Transform::moving({1.2, -0.8}) * Transform::turning(2.0);
    needle(1, lies);
    QCOMPARE(desk_->alignmentOf(1)->status, Readiness::Ready);
    connectMachine();
    desk_->sendHooping(1);
    sewToTheEnd();
    // the virtual cloth: back through the true pose every stitch lies where the layout has it
    const Hooping& h = *desk_->hoopingAt(1);
    const PlanSetting& sewn = h.settings.front();
    const Transform toLayout = *(lies * intendedPlace(sewn)).inverse();
    size_t stitches = 0;
    double worst = 0;
    for (const Sewn& s : clothIn(cloth())) {
      worst = std::max(worst, distance(toLayout(s.at), sewn.pattern.stitches[s.row].at));
      ++stitches;
    }
    QCOMPARE(stitches, countRows(sewn.pattern.stitches, Op::Stitch));
    QVERIFY2(worst < 0.03, qPrintable(QString::number(worst)));
  }
  /// Two hoopings, each aligned by a scan of its own and sewn; a scan after that shows the seam.
  void theSeamOfTwoHoopingsIsMeasured() {
    // a tag grown over its frame, which has printed tags for the camera
    Job job = actions::scaledWhole(demoJob(desk_->bench(), "tally-tags"), 4.9, desk_->bench());
    job.plan_settings.hoop = "field-200x140";
    job.proof_accepted = true;
    desk_->take(job, {});
    desk_->makePlan();
    desk_->settle();
    clearTheRest();
    QVERIFY(desk_->planCurrent());
    const auto& seams = desk_->plan()->seams;
    const auto meets = std::find_if(seams.begin(), seams.end(),
                                    [](const Seam& s) { return s.meets && s.first != s.second; });
    QVERIFY(meets != seams.end());
    const int hoopings[] = {meets->first, meets->second};
    const auto shoot = [&] {
      desk_->camera().shoot();
      return testing::comes([&] { return !desk_->camera().busy() && !desk_->scans().busy(); });
    };
    connectMachine();
    for (int h : hoopings) {
      desk_->setHooping(h);
      QVERIFY(!desk_->seamsSewn());
      QVERIFY(shoot());
      const auto reading = desk_->scans().reading();
      QVERIFY2(desk_->alignmentOf(h), reading && reading->photo.problem
                                          ? reading->photo.problem->what()
                                          : qPrintable(QString("no alignment of %1").arg(h)));
      desk_->sendHooping(h);
      sewToTheEnd();
      QVERIFY(desk_->sewn(h).done);
    }
    QVERIFY(desk_->seamsSewn());
    QVERIFY(shoot());
    desk_->checkSeams();
    desk_->settle();
    const auto answer = desk_->seams().answerFor(desk_->scans().shown()->scan.id);
    QVERIFY(answer && !answer->seams.empty());
    for (const SeamSeen& s : answer->seams) {
      QVERIFY2(s.asPredicted(), s.inWords().c_str());
      QVERIFY2(s.gap_mm < 0.25 && s.certain_mm < 0.2, s.inWords().c_str());
      qInfo("%s", s.inWords().c_str());
    }
    const auto kept = desk_->ledger().all();
    QCOMPARE(static_cast<size_t>(std::count_if(kept.begin(), kept.end(),
                                               [](const auto& e) { return e.event == "seam"; })),
             answer->seams.size());
    desk_->checkSeams();  // asked again of the same scan nothing is written twice
    desk_->settle();
    QCOMPARE(desk_->ledger().all().size(), kept.size());
  }

  /// Whatever goes wrong at the machine, every stitch lies on the cloth at the end, and none twice
  /// but those of the overlap.
  void faultsLeaveNoGap_data() {
    QTest::addColumn<QString>("fault");
    QTest::newRow("thread") << "break";
    QTest::newRow("bobbin not caught") << "bobbin-missed";
    QTest::newRow("bobbin empty") << "bobbin-empty";
    QTest::newRow("fold") << "fold";
    QTest::newRow("power") << "power";
  }
  void faultsLeaveNoGap() {
    QFETCH(QString, fault);
    loadGilet();
    MachineLink& m = desk_->run().machine();
    if (QTest::currentTestFailed()) return;
    m.strike(fault, 170);
    m.setSpeedUp(1000);
    desk_->sewOn();
    if (fault == "power") {
      QVERIFY(testing::comes([&] { return m.phase() == Phase::Away; }));
      connectMachine();
      desk_->sendHooping(1);
    } else {
      QVERIFY(testing::comes([&] { return m.phase() == Phase::Broken; }));
      if (fault == "bobbin-missed") QCOMPARE(desk_->resumeRow(), size_t{0});
    }
    sewToTheEnd();
    const PlanSetting& sewn = desk_->hoopingAt(1)->settings.front();
    std::vector<int> times(sewn.pattern.stitches.size(), 0);
    for (const Sewn& s : clothIn(cloth())) ++times[s.row];
    size_t twice = 0;
    for (size_t i = 0; i < times.size(); ++i) {
      if (sewn.pattern.stitches[i].op == Op::Stitch) QVERIFY(times[i] >= 1);
      twice += times[i] > 1;
    }
    QVERIFY2(twice <= desk_->bench().shop.practice.resume_overlap_stitches,
             qPrintable(QString::number(twice)));
  }
  void aBlockIsPassedByOnPurposeAndTold() {
    loadGilet();
    if (QTest::currentTestFailed()) return;
    const std::vector<size_t> blocks = desk_->run().blockStarts();
    QVERIFY(blocks.size() > 2);
    desk_->run().moveTo(blocks[1]);
    QCOMPARE(desk_->resumeRow(), blocks[1]);
    sewToTheEnd();
    for (const Sewn& s : clothIn(cloth())) QVERIFY(s.row >= blocks[1]);
    const auto entries = desk_->ledger().entries(desk_->job().id);
    QVERIFY(std::any_of(entries.begin(), entries.end(),
                        [](const LedgerEntry& e) { return e.event == "skipped"; }));
  }
  void nothingIsSentUnalignedOrUnready() {
    planGilet();
    QVERIFY_THROWS_EXCEPTION(Error, desk_->sendHooping(1));
    needle(1, Transform::scaling(1.02, 1.02));  // stretched by 2 %
    QCOMPARE(desk_->alignmentOf(1)->status, Readiness::Rehoop);
    QVERIFY_THROWS_EXCEPTION(Error, desk_->sendHooping(1));
    desk_->overruleAlignment(1, "trial on scrap");
    desk_->sendHooping(1);
    QVERIFY(desk_->run().sent());
    desk_->clearMarks(1);  // hooped again: the word counts no more
    QVERIFY_THROWS_EXCEPTION(Error, desk_->sendHooping(1));
  }
  void aHoopingThatWouldLeaveTheFieldIsRefused() {
    planGilet();
    needle(1, Transform::moving({150, 0}));
    desk_->overruleAlignment(1, "careless");
    QVERIFY_THROWS_EXCEPTION(Error, desk_->sendHooping(1));
  }
  void eventsStayWithTheJobThatIsSewn() {
    planGilet();
    needle(1, {});
    const Job gilet = desk_->job();
    const std::filesystem::path file = dir_->filePath("gilet.rapt").toStdString();
    desk_->save(file);
    connectMachine();
    desk_->sendHooping(1);
    MachineLink& m = desk_->run().machine();
    QVERIFY(testing::comes([&] { return m.phase() == Phase::Loaded; }));
    m.strike(QStringLiteral("break"), 120);
    m.setSpeedUp(1000);
    desk_->sewOn();
    desk_->take(demoJob(desk_->bench(), "tally-tags"), {});  // another job meanwhile
    QVERIFY(testing::comes([&] { return m.phase() == Phase::Broken; }));
    QVERIFY(desk_->record().empty());
    for (const LedgerEntry& e : desk_->ledger().all())
      if (e.event == "break") QCOMPARE(e.job_id, gilet.id);
    desk_->open(file);  // and it finds what happened meanwhile
    QVERIFY(desk_->sewn(1).row >= 120);
    QVERIFY(!desk_->sewn(1).done);
  }
  void anotherPlanTakesNoRowsOfThisOne() {
    planGilet();
    needle(1, {});
    connectMachine();
    desk_->sendHooping(1);
    sewToTheEnd();
    QVERIFY(desk_->sewn(1).done);
    Job next = desk_->job();
    next.plan_settings.hoop = "300x200";
    desk_->change("hoop", next);
    QVERIFY(!desk_->planCurrent());
    desk_->makePlan();
    desk_->settle();
    QVERIFY(desk_->planCurrent());
    QVERIFY(desk_->sewn(1).done);  // it is on the cloth, whatever frame the rest takes
    for (const Hooping& h : desk_->plan()->hoopings)
      for (const PlanSetting& s : h.settings)
        QCOMPARE(sewnAlready(desk_->document().work(), *desk_->madePlan(), s), size_t{0});
    desk_->undo().undo();
    QVERIFY(desk_->planCurrent());  // the plan that was sewn from is here again, with its rows
    QVERIFY(desk_->sewn(1).done);
  }
  void aPlanThatComesLateIsNobodyElses() {
    Job job = demoJob(desk_->bench(), "hide-banner");
    desk_->take(job, {});
    desk_->makePlan();
    QVERIFY(desk_->planning());
    desk_->take(demoJob(desk_->bench(), "tally-tags"), {});
    desk_->settle();
    QVERIFY(!desk_->plan());
    QVERIFY(desk_->document().work().plans.empty());
    QCOMPARE(desk_->undo().count(), 0);
  }
  void killedAnywhereItGoesOnAtTheRightStitch() {
    // by its own clock, fast: else it would be through before anyone could pull the plug
    qputenv("RAPT_THIMBLE_STANDIN", QByteArray(RT_STANDIN " --cloth ") + cloth().toUtf8());
    planGilet();
    needle(1, {});
    std::mt19937 random = testing::seeded(271);
    const Hooping h = *desk_->hoopingAt(1);  // a copy: the desk is made anew
    const size_t rows = h.settings.front().pattern.stitches.size();
    const size_t overlap = desk_->bench().shop.practice.resume_overlap_stitches;
    int kills = 0;
    for (bool done = false; !done;) {
      connectMachine();
      desk_->sendHooping(1);
      MachineLink& m = desk_->run().machine();
      QVERIFY(testing::comes([&] { return m.phase() == Phase::Loaded; }));
      m.setSpeedUp(100 + static_cast<double>(random() % 500));
      const size_t stop =
          kills < kKills ? desk_->resumeRow() + 1 + random() % (2 * rows / kKills + 1) : rows + 1;
      bool killed = false;
      const auto watch = connect(&desk_->run(), &SewingRun::moved, this, [&] {
        if (killed || m.row() < stop) return;
        killed = true;
        ::kill(static_cast<pid_t>(m.processId()), SIGKILL);
      });
      desk_->sewOn();
      QVERIFY(testing::comes([&] {
        if (m.phase() == Phase::ColourWait || m.phase() == Phase::Paused) desk_->sewOn();
        done = m.phase() == Phase::Done;
        return done || m.phase() == Phase::Away;
      }));
      disconnect(watch);
      if (done) break;
      ++kills;
      if (kills % 3 != 0) continue;
      // the window ends too: all it knows is in its folder
      Work work = desk_->document().work();
      const std::filesystem::path file = dir_->filePath("killed.rapt").toStdString();
      work.record = {};  // as it was saved before any stitch, but for the marks
      for (const Happening& fact : desk_->record().all())
        if (std::holds_alternative<MarkFound>(fact) || std::holds_alternative<Overruled>(fact))
          work.record.add(fact);
      desk_->document().take(work, {});
      desk_->save(file);
      desk_.reset();
      desk_ = std::make_unique<Desk>(openBench(), DeskFolders{dir_->path().toStdString()});
      desk_->open(file);
      desk_->settle();
    }
    QVERIFY2(kills >= kKills / 2, qPrintable(QString::number(kills)));
    // every stitch once and in order, and none twice but the overlap of a start
    std::vector<int> times(rows, 0);
    size_t last = 0, starts = 0;
    for (const Sewn& s : clothIn(cloth())) {
      if (s.row < last) {
        ++starts;
        QVERIFY2(last - s.row <= overlap + 1, qPrintable(QString::number(last - s.row)));
      }
      ++times[s.row];
      last = s.row;
    }
    for (size_t row = 0; row < rows; ++row)
      if (h.settings.front().pattern.stitches[row].op == Op::Stitch)
        QVERIFY2(times[row] >= 1, qPrintable(QString::number(row)));
    QVERIFY(static_cast<int>(starts) <= kills);
  }
};

RT_TEST(TestSewingRun)

}  // namespace test_sewing_run
#include "test_sewing_run.moc"
