#include "application.h"

#include <sys/socket.h>
#include <unistd.h>

#include <QAbstractSlider>
#include <QAbstractSpinBox>
#include <QComboBox>
#include <QScrollBar>
#include <QSocketNotifier>
#include <QWheelEvent>
#include <csignal>

namespace rt {
namespace {

int signalPair[2] = {-1, -1};

void wake(int) {
  const char one = 1;
  [[maybe_unused]] const ssize_t n = ::write(signalPair[0], &one, 1);
}

}  // namespace

Application::Application(int& argc, char** argv) : QApplication(argc, argv) {
  installEventFilter(new WheelGuard(this));
}

bool Application::notify(QObject* receiver, QEvent* event) {
  QString what;
  try {
    return QApplication::notify(receiver, event);
  } catch (const std::bad_alloc&) {
    what = tr("The memory does not suffice for that.");
  } catch (const std::exception& problem) {
    what = QString::fromUtf8(problem.what());
  } catch (...) {
    what = tr("Something unexpected happened.");
  }
  if (onTrouble) onTrouble(what);
  return true;
}

void Application::closeOnSignals() {
  if (::socketpair(AF_UNIX, SOCK_STREAM, 0, signalPair) != 0) return;
  auto* told = new QSocketNotifier(signalPair[1], QSocketNotifier::Read, this);
  connect(told, &QSocketNotifier::activated, this, [told] {
    told->setEnabled(false);
    QApplication::closeAllWindows();
    QApplication::quit();
  });
  for (int signal : {SIGTERM, SIGINT, SIGHUP}) ::signal(signal, wake);
}

bool WheelGuard::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() != QEvent::Wheel) return false;
  const bool changes =
      qobject_cast<QComboBox*>(watched) || qobject_cast<QAbstractSpinBox*>(watched) ||
      (qobject_cast<QAbstractSlider*>(watched) && !qobject_cast<QScrollBar*>(watched));
  if (!changes) return false;
  event->ignore();  // it goes on to what the widget lies in
  return true;
}

}  // namespace rt
