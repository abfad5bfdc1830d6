// The program's frame: nothing that is thrown in an event ends it.
#pragma once

#include <QApplication>
#include <functional>

namespace rt {

class Application : public QApplication {
  Q_OBJECT
 public:
  Application(int& argc, char** argv);
  /// Called with what was thrown, in words; the job stays as it is.
  std::function<void(const QString&)> onTrouble;
  bool notify(QObject* receiver, QEvent* event) override;
  /// SIGTERM and the like end the program as closing its window does.
  void closeOnSignals();
};

/// A wheel that turns over a closed list or a number scrolls what it lies in, and never changes it,
/// focus or not: nobody looks at a value while scrolling past it. Installed on the application.
class WheelGuard : public QObject {
  Q_OBJECT
 public:
  using QObject::QObject;
  bool eventFilter(QObject* watched, QEvent* event) override;
};

}  // namespace rt
