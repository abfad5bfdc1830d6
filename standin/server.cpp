#include "server.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QRandomGenerator>

namespace standin {
namespace {

constexpr qsizetype kLongestLine = 256 << 20;
constexpr int kTick_ms = 30;

QJsonObject refused(const QString& why) {
  return {{"ok", false}, {"error", why}};
}

}  // namespace

Server::Server(QObject* parent) : QObject(parent) {
  for (int i = 0; i < 4; ++i)
    key_ += QString::number(QRandomGenerator::system()->generate64(), 16).rightJustified(16, '0');
  connect(&tcp_, &QTcpServer::newConnection, this, &Server::accept);
  connect(&timer_, &QTimer::timeout, this, &Server::tick);
  timer_.setInterval(kTick_ms);
}

Server::~Server() {
  // the client goes down with the listener, after the timer: it must not call back
  if (client_) client_->disconnect(this);
}

bool Server::listen() {
  return tcp_.listen(QHostAddress::LocalHost, 0);
}

void Server::accept() {
  QTcpSocket* socket = tcp_.nextPendingConnection();
  if (client_) {  // one operator at a time
    socket->disconnectFromHost();
    socket->deleteLater();
    return;
  }
  client_ = socket;
  known_ = false;
  inbox_.clear();
  connect(socket, &QTcpSocket::readyRead, this, &Server::read);
  connect(socket, &QTcpSocket::disconnected, this, [this, socket] {
    socket->deleteLater();
    client_ = nullptr;
    timer_.stop();
    machine_.pause();
    emit clientLeft();
  });
}

void Server::read() {
  inbox_ += client_->readAll();
  if (inbox_.size() > kLongestLine) return client_->abort();
  for (qsizetype end = inbox_.indexOf('\n'); end >= 0; end = inbox_.indexOf('\n')) {
    const QByteArray line = inbox_.left(end);
    inbox_.remove(0, end + 1);
    const QJsonDocument doc = QJsonDocument::fromJson(line);
    if (!doc.isObject())
      send(refused(QStringLiteral("the line is not a JSON object")));
    else
      answer(doc.object());
    if (!client_) return;
  }
}

void Server::answer(const QJsonObject& request) {
  const QString what = request["do"].toString();
  if (!known_) {
    known_ = what == u"hello" && request["key"].toString() == key_;
    if (!known_) {
      send(refused(QStringLiteral("wrong key")));
      client_->disconnectFromHost();
      return;
    }
    send({{"ok", true}, {"re", "hello"}, {"machine", "Rapt Thimble stand-in"}, {"protocol", 1}});
    return;
  }
  QJsonObject reply = perform(what, request);
  reply["re"] = what;
  send(reply);
}

QJsonObject Server::perform(const QString& what, const QJsonObject& request) {
  if (what == u"load") return load(request);
  if (what == u"trace") return trace(request);
  if (what == u"break") {
    machine_.breakAfter(request["after_stitches"].toInt(1));
    return {{"ok", true}};
  }
  if (what == u"speed") {
    times_ = qBound(0.1, request["times"].toDouble(1), 10000.0);
    return {{"ok", true}, {"times", times_}};
  }
  if (what == u"pause") {
    machine_.pause();
    timer_.stop();
    return {{"ok", true}};
  }
  if (!machine_.loaded()) return refused(QStringLiteral("no hooping is loaded"));
  bool going = false;
  if (what == u"sew") {
    const double row = request["from_row"].toDouble(0);
    if (row < 0 || row != std::floor(row))
      return refused(QStringLiteral("from_row must be a whole number from 0"));
    going = machine_.start(static_cast<size_t>(row));
  } else if (what == u"go-on") {
    going = machine_.resume();
  } else {
    return refused(QStringLiteral("unknown request"));
  }
  if (!going) return refused(QStringLiteral("there is no such row"));
  clock_.start();
  timer_.start();
  return {{"ok", true}, {"row", static_cast<double>(machine_.row())}};
}

QJsonObject Server::load(const QJsonObject& request) {
  std::vector<Row> rows;
  for (const QJsonValue& v : request["rows"].toArray()) {
    const QJsonArray r = v.toArray();
    if (r.size() != 4) return refused(QStringLiteral("a row is not [x, y, op, thread]"));
    rows.push_back({r[0].toDouble(), r[1].toDouble(), r[2].toString(), r[3].toString()});
  }
  const QJsonArray field = request["field_mm"].toArray();
  timer_.stop();
  machine_.stitchesPerMinute = qBound(50.0, request["stitches_per_minute"].toDouble(700), 2000.0);
  const QString wrong = machine_.load(std::move(rows), field[0].toDouble(), field[1].toDouble());
  if (!wrong.isEmpty()) return refused(wrong);
  return {{"ok", true},
          {"rows", static_cast<double>(machine_.rows().size())},
          {"stitches", machine_.stitches()}};
}

QJsonObject Server::trace(const QJsonObject&) {
  if (!machine_.loaded()) return refused(QStringLiteral("no hooping is loaded"));
  const auto b = machine_.bounds();
  QJsonArray way;
  for (const auto& [x, y] :
       {std::pair{b[0], b[1]}, {b[2], b[1]}, {b[2], b[3]}, {b[0], b[3]}, {b[0], b[1]}})
    way.append(QJsonArray{x, y});
  return {{"ok", true}, {"way_mm", way}};
}

void Server::send(const QJsonObject& object) {
  if (client_) client_->write(QJsonDocument(object).toJson(QJsonDocument::Compact) + '\n');
}

void Server::tick() {
  const double seconds = static_cast<double>(clock_.restart()) / 1000 * times_;
  const Halt halt = machine_.advance(seconds);
  report(QStringLiteral("progress"));
  if (halt == Halt::None) return;
  timer_.stop();
  switch (halt) {
    case Halt::ColourChange:
      return report(QStringLiteral("colour"));
    case Halt::ThreadBreak:
      return report(QStringLiteral("break"));
    case Halt::Stop:
      return report(QStringLiteral("stop"));
    default:
      return report(QStringLiteral("done"));
  }
}

void Server::report(const QString& event) {
  send({{"event", event},
        {"row", static_cast<double>(machine_.row())},
        {"stitch", machine_.stitch()},
        {"of", machine_.stitches()},
        {"thread", machine_.thread()}});
}

}  // namespace standin
