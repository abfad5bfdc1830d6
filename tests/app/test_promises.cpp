// What the window promises whatever happens: nothing is changed by the way, nothing ends the
// program, nothing old is shown as current.
#include <QScrollArea>
#include <QSpinBox>
#include <QWheelEvent>

#include "application.h"
#include "comes.h"
#include "demo.h"
#include "run.h"
#include "window_driver.h"

namespace test_promises {

using namespace rt;

class TestPromises : public QObject {
  Q_OBJECT
  std::unique_ptr<testing::WindowDriver> d_;
  Desk& desk() { return *d_->desk; }

  static void wheel(QWidget* w, int steps) {
    const QPointF at = w->rect().center();
    QWheelEvent event(at, w->mapToGlobal(at), {}, {0, 120 * steps}, Qt::NoButton, Qt::NoModifier,
                      Qt::NoScrollPhase, false);
    QApplication::sendEvent(w, &event);
  }

 private slots:
  void init() {
    d_ = std::make_unique<testing::WindowDriver>();
    QVERIFY(d_->show());
  }
  void cleanup() { d_.reset(); }

  void theWheelOverAListOrNumberChangesNothing() {
    d_->window->openDemo("hide-banner");
    d_->key(Qt::Key_2);
    desk().select(desk().job().pieces.back().id);
    QCoreApplication::processEvents();
    const Job before = desk().job();
    const int steps = desk().undo().index();
    d_->window->cloth().setFocus();
    int tried = 0;
    for (QWidget* w : d_->window->findChildren<QWidget*>()) {
      const bool changes = qobject_cast<QComboBox*>(w) || qobject_cast<QAbstractSpinBox*>(w);
      if (!changes || !w->isVisible() || w->hasFocus()) continue;
      wheel(w, -3);
      ++tried;
    }
    QVERIFY2(tried >= 2, qPrintable(QString::number(tried)));
    QVERIFY(desk().job() == before);
    QCOMPARE(desk().undo().index(), steps);
    // nor with the focus: a value is typed, or chosen from the open list
    QComboBox* list = nullptr;
    for (QComboBox* box : d_->window->findChildren<QComboBox*>())
      if (box->isVisible() && box->isEnabled() && box->count() > 2) list = box;
    QVERIFY(list);
    list->setFocus();
    const int was = list->currentIndex();
    wheel(list, was + 1 < list->count() ? -1 : 1);
    QCOMPARE(list->currentIndex(), was);
  }

  void aNewJobIsSeenWhole() {
    d_->window->openDemo("hide-banner");
    const double banner = d_->window->cloth().eye().px_per_mm;
    for (int i = 0; i < 12; ++i) d_->key(Qt::Key_Plus);
    QVERIFY(d_->window->cloth().eye().px_per_mm > 2 * banner);
    QTest::keyClick(d_->window.get(), Qt::Key_N, Qt::ControlModifier);
    QCoreApplication::processEvents();
    const Brief& b = desk().job().brief;
    const QRect view = d_->window->cloth().rect();
    for (Point corner : {Point{-b.place_width_mm / 2, -b.place_height_mm / 2},
                         Point{b.place_width_mm / 2, b.place_height_mm / 2}})
      QVERIFY(view.contains(d_->px(corner)));
    const QPoint size = d_->px({b.place_width_mm / 2, 0}) - d_->px({-b.place_width_mm / 2, 0});
    QVERIFY(size.x() > view.width() / 3);  // and not from afar
  }

  void whatFailsInASlotIsSaidAndTheJobStays() {
    d_->window->openDemo("tally-tags");
    const Job before = desk().job();
    auto* app = qobject_cast<Application*>(qApp);
    QVERIFY(app);
    int met = 0;
    QString said;
    const auto kept = app->onTrouble;
    app->onTrouble = [&](const QString& what) { ++met, said = what; };
    QObject receiver;
    QMetaObject::invokeMethod(
        &receiver, [] { throw std::runtime_error("the fabric is on no list"); },
        Qt::QueuedConnection);
    QMetaObject::invokeMethod(
        &receiver, [] { throw std::bad_alloc(); }, Qt::QueuedConnection);
    QMetaObject::invokeMethod(
        &receiver, [] { throw 7; }, Qt::QueuedConnection);
    QVERIFY(testing::comes([&] { return met == 3; }));
    app->onTrouble = kept;
    QVERIFY(!said.isEmpty());
    QVERIFY(desk().job() == before);
    d_->key(Qt::Key_2);  // and the window goes on
    d_->key(Qt::Key_Right);
    QCOMPARE(desk().undo().index(), desk().undo().count());
  }

  void aVerdictThatIsBeingMadeAnewIsNotShownAsCurrent() {
    d_->window->openDemo("hide-banner");
    desk().settle();
    d_->key(Qt::Key_3);
    auto* sentence = d_->find<QLabel>("verdictSentence");
    QVERIFY(sentence);
    const QString settled = sentence->text();
    QVERIFY(desk().weighingCurrent());
    Job next = desk().job();
    next.pieces.back().place.at = next.pieces.back().place.at + Point{1, 0};
    desk().change("move", std::move(next));
    QVERIFY(!desk().weighingCurrent());  // the edit is in hand, its weight is not
    QVERIFY2(sentence->text() != settled, qPrintable(settled));
    desk().settle();
    QVERIFY(desk().weighingCurrent());
  }
};

RT_TEST(TestPromises)

}  // namespace test_promises
#include "test_promises.moc"
