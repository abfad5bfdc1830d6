// The tools at Compose, by clicks: places, repeats, borders, basting, both ways of sizing, order.
#include <QCheckBox>
#include <QSpinBox>

#include "compose_station.h"
#include "look.h"
#include "run.h"
#include "stitch_file.h"
#include "window_driver.h"

namespace test_compose_tools {

using namespace rt;

class TestComposeTools : public QObject {
  Q_OBJECT
  std::unique_ptr<testing::WindowDriver> d_;
  const Job& job() const { return d_->desk->job(); }
  Desk& desk() { return *d_->desk; }

  void undo() { QTest::keyClick(d_->window.get(), Qt::Key_Z, Qt::ControlModifier); }
  const Piece& last() const { return job().pieces.back(); }

 private slots:
  void initTestCase() {
    d_ = std::make_unique<testing::WindowDriver>();
    QVERIFY(d_->show());
    d_->key(Qt::Key_2);
    d_->asker->next = QString::fromStdString((desk().bench().data / "demo/feather.svg").string());
    d_->click("addFile");
    QCOMPARE(job().pieces.size(), size_t{1});
  }
  void cleanupTestCase() { d_.reset(); }

  void aPieceStandsAtAnyOfNinePlaces() {
    const Brief& b = job().brief;
    const Box room = Box::around({0, 0}, b.place_width_mm, b.place_height_mm);
    for (int i : {0, 5, 7, 8, 4}) {
      d_->click("anchor" + QByteArray::number(i));
      const auto a = static_cast<Anchor>(i);
      QVERIFY(distance(anchorOf(boundsOf(job().pieces[0]), a), anchorOf(room, a)) < 1e-6);
    }
  }

  void whatThisProgramMadeIsMadeAgainAtItsNewSize() {
    const Piece before = job().pieces[0];
    d_->type("widthField", "90 mm");
    const Piece& after = job().pieces[0];
    QVERIFY(std::abs(after.place.scale_x - 1) < 0.02);
    QVERIFY(std::abs(boundsOf(after).width() - 90) < 0.001);
    QVERIFY(after.stitches->stitches.size() != before.stitches->stitches.size());
    undo();
    QVERIFY(job().pieces[0] == before);
  }

  void repeatsAreOneStep() {
    const Job before = job();
    d_->find<QSpinBox>("repeatColumns")->setValue(4);
    d_->click("repeatPiece");
    QCOMPARE(job().pieces.size(), size_t{4});
    undo();
    QVERIFY(job() == before);
  }

  void aBorderSaysItsFigures() {
    const Job before = job();
    d_->click("borderPiece");
    if (job() == before) {  // whole repeats did not close it: the message says by how much
      auto* notice = d_->find<QLabel>("notice");
      QVERIFY(notice && notice->text().contains("longer"));
    } else {
      QVERIFY(job().pieces.size() > 8);
      undo();
    }
    QVERIFY(job() == before);
  }

  void bastingComesFirst() {
    const Job before = job();
    d_->click("bastePiece");
    QCOMPARE(job().pieces.size(), before.pieces.size() + 1);
    const Box around = boundsOf(job().pieces[0]), inner = boundsOf(before.pieces[0]);
    QVERIFY(std::abs(around.width() - inner.width() - 8) < 1e-6);
    undo();
    d_->click("bastePlace");
    QVERIFY(std::abs(boundsOf(job().pieces[0]).width() - job().brief.place_width_mm) < 1e-6);
    undo();
  }

  void readStitchesKeepOrGoAnew() {
    const QString file = d_->folder.filePath("bare.stitches.csv");
    Pattern bare = laidOut(job().pieces[0]);
    for (Stitch& s : bare.stitches) s.kind = Kind::Unknown;
    writeStitchFile(file.toStdString(), bare);
    d_->asker->next = file;
    d_->click("addFile");
    const double width = boundsOf(last()).width();
    d_->type("widthField", QString::number(width * 1.5, 'f', 2));
    QVERIFY(last().place.scale_x > 1.4);  // stretched, not made again
    d_->window->compose().tools().settle();
    d_->click("respacePiece");
    QCOMPARE(last().place.scale_x, 1.0);
    QVERIFY(std::abs(boundsOf(last()).width() - width * 1.5) < 0.6);
    QVERIFY(last().stitches->stitches.size() > bare.stitches.size() * 3 / 2);
    d_->window->compose().tools().settle();
    d_->click("keepStitches");
    QVERIFY(last().stitches->stitches.size() <= bare.stitches.size() + 1);
    QVERIFY(std::abs(boundsOf(last()).width() - width * 1.5) < 0.1);
  }

  void takenApartByColourNothingMoves() {
    const Pattern before = laidOut(last());
    const size_t pieces = job().pieces.size();
    d_->window->compose().tools().apart(0);
    QVERIFY(job().pieces.size() > pieces);
    Box all;
    for (size_t i = pieces - 1; i < job().pieces.size(); ++i) all.add(boundsOf(job().pieces[i]));
    QVERIFY(std::abs(all.width() - threadBounds(before).width()) < 1e-6);
    undo();
    QCOMPARE(job().pieces.size(), pieces);
  }

  void theOrderIsCountedAndSet() {
    d_->window->openDemo("hide-banner");
    desk().settle();
    d_->key(Qt::Key_2);
    desk().select(0);
    const size_t before = desk().statistics().colour_changes;
    auto* colours = d_->find<QCheckBox>("fewestColours");
    QVERIFY(colours);
    QTest::mouseClick(colours, Qt::LeftButton, {}, QPoint(10, colours->height() / 2));
    QVERIFY(job().sequence.fewest_colours);
    QVERIFY(desk().statistics().colour_changes < before / 2);
    const size_t stitches = desk().statistics().stitches;
    auto* hidden = d_->find<QCheckBox>("takeHidden");
    QTest::mouseClick(hidden, Qt::LeftButton, {}, QPoint(10, hidden->height() / 2));
    desk().settle();
    QVERIFY(!desk().sequencing());
    QVERIFY(desk().statistics().stitches < stitches);
    undo();
    undo();
    desk().settle();
    QCOMPARE(desk().statistics().colour_changes, before);
  }

  void aWaitStandsInTheSewing() {
    desk().select(job().pieces[3].id);
    const size_t stops = desk().statistics().stops;
    d_->type("stopNote", "lay the topper");
    QCOMPARE(desk().statistics().stops, stops + 1);
    QCOMPARE(job().sequence.stops.size(), size_t{1});
    undo();
    QCOMPARE(desk().statistics().stops, stops);
  }

  void aWaitIsTypedAtTheRibbonsMomentAndTakenAway() {
    d_->window->ribbon().goTo(0.5);
    const size_t stops = desk().statistics().stops;
    d_->type("stopNote", "swap the bobbin");
    QCOMPARE(job().sequence.stops.size(), size_t{1});
    QCOMPARE(desk().statistics().stops, stops + 1);
    d_->click("stopAway0");
    QVERIFY(job().sequence.stops.empty());
  }

  void coloursAreMovedByKeysOrRefusedWithTheReason() {
    QString said;
    QObject listener;  // no longer than what it writes into
    connect(&desk(), &Desk::said, &listener, [&said](const QString& words) { said = words; });
    auto* list = d_->find<QListWidget>("colourList");
    QVERIFY(list && list->count() > 3);
    const auto alt = [&](int row, Qt::Key key) {
      list->setFocus();
      list->setCurrentRow(row);
      QTest::keyClick(list, key, Qt::AltModifier);
      QCoreApplication::processEvents();
    };
    int moved = 0, refused = 0;
    for (int row = 1; row < list->count() && (moved == 0 || refused == 0); ++row) {
      said.clear();
      const size_t changes = desk().statistics().colour_changes;
      alt(row, Qt::Key_Up);
      if (said.startsWith("Not moved")) {
        ++refused;
        QVERIFY(said.contains("lies on") || said.contains("comes after"));
        QCOMPARE(desk().statistics().colour_changes, changes);
      } else if (!job().sequence.colours_by_hand.empty()) {
        ++moved;
        QVERIFY(d_->find<QPushButton>("coloursAsTheyCome"));
        undo();
      }
    }
    QVERIFY(moved > 0 && refused > 0);
  }

  void letteringFitsAWidthAndTakesGaps() {
    d_->click("addLettering");
    d_->type("letterText", "FEN / REED");
    const auto* text = std::get_if<TextSource>(&last().source);
    QVERIFY(text);
    QCOMPARE(text->text, std::string("FEN\nREED"));
    d_->type("letterFit", "120 mm");
    d_->click("fitLettering");
    const double w = boundsOf(last()).width();
    QVERIFY2(w < 121 && w > 100, qPrintable(QString::number(w)));
    d_->type("letterGaps", "0 0 0 3 0 5");
    QVERIFY(boundsOf(last()).width() > w + 2);
    d_->type("letterGaps", "3 x");
    QCOMPARE(std::get<TextSource>(last().source).gaps_mm.size(), size_t{6});
  }
};

RT_TEST(TestComposeTools)

}  // namespace test_compose_tools
#include "test_compose_tools.moc"
