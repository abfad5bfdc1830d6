// rapt-thimble-standin: a machine to practise on. Prints one line with port and key, then serves.
#include <QCommandLineParser>
#include <QCoreApplication>
#include <QFile>
#include <QJsonDocument>
#include <QJsonObject>
#include <QSaveFile>
#include <cstdio>
#include <cstdlib>

#include "error.h"
#include "moving_cloth.h"
#include "server.h"

int main(int argc, char** argv) {
  QCoreApplication app(argc, argv);
  QCommandLineParser line;
  line.setApplicationDescription("A simulated machine on this computer's loopback");
  line.addHelpOption();
  line.addOption({"stay", "Wait for the next operator instead of ending when one leaves"});
  line.addOption({"memory", "What was sewn survives an end of this program in FILE", "FILE"});
  line.addOption({"cloth", "Every needle point is added to FILE: row,x_mm,y_mm,thread", "FILE"});
  line.addOption(
      {"moves",
       "The cloth moves while it is sewn: cotton, jersey, terry, canvas or sheer, each seed a "
       "cloth of its own",
       "FABRIC:SEED"});
  line.addOption({"name", "What its owner calls it", "NAME"});
  line.addOption({"id", "By which it is told from others; made up if left out", "ID"});
  line.addOption({"needles", "How many needles it has", "N"});
  line.addOption({"photo-px", "Width of the camera's photos", "N"});
  line.addOption({"places", "Files that its memory holds", "N"});
  line.addOption({"kilobytes", "Room of its memory", "N"});
  line.addOption(
      {"announce", "Where it listens is written into FOLDER, for windows to find", "FOLDER"});
  line.addOption({"free", "Machine time passes as fast as it can be computed"});
  line.process(app);
  standin::Setup setup;
  if (line.isSet("name")) setup.name = line.value("name").left(60);
  setup.id = line.value("id").left(60);
  if (line.isSet("needles")) setup.needles = line.value("needles").toInt();
  if (line.isSet("photo-px")) setup.photo_px = line.value("photo-px").toInt();
  if (line.isSet("places")) setup.places = line.value("places").toUInt();
  if (line.isSet("kilobytes")) setup.bytes = line.value("kilobytes").toUInt() * qsizetype{1024};
  setup.clock = line.isSet("free") ? standin::Clock::Free : standin::Clock::Real;
  setup.position_file = line.value("memory");
  setup.cloth_file = line.value("cloth");
  if (line.isSet("moves")) {
    const QStringList words = line.value("moves").split(':');
    bool counted = words.size() == 2;
    if (counted) setup.moves_seed = words[1].toUInt(&counted);
    setup.moves = words[0];
    try {
      if (!counted)
        throw rt::Error("no seed is given", "--moves", "give FABRIC:SEED, like jersey:3");
      rt::clothMake(setup.moves.toStdString(), setup.moves_seed);
    } catch (const rt::Error& wrong) {
      std::fprintf(stderr, "error: %s\n", wrong.what());
      return 1;
    }
  }
  standin::Server server(setup);
  if (!server.listen()) {
    std::fprintf(stderr,
                 "error: the stand-in cannot listen on 127.0.0.1; check the loopback network\n");
    return 1;
  }
  const QByteArray hello =
      QJsonDocument(QJsonObject{{"port", server.port()},
                                {"key", server.key()},
                                {"id", server.id()},
                                {"machine", server.name()},
                                {"process", QCoreApplication::applicationPid()}})
          .toJson(QJsonDocument::Compact);
  std::printf("%s\n", hello.constData());
  std::fflush(stdout);
  QString notice;
  if (line.isSet("announce")) {
    notice = line.value("announce") + "/" + server.id() + ".json";
    QSaveFile file(notice);
    if (!file.open(QIODevice::WriteOnly) || file.write(hello) < 0 ||
        !file.setPermissions(QFile::ReadOwner | QFile::WriteOwner) || !file.commit()) {
      std::fprintf(stderr, "error: %s cannot be written; choose a folder that can\n",
                   qPrintable(notice));
      return 1;
    }
  }
  QObject::connect(&server, &standin::Server::powerLost, &app, [] { std::_Exit(3); });
  if (!line.isSet("stay"))
    QObject::connect(&server, &standin::Server::clientLeft, &app, &QCoreApplication::quit);
  const int code = QCoreApplication::exec();
  if (!notice.isEmpty()) QFile::remove(notice);
  return code;
}
