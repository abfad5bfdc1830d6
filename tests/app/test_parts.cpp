// The window's parts one by one: entry of lengths, the command field, the ribbon, the cloth.
#include <QListWidget>
#include <QTemporaryDir>
#include <QWheelEvent>
#include <QtTest>

#include "cloth_view.h"
#include "comes.h"
#include "command_field.h"
#include "demo.h"
#include "fields.h"
#include "main_window.h"
#include "run.h"
#include "sew_ribbon.h"
#include "thread_picture.h"
#include "verdicts.h"
#include "weight_picture.h"
#include "work_thread.h"

namespace test_parts {

using namespace rt;

class TestParts : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

  std::unique_ptr<Desk> deskWith(const char* demo) {
    auto desk = std::make_unique<Desk>(openBench(), DeskFolders{dir_.path().toStdString()});
    desk->take(demoJob(desk->bench(), demo), {});
    desk->settle();
    return desk;
  }

 private slots:
  void lengthsAreTypedAndSaidBack() {
    LengthEdit edit("Width");
    edit.setValue_mm(101.6, false);
    QCOMPARE(edit.line()->text(), QString("101.6 mm"));
    QSignalSpy edited(&edit, &LengthEdit::edited);
    edit.line()->selectAll();
    QTest::keyClicks(edit.line(), "7 3/8 in - 2 mm");
    QTest::keyClick(edit.line(), Qt::Key_Return);
    QCOMPARE(edited.size(), 1);
    QVERIFY(std::abs(edited[0][0].toDouble() - (7.375 * 25.4 - 2)) < 1e-9);
    QCOMPARE(edit.line()->text(), QString("185.32 mm"));
  }
  void whatIsNoLengthChangesNothing() {
    LengthEdit edit("Width");
    edit.setValue_mm(50, false);
    QSignalSpy edited(&edit, &LengthEdit::edited);
    edit.line()->selectAll();
    QTest::keyClicks(edit.line(), "wide");
    QTest::keyClick(edit.line(), Qt::Key_Return);
    QCOMPARE(edited.size(), 0);
    QCOMPARE(edit.value_mm(), 50.0);
  }
  void leavingAFieldUntouchedEditsNothing() {
    LengthEdit edit("Width");
    edit.setValue_mm(100.0123, true);
    QSignalSpy edited(&edit, &LengthEdit::edited);
    QTest::keyClick(edit.line(), Qt::Key_Return);
    QCOMPARE(edited.size(), 0);
    QCOMPARE(edit.value_mm(), 100.0123);  // no rounding creeps in
  }
  void inchesAreReadAsInches() {
    LengthEdit edit("Width");
    edit.setValue_mm(25.4, true);
    edit.line()->selectAll();
    QTest::keyClicks(edit.line(), "2 1/2");
    QTest::keyClick(edit.line(), Qt::Key_Return);
    QVERIFY(std::abs(edit.value_mm() - 63.5) < 1e-9);
  }
  /// What is shown may be rounded; a sum that goes on from it goes on from the length itself.
  void sumsGoOnFromTheLengthItself() {
    LengthEdit edit("Width");
    edit.setValue_mm(2.73, true);
    QCOMPARE(edit.line()->text(), QString("≈ 1/8 in"));
    QTest::keyClick(edit.line(), Qt::Key_End);
    QTest::keyClicks(edit.line(), " - 1/16");
    QTest::keyClick(edit.line(), Qt::Key_Return);
    QVERIFY(std::abs(edit.value_mm() - (2.73 - 25.4 / 16)) < 1e-9);
    edit.setValue_mm(33.333333, false);
    QTest::keyClick(edit.line(), Qt::Key_End);
    QTest::keyClicks(edit.line(), "+1in");
    QTest::keyClick(edit.line(), Qt::Key_Return);
    QVERIFY(std::abs(edit.value_mm() - 58.733333) < 1e-9);
    // typed once more as it is shown: nothing was edited, nothing rounded
    edit.setValue_mm(33.333333, false);
    QSignalSpy edited(&edit, &LengthEdit::edited);
    const QString shown = edit.line()->text();
    edit.line()->selectAll();
    QTest::keyClicks(edit.line(), shown);
    QTest::keyClick(edit.line(), Qt::Key_Return);
    QCOMPARE(edit.value_mm(), 33.333333);
  }
  void commandsAreFoundByTheirLetters() {
    QWidget host;
    int run = 0;
    CommandField field(
        [&] {
          return std::vector<Command>{{"Plan the hoopings", "Ctrl+P", [&] { run = 1; }},
                                      {"Write the template", {}, [&] { run = 2; }},
                                      {"Piece: heron", {}, [&] { run = 3; }}};
        },
        &host);
    host.show();
    QVERIFY(QTest::qWaitForWindowExposed(&host));
    host.activateWindow();
    field.open();
    QVERIFY(testing::comes([&] { return field.hasFocus(); }));
    QTest::keyClicks(&field, "tem wri");
    auto* list = host.findChild<QListWidget*>("commandList");
    QVERIFY(list);
    QCOMPARE(list->count(), 1);
    QTest::keyClick(&field, Qt::Key_Return);
    QCOMPARE(run, 2);
    field.open();
    QTest::keyClick(&field, Qt::Key_Down);
    QTest::keyClick(&field, Qt::Key_Down);
    QTest::keyClick(&field, Qt::Key_Return);
    QCOMPARE(run, 3);
  }
  void theRibbonGoesThroughTheWholeSewing() {
    auto desk = deskWith("tally-tags");
    SewRibbon ribbon(*desk);
    size_t row = 0;
    std::shared_ptr<const Pattern> shown;
    connect(&ribbon, &SewRibbon::momentChosen, this,
            [&](const std::shared_ptr<const Pattern>& p, size_t r, int) {
              shown = p;
              row = r;
            });
    size_t before = 0;
    for (int i = 0; i <= 20; ++i) {
      ribbon.goTo(i / 20.0);
      QVERIFY(shown);
      QVERIFY(row >= before);
      before = row;
    }
    QVERIFY(row + 2 >= shown->stitches.size());
    ribbon.goTo(0);
    QVERIFY(row < 10);
  }
  void theRibbonFollowsTheKeys() {
    auto desk = deskWith("tally-tags");
    SewRibbon ribbon(*desk);
    ribbon.resize(900, 104);
    QSignalSpy chosen(&ribbon, &SewRibbon::momentChosen), left(&ribbon, &SewRibbon::momentLeft);
    QTest::keyClick(&ribbon, Qt::Key_Right);
    QTest::keyClick(&ribbon, Qt::Key_Right, Qt::ShiftModifier);
    QCOMPARE(chosen.size(), 2);
    QVERIFY(chosen[1][1].value<size_t>() > chosen[0][1].value<size_t>());
    QTest::keyClick(&ribbon, Qt::Key_Escape);
    QCOMPARE(left.size(), 1);
  }
  void zoomingKeepsThePlaceUnderThePointer() {
    auto desk = deskWith("tally-tags");
    ClothView cloth(*desk);
    cloth.resize(900, 600);
    cloth.fitAll();
    const QPointF pointer(300, 220);
    for (double factor : {1.3, 1.7, 0.4, 2.2, 0.9}) {
      const Point before = cloth.eye().mm(pointer);
      cloth.zoomBy(factor, pointer);
      QVERIFY(distance(cloth.eye().mm(pointer), before) < 1e-6);
    }
    for (int i = 0; i < 60; ++i) cloth.zoomBy(2, pointer);
    QVERIFY(cloth.eye().px_per_mm <= 60);
    for (int i = 0; i < 60; ++i) cloth.zoomBy(0.5, pointer);
    QVERIFY(cloth.eye().px_per_mm >= 0.05);
  }
  void allOfTheLayoutIsShownAtFirst() {
    auto desk = deskWith("hide-banner");
    ClothView cloth(*desk);
    cloth.resize(1000, 640);
    cloth.fitAll();
    const Box box = threadBounds(desk->layout());
    for (int i = 0; i < 4; ++i)
      QVERIFY(QRectF(26, 26, 974, 614).contains(cloth.eye().px(box.corner(i))));
  }
  void stationsDoNotMoveTheCloth() {
    auto desk = deskWith("tally-tags");
    MainWindow window(*desk);
    window.show();
    ClothView& cloth = window.cloth();
    cloth.fitAll();
    const QPointF centre = cloth.eye().centre_px;
    for (int i = 0; i < kStations; ++i) {
      window.go(static_cast<Station>(i));
      QVERIFY(!cloth.grab().isNull());
      QCOMPARE(cloth.eye().centre_px, centre);
    }
  }
  void threadIsDrawnWhereItLies() {
    const Pattern p = [] {
      Pattern out;
      const uint16_t thread = out.threadIndex({0xcc2200});
      out.stitches = {{{0, 0}, 0, thread, 0, Op::Jump, Kind::Unknown},
                      {{10, 0}, 0, thread, 0, Op::Stitch, Kind::Run}};
      return out;
    }();
    for (double scale : {1.0, 4.0, 20.0}) {
      QImage image(static_cast<int>(14 * scale), static_cast<int>(8 * scale),
                   QImage::Format_ARGB32_Premultiplied);
      image.fill(Qt::white);
      QPainter painter(&image);
      ThreadDrawing how;
      how.px_per_mm = scale;
      how.to_px = Transform::scaling(scale, scale) * Transform::moving({2, 4});
      drawThread(painter, p, how);
      painter.end();
      const QColor on = image.pixelColor(static_cast<int>(7 * scale), static_cast<int>(4 * scale));
      QVERIFY2(on.red() > on.blue() + 30, qPrintable(on.name()));
      QCOMPARE(image.pixelColor(static_cast<int>(7 * scale), static_cast<int>(1 * scale)),
               QColor(Qt::white));
    }
  }
  void theMomentDrawsOnlyWhatIsSewn() {
    auto desk = deskWith("tally-tags");
    ClothView cloth(*desk);
    cloth.resize(900, 600);
    cloth.fitAll();
    auto pattern = std::make_shared<const Pattern>(desk->layout());
    cloth.setMoment(pattern, 0);
    const QImage none = cloth.grab().toImage();
    cloth.setMoment(pattern, pattern->stitches.size());
    const QImage all = cloth.grab().toImage();
    QVERIFY(none != all);
    // going on from half way gives the same picture as drawing at once
    cloth.setMoment(pattern, pattern->stitches.size() / 2);
    cloth.grab();
    cloth.setMoment(pattern, pattern->stitches.size());
    QVERIFY(cloth.grab().toImage() == all);
  }
  void theWeightPictureShowsTheLimits() {
    auto desk = deskWith("binocular-strap");
    const WeightPicture w =
        weightPicture(*desk->weighing(), desk->fabric().density_mm_per_mm2, desk->job().zones);
    QVERIFY(!w.image.isNull());
    QVERIFY(!w.check.isEmpty());
    QVERIFY(!w.stop.isEmpty());
    QVERIFY(w.check.boundingRect().contains(w.stop.boundingRect().center()));
  }
  void verdictsSpeakAtEveryStation() {
    Desk empty(openBench(), {dir_.path().toStdString()});
    empty.settle();
    auto strap = deskWith("binocular-strap");
    for (int i = 0; i < kStations; ++i) {
      const auto station = static_cast<Station>(i);
      QVERIFY(!verdictOf(empty, station).word.isEmpty());
      QVERIFY(verdictOf(empty, station).state != look::State::Stop);
      QVERIFY(!verdictOf(*strap, station).word.isEmpty());
    }
    QCOMPARE(verdictOf(*strap, Station::Density).state, look::State::Stop);
    QVERIFY(verdictOf(*strap, Station::Density).sentence.contains("mm/mm²"));
  }
  void aWrongLetterIsACheck() {
    auto desk = deskWith("tally-tags");
    QCOMPARE(verdictOf(*desk, Station::Compose).state, look::State::UnderWay);  // to be read
    Job next = desk->job();
    next.proof_accepted = proofKey(next);
    desk->change("accept", next);
    QCOMPARE(verdictOf(*desk, Station::Compose).state, look::State::Ready);
    next.brief.order_text = "Q25";
    desk->change("order", next);
    QCOMPARE(verdictOf(*desk, Station::Compose).state, look::State::Check);
    QVERIFY(verdictOf(*desk, Station::Compose).sentence.contains("letter 3"));
  }
  void knotsAreClickedAndWalked() {
    auto desk = deskWith("tally-tags");
    VerdictBoard board(*desk);
    WorkThread thread(board);
    thread.resize(92, 640);
    Station last = Station::Brief;
    connect(&thread, &WorkThread::chosen, this, [&](Station s) { last = s; });
    for (int i = 0; i < kStations; ++i) {
      QTest::mouseClick(&thread, Qt::LeftButton, {},
                        thread.knotRect(static_cast<Station>(i)).center());
      QCOMPARE(last, static_cast<Station>(i));
    }
    thread.setStation(Station::Paper);
    QTest::keyClick(&thread, Qt::Key_Down);
    QCOMPARE(last, Station::Align);
    QTest::keyClick(&thread, Qt::Key_Up);
    QCOMPARE(last, Station::Hoopings);
  }
  void statesHaveShapesOfTheirOwn() {
    std::vector<QImage> seen;
    for (auto state : {look::State::Untouched, look::State::UnderWay, look::State::Check,
                       look::State::Ready, look::State::Stop}) {
      QImage image(32, 32, QImage::Format_ARGB32_Premultiplied);
      image.fill(Qt::transparent);
      QPainter p(&image);
      look::drawState(p, QRectF(2, 2, 28, 28), state);
      p.end();
      // without colour: told apart by shape and lightness alone
      const QImage grey = image.convertToFormat(QImage::Format_Grayscale8);
      for (const QImage& other : seen) QVERIFY(other != grey);
      seen.push_back(grey);
    }
  }
  void durationsReadLikeAWatch() {
    QCOMPARE(duration(40), QString("40 s"));
    QCOMPARE(duration(18 * 60), QString("18 min"));
    QCOMPARE(duration(72 * 60), QString("1 h 12 min"));
    QCOMPARE(grouped(1234567).remove(QChar(0x2009)), QString("1234567"));
    QCOMPARE(counted(1, "piece", "pieces"), QString("1 piece"));
    QCOMPARE(counted(3, "piece", "pieces"), QString("3 pieces"));
  }
};

RT_TEST(TestParts)

}  // namespace test_parts
#include "test_parts.moc"
