#include "preflight.h"

#include "alignment_words.h"
#include "verdicts.h"

namespace rt {
namespace {

using look::State;

PreflightLine densityLine(const Desk& desk) {
  if (!desk.weighingCurrent())
    return {State::Stop, QObject::tr("The layout is being weighed."), Station::Density};
  const StationVerdict v = verdictOf(desk, Station::Density);
  if (v.state == State::Stop)
    return {State::Stop, QObject::tr("Density says stop: cure or overrule it at station 3."),
            Station::Density};
  if (!desk.overruled().empty())
    return {State::Check,
            QObject::tr("Density overruled: %1").arg(QString::fromStdString(desk.overruled())),
            Station::Density};
  return {v.state == State::Check ? State::Check : State::Ready,
          QObject::tr("Density: %1").arg(v.word), Station::Density};
}

PreflightLine alignmentLine(const Desk& desk) {
  const std::optional<Alignment> a = desk.alignmentOf(desk.hooping());
  if (!a)
    return {State::Stop, QObject::tr("This hooping is not aligned: find its marks at Align (6)."),
            Station::Align};
  const std::string reason = desk.record().overruledAlignment(desk.keyOf(desk.hooping()));
  if (a->status != Readiness::Ready && reason.empty())
    return {State::Stop, QObject::tr("The alignment is not ready: see Align (6)."), Station::Align};
  if (a->status != Readiness::Ready)
    return {State::Check,
            QObject::tr("Alignment overruled: %1").arg(QString::fromStdString(reason)),
            Station::Align};
  return {State::Ready, QString::fromStdString(headlineOf(*a)), Station::Align};
}

PreflightLine fieldLine(const Desk& desk) {
  const PlanSetting& s = *desk.currentSetting();
  const Box box = threadBounds(s.pattern), field = s.field.box;
  const double room = std::min({box.left - field.left, field.right - box.right, box.top - field.top,
                                field.bottom - box.bottom});
  const QString turn = s.field.turn_deg != 0
                           ? QObject::tr(", the file is turned by %1°").arg(s.field.turn_deg)
                           : QString();
  return {room >= 0 ? State::Ready : State::Stop,
          QObject::tr("Frame %1%2: the sewing keeps %3 mm from its edge.")
              .arg(QString::fromStdString(desk.currentHooping()->hoop_id), turn)
              .arg(room, 0, 'f', 1),
          Station::Hoopings};
}

std::optional<PreflightLine> machineLine(const Desk& desk) {
  const MachineLink& m = desk.run().machine();
  if (!m.state()) return std::nullopt;
  const QString wanted = QString::fromStdString(desk.currentHooping()->hoop_id);
  const MachineState& s = *m.state();
  if (!s.frame.isEmpty() && s.frame != wanted)
    return PreflightLine{State::Stop,
                         QObject::tr("Frame %1 is mounted, %2 is wanted.").arg(s.frame, wanted),
                         std::nullopt};
  if (!s.locked)
    return PreflightLine{State::Stop, QObject::tr("The frame is not locked."), std::nullopt};
  if (s.foot_up)
    return PreflightLine{State::Stop, QObject::tr("The presser foot is up."), std::nullopt};
  return PreflightLine{State::Ready,
                       s.frame.isEmpty() ? QObject::tr("Foot down, frame lock closed.")
                                         : QObject::tr("Frame mounted and locked, foot down."),
                       std::nullopt};
}

}  // namespace

std::vector<PreflightLine> preflight(const Desk& desk) {
  if (!desk.planCurrent() || !desk.currentSetting())
    return {{State::Stop, QObject::tr("Plan the hoopings first (4)."), Station::Hoopings}};
  std::vector<PreflightLine> out{densityLine(desk)};
  if (!proofAccepted(desk.job()))
    out.push_back({State::Stop,
                   QObject::tr("The proof is not accepted: read it at Compose (2) and accept it."),
                   Station::Compose});
  out.push_back(fieldLine(desk));
  out.push_back(alignmentLine(desk));
  if (const auto line = machineLine(desk)) out.push_back(*line);
  return out;
}

std::optional<PreflightLine> hindranceIn(const std::vector<PreflightLine>& lines) {
  for (const PreflightLine& l : lines)
    if (l.state == State::Stop) return l;
  return std::nullopt;
}

}  // namespace rt
