#include "machine_link.h"

#include <QCoreApplication>
#include <QFileInfo>
#include <QHash>
#include <QJsonArray>
#include <QJsonDocument>
#include <QPointF>

namespace rt {
namespace {

constexpr qsizetype kLongestLine = 1 << 20;

QString standinProgram() {
  const QString set = qEnvironmentVariable("RAPT_THIMBLE_STANDIN");
  if (!set.isEmpty()) return set;
  const QString here = QCoreApplication::applicationDirPath();
  for (const QString& place :
       {here + "/rapt-thimble-standin", here + "/../standin/rapt-thimble-standin"})
    if (QFileInfo::exists(place)) return place;
  return QStringLiteral("rapt-thimble-standin");
}

}  // namespace

MachineLink::MachineLink(QString memory, QObject* parent)
    : QObject(parent), memory_(std::move(memory)) {
  connect(&process_, &QProcess::readyReadStandardOutput, this, [this] {
    if (!process_.canReadLine()) return;
    const QJsonObject hello = QJsonDocument::fromJson(process_.readLine()).object();
    const int port = hello["port"].toInt();
    if (port <= 0 || port > 65535) return gone(tr("It did not say where it listens"));
    key_ = hello["key"].toString();
    socket_.connectToHost(QStringLiteral("127.0.0.1"), static_cast<quint16>(port));
  });
  connect(&process_, &QProcess::errorOccurred, this, [this](QProcess::ProcessError error) {
    if (phase_ == Phase::Away || error != QProcess::FailedToStart) return;
    gone(tr("The machine cannot be reached: %1. Install the program again.")
             .arg(process_.errorString()));
  });
  connect(&process_, &QProcess::finished, this, [this] {
    if (phase_ == Phase::Connecting) gone(tr("The machine ended before it could be greeted."));
  });
  connect(&socket_, &QTcpSocket::connected, this, [this] {
    send({{"do", "hello"}, {"key", key_}});
  });
  connect(&socket_, &QTcpSocket::errorOccurred, this, [this] {
    if (phase_ == Phase::Connecting)
      gone(tr("The machine cannot be reached: %1.").arg(socket_.errorString()));
  });
  connect(&socket_, &QTcpSocket::readyRead, this, &MachineLink::read);
  connect(&socket_, &QTcpSocket::disconnected, this, [this] {
    if (phase_ == Phase::Away) return;
    if (socket_.bytesAvailable() > 0) read();  // what it said last counts
    gone(tr("The machine went away. What was sewn is kept; connect again to go on."));
  });
}

MachineLink::~MachineLink() {
  phase_ = Phase::Away;
  socket_.disconnect(this);
  process_.disconnect(this);
  socket_.abort();
  if (process_.state() != QProcess::NotRunning) {
    process_.terminate();
    if (!process_.waitForFinished(1000)) {
      process_.kill();
      process_.waitForFinished(1000);
    }
  }
}

void MachineLink::setPhase(Phase phase) {
  phase_ = phase;
  emit phaseChanged();
}

void MachineLink::gone(const QString& why) {
  const bool loaded = rows_ > 0 && phase_ != Phase::Done;
  phase_ = Phase::Away;
  socket_.abort();
  inbox_.clear();
  if (process_.state() != QProcess::NotRunning) process_.kill();
  if (loaded) emit lost();
  rows_ = 0;
  emit phaseChanged();
  emit failed(why);
}

void MachineLink::distrust(const QString& why) {
  gone(tr("The machine said something that cannot be (%1); the connection was ended. What was sewn "
          "is kept; connect again.")
           .arg(why));
}

void MachineLink::connectMachine() {
  if (phase_ != Phase::Away) return;
  setPhase(Phase::Connecting);
  QStringList words = standinProgram().split(' ', Qt::SkipEmptyParts);
  const QString program = words.isEmpty() ? QString() : words.takeFirst();
  if (!memory_.isEmpty()) words << QStringLiteral("--memory") << memory_;
  if (process_.state() != QProcess::NotRunning) process_.waitForFinished(2000);
  process_.start(program, words);
}

void MachineLink::leave() {
  phase_ = Phase::Away;
  socket_.disconnectFromHost();
  emit phaseChanged();
}

void MachineLink::load(const QString& design, const Pattern& pattern, const Field& field,
                       double stitches_per_minute) {
  rows_ = pattern.stitches.size();
  QJsonArray rows;
  for (const Stitch& s : pattern.stitches)
    rows.append(QJsonArray{
        std::round(s.at.x * 100) / 100, std::round(s.at.y * 100) / 100,
        QString::fromLatin1(name(s.op).data(), static_cast<qsizetype>(name(s.op).size())),
        QString::fromStdString(pattern.threads[s.thread].hex())});
  send({{"do", "load"},
        {"design", design},
        {"rows", rows},
        {"field_mm", QJsonArray{field.width_mm, field.height_mm}},
        {"stitches_per_minute", stitches_per_minute}});
}

void MachineLink::trace() {
  send({{"do", "trace"}});
}
void MachineLink::sew(size_t from_row) {
  send({{"do", "sew"}, {"from_row", static_cast<double>(from_row)}});
}
void MachineLink::goOn() {
  send({{"do", "go-on"}});
}
void MachineLink::pause() {
  send({{"do", "pause"}});
}
void MachineLink::breakAfter(int stitches) {
  send({{"do", "break"}, {"after_stitches", stitches}});
}
void MachineLink::setSpeedUp(double times) {
  send({{"do", "speed"}, {"times", times}});
}

void MachineLink::send(const QJsonObject& request) {
  if (socket_.state() != QAbstractSocket::ConnectedState) return;
  socket_.write(QJsonDocument(request).toJson(QJsonDocument::Compact) + '\n');
}

void MachineLink::read() {
  hear(socket_.readAll());
}

void MachineLink::hear(const QByteArray& bytes) {
  inbox_ += bytes;
  qsizetype from = 0;
  for (qsizetype end = inbox_.indexOf('\n'); end >= 0; end = inbox_.indexOf('\n', from)) {
    const QByteArray line = inbox_.mid(from, end - from);
    from = end + 1;
    take(line);
    if (phase_ == Phase::Away) return;  // it was not believed
  }
  inbox_.remove(0, from);
  if (inbox_.size() > kLongestLine) distrust(tr("a line without end"));
}

void MachineLink::take(const QByteArray& line) {
  const QJsonDocument doc = QJsonDocument::fromJson(line);
  if (!doc.isObject()) return distrust(tr("a line that is no message"));
  const QJsonObject m = doc.object();
  if (m.contains("event"))
    takeEvent(m);
  else
    takeReply(m);
}

void MachineLink::takeReply(const QJsonObject& m) {
  const QString re = m["re"].toString();
  if (!m["ok"].toBool()) {
    const QString why = m["error"].toString().left(200);
    if (phase_ == Phase::Connecting) return gone(tr("The machine refuses: %1.").arg(why));
    if (re == u"load") rows_ = 0;
    emit failed(tr("The machine refuses: %1.").arg(why));
    return;
  }
  if (re == u"hello") setPhase(Phase::Idle);
  if (re == u"load") {
    last_ = {};
    const double stitches = m["stitches"].toDouble(), sewn = m["sewn_rows"].toDouble(0);
    if (!(stitches >= 0 && stitches <= static_cast<double>(rows_)) ||
        !(sewn >= 0 && sewn <= static_cast<double>(rows_)))
      return distrust(tr("more stitches than were sent"));
    stitches_ = static_cast<int>(stitches);
    remembered_ = static_cast<size_t>(sewn);
    setPhase(Phase::Loaded);
  }
  if (re == u"sew" || re == u"go-on") setPhase(Phase::Sewing);
  if (re == u"pause" && phase_ == Phase::Sewing) setPhase(Phase::Paused);
  if (re == u"trace") takeWay(m);
}

void MachineLink::takeWay(const QJsonObject& m) {
  QVector<QPointF> way;
  for (const QJsonValue& v : m["way_mm"].toArray()) {
    const QJsonArray at = v.toArray();
    if (at.size() != 2 || !(std::abs(at[0].toDouble()) < 1e5) ||
        !(std::abs(at[1].toDouble()) < 1e5))
      return distrust(tr("a way that leads nowhere"));
    way.append({at[0].toDouble(), at[1].toDouble()});
  }
  if (!way.isEmpty()) emit traced(way);
}

void MachineLink::takeEvent(const QJsonObject& m) {
  static const QHash<QString, MachineEvent::Kind> kinds{
      {QStringLiteral("progress"), MachineEvent::Kind::Progress},
      {QStringLiteral("colour"), MachineEvent::Kind::Colour},
      {QStringLiteral("break"), MachineEvent::Kind::Break},
      {QStringLiteral("stop"), MachineEvent::Kind::Stop},
      {QStringLiteral("done"), MachineEvent::Kind::Done}};
  const auto kind = kinds.find(m["event"].toString());
  const double row = m["row"].toDouble(-1), stitch = m["stitch"].toDouble(-1),
               clock = m["clock_s"].toDouble(0);
  if (kind == kinds.end() || !(row >= 0 && row <= static_cast<double>(rows_)) ||
      !(stitch >= 0 && stitch <= row) || !(clock >= 0 && clock < 1e9))
    return distrust(tr("row %1 of %2").arg(row).arg(rows_));
  last_ = {*kind, static_cast<size_t>(row), static_cast<int>(stitch),
           m["thread"].toString().left(40), clock};
  emit happened(last_);  // before the phase: whoever is told it finds the fact kept
  switch (*kind) {
    case MachineEvent::Kind::Progress:
      break;
    case MachineEvent::Kind::Break:
      return setPhase(Phase::Broken);
    case MachineEvent::Kind::Colour:
      return setPhase(Phase::ColourWait);
    case MachineEvent::Kind::Stop:
      return setPhase(Phase::Paused);
    case MachineEvent::Kind::Done:
      return setPhase(Phase::Done);
  }
}

}  // namespace rt
