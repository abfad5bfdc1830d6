// rapt-thimble-standin: a machine to practise on. Prints one line with port and key, then serves.
#include <QCoreApplication>
#include <QJsonDocument>
#include <QJsonObject>
#include <cstdio>

#include "server.h"

int main(int argc, char** argv) {
  QCoreApplication app(argc, argv);
  standin::Server server;
  if (!server.listen()) {
    std::fprintf(stderr,
                 "error: the stand-in cannot listen on 127.0.0.1; check the loopback network\n");
    return 1;
  }
  const QJsonObject hello{{"port", server.port()}, {"key", server.key()}};
  std::printf("%s\n", QJsonDocument(hello).toJson(QJsonDocument::Compact).constData());
  std::fflush(stdout);
  if (!app.arguments().contains(QStringLiteral("--stay")))
    QObject::connect(&server, &standin::Server::clientLeft, &app, &QCoreApplication::quit);
  return QCoreApplication::exec();
}
