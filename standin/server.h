// The machine's door: JSON lines over loopback, protocol 2 in docs/standin-protocol.md.
#pragma once

#include <QElapsedTimer>
#include <QJsonObject>
#include <QTcpServer>
#include <QTcpSocket>
#include <QTimer>

#include "file_shelf.h"
#include "machine.h"
#include "memory.h"
#include "virtual_cloth.h"

namespace standin {

/// How the machine's time passes: by the clock, or as fast as it can be computed, for tests.
enum class Clock { Real, Free };

/// What its owner chose.
struct Setup {
  QString name = QStringLiteral("Practice machine");
  QString id;  ///< Empty: made up anew.
  int needles = 1;
  size_t places = 40;  ///< Of its memory.
  qsizetype bytes = 8 << 20;
  int photo_px = 1600;  ///< Width of a photo that names none.
  Clock clock = Clock::Real;
  QString position_file, cloth_file;  ///< Empty: not kept.
  QString moves;                      ///< Fabric of cloth that moves while it is sewn; empty: none.
  uint32_t moves_seed = 1;
};

/// Listens on 127.0.0.1 at a free port and serves one operator that knows the key. Until the key
/// was right nobody costs more than a few kB and seconds.
class Server : public QObject {
  Q_OBJECT
 public:
  explicit Server(const Setup& setup = {}, QObject* parent = nullptr);
  /// With a memory of its own.
  Server(Clock clock, const QString& position_file, const QString& cloth_file,
         QObject* parent = nullptr);
  ~Server() override;
  bool listen();
  quint16 port() const { return tcp_.serverPort(); }
  QString key() const { return key_; }
  QString id() const { return setup_.id; }
  QString name() const { return setup_.name; }
  const Machine& machine() const { return machine_; }
  const VirtualCloth& cloth() const { return cloth_; }
  /// The answer to one line of the operator. Public so that tests can say what no window would.
  QJsonObject heard(const QByteArray& line);

 signals:
  void clientLeft();
  /// The power went: nothing may be said or kept any more.
  void powerLost();

 private:
  using Answer = QJsonObject (Server::*)(const QJsonObject&);
  static const QHash<QString, Answer>& answers();

  void accept();
  void readStranger(QTcpSocket* socket);
  void dismiss(QTcpSocket* socket, const QString& why);
  void take(QTcpSocket* socket, const QByteArray& rest);
  void left();
  void read();
  void answerLines();
  QJsonObject load(const QJsonObject& request);
  QJsonObject loadRows(const QByteArray& rows, const QJsonObject& request);
  QJsonObject sewFrom(const QJsonObject& request);
  QJsonObject goOn(const QJsonObject& request);
  QJsonObject started(bool going);
  QJsonObject pause(const QJsonObject& request);
  QJsonObject setSpeed(const QJsonObject& request);
  QJsonObject strike(const QJsonObject& request);
  QJsonObject state(const QJsonObject& request);
  QJsonObject mount(const QJsonObject& request);
  QJsonObject foot(const QJsonObject& request);
  QJsonObject thread(const QJsonObject& request);
  QJsonObject times(const QJsonObject& request);
  QJsonObject trace(const QJsonObject& request);
  QJsonObject outline(const QJsonObject& request);
  QJsonObject jog(const QJsonObject& request);
  QJsonObject here(const QJsonObject& request);
  QJsonObject setLight(const QJsonObject& request);
  QJsonObject list(const QJsonObject& request);
  QJsonObject write(const QJsonObject& request);
  QJsonObject readBack(const QJsonObject& request);
  QJsonObject copy(const QJsonObject& request);
  QJsonObject rename(const QJsonObject& request);
  QJsonObject remove(const QJsonObject& request);
  QJsonObject select(const QJsonObject& request);
  QJsonObject hoop(const QJsonObject& request);
  QJsonObject photo(const QJsonObject& request);
  QJsonObject truth(const QJsonObject& request);
  FileShelf& shelfOf(const QJsonObject& request);
  static void sendTo(QTcpSocket* socket, const QJsonObject& object);
  void send(const QJsonObject& object);
  void tick();
  void report(const QString& event);

  Setup setup_;
  QTcpServer tcp_;
  std::vector<QTcpSocket*> strangers_;  // have not said the key yet
  QTcpSocket* client_ = nullptr;
  QString key_;
  QByteArray inbox_;
  Machine machine_;
  VirtualCloth cloth_;
  FileShelf memoryFiles_, stick_;
  Memory memory_;
  QString design_;
  QTimer timer_;
  QElapsedTimer passed_;
  double times_ = 1;
};

}  // namespace standin
