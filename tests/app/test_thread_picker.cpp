// A colour is clicked where it is listed, and another thread is chosen: at the piece, in the order,
// at the spools, in the ribbon.
#include "demo.h"
#include "piece_list.h"
#include "run.h"
#include "sew_ribbon.h"
#include "spool_row.h"
#include "thread_picker.h"
#include "thread_shelf.h"
#include "window_driver.h"

namespace test_thread_picker {

using namespace rt;
using testing::WindowDriver;

std::map<uint32_t, size_t> stitchesBy(const Piece& p) {
  std::map<uint32_t, size_t> out;
  for (const Stitch& s : p.stitches->stitches)
    if (s.op == Op::Stitch) ++out[p.stitches->colourOf(s).rgb];
  return out;
}

/// The last of the threads that a piece's row shows: the fourth, or the last of fewer.
Colour lastThreadOf(const Piece& p) {
  std::vector<Colour> seen;
  for (const Stitch& s : p.stitches->stitches) {
    const Colour c = p.stitches->colourOf(s);
    if (s.op == Op::Stitch && seen.size() < 4 &&
        std::find(seen.begin(), seen.end(), c) == seen.end())
      seen.push_back(c);
  }
  return seen.back();
}

class TestThreadPicker : public QObject {
  Q_OBJECT

  static ThreadPicker* openPicker(WindowDriver& w) {
    QCoreApplication::processEvents();
    for (ThreadPicker* p : w.window->findChildren<ThreadPicker*>())
      if (p->isVisible()) return p;
    return nullptr;
  }
  /// Types into the open picker and takes the first that comes.
  static void take(ThreadPicker* picker, const QString& words) {
    auto* sought = picker->findChild<QLineEdit*>("threadSought");
    QTest::keyClicks(sought, words);
    QTest::keyClick(sought, Qt::Key_Return);
    QCoreApplication::processEvents();
  }

 private slots:
  void atThePieceAndInTheOrder() {
    WindowDriver w;
    QVERIFY(w.show());
    w.desk->take(demoJob(w.desk->bench(), "hide-banner"), {});
    w.key(Qt::Key_2);
    w.desk->settle();
    auto* pieces = w.find<PieceList>("pieceList");
    QVERIFY(pieces && pieces->count() > 2);
    // a chip of the first piece with several threads: its last thread stands at the right
    const Job before = w.desk->job();
    size_t row = 0;
    while (stitchesBy(before.pieces[row]).size() < 2) ++row;
    const auto chipAt = [&](QListWidget* list) {
      const QRect r = list->visualItemRect(list->item(static_cast<int>(row)));
      return QPoint(r.right() - 30 - 10, r.top() + 15);
    };
    pieces->scrollToItem(pieces->item(static_cast<int>(row)));
    QTest::mouseClick(pieces->viewport(), Qt::LeftButton, {}, chipAt(pieces));
    ThreadPicker* picker = openPicker(w);
    QVERIFY(picker);
    // nearest first, named, with what it differs by
    auto* choices = picker->findChild<QListWidget*>("threadChoices");
    QCOMPARE(choices->count(), static_cast<int>(w.desk->bench().shop.threads.size()));
    const Colour chip = lastThreadOf(before.pieces[row]);
    const auto nearest = byNearness(w.desk->bench().shop.threads, chip).front();
    QVERIFY2(choices->item(0)->text().contains(QString::fromStdString(nearest.thread->name)),
             qPrintable(choices->item(0)->text()));
    auto* alone = picker->findChild<QCheckBox*>("threadAlone");
    QVERIFY(alone->isVisible() &&
            alone->text().contains(QString::fromStdString(before.pieces[row].name).left(10)));
    QTest::mouseClick(alone, Qt::LeftButton, {}, QPoint(10, alone->height() / 2));
    const ShelfThread& other = w.desk->bench().shop.threads.back();
    take(picker, QString::fromStdString(other.name));
    QVERIFY(stitchesBy(w.desk->job().pieces[row]).contains(other.colour.rgb));
    for (size_t i = 0; i < before.pieces.size(); ++i)
      if (i != row) QVERIFY(stitchesBy(w.desk->job().pieces[i]) == stitchesBy(before.pieces[i]));
    w.window->setFocus();
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(w.desk->job() == before);
    // in the order: all that is sewn in it, by its picture in the list
    w.desk->settle();
    auto* colours = w.find<QListWidget>("colourList");
    QVERIFY(colours && colours->count() > 1);
    const QRect first = colours->visualItemRect(colours->item(0));
    QTest::mouseClick(colours->viewport(), Qt::LeftButton, {}, first.topLeft() + QPoint(12, 16));
    picker = openPicker(w);
    QVERIFY(picker && !picker->findChild<QCheckBox*>("threadAlone")->isVisible());
    take(picker, "#0a0b0c");
    bool any = false;
    for (const Piece& p : w.desk->job().pieces) any = any || stitchesBy(p).contains(0x0a0b0c);
    QVERIFY(any);
    // words beside the picture choose the row, and ask nothing
    w.desk->settle();
    QTest::mouseClick(colours->viewport(), Qt::LeftButton, {}, first.topLeft() + QPoint(120, 16));
    QVERIFY(!openPicker(w));
    QCOMPARE(colours->currentRow(), 0);
    QTest::keyClick(colours, Qt::Key_Return);
    picker = openPicker(w);
    QVERIFY(picker);
    QTest::keyClick(picker, Qt::Key_Escape);
    QCoreApplication::processEvents();
    QVERIFY(!openPicker(w));
  }

  void atTheSpoolsAndInTheRibbon() {
    WindowDriver w;
    QVERIFY(w.show());
    Job job = demoJob(w.desk->bench(), "wardens-gilet");
    job.plan_settings.hoop = "field-200x140";
    w.desk->take(job, {});
    w.desk->makePlan();
    w.desk->settle();
    const Job before = w.desk->job();
    w.key(Qt::Key_7);
    auto* spools = w.find<SpoolRow>("spools");
    QVERIFY(spools && !spools->spools().empty());
    QTest::mouseClick(spools, Qt::LeftButton, {}, QPoint(24, 20));
    ThreadPicker* picker = openPicker(w);
    QVERIFY(picker);
    take(picker, "#0a0b0c");
    QVERIFY(!(w.desk->job() == before));
    w.window->setFocus();
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(w.desk->job() == before);
    w.desk->settle();
    SewRibbon& ribbon = w.window->ribbon();
    const QPoint middle(ribbon.width() / 2, ribbon.height() / 2);
    QContextMenuEvent asked(QContextMenuEvent::Mouse, middle, ribbon.mapToGlobal(middle));
    QCoreApplication::sendEvent(&ribbon, &asked);
    picker = openPicker(w);
    QVERIFY(picker);
    take(picker, "no thread is called so");
    QVERIFY(openPicker(w));  // nothing was taken
    QVERIFY(w.desk->job() == before);
    picker->close();
  }
};

RT_TEST(TestThreadPicker)

}  // namespace test_thread_picker

#include "test_thread_picker.moc"
