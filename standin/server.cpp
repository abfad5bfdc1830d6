#include "server.h"

#include <QHash>
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
constexpr int kProtocol = 2;
constexpr size_t kStickPlaces = 1000;
constexpr qsizetype kStickBytes = 64 << 20;
constexpr size_t kStickShown = 20;  // files of a stick that it lists

QJsonObject refused(const QString& why) {
  return {{"ok", false}, {"error", why}};
}

/// [xx, xy, yx, yy, dx, dy]; unset for anything else, and for what cannot be undone.
std::optional<rt::Transform> transformIn(const QJsonValue& value) {
  const QJsonArray a = value.toArray();
  if (a.size() != 6) return std::nullopt;
  double v[6];
  for (int i = 0; i < 6; ++i)
    if (v[i] = a[i].toDouble(NAN); !(std::abs(v[i]) < 1e5)) return std::nullopt;
  const rt::Transform t{v[0], v[1], v[2], v[3], v[4], v[5]};
  return t.inverse() ? std::optional(t) : std::nullopt;
}

/// The convex hull, closed (Andrew 1979).
std::vector<rt::Point> hullOf(std::vector<rt::Point> p) {
  std::sort(p.begin(), p.end(),
            [](rt::Point a, rt::Point b) { return a.x < b.x || (a.x == b.x && a.y < b.y); });
  std::vector<rt::Point> out;
  for (int side = 0; side < 2; ++side) {
    const size_t least = out.size() + 1;
    for (rt::Point q : p) {
      while (out.size() > least && rt::cross(out.back() - out[out.size() - 2], q - out.back()) <= 0)
        out.pop_back();
      out.push_back(q);
    }
    if (side == 0) out.pop_back();
    std::reverse(p.begin(), p.end());
  }
  return out;
}

}  // namespace

Server::Server(Clock clock, const QString& position_file, const QString& cloth_file,
               QObject* parent)
    : Server(
          [&] {
            Setup s;
            s.clock = clock;
            s.position_file = position_file;
            s.cloth_file = cloth_file;
            return s;
          }(),
          parent) {}

Server::Server(const Setup& setup, QObject* parent)
    : QObject(parent),
      setup_(setup),
      memoryFiles_(setup.places, setup.bytes),
      stick_(kStickPlaces, kStickBytes),
      memory_(setup.position_file, setup.cloth_file) {
  if (!setup_.moves.isEmpty()) cloth_.letMove(setup_.moves.toStdString(), setup_.moves_seed);
  for (int i = 0; i < 4; ++i)
    key_ += QString::number(QRandomGenerator::system()->generate64(), 16).rightJustified(16, '0');
  if (setup_.id.isEmpty()) setup_.id = key_.left(8);  // it is told to all: not the part that counts
  key_ = key_.mid(8);
  machine_.needles.assign(static_cast<size_t>(std::clamp(setup.needles, 1, 32)), QString());
  connect(&tcp_, &QTcpServer::newConnection, this, &Server::accept);
  connect(&timer_, &QTimer::timeout, this, &Server::tick);
  timer_.setInterval(setup_.clock == Clock::Free ? 0 : kTick_ms);
  machine_.sewn = [this](size_t row, const Row& at) {
    if (at.op == u"stitch") memory_.needle(row, at);
    cloth_.needle(at);
  };
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
  if (hello["protocol"].toInt(1) != kProtocol)
    return dismiss(socket, QStringLiteral("protocol %1 is not spoken here: speak %2")
                               .arg(hello["protocol"].toInt(1))
                               .arg(kProtocol));
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
  send({{"ok", true},
        {"re", "hello"},
        {"machine", setup_.name},
        {"id", setup_.id},
        {"needles", static_cast<int>(machine_.needles.size())},
        {"protocol", kProtocol}});
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

const QHash<QString, Server::Answer>& Server::answers() {
  static const QHash<QString, Answer> all{
      {"load", &Server::load},       {"sew", &Server::sewFrom},    {"go-on", &Server::goOn},
      {"pause", &Server::pause},     {"speed", &Server::setSpeed}, {"fault", &Server::strike},
      {"state", &Server::state},     {"mount", &Server::mount},    {"foot", &Server::foot},
      {"thread", &Server::thread},   {"times", &Server::times},    {"trace", &Server::trace},
      {"outline", &Server::outline}, {"jog", &Server::jog},        {"here", &Server::here},
      {"light", &Server::setLight},  {"list", &Server::list},      {"write", &Server::write},
      {"read", &Server::readBack},   {"copy", &Server::copy},      {"rename", &Server::rename},
      {"delete", &Server::remove},   {"select", &Server::select},  {"hoop", &Server::hoop},
      {"photo", &Server::photo},     {"truth", &Server::truth}};
  return all;
}

QJsonObject Server::heard(const QByteArray& line) {
  const QJsonDocument doc = QJsonDocument::fromJson(line);
  if (!doc.isObject()) return refused(QStringLiteral("the line is not a JSON object"));
  const QJsonObject request = doc.object();
  const QString what = request["do"].toString().left(kLongestName);
  const auto answer = answers().find(what);
  // whoever names a machine means this one and no other
  const bool meant = !request.contains("to") || request["to"].toString() == setup_.id;
  QJsonObject reply =
      answer == answers().end() ? refused(QStringLiteral("unknown request"))
      : !meant
          ? refused(QStringLiteral("this is %1, not the machine that is meant").arg(setup_.name))
          : (this->**answer)(request);
  reply["re"] = what;
  return reply;
}

QJsonObject Server::pause(const QJsonObject&) {
  machine_.pause();
  timer_.stop();
  memory_.flush();
  return {{"ok", true}, {"row", static_cast<double>(machine_.row())}};
}

QJsonObject Server::setSpeed(const QJsonObject& request) {
  times_ = qBound(0.1, request["times"].toDouble(1), 10000.0);
  return {{"ok", true}, {"times", times_}};
}

QJsonObject Server::strike(const QJsonObject& request) {
  static const QHash<QString, Fault> faults{{"break", Fault::Break},
                                            {"bobbin-missed", Fault::BobbinMissed},
                                            {"bobbin-empty", Fault::BobbinEmpty},
                                            {"fold", Fault::Fold},
                                            {"power", Fault::Power}};
  const auto fault = faults.find(request["what"].toString());
  if (fault == faults.end()) return refused(QStringLiteral("there is no such fault"));
  machine_.strike(*fault, request["after_stitches"].toInt(1));
  return {{"ok", true}};
}

QJsonObject Server::state(const QJsonObject&) {
  QJsonArray needles;
  for (const QString& thread : machine_.needles) needles.append(thread);
  return {{"ok", true},
          {"machine", setup_.name},
          {"id", setup_.id},
          {"frame", machine_.mounted.frame},
          {"turned", machine_.mounted.turned},
          {"locked", machine_.mounted.locked},
          {"foot_up", machine_.footUp},
          {"light", machine_.light},
          {"needles", needles},
          {"loaded", machine_.loaded()},
          {"design", design_},
          {"row", static_cast<double>(machine_.row())},
          {"hindrance", machine_.hindrance()}};
}

QJsonObject Server::mount(const QJsonObject& request) {
  if (machine_.running()) return refused(QStringLiteral("it is sewing; pause it first"));
  machine_.mounted = {request["frame"].toString().left(kLongestName),
                      request["turned"].toBool(false), request["locked"].toBool(true)};
  return {{"ok", true}};
}

QJsonObject Server::foot(const QJsonObject& request) {
  if (machine_.running()) return refused(QStringLiteral("it is sewing; pause it first"));
  machine_.footUp = request["up"].toBool(false);
  return {{"ok", true}, {"foot_up", machine_.footUp}};
}

QJsonObject Server::thread(const QJsonObject& request) {
  const int needle = request["needle"].toInt(0) - 1;
  if (machine_.running()) return refused(QStringLiteral("it is sewing; pause it first"));
  if (needle < 0 || needle >= static_cast<int>(machine_.needles.size()))
    return refused(QStringLiteral("there is no needle %1").arg(needle + 1));
  if (!machine_.footUp)
    return refused(
        QStringLiteral("raise the presser foot first: with it down the thread does not "
                       "lie between the discs"));
  machine_.needles[static_cast<size_t>(needle)] = request["thread"].toString().left(kLongestName);
  return {{"ok", true}};
}

QJsonObject Server::times(const QJsonObject&) {
  QJsonArray all;
  for (const auto& [thread, seconds] : machine_.secondsByThread())
    all.append(QJsonArray{thread, seconds});
  return {{"ok", true}, {"colours", all}};
}

QJsonObject Server::sewFrom(const QJsonObject& request) {
  if (!machine_.loaded()) return refused(QStringLiteral("no hooping is loaded"));
  const double row = request["from_row"].toDouble(0);
  if (!(row >= 0 && row < 1e9) || row != std::floor(row))
    return refused(QStringLiteral("from_row must be a whole number from 0"));
  if (machine_.running()) return refused(QStringLiteral("it is sewing already"));
  if (const QString why = machine_.hindrance(); !why.isEmpty()) return refused(why);
  cloth_.lift();
  return started(machine_.start(static_cast<size_t>(row)));
}

QJsonObject Server::goOn(const QJsonObject&) {
  if (!machine_.loaded()) return refused(QStringLiteral("no hooping is loaded"));
  if (const QString why = machine_.hindrance(); !why.isEmpty()) return refused(why);
  if (!machine_.resume()) return refused(QStringLiteral("nothing waits to be gone on with"));
  return started(true);
}

QJsonObject Server::started(bool going) {
  if (!going) return refused(QStringLiteral("there is no such row"));
  passed_.start();
  timer_.start();
  return {{"ok", true}, {"row", static_cast<double>(machine_.row())}};
}

QJsonObject Server::load(const QJsonObject& request) {
  if (!request["rows"].isArray()) return refused(QStringLiteral("rows are missing"));
  return loadRows(QJsonDocument(request["rows"].toArray()).toJson(QJsonDocument::Compact), request);
}

QJsonObject Server::loadRows(const QByteArray& text, const QJsonObject& request) {
  std::vector<Row> rows;
  for (const QJsonValue& v : QJsonDocument::fromJson(text).array()) {
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
  machine_.wanted = request["frame"].toString().left(kLongestName);
  if (const auto setting = transformIn(request["setting"])) cloth_.set(*setting);
  design_ = request["design"].toString().left(kLongestName);
  const size_t sewn = std::min(memory_.rowsOf(design_), machine_.rows().size());
  memory_.sewn(design_, sewn);
  return {{"ok", true},
          {"rows", static_cast<double>(machine_.rows().size())},
          {"stitches", machine_.stitches()},
          {"sewn_rows", static_cast<double>(sewn)}};
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

/// Once around what will be sewn: the hull of its needle points.
QJsonObject Server::outline(const QJsonObject&) {
  if (!machine_.loaded()) return refused(QStringLiteral("no hooping is loaded"));
  std::vector<rt::Point> points;
  for (const Row& r : machine_.rows())
    if (r.op == u"stitch") points.push_back({r.x_mm, r.y_mm});
  QJsonArray way;
  for (rt::Point p : hullOf(std::move(points))) way.append(QJsonArray{p.x, p.y});
  return {{"ok", true}, {"way_mm", way}};
}

QJsonObject Server::jog(const QJsonObject& request) {
  if (!machine_.moveTo(machine_.x_mm + request["x_mm"].toDouble(0),
                       machine_.y_mm + request["y_mm"].toDouble(0)))
    return refused(QStringLiteral("the needle cannot go there: sewing, or outside the field"));
  return here(request);
}

/// With `drop` the needle goes down and up where it stands: the place is the same.
QJsonObject Server::here(const QJsonObject&) {
  if (!machine_.loaded()) return refused(QStringLiteral("no hooping is loaded"));
  return {{"ok", true}, {"x_mm", machine_.x_mm}, {"y_mm", machine_.y_mm}};
}

QJsonObject Server::setLight(const QJsonObject& request) {
  machine_.light = request["on"].toBool(false);
  return {{"ok", true}, {"light", machine_.light}};
}

FileShelf& Server::shelfOf(const QJsonObject& request) {
  return request["where"].toString() == u"stick" ? stick_ : memoryFiles_;
}

QJsonObject Server::list(const QJsonObject& request) {
  const FileShelf& shelf = shelfOf(request);
  QJsonArray files;
  for (const DesignFile& f : shelf.files()) {
    if (&shelf == &stick_ && static_cast<size_t>(files.size()) == kStickShown) break;
    files.append(QJsonObject{{"name", f.name},
                             {"bytes", static_cast<double>(f.bytes())},
                             {"frame", f.frame},
                             {"picture", QString::fromLatin1(f.picture)}});
  }
  return {{"ok", true},
          {"files", files},
          {"places", static_cast<double>(shelf.places())},
          {"used_bytes", static_cast<double>(shelf.used())},
          {"room_bytes", static_cast<double>(shelf.room())}};
}

QJsonObject Server::write(const QJsonObject& request) {
  if (!request["rows"].isArray()) return refused(QStringLiteral("rows are missing"));
  const QJsonArray field = request["field_mm"].toArray();
  const QString wrong = shelfOf(request).write(
      {request["name"].toString(),
       QJsonDocument(request["rows"].toArray()).toJson(QJsonDocument::Compact),
       request["picture"].toString().toLatin1(), field[0].toDouble(), field[1].toDouble(),
       request["frame"].toString().left(kLongestName)});
  return wrong.isEmpty() ? QJsonObject{{"ok", true}} : refused(wrong);
}

QJsonObject Server::readBack(const QJsonObject& request) {
  const DesignFile* file = shelfOf(request).find(request["name"].toString());
  if (!file) return refused(QStringLiteral("there is no file of this name"));
  return {{"ok", true},
          {"name", file->name},
          {"rows", QJsonDocument::fromJson(file->rows).array()},
          {"field_mm", QJsonArray{file->width_mm, file->height_mm}},
          {"frame", file->frame}};
}

QJsonObject Server::copy(const QJsonObject& request) {
  const QString wrong = shelfOf(request).copy(request["name"].toString(), request["as"].toString());
  return wrong.isEmpty() ? QJsonObject{{"ok", true}} : refused(wrong);
}

QJsonObject Server::rename(const QJsonObject& request) {
  const QString wrong =
      shelfOf(request).rename(request["name"].toString(), request["as"].toString());
  return wrong.isEmpty() ? QJsonObject{{"ok", true}} : refused(wrong);
}

QJsonObject Server::remove(const QJsonObject& request) {
  const QString wrong = shelfOf(request).remove(request["name"].toString());
  return wrong.isEmpty() ? QJsonObject{{"ok", true}} : refused(wrong);
}

QJsonObject Server::select(const QJsonObject& request) {
  const DesignFile* file = shelfOf(request).find(request["name"].toString());
  if (!file) return refused(QStringLiteral("there is no file of this name"));
  QJsonObject as = request;
  as["field_mm"] = QJsonArray{file->width_mm, file->height_mm};
  as["frame"] = file->frame;
  return loadRows(file->rows, as);
}

QJsonObject Server::hoop(const QJsonObject& request) {
  if (machine_.running()) return refused(QStringLiteral("it is sewing; pause it first"));
  const int level = request["level"].toInt(0);
  if (level < 0 || level >= kLevels) return refused(QStringLiteral("levels are 0 to 4"));
  const double seed = request.contains("seed")
                          ? request["seed"].toDouble()
                          : static_cast<double>(QRandomGenerator::system()->generate());
  if (!(seed >= 0 && seed <= 4294967295.0)) return refused(QStringLiteral("that is no seed"));
  cloth_.hoop(static_cast<Level>(level), static_cast<uint32_t>(seed),
              transformIn(request["meant"]).value_or(rt::Transform{}));
  return {{"ok", true}};
}

QJsonObject Server::photo(const QJsonObject& request) {
  QJsonObject asked = request;
  if (!asked.contains("width_px")) asked["width_px"] = setup_.photo_px;
  return cloth_.photo(asked);
}

QJsonObject Server::truth(const QJsonObject&) {
  return cloth_.truth();
}

void Server::sendTo(QTcpSocket* socket, const QJsonObject& object) {
  socket->write(QJsonDocument(object).toJson(QJsonDocument::Compact) + '\n');
}

void Server::send(const QJsonObject& object) {
  if (client_) sendTo(client_, object);
}

void Server::tick() {
  const double seconds = setup_.clock == Clock::Free
                             ? kTick_ms / 1000.0
                             : static_cast<double>(passed_.restart()) / 1000;
  const Halt halt = machine_.advance(seconds * times_);
  // what was not caught is not sewn
  memory_.sewn(design_, halt == Halt::BobbinMissed ? machine_.uncaughtFrom() : machine_.row());
  memory_.flush();  // before it is told: what is told is never more than what is remembered
  if (halt == Halt::Power) {
    timer_.stop();
    emit powerLost();
    if (client_) client_->abort();
    return;
  }
  report(QStringLiteral("progress"));
  if (halt == Halt::None) return;
  timer_.stop();
  switch (halt) {
    case Halt::ColourChange:
      return report(QStringLiteral("colour"));
    case Halt::ThreadBreak:
      return report(QStringLiteral("break"));
    case Halt::BobbinMissed:
      return report(QStringLiteral("bobbin-missed"));
    case Halt::BobbinEmpty:
      return report(QStringLiteral("bobbin-empty"));
    case Halt::Fold:
      return report(QStringLiteral("fold"));
    case Halt::Stop:
      return report(QStringLiteral("stop"));
    default:
      return report(QStringLiteral("done"));
  }
}

void Server::report(const QString& event) {
  send({{"event", event},
        {"row", static_cast<double>(machine_.row())},
        {"from_row", static_cast<double>(machine_.uncaughtFrom())},
        {"stitch", machine_.stitch()},
        {"of", machine_.stitches()},
        {"thread", machine_.thread()},
        {"clock_s", machine_.clock_s()}});
}

}  // namespace standin
