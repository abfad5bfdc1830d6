#include "machine_now.h"

#include <QCoreApplication>

#include "desk.h"
#include "thread_shelf.h"

namespace rt {
namespace {

using Phase = MachineLink::Phase;
using Doing = MachineNow::Doing;

struct Words {
  Q_DECLARE_TR_FUNCTIONS(MachineCall)
};

Doing doingOf(Phase phase) {
  switch (phase) {
    case Phase::Away:
    case Phase::Connecting:
      return Doing::Away;
    case Phase::Idle:
    case Phase::Sending:
    case Phase::Loaded:
      return Doing::Idle;
    case Phase::Sewing:
      return Doing::Sewing;
    case Phase::Paused:
      return Doing::Paused;
    case Phase::ColourWait:
    case Phase::Broken:
      return Doing::Waiting;
    case Phase::Done:
      return Doing::Done;
  }
  return Doing::Away;
}

CallFor callOf(Wait why) {
  switch (why) {
    case Wait::Thread:
      return CallFor::Thread;
    case Wait::Stop:
      return CallFor::Stop;
    case Wait::Bobbin:
      return CallFor::Bobbin;
    case Wait::Done:
      return CallFor::Off;
  }
  return CallFor::Off;
}

std::optional<CallFor> troubleOf(const MachineLink& link) {
  if (link.cutOff()) return CallFor::Power;
  if (link.phase() != Phase::Broken) return std::nullopt;
  switch (link.last().kind) {
    case MachineEvent::Kind::BobbinMissed:
      return CallFor::BobbinMissed;
    case MachineEvent::Kind::BobbinEmpty:
      return CallFor::BobbinEmpty;
    case MachineEvent::Kind::Fold:
      return CallFor::Fold;
    default:
      return CallFor::Break;
  }
}

/// The colour that follows the one of a row.
std::optional<Colour> threadAfter(const Pattern& rows, size_t row) {
  if (row >= rows.stitches.size()) return std::nullopt;
  const Colour now = rows.colourOf(rows.stitches[row]);
  for (size_t r = row; r < rows.stitches.size(); ++r)
    if (const Colour c = rows.colourOf(rows.stitches[r]); !(c == now)) return c;
  return std::nullopt;
}

double secondsFrom(const Pattern& rows, size_t row, const TimeModel& time, Needles needles) {
  double left = 0;
  for (const ThreadRun& run : threadRuns(rows, row, time, needles)) left += run.left_s;
  return left;
}

/// The next stop of what is sent, by the threads that are on the machine.
NextWait waitAhead(const Desk& desk, size_t row) {
  const MachineLink& link = desk.run().machine();
  const auto& sent = desk.run().sent();
  if (!sent) return {};
  Threaded on;
  if (link.needles() > 1 && link.state())
    for (const QString& thread : link.state()->needles)
      if (const auto colour = Colour::parsed(thread.toStdString())) on.needles.push_back(*colour);
  on.take = desk.threadTake();
  on.bobbin_mm = desk.bench().shop.bobbin_mm;
  on.bobbin_from = desk.run().bobbinFrom();
  return nextWait(sent->rows, row, on, desk.bench().shop.time);
}

/// The call that stands, or the next one of what is sewn.
std::optional<MachineCall> callFrom(const Desk& desk, const MachineNow& now, size_t row) {
  const MachineLink& link = desk.run().machine();
  const Colour thread = now.thread.value_or(Colour{});
  if (now.trouble) return MachineCall{*now.trouble, link.since(), thread};
  if (now.doing == Doing::Done) return MachineCall{CallFor::Off, link.since(), thread};
  if (now.doing == Doing::Waiting) return MachineCall{CallFor::Thread, link.since(), thread};
  if (now.doing != Doing::Sewing) return std::nullopt;
  return callAhead(desk, row);
}

MachineNow ofThisWindow(const Desk& desk) {
  const MachineLink& link = desk.run().machine();
  MachineNow out;
  out.id = link.machineId();
  out.name = link.machineName();
  out.doing = doingOf(link.phase());
  out.trouble = troubleOf(link);
  const auto& sent = desk.run().sent();
  const bool loaded = sent && link.phase() >= Phase::Loaded;
  if (!loaded && !(sent && link.cutOff())) return out;
  const Pattern& rows = sent->rows;
  out.of = rows.stitches.size();
  out.row = std::min(link.phase() == Phase::Loaded ? desk.resumeRow() : link.row(), out.of);
  out.job = QString::fromStdString(sent->job_title);
  out.hooping = sent->hooping;
  out.thread = Colour::parsed(link.thread().toStdString());
  if (!out.thread && out.row < out.of) out.thread = rows.colourOf(rows.stitches[out.row]);
  out.next_thread = threadAfter(rows, out.row);
  const Needles needles = link.needles() > 1 ? Needles::Many : Needles::One;
  out.left_s =
      secondsFrom(rows, out.row, desk.bench().shop.time, needles) / std::max(0.1, link.speedUp());
  out.call = callFrom(desk, out, out.row);
  return out;
}

}  // namespace

QVector<MachineNow> machinesNow(const Desk& desk) {
  QVector<MachineNow> out;
  const QString own = desk.run().machine().machineId();
  if (!own.isEmpty()) out.append(ofThisWindow(desk));
  for (const MachineFound& m : desk.machinesFound()) {
    if (m.id == own) continue;
    MachineNow away;
    away.id = m.id;
    away.name = m.name;
    out.append(away);
  }
  return out;
}

MachineCall callAhead(const Desk& desk, size_t row) {
  const NextWait wait = waitAhead(desk, row);
  const double speed = std::max(0.1, desk.run().machine().speedUp());
  const auto in_ms = static_cast<qint64>(1000 * wait.seconds / speed);
  return {callOf(wait.why), QDateTime::currentDateTime().addMSecs(in_ms), wait.thread};
}

QString threadName(const Desk& desk, Colour colour) {
  const auto match = nearestThread(desk.bench().shop.threads, colour);
  return QString::fromStdString(match ? match->thread->name : colour.hex());
}

QString threadName(const Desk& desk, const QString& hex) {
  const auto colour = Colour::parsed(hex.toStdString());
  return colour ? threadName(desk, *colour) : hex;
}

QString callWords(const Desk& desk, const MachineCall& call) {
  switch (call.what) {
    case CallFor::Thread:
      return Words::tr("thread %1").arg(threadName(desk, call.thread));
    case CallFor::Stop:
      return Words::tr("a stop");
    case CallFor::Bobbin:
      return Words::tr("an empty bobbin");
    case CallFor::Off:
      return Words::tr("it is done");
    case CallFor::Break:
      return Words::tr("%1 broke: thread it again").arg(threadName(desk, call.thread));
    case CallFor::BobbinMissed:
      return Words::tr("the bobbin thread did not catch");
    case CallFor::BobbinEmpty:
      return Words::tr("the bobbin is empty");
    case CallFor::Fold:
      return Words::tr("cloth lies under the foot");
    case CallFor::Power:
      return Words::tr("it went away while it sewed");
  }
  return {};
}

QString nextCallWords(const Desk& desk) {
  const MachineNow* first = nullptr;
  const QVector<MachineNow> all = machinesNow(desk);
  for (const MachineNow& m : all)
    if (m.call && (!first || m.call->at < first->call->at)) first = &m;
  if (!first) return {};
  return Words::tr("%1 %2: %3")
      .arg(first->call->at.toString(QStringLiteral("hh:mm")), first->name,
           callWords(desk, *first->call));
}

}  // namespace rt
