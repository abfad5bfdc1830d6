#include <QProcess>
#include <QTemporaryDir>
#include <QtTest>

#include "demo.h"
#include "error.h"
#include "file_io.h"
#include "job_file.h"
#include "ledger.h"
#include "random_pattern.h"
#include "recovery.h"

using namespace rt;

namespace {

Job sample() {
  Job job = demoJob(openBench(), "wardens-gilet");
  job.zones.push_back({"zip", ZoneKind::KeepOut, {{0, 0}, {5, 0}, {5, 9}}, 2, 1.5});
  job.overruled = "trial piece";
  PlanOptions options;
  options.hoops = {{"200x140", "", {200, 140, HoopShape::Rectangle}}};
  job.made = {std::make_shared<const HoopingPlan>(planHoopings(laidOut(job.pieces), options)),
              printOf(laidOut(job.pieces))};
  marksFor(job, 1).marks = {{"A", {1, 2}, {3, 4}, 0.15}};
  progressFor(job, 1) = {1, 77, false};
  return job;
}

}  // namespace

class TestStore : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  std::filesystem::path at(const char* name) { return dir_.filePath(name).toStdString(); }

 private slots:
  void jobsComeBackAsTheyWere() {
    const Job job = sample();
    saveJob(job, at("a.rapt"));
    QVERIFY(loadJob(at("a.rapt")) == job);
  }
  void coordinatesKeepEveryBit() {
    std::mt19937 random = testing::seeded(131);
    Job job = sample();
    job.pieces[0].stitches = std::make_shared<const Pattern>(testing::wander(random, 500, 33));
    saveJob(job, at("b.rapt"));
    QVERIFY(*loadJob(at("b.rapt")).pieces[0].stitches == *job.pieces[0].stitches);
  }
  void savingReplacesWhole() {
    Job job = sample();
    saveJob(job, at("c.rapt"));
    job.title = "second";
    saveJob(job, at("c.rapt"));
    QCOMPARE(loadJob(at("c.rapt")).title, std::string("second"));
    QVERIFY(!std::filesystem::exists(at("c.rapt.part")));
  }
  void aFailedSaveLeavesTheOldFile() {
    Job job = sample();
    saveJob(job, at("d.rapt"));
    const std::string before = readFile(at("d.rapt"));
    std::filesystem::create_directories(
        at("d.rapt.part/x"));  // the place for the new file is taken
    job.title = "lost";
    QVERIFY_EXCEPTION_THROWN(saveJob(job, at("d.rapt")), Error);
    QCOMPARE(readFile(at("d.rapt")), before);
    std::filesystem::remove_all(at("d.rapt.part"));
  }
  void whatIsNoJobIsRefused() {
    QVERIFY_EXCEPTION_THROWN(loadJob(at("none.rapt")), Error);
    QVERIFY_EXCEPTION_THROWN(loadJob("/"), Error);
    writeFile(at("text.rapt"), "hello");
    QVERIFY_EXCEPTION_THROWN(loadJob(at("text.rapt")), Error);
    writeFile(at("empty.rapt"), "");
    QVERIFY_EXCEPTION_THROWN(loadJob(at("empty.rapt")), Error);
  }
  void damagedJobsAreRefusedOrRead() {
    std::mt19937 random = testing::seeded(132);
    saveJob(sample(), at("e.rapt"));
    const std::string good = readFile(at("e.rapt"));
    for (int i = 0; i < 60; ++i) {
      std::string text = good;
      for (int k = 0; k < 20; ++k)
        text[16 + random() % (text.size() - 16)] = static_cast<char>(random());
      if (i % 5 == 0) text.resize(random() % text.size());
      writeFile(at("f.rapt"), text);
      try {
        loadJob(at("f.rapt"));
      } catch (const Error& e) {
        QVERIFY(!e.problem().empty());
      }
    }
  }
  void recoveryBringsEditsBack() {
    Recovery recovery(at("recovery"));
    Job job = sample();
    QVERIFY(!recovery.find(job.id));
    recovery.keep(job, "/somewhere/job.rapt");
    job.title = "edited";
    recovery.keep(job, "/somewhere/job.rapt");
    const auto found = recovery.find(job.id);
    QVERIFY(found && found->job == job);
    QCOMPARE(found->saved_as, std::filesystem::path("/somewhere/job.rapt"));
    QVERIFY(recovery.newest().has_value());
    recovery.forget(job);
    QVERIFY(!recovery.find(job.id));
    QVERIFY(!recovery.newest());
  }
  void outcomesAndRunsAreKeptByFabric() {
    {
      Ledger ledger(at("outcomes.sqlite"));
      ledger.addOutcome({"j", "felt", 6.5, 1.0, Outcome::Fine, ""});
      ledger.addOutcome({"j", "canvas", 9.5, 1.1, Outcome::Broke, "at the eye"});
      ledger.addOutcome({"k", "felt", 8.5, 0.9, Outcome::Puckered, "stiff, \"boardy\""});
      ledger.addRun({"j", 2, 600, 660});
    }
    Ledger again(at("outcomes.sqlite"));
    const std::vector<OutcomeEntry> felt = again.outcomes("felt", OutcomeOf::Density);
    QCOMPARE(felt.size(), size_t{2});
    QCOMPARE(felt[0].outcome, Outcome::Fine);  // oldest first
    QCOMPARE(felt[1].note, std::string("stiff, \"boardy\""));
    QCOMPARE(felt[1].factor, 0.9);
    QVERIFY(again.outcomes("silk", OutcomeOf::Density).empty());
    QCOMPARE(again.runs().size(), size_t{1});
    QCOMPARE(again.runs()[0].taken_s, 660.0);
  }
  void theLedgerIsAddedToAndExported() {
    {
      Ledger ledger(at("ledger.sqlite"));
      LedgerEntry e;
      e.job_id = "j1";
      e.event = "break";
      e.hooping = 2;
      e.stitch = 41;
      e.note = "said \"snap\", twice";
      ledger.add(e);
      e.job_id = "j2";
      ledger.add(e);
    }
    Ledger again(at("ledger.sqlite"));
    QCOMPARE(again.entries().size(), size_t{2});
    QCOMPARE(again.entries("j1").size(), size_t{1});
    QCOMPARE(again.entries("j1")[0].stitch, 41);
    const std::string csv = again.csv("j1");
    QVERIFY(csv.find("\"said \"\"snap\"\", twice\"") != std::string::npos);
    QCOMPARE(std::count(csv.begin(), csv.end(), '\n'), 2L);
  }
  void killedWhileSavingLeavesAReadableFile() {
    // a child saves over and over; it is killed at odd moments and the file must always open
    const std::string file = at("k.rapt").string();
    saveJob(sample(), file);
    for (int i = 0; i < 6; ++i) {
      QProcess child;
      child.start(QCoreApplication::applicationFilePath(),
                  {"--save-forever", QString::fromStdString(file)});
      QVERIFY(child.waitForStarted());
      QVERIFY(child.waitForReadyRead(20000));
      QTest::qWait(20 + 13 * i);
      child.kill();
      child.waitForFinished();
      QCOMPARE(loadJob(file).pieces.size(), sample().pieces.size());
    }
  }
};

int main(int argc, char** argv) {
  QCoreApplication app(argc, argv);
  if (argc == 3 && qstrcmp(argv[1], "--save-forever") == 0) {
    const Job job = sample();
    std::printf("begun\n");
    std::fflush(stdout);
    while (true) saveJob(job, argv[2]);
  }
  TestStore test;
  return QTest::qExec(&test, argc, argv);
}
#include "test_store.moc"
