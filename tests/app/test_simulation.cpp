// The sewing played and stepped on the ribbon, and zones typed and drawn on the cloth.
#include <QSignalSpy>
#include <QSpinBox>

#include "brief_station.h"
#include "comes.h"
#include "look.h"
#include "run.h"
#include "sew_ribbon.h"
#include "window_driver.h"

namespace test_simulation {

using namespace rt;

class TestSimulation : public QObject {
  Q_OBJECT
  std::unique_ptr<testing::WindowDriver> d_;
  const Job& job() const { return d_->desk->job(); }
  SewRibbon& ribbon() { return d_->window->ribbon(); }

  void ribbonKey(Qt::Key key, Qt::KeyboardModifiers m = {}) {
    ribbon().setFocus();
    QTest::keyClick(&ribbon(), key, m);
  }

  /// Rows sewn at the moment, of the pattern that the ribbon says.
  struct Moment {
    std::shared_ptr<const Pattern> pattern;
    size_t row = 0;
  };
  Moment moment_;

 private slots:
  void initTestCase() {
    d_ = std::make_unique<testing::WindowDriver>();
    QVERIFY(d_->show());
    d_->window->openDemo("hide-banner");
    d_->desk->settle();
    connect(&ribbon(), &SewRibbon::momentChosen, this,
            [this](std::shared_ptr<const Pattern> p, size_t row, int) {
              moment_ = {std::move(p), row};
            });
  }
  void cleanupTestCase() { d_.reset(); }

  void oneStitchIsOneStitch() {
    ribbonKey(Qt::Key_Home);
    for (int i = 0; i < 40; ++i) {
      const size_t before = moment_.row;
      ribbonKey(Qt::Key_Right, Qt::ControlModifier);
      size_t stitches = 0;
      for (size_t row = before; row < moment_.row; ++row)
        stitches += moment_.pattern->stitches[row].op == Op::Stitch;
      QVERIFY2(stitches == 1 || i == 0, qPrintable(QString::number(stitches)));
    }
    const double at = ribbon().moment_s();
    ribbonKey(Qt::Key_Right, Qt::ControlModifier);
    ribbonKey(Qt::Key_Left, Qt::ControlModifier);
    QVERIFY(std::abs(ribbon().moment_s() - at) < 0.01);
  }

  void coloursFollowEachOther() {
    ribbonKey(Qt::Key_Home);
    std::vector<uint32_t> seen;
    for (int i = 0; i < 5; ++i) {
      ribbonKey(Qt::Key_PageDown);
      QVERIFY(moment_.row < moment_.pattern->stitches.size());
      seen.push_back(moment_.pattern->colourOf(moment_.pattern->stitches[moment_.row]).rgb);
    }
    for (size_t i = 1; i < seen.size(); ++i) QVERIFY(seen[i] != seen[i - 1]);
    const double there = ribbon().moment_s();
    ribbonKey(Qt::Key_PageUp);
    QVERIFY(ribbon().moment_s() < there);
  }

  void trimsAreStoppedAt() {
    ribbonKey(Qt::Key_Home);
    for (int i = 0; i < 6; ++i) {
      ribbonKey(Qt::Key_T);
      // the trim is the row that was just done
      bool trim = false;
      for (size_t row = moment_.row > 2 ? moment_.row - 2 : 0;
           row < std::min(moment_.row + 1, moment_.pattern->stitches.size()); ++row)
        trim |= moment_.pattern->stitches[row].op == Op::Trim;
      QVERIFY(trim);
    }
  }

  void itPlaysAndPauses() {
    ribbonKey(Qt::Key_Home);
    ribbon().setPlaySpeed(600);
    ribbonKey(Qt::Key_Space);
    QVERIFY(ribbon().playing());
    QVERIFY(testing::comes([&] { return ribbon().moment_s() > 30; }));
    ribbonKey(Qt::Key_Space);
    QVERIFY(!ribbon().playing());
    const double at = ribbon().moment_s();
    QCoreApplication::processEvents();
    QCOMPARE(ribbon().moment_s(), at);
  }

  void itEndsByItself() {
    ribbonKey(Qt::Key_End);
    QCOMPARE(moment_.row, moment_.pattern->stitches.size());
    ribbon().goTo(0.999);
    ribbon().setPlaySpeed(3600);
    ribbon().play();
    QVERIFY(testing::comes([&] { return !ribbon().playing(); }));
  }

  void escapeShowsAll() {
    ribbon().goTo(0.4);
    QSignalSpy left(&ribbon(), &SewRibbon::momentLeft);
    ribbonKey(Qt::Key_Escape);
    QCOMPARE(left.count(), 1);
    QVERIFY(ribbon().moment_s() < 0);
  }

  void anEmptyJobHasNothingToPlay() {
    testing::WindowDriver empty;
    QVERIFY(empty.show());
    empty.window->ribbon().play();
    QVERIFY(!empty.window->ribbon().playing());
    empty.window->ribbon().stepStitch(1);
    empty.window->ribbon().stepColour(-1);
    empty.window->ribbon().stepTrim(1);
  }

  // --- zones

  void aZoneIsTyped() {
    QVERIFY(d_->show());  // the keys come back from the window that was here meanwhile
    d_->key(Qt::Key_1);
    const size_t before = job().zones.size();
    d_->type("zoneName", "zip");
    d_->type("zoneLeft", "-2 in");
    d_->type("zoneTop", "10 mm");
    d_->type("zoneWidth", "1 in");
    d_->type("zoneHeight", "4 cm");
    d_->click("addZone");
    QCOMPARE(job().zones.size(), before + 1);
    const Zone& z = job().zones.back();
    QCOMPARE(z.kind, ZoneKind::KeepOut);
    QCOMPARE(z.name, std::string("zip"));
    const Box box = boundsOf(z.polygon_mm);
    QVERIFY(std::abs(box.left + 50.8) < 1e-9 && std::abs(box.width() - 25.4) < 1e-9);
    QVERIFY(std::abs(box.top - 10) < 1e-9 && std::abs(box.height() - 40) < 1e-9);
    // it lies under the heron: a finding says so
    d_->desk->settle();
    bool found = false;
    for (const Finding& f : d_->desk->weighing()->report.findings)
      found |= f.kind == FindingKind::KeepOut;
    QVERIFY(found);
  }

  void aZoneIsDrawn() {
    d_->choose("zoneKind", "Thick");
    d_->find<QSpinBox>("zoneLayers")->setValue(4);
    d_->type("zoneName", "seam");
    const size_t before = job().zones.size();
    const std::vector<Piece> pieces = job().pieces;
    d_->click("drawZone");
    d_->drag({-100, -60}, {-40, 20});
    QCOMPARE(job().zones.size(), before + 1);
    QVERIFY(job().pieces == pieces);  // the drag moved nothing
    const Box box = boundsOf(job().zones.back().polygon_mm);
    QVERIFY(std::abs(box.left + 100) < 2 && std::abs(box.right + 40) < 2);
    QVERIFY(std::abs(box.top + 60) < 2 && std::abs(box.bottom - 20) < 2);
    QCOMPARE(job().zones.back().kind, ZoneKind::Thick);
    QCOMPARE(job().zones.back().layers, 4);
  }

  void drawingIsGivenUpWithEscape() {
    const size_t before = job().zones.size();
    d_->click("drawZone");
    d_->key(Qt::Key_Escape);
    d_->drag({-100, -60}, {-40, 20});
    QCOMPARE(job().zones.size(), before);
  }

  void aZoneWithoutSizeIsRefused() {
    const size_t before = job().zones.size();
    d_->type("zoneWidth", "0 mm");
    d_->click("addZone");
    QCOMPARE(job().zones.size(), before);
  }

  void zonesGoAndComeBack() {
    const Job before = job();
    d_->click("removeZone0");
    QCOMPARE(job().zones.size(), before.zones.size() - 1);
    QTest::keyClick(d_->window.get(), Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(job() == before);
  }
};

RT_TEST(TestSimulation)

}  // namespace test_simulation
#include "test_simulation.moc"
