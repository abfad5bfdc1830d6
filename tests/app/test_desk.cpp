#include <QTemporaryDir>
#include <QtTest>

#include "demo.h"
#include "desk.h"
#include "error.h"

using namespace rt;

class TestDesk : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  DeskFolders folders() { return {dir_.path().toStdString()}; }

 private slots:
  void undoReturnsTheVeryJob() {
    Desk desk(openBench(), folders());
    desk.take(demoJob(desk.bench(), "binocular-strap"), {});
    const Job before = desk.job();
    Job next = before;
    next.pieces[0].place.at.x += 7;
    next.brief.item = "other";
    desk.change("edit", next);
    QVERIFY(desk.job() == next);
    desk.undo().undo();
    QVERIFY(desk.job() == before);
    desk.undo().redo();
    QVERIFY(desk.job() == next);
  }
  void noStepForNoChange() {
    Desk desk(openBench(), folders());
    desk.change("nothing", desk.job());
    QCOMPARE(desk.undo().count(), 0);
  }
  void curesDoWhatTheySay() {
    Desk desk(openBench(), folders());
    desk.take(demoJob(desk.bench(), "binocular-strap"), {});
    desk.settle();
    QCOMPARE(desk.weighing()->report.verdict, Verdict::Stop);
    desk.seekCures(0);
    desk.settle();
    QVERIFY(!desk.cures().empty());
    const Verdict before = desk.weighing()->report.findings[0].severity;
    const Box place = desk.weighing()->report.findings[0].bounds;
    for (const Cure& cure : desk.cures()) {
      const Weighing after = weigh(laidOut(cure.job.pieces), desk.fabric(), cure.job.zones);
      Verdict worst = Verdict::Sew;
      for (const Finding& f : after.report.findings)
        if (f.kind == FindingKind::Density && f.bounds.overlaps(place))
          worst = std::max(worst, f.severity);
      QVERIFY2(worst < before, cure.title.c_str());
      QVERIFY2(worst <= cure.verdict, cure.title.c_str());
    }
  }
  void planFollowsTheLayout() {
    Desk desk(openBench(), folders());
    desk.take(demoJob(desk.bench(), "wardens-gilet"), {});
    desk.makePlan();
    desk.settle();
    QVERIFY(desk.planCurrent());
    Job next = desk.job();
    next.pieces[0].place.at.y -= 3;
    desk.change("move", next);
    QVERIFY(!desk.planCurrent());
    desk.undo().undo();
    QVERIFY(desk.planCurrent());
  }
  void unsavedEditsComeBack() {
    const std::filesystem::path file = dir_.filePath("job.rapt").toStdString();
    Job edited;
    {
      Desk desk(openBench(), folders());
      desk.take(demoJob(desk.bench(), "tally-tags"), {});
      desk.save(file);
      edited = desk.job();
      edited.title = "edited, never saved";
      desk.change("title", edited);
      desk.autosave();  // then the power goes
    }
    Desk again(openBench(), folders());
    again.open(file);
    QVERIFY(again.recovered());
    QVERIFY(again.job() == edited);
    again.save(file);
    Desk third(openBench(), folders());
    third.open(file);
    QVERIFY(!third.recovered());
    QVERIFY(third.job() == edited);
  }
  void aBadFileLeavesTheJob() {
    Desk desk(openBench(), folders());
    desk.take(demoJob(desk.bench(), "tally-tags"), {});
    const Job before = desk.job();
    QVERIFY_EXCEPTION_THROWN(desk.open(dir_.filePath("none.rapt").toStdString()), Error);
    QVERIFY(desk.job() == before);
  }
  void everyDemoJobOpens() {
    Desk desk(openBench(), folders());
    for (const std::string& name : demoJobs(desk.bench())) {
      desk.take(demoJob(desk.bench(), name), {});
      desk.settle();
      QVERIFY(desk.statistics().stitches > 100);
    }
  }
};

QTEST_MAIN(TestDesk)
#include "test_desk.moc"
