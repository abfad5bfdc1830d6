// rapt-thimble-standin: a machine to practise on. Prints one line with port and key, then serves.
#include <QCommandLineParser>
#include <QCoreApplication>
#include <QJsonDocument>
#include <QJsonObject>
#include <cstdio>

#include "server.h"

int main(int argc, char** argv) {
  QCoreApplication app(argc, argv);
  QCommandLineParser line;
  line.setApplicationDescription("A simulated machine on this computer's loopback");
  line.addHelpOption();
  line.addOption({"stay", "Wait for the next operator instead of ending when one leaves"});
  line.addOption({"memory", "What was sewn survives an end of this program in FILE", "FILE"});
  line.addOption({"cloth", "Every needle point is added to FILE: row,x_mm,y_mm,thread", "FILE"});
  line.addOption({"free", "Machine time passes as fast as it can be computed"});
  line.process(app);
  standin::Server server(line.isSet("free") ? standin::Clock::Free : standin::Clock::Real,
                         line.value("memory"), line.value("cloth"));
  if (!server.listen()) {
    std::fprintf(stderr,
                 "error: the stand-in cannot listen on 127.0.0.1; check the loopback network\n");
    return 1;
  }
  const QJsonObject hello{{"port", server.port()}, {"key", server.key()}};
  std::printf("%s\n", QJsonDocument(hello).toJson(QJsonDocument::Compact).constData());
  std::fflush(stdout);
  if (!line.isSet("stay"))
    QObject::connect(&server, &standin::Server::clientLeft, &app, &QCoreApplication::quit);
  return QCoreApplication::exec();
}
