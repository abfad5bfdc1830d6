// From a crooked cloth to a decision, by keys and clicks alone.
#include <QtTest>

#include "align_station.h"
#include "alignment_words.h"
#include "comes.h"
#include "demo.h"
#include "run.h"
#include "window_driver.h"

namespace test_align_view {

using namespace rt;

class TestAlignView : public QObject {
  Q_OBJECT
  std::unique_ptr<testing::WindowDriver> d_;
  Desk& desk() { return *d_->desk; }

  bool settled() {
    return testing::comes([&] { return !desk().camera().busy() && !desk().scans().busy(); });
  }

 private slots:
  void initTestCase() {
    qputenv("RAPT_THIMBLE_STANDIN", RT_STANDIN " --photo-px 1000");
    d_ = std::make_unique<testing::WindowDriver>();
    QVERIFY(d_->show());
    Job job = demoJob(desk().bench(), "wardens-gilet");
    job.plan_settings.hoop = "field-200x140";
    desk().take(job, {});
    desk().makePlan();
    desk().settle();
    QVERIFY(desk().planCurrent());
  }
  /// From the photo that ships with each demo job to ready, by keys alone; the one with a mark that
  /// lies wrong is not believed.
  void demoScansLeadToADecision() {
    for (const std::string& name : demoJobs(desk().bench())) {
      desk().take(demoJob(desk().bench(), name), {});
      desk().settle();
      desk().makePlan();
      desk().settle();
      d_->key(Qt::Key_6);
      d_->key(Qt::Key_D, Qt::ControlModifier | Qt::ShiftModifier);
      QVERIFY2(testing::comes([&] { return desk().alignmentOf(1).has_value(); }), name.c_str());
      QVERIFY(settled());
      const Alignment a = *desk().alignmentOf(1);
      QVERIFY2(a.status == Readiness::Ready, (name + ": " + headlineOf(a)).c_str());
      QVERIFY(std::abs(a.fit.rotation_deg) > 1);  // it lies crooked
      if (name != demoJobs(desk().bench()).front()) continue;
      desk().setHooping(2);
      d_->key(Qt::Key_D, Qt::ControlModifier | Qt::ShiftModifier);
      QVERIFY(testing::comes([&] { return desk().alignmentOf(2).has_value(); }));
      QVERIFY(settled());
      const Alignment wrong = *desk().alignmentOf(2);
      QVERIFY2(!wrong.missing.empty() || wrong.status != Readiness::Ready,
               headlineOf(wrong).c_str());
    }
    Job job = demoJob(desk().bench(), "wardens-gilet");
    job.plan_settings.hoop = "field-200x140";
    desk().take(job, {});
    desk().makePlan();
    desk().settle();
  }
  void aScanIsTakenAndKeptByKeysAlone() {
    d_->key(Qt::Key_6);
    d_->key(Qt::Key_C, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(desk().camera().busy());
    QVERIFY(settled());
    QVERIFY(desk().scans().shown());
    const auto a = desk().alignmentOf(1);
    QVERIFY(a);
    QCOMPARE(a->status, Readiness::Ready);
    QCOMPARE(d_->window->align().verdict().state, look::State::Ready);
    d_->key(Qt::Key_R, Qt::ControlModifier);
    QCOMPARE(desk().ledger().all().back().event, std::string("align"));
  }
  /// Where the school is a sewn line its two ends are the marks, found in the scan by themselves.
  void aSewnLineLeadsToADecision() {
    const Job before = desk().job();
    Job job = before;
    job.plan_settings.school = MarkSchool::SewnLine;
    desk().change("marks", job);
    desk().makePlan();
    desk().settle();
    d_->key(Qt::Key_C, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(settled());
    const auto a = desk().alignmentOf(1);
    QVERIFY(a);
    QVERIFY(a->marks.size() >= 2);
    QVERIFY2(a->missing.empty(), headlineOf(*a).c_str());
    QVERIFY2(a->status == Readiness::Ready, headlineOf(*a).c_str());
    desk().change("marks", before);
    desk().makePlan();
    desk().settle();
    d_->key(Qt::Key_C, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(settled());
  }
  void aMarkIsPointedAtInTheScan() {
    const auto before = desk().marksOf(1);
    const Mark m = before.front();
    const QByteArray name = QByteArray("point") + QByteArray::fromStdString(m.id);
    d_->click(name);
    QTest::mouseMove(&d_->window->cloth(), d_->px(m.layout));
    QTest::mouseClick(&d_->window->cloth(), Qt::LeftButton, {}, d_->px(m.layout));
    QVERIFY(settled());
    const auto after = desk().marksOf(1);
    QCOMPARE(after.size(), before.size());
    for (size_t i = 0; i < after.size(); ++i)
      QVERIFY(distance(after[i].hoop, before[i].hoop) < 0.1);
  }
  void theScanIsHeldByEye() {
    d_->click("toolEye");
    d_->click("nudgeScan");
    const Transform from = *desk().nudge();
    d_->key(Qt::Key_Right, Qt::ShiftModifier);
    d_->key(Qt::Key_Up);
    d_->key(Qt::Key_BracketRight);
    QVERIFY(!(*desk().nudge() == from));
    d_->key(Qt::Key_Escape);
    QVERIFY(!desk().nudge());
    d_->click("nudgeScan");
    d_->key(Qt::Key_Left);
    const Transform held = *desk().nudge();
    d_->key(Qt::Key_Return);
    QVERIFY(!desk().nudge());
    QVERIFY(std::abs(desk().alignmentOf(1)->fit.dx_mm - held.dx) < 1e-6);
  }
  void practiceEndsWithTheTruth() {
    d_->click("toolPractice");
    d_->choose("practiceLevel", "2");
    d_->click("practiceHoop");
    QVERIFY(settled());
    d_->click("practiceSew");
    QVERIFY(testing::comes([&] { return desk().camera().truth().has_value(); }));
    const LedgerEntry& e = desk().ledger().all().back();
    QCOMPARE(e.event, std::string("practice"));
    const PracticeScore due =
        scoreOf(desk().camera().truth()->lies, desk().alignmentOf(1)->fit.toHoop,
                desk().fieldOf(*desk().currentHooping()), desk().job().tolerance_mm, true,
                desk().bench().shop.practice.scoring);
    QCOMPARE(e.figures.at("points"), static_cast<double>(due.points));
    QCOMPARE(e.status, std::string(due.right ? "right" : "wrong"));
  }
  void photosThatComeIntoAWatchedFolderAreTaken() {
    const std::string bytes = *desk().scans().shown()->scan.bytes;
    const size_t before = desk().scans().scans().size();
    d_->click("toolPhoto");
    QVERIFY(QDir(d_->folder.path()).mkdir("phone"));
    d_->asker->next = d_->folder.filePath("phone");
    d_->click("watchFolder");
    QFile file(d_->folder.filePath("phone/new.jpg"));
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write(bytes.data(), static_cast<qint64>(bytes.size()));
    file.close();
    QVERIFY(testing::comes([&] { return desk().scans().scans().size() == before + 1; }));
    QVERIFY(settled());
    QVERIFY(desk().scans().reading()->flat);
  }
  void aDroppedFileThatIsNoPhotoIsTold() {
    QSignalSpy failed(&desk(), &Desk::failed);
    QFile file(d_->folder.filePath("not.png"));
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write("no picture");
    file.close();
    d_->click("toolPhoto");
    d_->asker->next = file.fileName();
    d_->click("openScan");
    QVERIFY(settled());
    QCOMPARE(failed.size(), 1);
  }
  void cleanupTestCase() { d_.reset(); }
};

RT_TEST(TestAlignView)

}  // namespace test_align_view
#include "test_align_view.moc"
