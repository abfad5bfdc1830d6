#include <QTemporaryDir>
#include <QtTest>

#include "comes.h"
#include "demo.h"
#include "desk.h"
#include "error.h"
#include "run.h"

namespace test_desk {

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
  void groupsAreChosenAsOne() {
    Desk desk(openBench(), folders());
    Job job = demoJob(desk.bench(), "hide-banner");
    job.pieces[1].group = job.pieces[3].group = 4;
    desk.take(job, {});
    int told = 0;
    desk.on(Part::Selection, this, [&] { ++told; });
    const int a = job.pieces[0].id, b = job.pieces[1].id, c = job.pieces[3].id;
    desk.select(b);
    QCOMPARE(desk.chosen(), (std::vector<int>{b, c}));
    QCOMPARE(desk.selected(), b);
    desk.lead(c);
    QCOMPARE(desk.selected(), c);
    desk.lead(a);  // not chosen: nothing
    QCOMPARE(desk.selected(), c);
    desk.selectAlso(a);
    QCOMPARE(desk.chosen(), (std::vector<int>{a, b, c}));
    desk.selectAlso(c);  // takes the whole group out
    QCOMPARE(desk.chosen(), std::vector<int>{a});
    QCOMPARE(desk.selected(), a);
    desk.selectAlso(a);
    QVERIFY(desk.chosen().empty());
    QCOMPARE(desk.selected(), 0);
    QCOMPARE(told, 5);
    desk.select(b);
    Job next = desk.job();
    std::erase_if(next.pieces, [&](const Piece& p) { return p.id == b; });
    desk.change("remove", next);
    QCOMPARE(desk.chosen(), std::vector<int>{c});  // what is gone is not chosen
    QCOMPARE(desk.selected(), c);
  }
  void twoStatesAreHeldSideBySide() {
    Desk desk(openBench(), folders());
    desk.take(demoJob(desk.bench(), "binocular-strap"), {});
    desk.settle();
    Job other = desk.job();
    other.pieces.pop_back();
    desk.compareWith(other, "now", "without");
    QVERIFY(!desk.comparison()->weighed);
    desk.settle();
    QVERIFY(desk.comparison()->weighed);
    QVERIFY(desk.comparison()->weighed->report.summary.covered_mm2 <
            0.7 * desk.weighing()->report.summary.covered_mm2);
    Job next = desk.job();
    next.pieces[0].place.at.x += 1;
    desk.change("move", next);
    QVERIFY(!desk.comparison());  // it was held against a state that is gone
    desk.settle();
  }
  void ownThreadsAreKept() {
    {
      Desk desk(openBench(), folders());
      desk.shop().setThreads({{"Q1", "sedge", {0x445533}, 400}});
      QCOMPARE(desk.bench().shop.threads.size(), size_t{1});
      desk.settle();
    }
    Desk again(openBench(), folders());
    QCOMPARE(again.bench().shop.threads.size(), size_t{1});
    QCOMPARE(again.bench().shop.threads[0].name, std::string("sedge"));
    again.settle();
    QFile::remove(dir_.filePath("threads.csv"));
  }
  void brokenShopLimitsAreToldAndTheStartingValuesServe() {
    QFile file(dir_.filePath("shop-limits.json"));
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write("{\"fabrics\": {\"felt\": {");
    file.close();
    QStringList problems;
    Desk desk(openBench(), folders());
    connect(&desk, &Desk::failed, this, [&](const QString& p) { problems << p; });
    QVERIFY(testing::comes([&] { return !problems.isEmpty(); }));
    QVERIFY(desk.shopFabric() == desk.startingFabric());
    desk.settle();
    QVERIFY(file.exists());  // it stays for its owner to mend
    file.remove();
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
      const Weighing after =
          weigh(laidOut(cure.job.pieces), clothOf(cure.job.brief, desk.bench()), cure.job.zones);
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
    QVERIFY_THROWS_EXCEPTION(Error, desk.open(dir_.filePath("none.rapt").toStdString()));
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

RT_TEST(TestDesk)

}  // namespace test_desk
#include "test_desk.moc"
