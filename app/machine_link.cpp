#include "machine_link.h"

#include <QCoreApplication>
#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>
#include <QPointF>

namespace rt {
namespace {

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

MachineLink::MachineLink(QObject* parent) : QObject(parent) {
  connect(&process_, &QProcess::readyReadStandardOutput, this, [this] {
    if (!process_.canReadLine()) return;
    const QJsonObject hello = QJsonDocument::fromJson(process_.readLine()).object();
    key_ = hello["key"].toString();
    socket_.connectToHost(QStringLiteral("127.0.0.1"), static_cast<quint16>(hello["port"].toInt()));
  });
  connect(&process_, &QProcess::errorOccurred, this, [this] {
    if (phase_ == Phase::Away) return;
    emit failed(tr("The machine cannot be reached: %1. Install the program again.")
                    .arg(process_.errorString()));
    setPhase(Phase::Away);
  });
  connect(&socket_, &QTcpSocket::connected, this, [this] {
    send({{"do", "hello"}, {"key", key_}});
  });
  connect(&socket_, &QTcpSocket::readyRead, this, &MachineLink::read);
  connect(&socket_, &QTcpSocket::disconnected, this, [this] {
    if (phase_ == Phase::Away) return;
    setPhase(Phase::Away);
    emit failed(tr("The machine went away. What was sewn is kept; connect again to go on."));
  });
}

MachineLink::~MachineLink() {
  phase_ = Phase::Away;
  socket_.disconnect(this);
  process_.disconnect(this);
  socket_.abort();
  if (process_.state() != QProcess::NotRunning) {
    process_.terminate();
    if (!process_.waitForFinished(1000)) process_.kill();
  }
}

void MachineLink::setPhase(Phase phase) {
  phase_ = phase;
  emit phaseChanged();
}

void MachineLink::connectMachine() {
  if (phase_ != Phase::Away) return;
  setPhase(Phase::Connecting);
  process_.start(standinProgram(), {});
}

void MachineLink::leave() {
  phase_ = Phase::Away;
  socket_.disconnectFromHost();
  emit phaseChanged();
}

void MachineLink::load(const Pattern& pattern, const Field& field, double stitches_per_minute) {
  QJsonArray rows;
  for (const Stitch& s : pattern.stitches)
    rows.append(QJsonArray{
        std::round(s.at.x * 100) / 100, std::round(s.at.y * 100) / 100,
        QString::fromLatin1(name(s.op).data(), static_cast<qsizetype>(name(s.op).size())),
        QString::fromStdString(pattern.threads[s.thread].hex())});
  send({{"do", "load"},
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
  inbox_ += socket_.readAll();
  for (qsizetype end = inbox_.indexOf('\n'); end >= 0; end = inbox_.indexOf('\n')) {
    const QByteArray line = inbox_.left(end);
    inbox_.remove(0, end + 1);
    take(QJsonDocument::fromJson(line).object());
  }
}

void MachineLink::take(const QJsonObject& m) {
  if (m.contains("event")) {
    row_ = static_cast<size_t>(m["row"].toDouble());
    stitch_ = m["stitch"].toInt();
    stitches_ = m["of"].toInt();
    thread_ = m["thread"].toString();
    return takeEvent(m["event"].toString());
  }
  const QString re = m["re"].toString();
  if (!m["ok"].toBool()) {
    emit failed(tr("The machine refuses: %1.").arg(m["error"].toString()));
    return;
  }
  if (re == u"hello") setPhase(Phase::Idle);
  if (re == u"load") {
    row_ = 0;
    stitch_ = 0;
    stitches_ = m["stitches"].toInt();
    setPhase(Phase::Loaded);
  }
  if (re == u"sew" || re == u"go-on") setPhase(Phase::Sewing);
  if (re == u"pause") setPhase(Phase::Paused);
  if (re == u"trace") {
    QVector<QPointF> way;
    for (const QJsonValue& v : m["way_mm"].toArray())
      way.append({v.toArray()[0].toDouble(), v.toArray()[1].toDouble()});
    emit traced(way);
  }
}

void MachineLink::takeEvent(const QString& event) {
  emit progressed();
  if (event == u"break") {
    setPhase(Phase::Broken);
    emit broke(stitch_);
  } else if (event == u"colour") {
    setPhase(Phase::ColourWait);
    emit colourAsked(thread_);
  } else if (event == u"stop") {
    setPhase(Phase::Paused);
  } else if (event == u"done") {
    setPhase(Phase::Done);
    emit finished();
  }
}

}  // namespace rt
