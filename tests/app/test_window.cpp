// The whole job through real clicks and keys: brief, compose, density, hoopings, paper, align, sew
// with the stand-in, ledger; then save, reopen and undo.
#include <QListWidget>
#include <QSlider>

#include "align_station.h"
#include "alignment_words.h"
#include "comes.h"
#include "compose_station.h"
#include "demo.h"
#include "density_station.h"
#include "hooping_place.h"
#include "job_file.h"
#include "look.h"
#include "run.h"
#include "sew_station.h"
#include "window_driver.h"

namespace test_window {

using namespace rt;

class TestWindow : public QObject {
  Q_OBJECT
  std::unique_ptr<testing::WindowDriver> d_;
  QTemporaryDir dir_;
  Desk* desk_ = nullptr;
  testing::ScriptedAsker* asker_ = nullptr;
  MainWindow* window_ = nullptr;

  template <class T>
  T* find(const char* name) {
    return d_->find<T>(name);
  }
  void click(const char* name) { d_->click(name); }
  void type(const char* name, const QString& text) { d_->type(name, text); }
  void key(Qt::Key k, Qt::KeyboardModifiers m = {}) { d_->key(k, m); }
  QPoint px(Point mm) { return d_->px(mm); }

 private slots:
  void initTestCase() {
    qputenv("RAPT_THIMBLE_STANDIN", RT_STANDIN);
    d_ = std::make_unique<testing::WindowDriver>();
    desk_ = d_->desk.get();
    asker_ = d_->asker;
    window_ = d_->window.get();
    QVERIFY(d_->show());
  }
  void cleanupTestCase() { d_.reset(); }

  void briefIsTypedInAnyUnit() {
    key(Qt::Key_1);
    QCOMPARE(window_->station(), Station::Brief);
    type("briefTitle", "Marsh pennant");
    type("briefItem", "Pennant");
    type("briefWidth", "12 in");
    type("briefHeight", "7 3/8 in - 2 mm");
    QVERIFY(std::abs(desk_->job().brief.place_width_mm - 304.8) < 1e-9);
    QVERIFY(std::abs(desk_->job().brief.place_height_mm - (7.375 * 25.4 - 2)) < 1e-9);
    auto* fabric = find<QComboBox>("briefFabric");
    fabric->setFocus();
    QTest::keyClicks(fabric, "Canvas");
    QTest::keyClick(fabric, Qt::Key_Return);
    emit fabric->activated(fabric->currentIndex());
    QCOMPARE(desk_->job().brief.fabric, std::string("canvas"));
  }

  void piecesAreAddedMovedSizedTurnedMirrored() {
    key(Qt::Key_2);
    asker_->next = QString::fromStdString((desk_->bench().data / "demo" / "heron.svg").string());
    click("addFile");
    QCOMPARE(desk_->job().pieces.size(), size_t{1});
    click("addLettering");
    QCOMPARE(desk_->job().pieces.size(), size_t{2});
    type("letterText", "MARSH");
    QCOMPARE(std::get<TextSource>(desk_->job().pieces[1].source).text, std::string("MARSH"));
    type("letterHeight", "22 mm");
    auto* curve = find<QComboBox>("letterCurve");
    curve->setCurrentIndex(1);
    emit curve->activated(1);
    type("letterRadius", "8 in");
    QVERIFY(std::abs(std::get<TextSource>(desk_->job().pieces[1].source).arc_radius_mm - 203.2) <
            1e-9);
    type("yField", "-60");
    QVERIFY(std::abs(boundsOf(desk_->job().pieces[1]).centre().y + 60) < 0.02);

    // the heron: picked and dragged on the cloth
    const Piece heron = desk_->job().pieces[0];
    QTest::mouseClick(&window_->cloth(), Qt::LeftButton, {}, px({2, 40}));
    QCOMPARE(desk_->selected(), heron.id);
    QTest::mousePress(&window_->cloth(), Qt::LeftButton, {}, px({2, 40}));
    QTest::mouseMove(&window_->cloth(), px({20, 47}));
    QTest::mouseMove(&window_->cloth(), px({34, 53}));
    QTest::mouseRelease(&window_->cloth(), Qt::LeftButton, {}, px({34, 53}));
    QVERIFY(distance(desk_->job().pieces[0].place.at - heron.place.at, {32, 13}) < 4);
    const Point at = desk_->job().pieces[0].place.at;
    key(Qt::Key_Left, Qt::ShiftModifier);
    QVERIFY(std::abs(desk_->job().pieces[0].place.at.x - (at.x - 10)) < 1e-9);
    type("widthField", "160 mm");
    QVERIFY(std::abs(boundsOf(desk_->job().pieces[0]).width() - 160) < 0.01);
    type("turnField", "12");
    QCOMPARE(desk_->job().pieces[0].place.turn_deg, 12.0);
    QTest::keyClick(window_, Qt::Key_M, Qt::ControlModifier);
    QVERIFY(desk_->job().pieces[0].place.mirrored);
    QTest::keyClick(window_, Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(!desk_->job().pieces[0].place.mirrored);
  }

  void handlesSizeAndTurn() {
    key(Qt::Key_2);
    desk_->select(desk_->job().pieces[0].id);
    const Placement before = desk_->job().pieces[0].place;
    const Box own = threadBounds(*desk_->job().pieces[0].stitches);
    const Point corner = transformOf(before)({own.right, own.bottom}), middle = before.at;
    const Point farther = middle + (corner - middle) * 1.2;
    QTest::mousePress(&window_->cloth(), Qt::LeftButton, {}, px(corner));
    QTest::mouseMove(&window_->cloth(), px(farther));
    QTest::mouseRelease(&window_->cloth(), Qt::LeftButton, {}, px(farther));
    // the piece is made again at its new size, so its own sewing has grown
    const Piece& after = desk_->job().pieces[0];
    const Box grown = threadBounds(*after.stitches);
    const double wide = grown.width() * after.place.scale_x / (own.width() * before.scale_x);
    const double tall = grown.height() * after.place.scale_y / (own.height() * before.scale_y);
    QVERIFY(std::abs(wide - 1.2) < 0.06);
    QVERIFY(std::abs(wide - tall) < 1e-6);
    QVERIFY(std::abs(after.place.scale_x - 1) <= 0.02);
    QTest::keyClick(window_, Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(desk_->job().pieces[0].place, before);
  }

  void densityStopsAndIsCured() {
    window_->openDemo("binocular-strap");
    desk_->settle();
    key(Qt::Key_3);
    QCOMPARE(window_->station(), Station::Density);
    desk_->settle();
    QCOMPARE(desk_->weighing()->report.verdict, Verdict::Stop);
    window_->density().pick(0);
    desk_->settle();
    QVERIFY(!desk_->cures().empty());
    const Job before = desk_->job();
    const Verdict severity = desk_->weighing()->report.findings[0].severity;
    QVERIFY(testing::comes([&] { return find<QAbstractButton>("cure0") != nullptr; }));
    click("cure0");
    QVERIFY(!(desk_->job() == before));
    desk_->settle();
    Verdict now = Verdict::Sew;
    for (const Finding& f : desk_->weighing()->report.findings)
      if (f.kind == FindingKind::Density &&
          f.cause.pieces == std::vector<std::string>{"feather left", "feather right"})
        now = std::max(now, f.severity);
    QVERIFY(now <= severity);
    desk_->undo().undo();
    QVERIFY(desk_->job() == before);
    desk_->settle();
    type("overruleReason", "trial on scrap webbing");
    for (QPushButton* b : window_->findChildren<QPushButton*>())
      if (b->isVisible() && b->accessibleName() == "Overrule") QTest::mouseClick(b, Qt::LeftButton);
    QCOMPARE(desk_->overruled(), std::string("trial on scrap webbing"));
  }

  void theCommandFieldFindsStations() {
    QTest::keyClick(window_, Qt::Key_K, Qt::ControlModifier);
    auto* field = find<QLineEdit>("commandField");
    QVERIFY(field);
    field->setFocus();
    QTest::keyClicks(field, "go to hoop");
    QTest::keyClick(field, Qt::Key_Return);
    QCOMPARE(window_->station(), Station::Hoopings);
  }

  void hoopingsArePlannedAndWritten() {
    window_->openDemo("wardens-gilet");
    key(Qt::Key_4);
    auto* hoop = find<QComboBox>("hoopBox");
    hoop->lineEdit()->setFocus();
    hoop->lineEdit()->selectAll();
    QTest::keyClicks(hoop->lineEdit(), "160x120");
    QTest::keyClick(hoop->lineEdit(), Qt::Key_Return);
    click("planButton");
    desk_->settle();
    QVERIFY(desk_->planCurrent());
    QVERIFY(desk_->plan()->hoopings.size() >= 2);
    size_t stitches = 0;
    for (const Hooping& h : desk_->plan()->hoopings) stitches += h.stitches();
    size_t sewn = 0;
    for (const Stitch& s : desk_->layout().stitches)
      sewn += s.op == Op::Stitch && s.kind != Kind::Tie;
    QCOMPARE(stitches, sewn);
    asker_->next = dir_.path();
    click("writeButton");
    QVERIFY(QFile::exists(dir_.filePath("plan.json")));
    QVERIFY(QFile::exists(dir_.filePath("hooping-1.stitches.csv")));
  }

  void paperIsWritten() {
    key(Qt::Key_5);
    asker_->next = dir_.filePath("t.pdf");
    click("writePdf");
    QVERIFY(QFileInfo(asker_->next).size() > 1000);
  }

  void needlePointsDecide() {
    key(Qt::Key_6);
    desk_->setHooping(1);
    click("toolNeedle");
    const Hooping& h = *desk_->currentHooping();
    const Transform lies = Transform::moving({1.1, -0.4}) * Transform::turning(1.5);
    for (const Mark& m : expectedMarks(h)) {
      const Point p = lies(m.hoop);
      const QByteArray id = QByteArray::fromStdString(m.id);
      type("needleX" + id, QString::number(p.x, 'f', 2));
      type("needleY" + id, QString::number(p.y, 'f', 2));
    }
    const auto a = desk_->alignmentOf(1);
    QVERIFY(a.has_value());
    QVERIFY(std::abs(a->fit.rotation_deg - 1.5) < 0.05);
    QVERIFY2(a->missing.empty(), headlineOf(*a).c_str());
    QVERIFY(std::abs(a->fit.dx_mm - 1.1) < 0.05 && std::abs(a->fit.dy_mm + 0.4) < 0.05);
    click("recordAlignment");
    QCOMPARE(desk_->ledger().entries(desk_->job().id)[0].event, std::string("align"));
  }

  void sewingBreaksAndGoesOnAtTheRightStitch() {
    key(Qt::Key_7);
    desk_->overrule("test");
    MachineLink& m = window_->sew().machine();
    click("connectMachine");
    QVERIFY(testing::comes([&] { return m.phase() == MachineLink::Phase::Idle; }));
    find<QSlider>("speedSlider")->setValue(9);
    auto* send = find<QPushButton>("sendHooping");
    if (!proofAccepted(desk_->job())) {
      QVERIFY(!send->isEnabled());  // nothing is sent before the letters were read
      click("acceptProof");
    }
    QVERIFY(send->isEnabled());
    click("sendHooping");
    QVERIFY(testing::comes([&] { return m.phase() == MachineLink::Phase::Loaded; }));
    click("traceHooping");
    for (int i = 0; i < 3; ++i)
      QTest::mouseClick(find<QWidget>(QByteArray("tick" + QByteArray::number(i)).constData()),
                        Qt::LeftButton, {}, QPoint(10, 12));
    click("breakButton");
    click("sewButton");
    QVERIFY(testing::comes([&] { return m.phase() == MachineLink::Phase::Broken; }));
    const int broke = m.stitch();
    QCOMPARE(broke, 200);
    QVERIFY(desk_->sewn(1).row > 0);
    click("sewButton");  // goes on a few stitches back
    QVERIFY(testing::comes([&] {
      if (m.phase() == MachineLink::Phase::ColourWait) click("sewButton");
      return m.phase() == MachineLink::Phase::Done;
    }));
    const auto entries = desk_->ledger().entries(desk_->job().id);
    auto has = [&](const char* event) {
      return std::any_of(entries.begin(), entries.end(),
                         [&](const LedgerEntry& e) { return e.event == event; });
    };
    QVERIFY(has("sew-start") && has("break") && has("resume") && has("done"));
    for (const LedgerEntry& e : entries)
      if (e.event == "resume")
        QVERIFY2(e.stitch < broke && e.stitch >= broke - 6,  // both count needle points
                 qPrintable(QString::number(e.stitch)));
    QVERIFY(desk_->sewn(1).done);
    QCOMPARE(desk_->hooping(), 2);  // the next one is prompted
    QTest::keyClick(window_, Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(desk_->sewn(1).done);  // what is sewn is not undone
  }

  void theLedgerIsListedAndExported() {
    key(Qt::Key_8);
    auto* list = find<QListWidget>("ledgerList");
    QVERIFY(list && list->count() >= 5);
    asker_->next = dir_.filePath("ledger.csv");
    for (QPushButton* b : window_->findChildren<QPushButton*>())
      if (b->isVisible() && b->text().startsWith("Export")) QTest::mouseClick(b, Qt::LeftButton);
    QVERIFY(QFileInfo(asker_->next).size() > 100);
  }

  void savedAndOpenedAgain() {
    asker_->next = dir_.filePath("gilet.rapt");
    QTest::keyClick(window_, Qt::Key_S, Qt::ControlModifier);
    QVERIFY(loadWork(asker_->next.toStdString()) == desk_->document().work());
    const Job saved = desk_->job();
    window_->openDemo("tally-tags");
    QTest::keyClick(window_, Qt::Key_O, Qt::ControlModifier);
    QVERIFY(desk_->job() == saved);
  }

  void badFilesAreToldAndNothingIsLost() {
    const Job before = desk_->job();
    const QString bad = dir_.filePath("bad.svg");
    QFile f(bad);
    QVERIFY(f.open(QIODevice::WriteOnly));
    f.write("<svg");
    f.close();
    asker_->next = bad;
    QTest::keyClick(window_, Qt::Key_I, Qt::ControlModifier);
    QVERIFY(desk_->job() == before);
    auto* notice = find<QLabel>("notice");
    QVERIFY(notice && notice->text().contains("bad.svg"));
    QVERIFY(!window_->openPath(bad));
    QVERIFY(desk_->job() == before);
  }

  void everythingHasANameForAssistiveTools() {
    for (int i = 0; i < kStations; ++i) {
      window_->go(static_cast<Station>(i));
      for (QWidget* w : window_->findChildren<QWidget*>()) {
        if (!w->isVisible() || w->focusPolicy() == Qt::NoFocus || w->inherits("QScrollArea") ||
            w->objectName().startsWith("qt_"))
          continue;
        if (w->inherits("QScrollBar") || qobject_cast<QComboBox*>(w->parentWidget())) continue;
        const auto* b = qobject_cast<QAbstractButton*>(w);
        QVERIFY2(!w->accessibleName().isEmpty() || (b && !b->text().isEmpty()),
                 qPrintable(QString("%1 %2 at %3")
                                .arg(w->metaObject()->className(), w->objectName(),
                                     nameOf(static_cast<Station>(i)))));
      }
    }
  }
};

RT_TEST(TestWindow)

}  // namespace test_window
#include "test_window.moc"
