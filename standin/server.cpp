#include "server.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QRandomGenerator>

namespace standin {
namespace {

constexpr qsizetype kLongestLine = 64 << 20;     // of the operator
constexpr qsizetype kLongestGreeting = 4 << 10;  // of a stranger
constexpr size_t kMostStrangers = 8;
constexpr int kGreeting_ms = 5'000;  // to say the key
constexpr int kTick_ms = 30;
constexpr int kLongestName = 200;

QJsonObject refused(const QString& why) {
  return {{"ok", false}, {"error", why}};
}

}  // namespace

Server::Server(QObject* parent) : Server(Clock::Real, {}, {}, parent) {}

Server::Server(Clock clock, const QString& position_file, const QString& cloth_file,
               QObject* parent)
    : QObject(parent), memory_(position_file, cloth_file), clock_(clock) {
  for (int i = 0; i < 4; ++i)
    key_ += QString::number(QRandomGenerator::system()->generate64(), 16).rightJustified(16, '0');
  connect(&tcp_, &QTcpServer::newConnection, this, &Server::accept);
  connect(&timer_, &QTimer::timeout, this, &Server::tick);
  timer_.setInterval(clock_ == Clock::Free ? 0 : kTick_ms);
  machine_.sewn = [this](size_t row, const Row& at) { memory_.needle(row, at); };
}

Server::~Server() {
  // the client goes down with the listener, after the timer: it must not call back
  if (client_) client_->disconnect(this);
  for (QTcpSocket* s : strangers_) s->disconnect(this);
}

bool Server::listen() {
  return tcp_.listen(QHostAddress::LocalHost, 0);
}

void Server::accept() {
  while (QTcpSocket* socket = tcp_.nextPendingConnection()) {
    if (strangers_.size() >= kMostStrangers) {  // the longest silent one makes room
      QTcpSocket* oldest = strangers_.front();
      dismiss(oldest, QStringLiteral("too many wait"));
    }
    strangers_.push_back(socket);
    socket->setReadBufferSize(kLongestGreeting + 1);
    connect(socket, &QTcpSocket::readyRead, this, [this, socket] { readStranger(socket); });
    connect(socket, &QTcpSocket::disconnected, this, [this, socket] {
      std::erase(strangers_, socket);
      socket->deleteLater();
    });
    QTimer::singleShot(kGreeting_ms, socket, [this, socket] {
      if (std::find(strangers_.begin(), strangers_.end(), socket) != strangers_.end())
        dismiss(socket, QStringLiteral("no key was said"));
    });
  }
}

/// Whatever else a stranger sent is never read.
void Server::dismiss(QTcpSocket* socket, const QString& why) {
  std::erase(strangers_, socket);
  socket->disconnect(this);
  sendTo(socket, refused(why));
  socket->flush();
  connect(socket, &QTcpSocket::disconnected, socket, &QObject::deleteLater);
  socket->disconnectFromHost();
  QTimer::singleShot(kGreeting_ms, socket, [socket] { socket->abort(); });
  if (socket->state() == QAbstractSocket::UnconnectedState) socket->deleteLater();
}

void Server::readStranger(QTcpSocket* socket) {
  if (!socket->canReadLine()) {
    if (socket->bytesAvailable() > kLongestGreeting)
      dismiss(socket, QStringLiteral("the greeting is too long"));
    return;
  }
  const QJsonObject hello = QJsonDocument::fromJson(socket->readLine(kLongestGreeting)).object();
  if (hello["do"].toString() != u"hello" || hello["key"].toString() != key_)
    return dismiss(socket, QStringLiteral("wrong key"));
  if (client_) return dismiss(socket, QStringLiteral("another operator is at the machine"));
  std::erase(strangers_, socket);
  take(socket, socket->readAll());
}

void Server::take(QTcpSocket* socket, const QByteArray& rest) {
  socket->disconnect(this);
  socket->setReadBufferSize(0);
  client_ = socket;
  inbox_ = rest;
  connect(socket, &QTcpSocket::readyRead, this, &Server::read);
  connect(socket, &QTcpSocket::disconnected, this, &Server::left);
  send({{"ok", true}, {"re", "hello"}, {"machine", "Rapt Thimble stand-in"}, {"protocol", 1}});
  answerLines();
}

void Server::left() {
  client_->deleteLater();
  client_ = nullptr;
  timer_.stop();
  machine_.pause();
  memory_.flush();
  emit clientLeft();
}

void Server::read() {
  inbox_ += client_->readAll();
  answerLines();
  if (client_ && inbox_.size() > kLongestLine) client_->abort();
}

void Server::answerLines() {
  qsizetype from = 0;
  for (qsizetype end = inbox_.indexOf('\n'); end >= 0 && client_;
       end = inbox_.indexOf('\n', from)) {
    const QJsonObject reply = heard(inbox_.mid(from, end - from));
    from = end + 1;
    send(reply);
  }
  inbox_.remove(0, from);
}

QJsonObject Server::heard(const QByteArray& line) {
  const QJsonDocument doc = QJsonDocument::fromJson(line);
  if (!doc.isObject()) return refused(QStringLiteral("the line is not a JSON object"));
  const QJsonObject request = doc.object();
  const QString what = request["do"].toString().left(kLongestName);
  QJsonObject reply = perform(what, request);
  reply["re"] = what;
  return reply;
}

QJsonObject Server::perform(const QString& what, const QJsonObject& request) {
  if (what == u"load") return load(request);
  if (what == u"trace") return trace();
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
    memory_.flush();
    return {{"ok", true}, {"row", static_cast<double>(machine_.row())}};
  }
  return sew(what, request);
}

QJsonObject Server::sew(const QString& what, const QJsonObject& request) {
  if (!machine_.loaded()) return refused(QStringLiteral("no hooping is loaded"));
  bool going = false;
  if (what == u"sew") {
    const double row = request["from_row"].toDouble(0);
    if (!(row >= 0 && row < 1e9) || row != std::floor(row))
      return refused(QStringLiteral("from_row must be a whole number from 0"));
    if (machine_.running()) return refused(QStringLiteral("it is sewing already"));
    going = machine_.start(static_cast<size_t>(row));
  } else if (what == u"go-on") {
    going = machine_.resume();
  } else {
    return refused(QStringLiteral("unknown request"));
  }
  if (!going) return refused(QStringLiteral("there is no such row"));
  passed_.start();
  timer_.start();
  return {{"ok", true}, {"row", static_cast<double>(machine_.row())}};
}

QJsonObject Server::load(const QJsonObject& request) {
  const QJsonValue list = request["rows"];
  if (!list.isArray()) return refused(QStringLiteral("rows are missing"));
  std::vector<Row> rows;
  for (const QJsonValue& v : list.toArray()) {
    const QJsonArray r = v.toArray();
    if (r.size() != 4 || !r[0].isDouble() || !r[1].isDouble())
      return refused(QStringLiteral("a row is not [x, y, op, thread]"));
    rows.push_back({r[0].toDouble(), r[1].toDouble(), r[2].toString().left(kLongestName),
                    r[3].toString().left(kLongestName)});
  }
  const QJsonArray field = request["field_mm"].toArray();
  if (field.size() != 2) return refused(QStringLiteral("field_mm is not [width, height]"));
  const QString wrong = machine_.load(std::move(rows), field[0].toDouble(), field[1].toDouble());
  if (!wrong.isEmpty()) return refused(wrong);
  timer_.stop();
  machine_.stitchesPerMinute = qBound(50.0, request["stitches_per_minute"].toDouble(700), 2000.0);
  design_ = request["design"].toString().left(kLongestName);
  const size_t sewn = std::min(memory_.rowsOf(design_), machine_.rows().size());
  memory_.sewn(design_, sewn);
  return {{"ok", true},
          {"rows", static_cast<double>(machine_.rows().size())},
          {"stitches", machine_.stitches()},
          {"sewn_rows", static_cast<double>(sewn)}};
}

QJsonObject Server::trace() const {
  if (!machine_.loaded()) return refused(QStringLiteral("no hooping is loaded"));
  const auto b = machine_.bounds();
  QJsonArray way;
  for (const auto& [x, y] :
       {std::pair{b[0], b[1]}, {b[2], b[1]}, {b[2], b[3]}, {b[0], b[3]}, {b[0], b[1]}})
    way.append(QJsonArray{x, y});
  return {{"ok", true}, {"way_mm", way}};
}

void Server::sendTo(QTcpSocket* socket, const QJsonObject& object) {
  socket->write(QJsonDocument(object).toJson(QJsonDocument::Compact) + '\n');
}

void Server::send(const QJsonObject& object) {
  if (client_) sendTo(client_, object);
}

void Server::tick() {
  const double seconds =
      clock_ == Clock::Free ? kTick_ms / 1000.0 : static_cast<double>(passed_.restart()) / 1000;
  const Halt halt = machine_.advance(seconds * times_);
  memory_.sewn(design_, machine_.row());
  memory_.flush();  // before it is told: what is told is never more than what is remembered
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
        {"thread", machine_.thread()},
        {"clock_s", machine_.clock_s()}});
}

}  // namespace standin
