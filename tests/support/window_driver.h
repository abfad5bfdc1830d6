// Clicks and keys for tests of the real window.
#pragma once

#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <QTemporaryDir>
#include <QtTest>

#include "main_window.h"
#include "tool_shelf.h"

namespace rt::testing {

/// Answers file questions with what the test has set.
class ScriptedAsker : public FileAsker {
 public:
  QString next;
  QString toOpen(QWidget*, const QString&, const QString&) override { return next; }
  QString toSave(QWidget*, const QString&, const QString&, const QString&) override { return next; }
  QString folder(QWidget*, const QString&) override { return next; }
};

/// A desk and its window in a folder of their own. Steps fail the running test when a control is
/// not there, not visible or not enabled: `if (QTest::currentTestFailed()) return;` stops early.
class WindowDriver {
 public:
  WindowDriver() {
    desk = std::make_unique<Desk>(openBench(), DeskFolders{folder.path().toStdString()});
    auto own = std::make_unique<ScriptedAsker>();
    asker = own.get();
    window = std::make_unique<MainWindow>(*desk, std::move(own));
  }
  bool show() {
    window->show();
    if (!QTest::qWaitForWindowExposed(window.get())) return false;
    window->activateWindow();  // without a window manager nobody else gives it the keys
    return QTest::qWaitForWindowActive(window.get());
  }

  template <class T>
  T* find(const char* name) {
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    for (int i = 0; i < 3; ++i) QCoreApplication::processEvents();
    for (T* w : window->findChildren<T*>(QString::fromLatin1(name)))
      if (w->isVisible()) return w;
    for (T* w : window->findChildren<T*>(QString::fromLatin1(name)))
      if (reveal(w)) return w;
    return nullptr;
  }
  /// Opens the tool and the folds that a control stands in, by clicks as a person would.
  bool reveal(QWidget* w) {
    std::vector<QWidget*> around;
    for (QWidget* p = w; p; p = p->parentWidget()) around.push_back(p);
    for (auto it = around.rbegin(); it != around.rend(); ++it) {
      auto* fold = qobject_cast<Fold*>((*it)->parentWidget());
      if (fold && fold->content() == *it && !fold->isOpen() && fold->isVisible())
        QTest::mouseClick(fold->header(), Qt::LeftButton);
      auto* shelf = qobject_cast<ToolShelf*>((*it)->parentWidget());
      if (QPushButton* b = shelf ? shelf->buttonOf(*it) : nullptr;
          b && b->isVisible() && !(*it)->isVisible())
        QTest::mouseClick(b, Qt::LeftButton);
    }
    QCoreApplication::processEvents();
    return w->isVisible();
  }
  void click(const char* name) {
    auto* b = find<QAbstractButton>(name);
    QVERIFY2(b, name);
    QVERIFY2(b->isEnabled(), name);
    QTest::mouseClick(b, Qt::LeftButton);
  }
  /// A button known by its words.
  void clickText(const QString& starts) {
    for (QPushButton* b : window->findChildren<QPushButton*>())
      if (b->isVisible() && (b->text().startsWith(starts) || b->accessibleName() == starts)) {
        QTest::mouseClick(b, Qt::LeftButton);
        return;
      }
    QFAIL(qPrintable("no button " + starts));
  }
  void type(const char* name, const QString& text) {
    auto* line = find<QLineEdit>(name);
    QVERIFY2(line, name);
    line->setFocus();
    line->selectAll();
    QTest::keyClicks(line, text);
    QTest::keyClick(line, Qt::Key_Return);
    QCoreApplication::processEvents();
  }
  /// Picks a choice of a list by its words, as the arrow keys would.
  void choose(const char* name, const QString& starts) {
    auto* box = find<QComboBox>(name);
    QVERIFY2(box, name);
    const int i = box->findText(starts, Qt::MatchStartsWith);
    QVERIFY2(i >= 0, qPrintable(starts));
    box->setFocus();
    QTest::keyClick(box, Qt::Key_Home);
    for (int k = 0; k < i; ++k) QTest::keyClick(box, Qt::Key_Down);
    QCOMPARE(box->currentIndex(), i);
    emit box->activated(i);
    QCoreApplication::processEvents();
  }
  void key(Qt::Key k, Qt::KeyboardModifiers m = {}) {
    if (!window->isActiveWindow()) {  // after a window beside it
      window->activateWindow();
      if (!QTest::qWaitForWindowActive(window.get())) qWarning("the window is not active");
    }
    window->cloth().setFocus();
    QTest::keyClick(&window->cloth(), k, m);
    QCoreApplication::processEvents();
  }
  QPoint px(Point mm) { return window->cloth().eye().px(mm).toPoint(); }
  void drag(Point from, Point to) {
    QWidget* cloth = &window->cloth();
    QTest::mousePress(cloth, Qt::LeftButton, {}, px(from));
    QTest::mouseMove(cloth, px(mix(from, to, 0.4)));
    QTest::mouseMove(cloth, px(to));
    QTest::mouseRelease(cloth, Qt::LeftButton, {}, px(to));
  }

  QTemporaryDir folder;
  std::unique_ptr<Desk> desk;
  ScriptedAsker* asker = nullptr;
  std::unique_ptr<MainWindow> window;
};

}  // namespace rt::testing
