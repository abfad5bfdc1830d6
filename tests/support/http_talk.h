// A bare end of HTTP for tests: sends the very bytes that it is given, and reads what comes back.
#pragma once

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QSslConfiguration>
#include <QSslSocket>
#include <QtTest>

#include "comes.h"

namespace rt::testing {

struct HttpAnswer {
  int status = 0;                        ///< 0: the line was closed without one.
  QMap<QByteArray, QByteArray> headers;  ///< Names in small letters.
  QByteArray body;
  const QJsonObject json() const { return QJsonDocument::fromJson(body).object(); }
};

/// One connection. Waits run the event loop, so that a server in this thread can answer.
class HttpTalk {
 public:
  explicit HttpTalk(quint16 port, bool tls = false,
                    const QString& host = QStringLiteral("127.0.0.1"))
      : port_(port), host_(host) {
    socket_.setPeerVerifyMode(QSslSocket::VerifyNone);
    if (tls)
      socket_.connectToHostEncrypted(host, port);
    else
      socket_.connectToHost(host, port);
    const auto is = [&] {
      return tls ? socket_.isEncrypted() : socket_.state() == QSslSocket::ConnectedState;
    };
    (void)testing::comes([&] { return is() || socket_.error() != QSslSocket::UnknownSocketError; });
    open_ = is();
  }
  bool isOpen() const { return open_; }
  QSslSocket& socket() { return socket_; }

  void send(const QByteArray& bytes) {
    socket_.write(bytes);
    socket_.flush();
  }
  /// A request with the usual head; `extra` lines end with CR LF each.
  void ask(const QByteArray& method, const QByteArray& path, const QByteArray& key,
           const QByteArray& extra = {}, const QByteArray& body = {}) {
    QByteArray out = method + " " + path + " HTTP/1.1\r\nHost: " + host_.toLatin1() + ":" +
                     QByteArray::number(port_) + "\r\n";
    if (!key.isEmpty()) out += "Authorization: Bearer " + key + "\r\n";
    if (!body.isNull()) out += "Content-Length: " + QByteArray::number(body.size()) + "\r\n";
    send(out + extra + "\r\n" + body);
  }
  /// Of the request before; its body by length, or what has come of a stream.
  HttpAnswer answer() {
    HttpAnswer out;
    waitFor([&] { return inbox_.contains("\r\n\r\n"); });
    const qsizetype end = inbox_.indexOf("\r\n\r\n");
    if (end < 0) return out;
    const QList<QByteArray> lines = inbox_.left(end).split('\n');
    out.status = lines[0].split(' ').value(1).toInt();
    for (const QByteArray& line : lines.mid(1)) {
      const qsizetype colon = line.indexOf(':');
      out.headers[line.left(colon).toLower()] = line.mid(colon + 1).trimmed();
    }
    inbox_.remove(0, end + 4);
    const qsizetype length = out.headers.value("content-length").toLongLong();
    waitFor([&] { return inbox_.size() >= length; });
    out.body = inbox_.left(length);
    inbox_.remove(0, length);
    return out;
  }
  /// All that a stream said until it said this.
  QByteArray heardUntil(const QByteArray& word) {
    waitFor([&] { return inbox_.contains(word); });
    return std::exchange(inbox_, {});
  }
  bool closes() {
    return waitFor([&] { return socket_.state() == QSslSocket::UnconnectedState; });
  }

 private:
  bool waitFor(const std::function<bool()>& there) {
    return testing::comes([&] {
      inbox_ += socket_.readAll();
      return there() ||
             (socket_.state() == QSslSocket::UnconnectedState && socket_.bytesAvailable() == 0);
    });
  }

  QSslSocket socket_;
  QByteArray inbox_;
  quint16 port_;
  QString host_;
  bool open_ = false;
};

inline HttpAnswer httpAsk(quint16 port, const QByteArray& method, const QByteArray& path,
                          const QByteArray& key, const QByteArray& extra = {},
                          const QByteArray& body = {}) {
  HttpTalk talk(port);
  talk.ask(method, path, key, extra, body);
  return talk.answer();
}

}  // namespace rt::testing
