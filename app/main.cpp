// rapt-thimble: the window.
#include <QApplication>
#include <QCommandLineParser>
#include <cstdio>
#include <iostream>

#include "application.h"
#include "error.h"
#include "look.h"
#include "main_window.h"
#include "phone.h"
#include "shots.h"

namespace {

/// The page for phones from the start. One line says where, as soon as the job is in hand. Throws
/// Error where it cannot listen.
void openPhone(rt::MainWindow& window, const rt::PhoneAddress& address) {
  window.phone().open(address);
  QObject::connect(
      &window, &rt::MainWindow::begun, &window,
      [&window] {
        rt::Phone& phone = window.phone();
        phone.planByItself();
        if (!phone.isOpen()) return;
        std::cout << "{\"phone\": \"" << phone.link().toStdString()
                  << "\", \"port\": " << phone.address()->port << "}" << std::endl;
      },
      Qt::SingleShotConnection);
}

bool noDisplay() {
  return !qEnvironmentVariableIsSet("DISPLAY") && !qEnvironmentVariableIsSet("WAYLAND_DISPLAY");
}

}  // namespace

int main(int argc, char** argv) {
  for (int i = 1; i < argc; ++i)  // pictures and answers need no display
    if ((qstrcmp(argv[i], "--shots") == 0 || qstrcmp(argv[i], "--help") == 0 ||
         qstrcmp(argv[i], "-h") == 0 || qstrcmp(argv[i], "--version") == 0 ||
         qstrcmp(argv[i], "-v") == 0 ||
         (QByteArray(argv[i]).startsWith("--phone") && noDisplay())) &&
        !qEnvironmentVariableIsSet("QT_QPA_PLATFORM"))
      qputenv("QT_QPA_PLATFORM", "offscreen");
  rt::Application app(argc, argv);
  QApplication::setApplicationName(QStringLiteral("rapt-thimble"));
  QApplication::setApplicationVersion(QStringLiteral("0.1.0"));
  QCommandLineParser parser;
  parser.setApplicationDescription(
      QStringLiteral("Planner, calculator, simulator and logbook for embroidery layouts"));
  parser.addHelpOption();
  parser.addVersionOption();
  parser.addOptions({{"demo", "Open the demo job"},
                     {"shots", "Write a picture of every main view into DIR and end", "DIR"},
                     {"demo-scans", "Photograph the demo jobs' hoopings into DIR and end", "DIR"},
                     {"phone", "Serve the page for phones, from the start", "ADDRESS:PORT"},
                     {"dark", "Dark look"}});
  parser.addPositionalArgument(QStringLiteral("FILE"), QStringLiteral("Job to open"),
                               QStringLiteral("[FILE]"));
  parser.process(app);
  std::optional<rt::PhoneAddress> phone;
  try {
    if (parser.isSet("phone")) phone = rt::parsePhoneAddress(parser.value("phone").toStdString());
  } catch (const rt::Error& problem) {
    std::fprintf(stderr, "error: %s\n", problem.what());
    return 2;
  }
  try {
    rt::look::setDark(parser.isSet("dark"));
    rt::Bench bench = rt::openBench();
    rt::look::apply(app, QString::fromStdString(bench.data.string()));
    if (parser.isSet("demo-scans")) return rt::makeDemoScans(parser.value("demo-scans"));
    if (parser.isSet("shots")) return rt::makeShots(parser.value("shots"));
    rt::Desk desk(std::move(bench), rt::DeskFolders::usual());
    rt::MainWindow window(desk);
    app.onTrouble = [&desk](const QString& what) { emit desk.failed(what); };
    app.closeOnSignals();
    if (phone) openPhone(window, *phone);
    window.show();
    const QStringList files = parser.positionalArguments();
    window.begin(files.isEmpty() ? QString() : files[0], parser.isSet("demo"));
    const int code = QApplication::exec();
    app.onTrouble = {};
    return code;
  } catch (const std::exception& problem) {
    std::fprintf(stderr, "error: %s\n", problem.what());
    return 1;
  }
}
