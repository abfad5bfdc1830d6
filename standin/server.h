// The machine's door: JSON lines over loopback, protocol in docs/standin-protocol.md.
#pragma once

#include <QElapsedTimer>
#include <QJsonObject>
#include <QTcpServer>
#include <QTcpSocket>
#include <QTimer>

#include "machine.h"
#include "memory.h"

namespace standin {

/// How the machine's time passes: by the clock, or as fast as it can be computed, for tests.
enum class Clock { Real, Free };

/// Listens on 127.0.0.1 at a free port and serves one operator that knows the key. Until the key
/// was right nobody costs more than a few kB and seconds.
class Server : public QObject {
  Q_OBJECT
 public:
  explicit Server(QObject* parent = nullptr);
  /// With a memory of its own.
  Server(Clock clock, const QString& position_file, const QString& cloth_file,
         QObject* parent = nullptr);
  ~Server() override;
  bool listen();
  quint16 port() const { return tcp_.serverPort(); }
  QString key() const { return key_; }
  const Machine& machine() const { return machine_; }
  /// The answer to one line of the operator. Public so that tests can say what no window would.
  QJsonObject heard(const QByteArray& line);

 signals:
  void clientLeft();

 private:
  void accept();
  void readStranger(QTcpSocket* socket);
  void dismiss(QTcpSocket* socket, const QString& why);
  void take(QTcpSocket* socket, const QByteArray& rest);
  void left();
  void read();
  void answerLines();
  QJsonObject perform(const QString& what, const QJsonObject& request);
  QJsonObject load(const QJsonObject& request);
  QJsonObject trace() const;
  QJsonObject sew(const QString& what, const QJsonObject& request);
  static void sendTo(QTcpSocket* socket, const QJsonObject& object);
  void send(const QJsonObject& object);
  void tick();
  void report(const QString& event);

  QTcpServer tcp_;
  std::vector<QTcpSocket*> strangers_;  // have not said the key yet
  QTcpSocket* client_ = nullptr;
  QString key_;
  QByteArray inbox_;
  Machine machine_;
  Memory memory_;
  QString design_;
  Clock clock_;
  QTimer timer_;
  QElapsedTimer passed_;
  double times_ = 1;
};

}  // namespace standin
