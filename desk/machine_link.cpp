#include "machine_link.h"

#include <QCoreApplication>
#include <QFileInfo>
#include <QHash>
#include <QJsonArray>
#include <QJsonDocument>
#include <QPointF>
#include <cmath>

namespace rt {
namespace {

constexpr qsizetype kLongestLine = 64 << 20;  // a photo, or a hooping read back
constexpr int kProtocol = 2;

QString standinProgram() {
  const QString set = qEnvironmentVariable("RAPT_THIMBLE_STANDIN");
  if (!set.isEmpty()) return set;
  const QString here = QCoreApplication::applicationDirPath();
  for (const QString& place :
       {here + "/rapt-thimble-standin", here + "/../standin/rapt-thimble-standin"})
    if (QFileInfo::exists(place)) return place;
  return QStringLiteral("rapt-thimble-standin");
}

QJsonArray jsonOf(const Transform& t) {
  return {t.xx, t.xy, t.yx, t.yy, t.dx, t.dy};
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
    send({{"do", "hello"}, {"key", key_}, {"protocol", kProtocol}});
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
  if (phase != phase_) since_ = QDateTime::currentDateTime();
  if (phase != Phase::Away && phase != Phase::Connecting) cutOff_ = false;
  phase_ = phase;
  emit phaseChanged();
}

void MachineLink::gone(const QString& why) {
  const bool loaded = rows_ > 0 && phase_ != Phase::Done;
  phase_ = Phase::Away;
  since_ = QDateTime::currentDateTime();
  speedUp_ = 1;
  cutOff_ = cutOff_ || loaded;
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
  goingOn_ = false;
  wantedId_.clear();
  setPhase(Phase::Connecting);
  QStringList words = standinProgram().split(' ', Qt::SkipEmptyParts);
  const QString program = words.isEmpty() ? QString() : words.takeFirst();
  if (!memory_.isEmpty()) words << QStringLiteral("--memory") << memory_;
  if (process_.state() != QProcess::NotRunning) process_.waitForFinished(2000);
  process_.start(program, words);
}

void MachineLink::connectTo(const MachineFound& machine) {
  if (phase_ != Phase::Away) return;
  goingOn_ = false;
  wantedId_ = machine.id;
  key_ = machine.key;
  setPhase(Phase::Connecting);
  socket_.connectToHost(QStringLiteral("127.0.0.1"), machine.port);
}

void MachineLink::leave() {
  phase_ = Phase::Away;
  socket_.disconnectFromHost();
  emit phaseChanged();
}

void MachineLink::load(MachineLoad what) {
  load_ = std::move(what);
  rows_ = load_.rows.stitches.size();
  sentRows_ = {};
  for (const Stitch& s : load_.rows.stitches)
    sentRows_.append(QJsonArray{
        std::round(s.at.x * 100) / 100, std::round(s.at.y * 100) / 100,
        QString::fromLatin1(name(s.op).data(), static_cast<qsizetype>(name(s.op).size())),
        QString::fromStdString(load_.rows.threads[s.thread].hex())});
  setPhase(Phase::Sending);
  send({{"do", "write"},
        {"to", id_},
        {"name", load_.file},
        {"rows", sentRows_},
        {"frame", load_.frame},
        {"field_mm", QJsonArray{load_.field.width_mm, load_.field.height_mm}}});
}

/// What it has must be what it was sent, row by row.
void MachineLink::checkCopy(const QJsonObject& m) {
  if (phase_ != Phase::Sending || m["name"].toString() != load_.file) return;
  if (m["rows"].toArray() != sentRows_) {
    rows_ = 0;
    setPhase(Phase::Idle);
    return emit failed(
        tr("The machine's copy of %1 differs from what was sent: send it again.").arg(load_.file));
  }
  send({{"do", "select"},
        {"to", id_},
        {"name", load_.file},
        {"design", load_.design},
        {"stitches_per_minute", load_.stitches_per_minute},
        {"setting", jsonOf(load_.setting)}});
}

void MachineLink::trace() {
  send({{"do", "trace"}});
}
void MachineLink::sew(size_t from_row) {
  send({{"do", "sew"}, {"from_row", static_cast<double>(from_row)}});
}
void MachineLink::goOn() {
  if (goingOn_) return;
  goingOn_ = true;
  send({{"do", "go-on"}});
}
void MachineLink::pause() {
  send({{"do", "pause"}});
}
void MachineLink::strike(const QString& fault, int after_stitches) {
  send({{"do", "fault"}, {"what", fault}, {"after_stitches", after_stitches}});
}
void MachineLink::outline() {
  send({{"do", "outline"}});
}
void MachineLink::askState() {
  send({{"do", "state"}});
}
void MachineLink::mount(const QString& frame, bool turned, bool locked) {
  send({{"do", "mount"}, {"frame", frame}, {"turned", turned}, {"locked", locked}});
  askState();
}
void MachineLink::setFoot(bool up) {
  send({{"do", "foot"}, {"up", up}});
  askState();
}
void MachineLink::threadNeedle(int needle, const QString& thread) {
  send({{"do", "foot"}, {"up", true}});
  send({{"do", "thread"}, {"needle", needle}, {"thread", thread}});
  setFoot(false);
}
void MachineLink::askHere() {
  send({{"do", "here"}});
}
void MachineLink::listFiles(bool stick) {
  stick_ = stick;
  send({{"do", "list"}, {"where", stick ? "stick" : "memory"}});
}
void MachineLink::removeFile(const QString& file, bool stick) {
  send({{"do", "delete"}, {"to", id_}, {"name", file}, {"where", stick ? "stick" : "memory"}});
  listFiles(stick);
}
void MachineLink::hoopCloth(int level, const Transform& meant, std::optional<quint32> seed) {
  QJsonObject request{{"do", "hoop"}, {"level", level}, {"meant", jsonOf(meant)}};
  if (seed) request["seed"] = static_cast<double>(*seed);
  send(request);
}
void MachineLink::takePhoto(QJsonObject scene) {
  scene["do"] = QStringLiteral("photo");
  send(scene);
}
void MachineLink::askTruth() {
  send({{"do", "truth"}});
}
void MachineLink::setSpeedUp(double times) {
  speedUp_ = times;
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
  if (re == u"go-on") goingOn_ = false;
  if (!m["ok"].toBool()) {
    const QString why = m["error"].toString().left(200);
    if (phase_ == Phase::Connecting) return gone(tr("The machine refuses: %1.").arg(why));
    if (phase_ == Phase::Sending) {
      rows_ = 0;
      setPhase(Phase::Idle);
    }
    emit refused(re);
    emit failed(tr("The machine refuses: %1.").arg(why));
    return;
  }
  if (re == u"hello") takeHello(m);
  if (re == u"write" && phase_ == Phase::Sending)
    send({{"do", "read"}, {"to", id_}, {"name", load_.file}});
  if (re == u"read") checkCopy(m);
  if (re == u"select") takeLoaded(m);
  if (re == u"sew" || re == u"go-on") setPhase(Phase::Sewing);
  if (re == u"pause" && phase_ == Phase::Sewing) setPhase(Phase::Paused);
  if (re == u"trace" || re == u"outline") takeWay(m);
  if (re == u"state") takeState(m);
  if (re == u"list") takeFiles(m);
  if (re == u"here") {
    const double x = m["x_mm"].toDouble(NAN), y = m["y_mm"].toDouble(NAN);
    if (!(std::abs(x) < 1e5) || !(std::abs(y) < 1e5)) return distrust(tr("a needle nowhere"));
    emit at({x, y});
  }
  if (re == u"photo") emit photographed(QByteArray::fromBase64(m["jpeg"].toString().toLatin1()));
  if (re == u"truth") takeTruth(m);
}

void MachineLink::takeHello(const QJsonObject& m) {
  if (m["protocol"].toInt(1) != kProtocol)
    return gone(tr("The machine speaks protocol %1, this program %2. Bring the older of the two up "
                   "to date.")
                    .arg(m["protocol"].toInt(1))
                    .arg(kProtocol));
  if (!wantedId_.isEmpty() && m["id"].toString() != wantedId_)
    return gone(tr("Another machine answers there. Choose again."));
  name_ = m["machine"].toString().left(60);
  id_ = m["id"].toString().left(60);
  needles_ = std::clamp(m["needles"].toInt(1), 1, 32);
  state_.reset();
  setPhase(Phase::Idle);
  askState();
}

void MachineLink::takeLoaded(const QJsonObject& m) {
  if (phase_ != Phase::Sending) return;
  last_ = {};
  const double stitches = m["stitches"].toDouble(), sewn = m["sewn_rows"].toDouble(0);
  if (!(stitches >= 0 && stitches <= static_cast<double>(rows_)) ||
      !(sewn >= 0 && sewn <= static_cast<double>(rows_)))
    return distrust(tr("more stitches than were sent"));
  stitches_ = static_cast<int>(stitches);
  remembered_ = static_cast<size_t>(sewn);
  setPhase(Phase::Loaded);
  askState();
}

void MachineLink::takeState(const QJsonObject& m) {
  MachineState s;
  s.frame = m["frame"].toString().left(200);
  s.turned = m["turned"].toBool();
  s.locked = m["locked"].toBool(true);
  s.foot_up = m["foot_up"].toBool();
  s.hindrance = m["hindrance"].toString().left(200);
  for (const QJsonValue& v : m["needles"].toArray())
    if (s.needles.size() < 32) s.needles << v.toString().left(40);
  state_ = s;
  emit stated();
}

void MachineLink::takeFiles(const QJsonObject& m) {
  constexpr int kMostFiles = 1000;
  QVector<MachineFile> files;
  for (const QJsonValue& v : m["files"].toArray()) {
    const QJsonObject f = v.toObject();
    if (files.size() < kMostFiles)
      files.append({f["name"].toString().left(64), f["frame"].toString().left(200),
                    static_cast<qint64>(std::clamp(f["bytes"].toDouble(), 0.0, 1e12))});
  }
  emit listed(files, stick_);
}

void MachineLink::takeTruth(const QJsonObject& m) {
  const QJsonArray a = m["lies"].toArray();
  double v[6] = {1, 0, 0, 1, 0, 0};
  for (int i = 0; i < 6; ++i)
    if (v[i] = a[i].toDouble(NAN); !(std::abs(v[i]) < 1e5)) return distrust(tr("a cloth nowhere"));
  emit truthTold({v[0], v[1], v[2], v[3], v[4], v[5]}, m["fault"].toString().left(100));
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
      {QStringLiteral("bobbin-missed"), MachineEvent::Kind::BobbinMissed},
      {QStringLiteral("bobbin-empty"), MachineEvent::Kind::BobbinEmpty},
      {QStringLiteral("fold"), MachineEvent::Kind::Fold},
      {QStringLiteral("stop"), MachineEvent::Kind::Stop},
      {QStringLiteral("done"), MachineEvent::Kind::Done}};
  const auto kind = kinds.find(m["event"].toString());
  const double row = m["row"].toDouble(-1), stitch = m["stitch"].toDouble(-1),
               clock = m["clock_s"].toDouble(0), from = m["from_row"].toDouble(0);
  if (kind == kinds.end() || !(row >= 0 && row <= static_cast<double>(rows_)) ||
      !(stitch >= 0 && stitch <= row) || !(clock >= 0 && clock < 1e9) ||
      !(from >= 0 && from <= static_cast<double>(rows_)))
    return distrust(tr("row %1 of %2").arg(row).arg(rows_));
  last_ = {*kind,
           static_cast<size_t>(row),
           static_cast<size_t>(from),
           static_cast<int>(stitch),
           m["thread"].toString().left(40),
           clock};
  emit happened(last_);  // before the phase: whoever is told it finds the fact kept
  switch (*kind) {
    case MachineEvent::Kind::Progress:
      break;
    case MachineEvent::Kind::Break:
    case MachineEvent::Kind::BobbinMissed:
    case MachineEvent::Kind::BobbinEmpty:
    case MachineEvent::Kind::Fold:
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
