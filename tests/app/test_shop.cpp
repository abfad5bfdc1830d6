// The shop's own knowledge in the window: limits, outcomes, swatches, cures held side by side,
// threads, cuts on paper.
#include <set>

#include "density_station.h"
#include "file_io.h"
#include "ledger_station.h"
#include "run.h"
#include "window_driver.h"

namespace test_shop {

using namespace rt;

class TestShop : public QObject {
  Q_OBJECT
  std::unique_ptr<testing::WindowDriver> d_;
  Desk& desk() { return *d_->desk; }
  const Job& job() { return d_->desk->job(); }

 private slots:
  void initTestCase() {
    d_ = std::make_unique<testing::WindowDriver>();
    QVERIFY(d_->show());
    d_->window->openDemo("binocular-strap");
    desk().settle();
  }

  /// The strap starts as a stop, and three different changes cure it.
  void theStrapIsCuredInThreeWays() {
    d_->key(Qt::Key_3);
    QCOMPARE(desk().weighing()->report.verdict, Verdict::Stop);
    std::set<QString> kinds;
    const Job before = job();
    d_->window->density().pick(0);
    desk().settle();
    for (const Cure& c : desk().cures())
      if (c.verdict < Verdict::Stop)
        kinds.insert(QString::fromStdString(c.title).section(' ', 0, 0));
    QVERIFY2(kinds.size() >= 3, qPrintable(QStringList(kinds.begin(), kinds.end()).join(", ")));
    // each way by itself takes the strap from stop, piece by piece, by the buttons
    int ways = 0;
    for (const QString& kind : kinds) {
      if (++ways > 3) break;
      for (int tries = 0; desk().weighing()->report.verdict == Verdict::Stop; ++tries) {
        QVERIFY2(tries < 4, qPrintable(kind));
        d_->window->density().pick(0);
        desk().settle();
        size_t cure = 0;
        while (cure < desk().cures().size() &&
               !QString::fromStdString(desk().cures()[cure].title).startsWith(kind))
          ++cure;
        QVERIFY2(cure < desk().cures().size(), qPrintable(kind));
        d_->click(qPrintable(QString("cure%1").arg(cure)));
        desk().settle();
      }
      while (!(job() == before)) desk().undo().undo();
      desk().settle();
    }
    QVERIFY(job() == before);
  }

  void aCureIsHeldAgainstTheLayout() {
    d_->window->density().pick(0);
    desk().settle();
    d_->click("compare0");
    desk().settle();
    QVERIFY(desk().comparison() && desk().comparison()->weighed);
    const QImage both = d_->window->cloth().grab().toImage();
    QTest::keyClick(&d_->window->cloth(), Qt::Key_Less);
    QTest::keyClick(&d_->window->cloth(), Qt::Key_Less);
    QVERIFY(d_->window->cloth().grab().toImage() != both);  // the line moved
    d_->click("compare0");
    QVERIFY(!desk().comparison());
  }

  void needleAndThreadMoveTheLimits() {
    const double stop = desk().fabric().density_mm_per_mm2.stop;
    d_->key(Qt::Key_1);
    d_->choose("briefThread", "12");
    QVERIFY(desk().fabric().density_mm_per_mm2.stop < 0.7 * stop);
    QVERIFY(std::abs(desk().shopFabric().density_mm_per_mm2.stop - stop) < 1e-9);
    desk().undo().undo();
    QVERIFY(std::abs(desk().fabric().density_mm_per_mm2.stop - stop) < 1e-9);
    desk().settle();
  }

  void shopLimitsAreTypedKeptAndTakenBack() {
    d_->key(Qt::Key_3);
    const Limit start = desk().startingFabric().density_mm_per_mm2;
    d_->type("shopLimit1", QString::number(start.stop + 0.5));
    QVERIFY(std::abs(desk().fabric().density_mm_per_mm2.stop - start.stop - 0.5) < 1e-6);
    QVERIFY(desk().shopLimits().has_value());
    d_->type("shopLimit1", "0.5");  // below the check: refused
    QVERIFY(std::abs(desk().fabric().density_mm_per_mm2.stop - start.stop - 0.5) < 1e-6);
    {  // they are there at the next start
      Desk again(openBench(), DeskFolders{d_->folder.path().toStdString()});
      Job strap = job();
      again.take(strap, {});
      QVERIFY(std::abs(again.fabric().density_mm_per_mm2.stop - start.stop - 0.5) < 1e-6);
      again.settle();
    }
    d_->click("takeStarting");
    QVERIFY(std::abs(desk().fabric().density_mm_per_mm2.stop - start.stop) < 1e-9);
    desk().settle();
  }

  void outcomesProposeALimitAndAPersonTakesIt() {
    const Limit start = desk().shopFabric().density_mm_per_mm2;
    for (double peak : {0.70, 0.75, 0.80})
      desk().addOutcome(OutcomeOf::Density, peak * start.stop, Outcome::Fine, "");
    QVERIFY(!desk().learned().density.enough);
    desk().addOutcome(OutcomeOf::Density, 0.92 * start.stop, Outcome::Broke, "");
    desk().addOutcome(OutcomeOf::Density, 0.96 * start.stop, Outcome::Broke, "");
    QVERIFY(desk().learned().density.enough);
    QVERIFY(desk().shopFabric().density_mm_per_mm2 == start);  // never by itself
    d_->window->density().refresh();
    d_->click("takeLearned");
    QVERIFY(std::abs(desk().shopFabric().density_mm_per_mm2.stop - 0.86 * start.stop) < 1e-6);
    desk().setShopLimits(std::nullopt);
    desk().settle();
    d_->key(Qt::Key_8);
    const size_t before =
        outcomesIn(desk().ledger().all(), job().brief.fabric, OutcomeOf::Density).size();
    d_->click("outcome0");
    QCOMPARE(outcomesIn(desk().ledger().all(), job().brief.fabric, OutcomeOf::Density).size(),
             before + 1);
  }

  void cutsGoOnPaper() {
    d_->key(Qt::Key_5);
    d_->asker->next = d_->folder.filePath("trims.pdf");
    d_->click("writeTrims");
    QVERIFY(readFile(d_->asker->next.toStdString()).starts_with("%PDF"));
  }

  void aSwatchIsMadeAndItsResultsAreKept() {
    d_->key(Qt::Key_1);
    Job clean = job();
    desk().save(d_->folder.filePath("strap.rapt").toStdString());
    d_->click("makeSwatch");
    QVERIFY(!job().swatch.empty());
    desk().settle();
    d_->key(Qt::Key_8);
    const size_t before =
        outcomesIn(desk().ledger().all(), job().brief.fabric, OutcomeOf::Density).size();
    d_->choose("swatch-fill", "4:");
    d_->click("keepSwatch");
    QCOMPARE(outcomesIn(desk().ledger().all(), job().brief.fabric, OutcomeOf::Density).size(),
             before + 4);
    const auto list = outcomesIn(desk().ledger().all(), job().brief.fabric, OutcomeOf::Density);
    QCOMPARE(list.back().outcome, Outcome::Broke);
    QVERIFY(!d_->find<QComboBox>("swatch-fill")->isEnabled());
  }

  void timesAreLearnedFromRuns() {
    const double before = desk().bench().shop.time.trim_s;
    desk().addRun(1, 100, 130);
    desk().addRun(2, 100, 130);
    QCOMPARE(desk().timeFactor(), 1.0);
    desk().addRun(3, 100, 130);
    QVERIFY(std::abs(desk().timeFactor() - 1.3) < 1e-9);
    QVERIFY(std::abs(desk().bench().shop.time.trim_s - 1.3 * before) < 1e-9);
    desk().addRun(4, 130, 130);  // what the learned model foretold came true: nothing moves
    QVERIFY(std::abs(desk().timeFactor() - 1.3) < 1e-6);
  }
};

RT_TEST(TestShop)

}  // namespace test_shop
#include "test_shop.moc"
