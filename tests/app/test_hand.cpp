// The cloth under the hand: typing, bending, drawing, choosing several.
#include "block_tools.h"
#include "compose_station.h"
#include "demo.h"
#include "proof_tools.h"
#include "random_pattern.h"
#include "run.h"
#include "stitch_file.h"
#include "window_driver.h"

namespace test_hand {

using namespace rt;

class TestHand : public QObject {
  Q_OBJECT
  std::unique_ptr<testing::WindowDriver> d_;
  Desk& desk() { return *d_->desk; }
  const Job& job() { return d_->desk->job(); }
  const Piece& last() { return job().pieces.back(); }
  void undo() {
    desk().undo().undo();
    QCoreApplication::processEvents();
  }
  void typeOnCloth(const QString& text) {
    for (QChar c : text) QTest::keyClick(&d_->window->cloth(), c.toLatin1());
  }
  const TextSource& text() { return std::get<TextSource>(desk().selectedPiece()->source); }

 private slots:
  void initTestCase() {
    d_ = std::make_unique<testing::WindowDriver>();
    QVERIFY(d_->show());
    d_->key(Qt::Key_2);
    d_->click("addLettering");
    d_->type("letterText", "FEN");
    d_->type("letterHeight", "20 mm");
  }

  void textIsTypedWhereItWillBeSewn() {
    const Job before = job();
    d_->key(Qt::Key_F2);
    QVERIFY(d_->window->cloth().typing());
    typeOnCloth(" 24");  // digits are letters here, not stations
    QCOMPARE(d_->window->station(), Station::Compose);
    QVERIFY(job() == before);  // nothing is kept yet
    QTest::keyClick(&d_->window->cloth(), Qt::Key_Home);
    typeOnCloth("X");
    QTest::keyClick(&d_->window->cloth(), Qt::Key_Delete);
    QTest::keyClick(&d_->window->cloth(), Qt::Key_Return);
    QVERIFY(!d_->window->cloth().typing());
    QCOMPARE(text().text, std::string("XEN 24"));
    undo();  // one step
    QVERIFY(job() == before);
    d_->key(Qt::Key_F2);
    typeOnCloth("zzz");
    QTest::keyClick(&d_->window->cloth(), Qt::Key_Escape);
    QVERIFY(job() == before);
  }

  void theBaselineBendsUnderTheHand() {
    const Job before = job();
    const Point at = desk().selectedPiece()->place.at;
    ClothView& cloth = d_->window->cloth();
    const QPoint grip = d_->px(at) + QPoint(0, 26);
    QTest::mousePress(&cloth, Qt::LeftButton, {}, grip);
    QTest::mouseMove(&cloth, grip - QPoint(0, 10));
    QTest::mouseMove(&cloth, grip - QPoint(0, 20));
    QTest::mouseRelease(&cloth, Qt::LeftButton, {}, grip - QPoint(0, 20));
    QVERIFY(text().arc_radius_mm > 0);
    QCOMPARE(text().arc_side, ArcSide::Outside);
    // the bow is as deep as the hand went
    const double length = desk().lettering(*desk().selectedPiece())->advance_mm,
                 r = text().arc_radius_mm, sagitta = r * (1 - std::cos(length / 2 / r));
    QVERIFY2(std::abs(sagitta - 20 / cloth.eye().px_per_mm) < 0.4,
             qPrintable(QString("%1 mm").arg(sagitta)));
    undo();
    QVERIFY(job() == before);
  }

  void lettersFollowThreePoints() {
    const Job before = job();
    const double height = text().height_mm;
    d_->choose("letterMeasured", "Points");
    d_->type("letterPoints", "-60,-30 0,-12 60,-30");
    QVERIFY(text().arc_radius_mm > 60);
    QCOMPARE(text().arc_side, ArcSide::Inside);
    QVERIFY(std::abs(desk().selectedPiece()->place.at.x) < 1e-6);
    QCOMPARE(text().height_mm, height);  // it is the curve's, not the letters'
    // the curve lies on the cloth: whatever changes, letters keep their distance from it
    const auto centre = [&] {
      const Point at = desk().selectedPiece()->place.at;
      return at - Point{0, text().arc_radius_mm};
    };
    const Point middle = centre();
    const double curve = text().arc_radius_mm - height - *text().curve.clear_mm;
    d_->type("letterAway", "12 mm");
    QVERIFY(std::abs(text().arc_radius_mm - curve - height - 12) < 1e-6);
    QVERIFY(distance(centre(), middle) < 1e-6);
    d_->type("letterHeight", "14 mm");
    QVERIFY(std::abs(text().arc_radius_mm - curve - 14 - 12) < 1e-6);
    QVERIFY(distance(centre(), middle) < 1e-6);
    d_->type("letterAway", "0 mm");
    d_->type("letterPoints", "-60,-30 0,-12 60,-31");
    QCOMPARE(*text().curve.clear_mm, 0.0);
    d_->type("letterPoints", "-60,-30 0,-12 60,-30");
    d_->click("fitToCurve");
    QVERIFY(text().height_mm != height);
    QCOMPARE(text().curve.points_mm.size(), size_t{3});
    while (!(job() == before)) undo();
    d_->choose("letterMeasured", "Points");  // by keys, past the chord
    const Job chosen = job();
    d_->type("letterPoints", "-60,-30 0,x");
    QVERIFY(job() == chosen);
    d_->click("followCurve");
    for (Point p : {Point{-50, -30}, Point{0, -15}, Point{50, -30}})
      QTest::mouseClick(&d_->window->cloth(), Qt::LeftButton, {}, d_->px(p));
    QCOMPARE(text().curve.points_mm.size(), size_t{3});
    while (!(job() == before)) undo();
  }

  /// Measured in inches with a ruler: chord 9, sagitta 2 1/4, one typed after the other.
  void aChordAndItsSagittaStayAsTyped() {
    const Job before = job();
    const double height = text().height_mm;
    d_->choose("letterMeasured", "Chord");
    d_->type("letterChord", "9 in");
    d_->type("letterSagitta", "2 1/4 in");
    QCOMPARE(text().curve.chord_mm, 9 * 25.4);
    QCOMPARE(text().curve.sagitta_mm, 2.25 * 25.4);
    QVERIFY(std::abs(text().arc_radius_mm - 5.625 * 25.4) < 1e-6);
    QCOMPARE(text().height_mm, height);
    d_->type("letterAway", "10 mm");
    QVERIFY(std::abs(text().arc_radius_mm - 5.625 * 25.4 - 10) < 1e-6);
    d_->type("letterHeight", "15 mm");
    d_->type("letterText", "OTTER");
    QCOMPARE(text().curve.chord_mm, 9 * 25.4);
    QCOMPARE(text().curve.sagitta_mm, 2.25 * 25.4);
    QVERIFY(std::abs(text().arc_radius_mm - 5.625 * 25.4 - 10) < 1e-6);
    while (!(job() == before)) undo();
  }

  /// How a piece is sewn is told before it is taken, and what was not typed follows the cloth.
  void spacingIsTypedWithWhatFollows() {
    const Job before = job();
    d_->type("sewSatin", "0.30 mm");
    d_->window->compose().sewing().settle();
    QVERIFY(job() == before);
    QVERIFY(d_->find<QLabel>("sewFigures")->text().startsWith("Now"));
    d_->click("sewSo");
    QCOMPARE(text().spacing_mm, std::optional(0.30));
    QVERIFY(!text().pull_mm);
    d_->click("sewAsAsked");
    QVERIFY(!text().spacing_mm);
    while (!(job() == before)) undo();
  }

  void initialsBecomeAMonogram() {
    const Job before = job();
    const int step = desk().undo().index();
    d_->type("letterText", "QFR");
    d_->choose("letterFrame", "Monogram in a shield");
    QVERIFY(text().monogram);
    QCOMPARE(text().frame, MonogramFrame::Shield);
    const Box box = boundsOf(*desk().selectedPiece());
    QVERIFY(box.height() > 24);
    d_->type("letterText", "QFRX");  // four are refused, and nothing is lost
    QCOMPARE(text().text, std::string("QFR"));
    desk().undo().setIndex(step);
    QCoreApplication::processEvents();
    QVERIFY(job() == before);
  }

  void severalAreChosenGroupedAndMoved() {
    desk().select(job().pieces[0].id);
    d_->find<QSpinBox>("repeatColumns")->setValue(3);
    d_->click("repeatPiece");
    QCOMPARE(job().pieces.size(), size_t{3});
    d_->window->cloth().fitAll();
    desk().select(job().pieces[0].id);
    desk().selectAlso(job().pieces[1].id);
    QCOMPARE(desk().chosen().size(), size_t{2});
    d_->click("groupPieces");
    desk().select(job().pieces[2].id);
    QCOMPARE(desk().chosen().size(), size_t{1});
    desk().select(job().pieces[0].id);
    QCOMPARE(desk().chosen().size(), size_t{2});  // the group comes along
    const Point a = job().pieces[0].place.at, b = job().pieces[1].place.at,
                c = job().pieces[2].place.at;
    d_->key(Qt::Key_Down, Qt::ShiftModifier);
    QVERIFY(distance(job().pieces[0].place.at, a + Point{0, 10}) < 1e-9);
    QVERIFY(distance(job().pieces[1].place.at, b + Point{0, 10}) < 1e-9);
    QVERIFY(distance(job().pieces[2].place.at, c) < 1e-9);
    d_->click("ungroupPieces");
    desk().select(job().pieces[0].id);
    QCOMPARE(desk().chosen().size(), size_t{1});
  }

  void flushAndEven() {
    for (const Piece& p : job().pieces)
      if (!desk().isChosen(p.id)) desk().selectAlso(p.id);
    QCOMPARE(desk().chosen().size(), size_t{3});
    d_->click("flush3");
    const double top = boundsOf(*desk().selectedPiece()).top;
    for (const Piece& p : job().pieces) QVERIFY(std::abs(boundsOf(p).top - top) < 1e-9);
    Job next = job();
    next.pieces[1].place.at.x += 3;
    desk().change("push one", next);
    d_->click("evenAcross");
    const double gap1 = boundsOf(job().pieces[1]).left - boundsOf(job().pieces[0]).right,
                 gap2 = boundsOf(job().pieces[2]).left - boundsOf(job().pieces[1]).right;
    QVERIFY(std::abs(gap1 - gap2) < 1e-9);
  }

  void aSizeIsTakenFromAnotherPiece() {
    Job next = job();
    next.pieces[1].place.scale_x = next.pieces[1].place.scale_y = 1.3;
    desk().change("larger", next);
    desk().select(job().pieces[0].id);
    auto* like = d_->find<QComboBox>("sizeLike");
    QVERIFY(like);
    like->setCurrentIndex(like->findData(job().pieces[1].id));
    d_->click("matchWidth");
    const double got = boundsOf(job().pieces[0]).width(), want = boundsOf(job().pieces[1]).width();
    QVERIFY2(std::abs(got - want) < 0.01, qPrintable(QString("%1 for %2").arg(got).arg(want)));
  }

  void repeatsGoAlongALineAndRoundAPoint() {
    desk().select(job().pieces[0].id);
    const size_t before = job().pieces.size();
    d_->find<QSpinBox>("alongCount")->setValue(4);
    d_->type("alongX", "150 mm");
    d_->type("alongY", "60 mm");
    d_->click("repeatAlong");
    QCOMPARE(job().pieces.size(), before + 3);
    QVERIFY(distance(boundsOf(job().pieces[3]).centre(), {150, 60}) < 1e-6);
    undo();
    desk().select(job().pieces[0].id);
    d_->choose("alongWay", "Around");
    d_->click("repeatAlong");
    QCOMPARE(job().pieces.size(), before + 3);
    const double r = distance(job().pieces[0].place.at, {150, 60});
    for (size_t k = 0; k < 4; ++k)
      QVERIFY(std::abs(distance(job().pieces[k].place.at, {150, 60}) - r) < 1e-6);
    undo();
  }

  void detailsAreDrawnAndPartsAreCutOut() {
    const size_t before = job().pieces.size();
    d_->click("drawDetail");
    d_->drag({-60, 50}, {40, 60});
    QCOMPARE(job().pieces.size(), before + 1);
    QVERIFY(std::holds_alternative<ArtworkSource>(last().source));
    QVERIFY(std::abs(boundsOf(last()).left + 60) < 1);
    QCOMPARE(desk().selected(), last().id);
    undo();
    QCOMPARE(job().pieces.size(), before);
    // two bars far apart: the lasso around one makes it a piece of its own
    const QString file = d_->folder.filePath("bars.stitches.csv");
    Pattern bars = testing::patternFrom(
        "stitch -40,0 stitch -36,0 stitch -32,0 stitch -28,0 trim jump 30,0 stitch 34,0 stitch "
        "38,0 stitch 42,0 trim");
    writeStitchFile(file.toStdString(), bars);
    d_->asker->next = file;
    d_->click("addFile");
    const size_t with = job().pieces.size();
    d_->window->compose().draw().lasso({{20, -10}, {50, -10}, {50, 10}, {20, 10}});
    QCOMPARE(job().pieces.size(), with + 1);
    undo();
    d_->window->compose().draw().lasso({{200, 200}, {210, 200}, {210, 210}});
    QCOMPARE(job().pieces.size(), with);
  }

  void aBlocksKindIsSetRight() {
    Strand zigzag;
    for (int k = 0; k < 60; ++k) zigzag.add({k * 0.2, k % 2 ? 3.0 : 0.0}, Kind::Unknown);
    Pattern p;
    appendStrands(p, std::vector{zigzag}, {{0x2f5d50}, ""});
    for (Stitch& s : p.stitches) s.kind = Kind::Unknown;
    const QString file = d_->folder.filePath("zigzag.stitches.csv");
    writeStitchFile(file.toStdString(), p);
    d_->asker->next = file;
    d_->click("addFile");
    const Job before = job();
    const int step = desk().undo().index();
    auto* kind = d_->find<QComboBox>("blockKind0");
    QVERIFY(kind);
    QVERIFY(kind->currentText().startsWith("Satin"));
    d_->choose("blockKind0", "Run");
    QCOMPARE(knownBlocks(*desk().selectedPiece())[0].is.kind, Kind::Run);
    QVERIFY(d_->find<QComboBox>("blockKind0")->currentText().startsWith("Run"));
    desk().undo().setIndex(step);
    QVERIFY(job() == before);
  }

  void whatLiesOnTopIsNotSewnFirst() {
    d_->window->openDemo("hide-banner");
    desk().settle();
    d_->key(Qt::Key_2);
    size_t under = SIZE_MAX, over = SIZE_MAX;
    for (size_t i = 0; i + 1 < job().pieces.size() && under == SIZE_MAX; ++i)
      if (whyNotMoved(job(), i, i + 1)) under = i, over = i + 1;
    QVERIFY(under != SIZE_MAX);
    const Job before = job();
    desk().select(job().pieces[over].id);
    d_->window->compose().reorder(-1);
    QVERIFY(job() == before);
    auto* notice = d_->find<QLabel>("notice");
    QVERIFY(notice && notice->text().contains("lies on"));
    d_->window->compose().reorder(-1, true);  // on purpose
    QVERIFY(!(job() == before));
    undo();
    QVERIFY(job() == before);
  }
};

RT_TEST(TestHand)

}  // namespace test_hand
#include "test_hand.moc"
