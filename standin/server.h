// The machine's door: JSON lines over loopback, protocol in docs/standin-protocol.md.
#pragma once

#include <QElapsedTimer>
#include <QJsonObject>
#include <QTcpServer>
#include <QTcpSocket>
#include <QTimer>

#include "machine.h"

namespace standin {

/// Listens on 127.0.0.1 at a free port and serves one client that knows the key.
class Server : public QObject {
  Q_OBJECT
 public:
  explicit Server(QObject* parent = nullptr);
  ~Server() override;
  bool listen();
  quint16 port() const { return tcp_.serverPort(); }
  QString key() const { return key_; }

 signals:
  void clientLeft();

 private:
  void accept();
  void read();
  void answer(const QJsonObject& request);
  QJsonObject perform(const QString& what, const QJsonObject& request);
  QJsonObject load(const QJsonObject& request);
  QJsonObject trace(const QJsonObject& request);
  void send(const QJsonObject& object);
  void tick();
  void report(const QString& event);

  QTcpServer tcp_;
  QTcpSocket* client_ = nullptr;
  QString key_;
  bool known_ = false;
  QByteArray inbox_;
  Machine machine_;
  QTimer timer_;
  QElapsedTimer clock_;
  double times_ = 1;
};

}  // namespace standin
