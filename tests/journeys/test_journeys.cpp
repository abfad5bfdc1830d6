// Whole jobs through the real window, as people do them: twice, in another order, after an error.
// At every step head, list, file, record and command line say the same.
#include <QImage>
#include <QPlainTextEdit>
#include <QProcess>
#include <QSignalSpy>
#include <QTabWidget>
#include <nlohmann/json.hpp>

#include "actions.h"
#include "align_station.h"
#include "comes.h"
#include "demo.h"
#include "hooping_place.h"
#include "job_file.h"
#include "preflight.h"
#include "proof_words.h"
#include "run.h"
#include "sew_station.h"
#include "window_driver.h"

namespace test_journeys {

using namespace rt;
using testing::WindowDriver;
using Phase = MachineLink::Phase;

class TestJourneys : public QObject {
  Q_OBJECT
  std::unique_ptr<WindowDriver> d_;
  Desk& desk() { return *d_->desk; }
  const Job& job() { return desk().job(); }
  MachineLink& machine() { return d_->window->sew().machine(); }
  QString file(const char* name) { return d_->folder.filePath(name); }

  QString word() { return d_->find<QLabel>("verdictWord")->text(); }
  QString sentence() { return d_->find<QLabel>("verdictSentence")->text(); }
  /// All that shows whether the hooping in hand may be sewn says the same.
  void agree() {
    for (int i = 0; i < 3; ++i) QCoreApplication::processEvents();
    const Station at = d_->window->station();
    const StationVerdict now = verdictOf(desk(), at);
    QCOMPARE(word(), now.word);
    QCOMPARE(sentence(), now.sentence);
    const Clearance asked = desk().clearanceOf(desk().hooping(), desk().setting());
    QVERIFY(asked.lines == desk().clearance().lines);
    if (at == Station::Sew && desk().planCurrent()) {
      auto* send = d_->window->findChild<QPushButton*>("sendHooping");
      if (send->isVisible() && machine().phase() == Phase::Idle)
        QCOMPARE(send->isEnabled(), !asked.against(true));
    }
  }
  /// The command line, asked of the job's file, judges as the window does.
  void agreesWithCommandLine() {
    d_->key(Qt::Key_S, Qt::ControlModifier);
    QVERIFY(!desk().path().empty());
    QVERIFY(loadWork(desk().path()) == desk().document().work());
    QProcess cli;
    cli.start(RT_CLI, {"job", QString::fromStdString(desk().path().string()), "release",
                       "--hooping", QString::number(desk().hooping()), "--setting",
                       QString::number(desk().setting()), "--json", "--shop", d_->folder.path()});
    QVERIFY(cli.waitForFinished(testing::kLongest_ms));
    QVERIFY2(cli.exitCode() == 0, cli.readAllStandardError().constData());
    const auto answer = nlohmann::json::parse(cli.readAllStandardOutput().toStdString());
    const Clearance& here = desk().clearance();
    size_t at = 0;
    for (const ClearanceLine& l : here.lines) {
      if (atMachine(l.what) || l.what == ClearanceLine::What::MachineFine) continue;
      QVERIFY(at < answer["lines"].size());
      const auto& there = answer["lines"][at++];
      QCOMPARE(QString::fromStdString(there["sentence"]), preflight(here)[at - 1].words);
    }
    QCOMPARE(at, answer["lines"].size());
  }

  bool has(ClearanceLine::What what) {
    const auto& lines = desk().clearance().lines;
    return std::any_of(lines.begin(), lines.end(),
                       [&](const ClearanceLine& l) { return l.what == what; });
  }
  void openPlanned(const char* demo, const char* frame = nullptr) {
    d_->window->openDemo(demo);
    desk().settle();
    if (frame) {
      PlanSettings s = job().plan_settings;
      s.hoop = frame;
      desk().change("frame", actions::plannedWith(job(), s));
    }
    d_->key(Qt::Key_4);
    d_->click("planButton");
    desk().settle();
    QVERIFY(desk().planCurrent());
  }
  void needle(const Transform& lies) {
    d_->key(Qt::Key_6);
    d_->click("toolNeedle");
    for (const Mark& m : expectedMarks(*desk().currentHooping())) {
      const Point p = lies(m.hoop);
      const QByteArray id = QByteArray::fromStdString(m.id);
      d_->type("needleX" + id, QString::number(p.x, 'f', 2));
      d_->type("needleY" + id, QString::number(p.y, 'f', 2));
    }
  }
  void clearTheRest() {
    desk().settle();
    if (desk().weighing()->report.verdict == Verdict::Stop) desk().overrule("as a trial");
    d_->key(Qt::Key_7);
    if (!proofAccepted(job())) d_->click("acceptProof");
  }
  void connectMachine() {
    d_->key(Qt::Key_7);
    d_->click("connectMachine");
    QVERIFY(testing::comes([&] { return machine().phase() == Phase::Idle; }));
  }
  void tickAll() {
    for (int i = 0; i < 3; ++i)
      if (auto* box = d_->find<QAbstractButton>("tick" + QByteArray::number(i));
          box && !box->isChecked())
        QTest::mouseClick(box, Qt::LeftButton, {}, QPoint(10, 12));
  }
  void sewThrough() {
    d_->click("sendHooping");
    QVERIFY(testing::comes([&] { return machine().phase() == Phase::Loaded; }));
    machine().setSpeedUp(1000);
    tickAll();
    d_->click("sewButton");
    QVERIFY(testing::comes([&] {
      if (machine().phase() == Phase::ColourWait)
        if (auto* b = d_->find<QAbstractButton>("sewButton"); b && b->isEnabled())
          QTest::mouseClick(b, Qt::LeftButton);
      return machine().phase() == Phase::Done;
    }));
  }

 private slots:
  void init() {
    d_ = std::make_unique<WindowDriver>();
    qputenv("RAPT_THIMBLE_STANDIN", RT_STANDIN " --free");
    QVERIFY(d_->show());
  }
  void cleanup() { d_.reset(); }

  /// Save, change, save, close, open.
  void savedTwiceAndOpened() {
    d_->window->openDemo("tally-tags");
    desk().settle();
    d_->asker->next = file("tags.rapt");
    d_->key(Qt::Key_S, Qt::ControlModifier);
    for (const char* name : {"first", "second", "third"}) {
      d_->key(Qt::Key_1);
      d_->type("briefTitle", name);
      QVERIFY(desk().document().dirty());
      d_->asker->next.clear();  // nobody is asked for a name again
      d_->key(Qt::Key_S, Qt::ControlModifier);
      QVERIFY(!desk().document().dirty());
      QCOMPARE(desk().path(), std::filesystem::path(file("tags.rapt").toStdString()));
      QCOMPARE(loadJob(desk().path()).title, std::string(name));
    }
    QVERIFY(d_->window->openPath(file("tags.rapt")));
    QCOMPARE(job().title, std::string("third"));
  }
  /// The file was saved by another window meanwhile: both states are there, and nothing is lost.
  void anotherWindowSavedTheFile() {
    d_->window->openDemo("tally-tags");
    desk().settle();
    d_->asker->next = file("tags.rapt");
    d_->key(Qt::Key_S, Qt::ControlModifier);
    Work other = loadWork(desk().path());
    other.job.title = "theirs";
    ++other.edits;
    saveWork(other, desk().path());
    d_->key(Qt::Key_1);
    d_->type("briefTitle", "mine");
    d_->key(Qt::Key_S, Qt::ControlModifier);
    auto* words = d_->find<QLabel>("choiceWords");
    QVERIFY(words && words->isVisible() && words->text().contains("tags.rapt"));
    QCOMPARE(loadJob(desk().path()).title, std::string("theirs"));
    d_->clickText("Save this one beside it");
    QCOMPARE(loadJob(file("tags.rapt").toStdString()).title, std::string("theirs"));
    QCOMPARE(loadJob(file("tags-mine.rapt").toStdString()).title, std::string("mine"));
    QCOMPARE(desk().path(), std::filesystem::path(file("tags-mine.rapt").toStdString()));
    QVERIFY(!words->isVisible());
    // once more, and over it: what the file held is kept beside
    other.job.title = "theirs again";
    saveWork(other, desk().path());
    d_->type("briefTitle", "mine again");
    d_->key(Qt::Key_S, Qt::ControlModifier);
    d_->clickText("Save over it");
    QCOMPARE(loadJob(file("tags-mine.rapt").toStdString()).title, std::string("mine again"));
    QCOMPARE(loadJob(file("tags-mine-other.rapt").toStdString()).title,
             std::string("theirs again"));
  }
  /// Digits go to stations only from the cloth and the thread of work.
  void digitsStayWhereTheyAreTyped() {
    d_->window->openDemo("tally-tags");
    d_->key(Qt::Key_1);
    const Job before = job();
    for (QWidget* w : d_->window->findChildren<QWidget*>()) {
      const bool takes = w->isVisible() && w->isEnabled() && w->focusPolicy() != Qt::NoFocus &&
                         !w->inherits("rt::ClothView") && !w->inherits("rt::WorkThread");
      if (!takes || qobject_cast<QLineEdit*>(w) || qobject_cast<QPlainTextEdit*>(w)) continue;
      w->setFocus();
      QTest::keyClick(w, Qt::Key_4);
      QTest::keyClick(w, Qt::Key_Delete);
      QCOMPARE(d_->window->station(), Station::Brief);
    }
    QVERIFY(job().pieces == before.pieces);
    auto* order = d_->find<QPlainTextEdit>("briefOrder");
    order->setFocus();
    const int steps = desk().undo().count();
    QTest::keyClicks(order, "Q 31");
    QCOMPARE(d_->window->station(), Station::Brief);
    QCOMPARE(desk().undo().count(), steps + 1);  // one step, however long
    d_->key(Qt::Key_3);
    QCOMPARE(d_->window->station(), Station::Density);
  }
  /// A bad photo after a good measurement: nothing says ready any more, until it is thrown away.
  void aBadPhotoAfterAGoodOne() {
    openPlanned("wardens-gilet");
    if (QTest::currentTestFailed()) return;
    clearTheRest();
    needle(Transform::moving({0.4, -0.3}));
    desk().settle();
    agree();
    QCOMPARE(word(), QString("Ready"));
    d_->key(Qt::Key_7);
    agree();
    QVERIFY(desk().clearance().given());
    d_->key(Qt::Key_6);
    QImage grey(800, 600, QImage::Format_RGB888);
    grey.fill(Qt::gray);
    QVERIFY(grey.save(file("grey.png")));
    d_->asker->next = file("grey.png");
    d_->click("toolPhoto");
    d_->click("openScan");
    QVERIFY(testing::comes([&] { return !desk().scans().busy() && desk().scans().shown(); }));
    agree();
    QVERIFY2(word().contains("not measured"), qPrintable(word()));
    QVERIFY(!desk().alignmentOf(desk().hooping()));
    d_->key(Qt::Key_7);
    agree();
    QCOMPARE(desk().clearance().against()->what, ClearanceLine::What::PhotoNotRead);
    d_->asker->next = file("gilet.rapt");
    agreesWithCommandLine();
    QVERIFY(d_->window->openPath(file("gilet.rapt")));  // through save and start
    desk().settle();
    QCOMPARE(desk().clearance().against()->what, ClearanceLine::What::PhotoNotRead);
    d_->key(Qt::Key_6);
    agree();
    d_->click("toolPhoto");
    d_->click("dropScan");
    agree();
    QCOMPARE(word(), QString("Ready"));
    d_->key(Qt::Key_7);
    agree();
    QVERIFY(desk().clearance().given());
    agreesWithCommandLine();
  }
  /// Points typed, taken back, typed wrong: head and list go along at once.
  void theListNeverShowsWhatIsNoLongerSo() {
    openPlanned("wardens-gilet");
    if (QTest::currentTestFailed()) return;
    clearTheRest();
    needle({});
    agree();
    d_->key(Qt::Key_7);
    QVERIFY(desk().clearance().given());
    d_->key(Qt::Key_6);
    d_->click("clearMarks");
    agree();
    needle(Transform::scaling(1.03, 1.03));
    agree();
    QCOMPARE(word(), QString("Re-hoop"));
    d_->key(Qt::Key_7);
    agree();
    QVERIFY(!desk().clearance().given());
    // with a reason it may be sewn all the same, and the reason is kept
    d_->type("sewReason", "felt sits still");
    d_->click("sewAllTheSame");
    agree();
    QVERIFY(desk().clearance().given());
    const auto entries = desk().ledger().entries(job().id);
    QVERIFY(std::any_of(entries.begin(), entries.end(), [](const LedgerEntry& e) {
      return e.event == "overrule" && e.note.find("felt sits still") != std::string::npos;
    }));
    needle({});  // measured anew: judged anew
    agree();
    d_->key(Qt::Key_7);
    QVERIFY(desk().clearance().given());
  }
  /// Half is sewn, a line is added, planned again, undone, planned again: what is done stays done.
  void aChangeAfterHalfWasSewn() {
    openPlanned("wardens-gilet", "160x120");
    if (QTest::currentTestFailed()) return;
    QVERIFY(desk().plan()->hoopings.size() > 1);
    clearTheRest();
    needle({});
    connectMachine();
    agree();
    sewThrough();
    if (QTest::currentTestFailed()) return;
    QVERIFY(desk().sewn(1).done);
    QCOMPARE(desk().hooping(), 2);
    agree();
    const auto aligned = desk().ledger().entries(job().id);
    QCOMPARE(std::count_if(aligned.begin(), aligned.end(),
                           [](const LedgerEntry& e) { return e.event == "align"; }),
             1);  // what it was sewn by is kept by itself
    for (const char* name : {"tick0", "tick1", "tick2"})
      QVERIFY(!d_->window->findChild<QAbstractButton*>(name)->isChecked());
    const Job before = job();
    Made made = pieceFromText(
        [] {
          TextSource t;
          t.text = "i";
          t.height_mm = 8;
          return t;
        }(),
        desk().fabric(), desk().bench());
    made.piece.place.at = desk().hoopingAt(1)->settings.front().field.box.centre();
    desk().change("add a line", actions::added(job(), std::move(made.piece)));
    desk().settle();
    d_->key(Qt::Key_4);
    agree();
    QCOMPARE(word(), QString("Plan is out of date"));
    d_->click("planButton");
    desk().settle();
    agree();
    QVERIFY(desk().planCurrent());
    QVERIFY(desk().sewn(1).done);
    for (const Hooping& h : desk().plan()->hoopings)
      for (const PlanSetting& s : h.settings)
        QCOMPARE(sewnAlready(desk().document().work(), *desk().madePlan(), s), size_t{0});
    desk().setHooping(1);
    QVERIFY(!desk().clearance().given());  // other letters, another weight: judged anew
    QVERIFY(has(ClearanceLine::What::ProofNotAccepted) && has(ClearanceLine::What::SewnThrough));
    d_->key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(job() == before);
    d_->key(Qt::Key_4);
    d_->click("planButton");
    desk().settle();
    QVERIFY(desk().sewn(1).done);
    desk().setHooping(1);
    QVERIFY(has(ClearanceLine::What::SewnThrough));
    d_->key(Qt::Key_7);
    agree();
    d_->asker->next = file("half.rapt");
    agreesWithCommandLine();
  }
  /// What is sewn was changed: it is said what lies there, and asked.
  void whatLiesThereIsAskedAbout() {
    openPlanned("wardens-gilet", "160x120");
    if (QTest::currentTestFailed()) return;
    clearTheRest();
    needle({});
    connectMachine();
    sewThrough();
    if (QTest::currentTestFailed()) return;
    const Job before = job();
    d_->key(Qt::Key_2);
    desk().select(job().pieces.front().id);
    d_->type("xField", "55 mm");  // the piece that was sewn is moved
    QVERIFY(!(job() == before));
    desk().settle();
    d_->key(Qt::Key_4);
    d_->click("planButton");
    desk().settle();
    auto* words = d_->find<QLabel>("choiceWords");
    QVERIFY(words && words->isVisible());
    QVERIFY2(words->text().contains("lie on the cloth"), qPrintable(words->text()));
    QVERIFY(desk().moment().gone > 0);
    d_->clickText("Undo the change");
    desk().settle();
    QVERIFY(job() == before);
    QCOMPARE(desk().moment().gone, size_t{0});
    QVERIFY(desk().planCurrent() && desk().sewn(1).done);
    // the same once more, and the cloth is another one
    d_->key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    desk().settle();
    d_->key(Qt::Key_4);
    d_->click("planButton");
    desk().settle();
    QVERIFY(!desk().record().anythingSewn() || words->isVisible());
    if (words->isVisible()) d_->clickText("It is another cloth");
    desk().settle();
    QVERIFY(!desk().record().anythingSewn());
    QVERIFY(desk().planCurrent() && !desk().sewn(1).begun);
  }
  /// Letters agree only with an order, letter by letter and space by space.
  void lettersAgreeOnlyWithAnOrder() {
    d_->window->openDemo("tally-tags");
    desk().settle();
    d_->key(Qt::Key_1);
    auto* order = d_->find<QPlainTextEdit>("briefOrder");
    order->setFocus();
    order->selectAll();
    QTest::keyClick(order, Qt::Key_Backspace);
    d_->key(Qt::Key_2);
    agree();
    QVERIFY2(!sentence().contains("agree with"), qPrintable(sentence()));
    QVERIFY(word().contains("Nothing to read"));
    std::string sewn;
    for (const Piece& p : job().pieces)
      if (const auto* t = std::get_if<TextSource>(&p.source)) sewn = t->text;
    d_->key(Qt::Key_1);
    order = d_->find<QPlainTextEdit>("briefOrder");
    order->setFocus();
    QTest::keyClicks(order, QString::fromStdString(sewn).insert(1, ' '));
    d_->key(Qt::Key_2);
    agree();
    QVERIFY2(sentence().contains("space"), qPrintable(sentence()));
    order->setFocus();
  }
  /// The same outcome told six times without sewing in between is one.
  void anOutcomeToldTwiceIsOne() {
    openPlanned("wardens-gilet");
    if (QTest::currentTestFailed()) return;
    d_->key(Qt::Key_8);
    for (int i = 0; i < 6; ++i) d_->click("outcome0");
    const auto entries = desk().ledger().entries(job().id);
    QCOMPARE(std::count_if(entries.begin(), entries.end(),
                           [](const LedgerEntry& e) { return e.event == "outcome"; }),
             1);
  }
  /// At the start the window stands at once; nothing pressed meanwhile is carried out.
  void theWindowStandsBeforeTheJobIsRead() {
    Job job = demoJob(desk().bench(), "hide-banner");
    job.title = "read later";
    saveJob(job, file("later.rapt").toStdString());
    d_->window->begin(file("later.rapt"), false);
    QVERIFY(d_->window->isVisible() && !d_->window->isEnabled());
    QTest::keyClick(&d_->window->cloth(), Qt::Key_Delete);
    QTest::mouseClick(&d_->window->cloth(), Qt::LeftButton);
    QVERIFY(testing::comes([&] { return d_->window->isEnabled(); }));
    QCOMPARE(desk().job().title, std::string("read later"));
    QCOMPARE(desk().job().pieces.size(), job.pieces.size());
    agree();
  }
};

RT_TEST(TestJourneys)

}  // namespace test_journeys
#include "test_journeys.moc"
