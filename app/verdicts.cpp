#include "verdicts.h"

#include "alignment_words.h"
#include "density_words.h"
#include "fields.h"
#include "length.h"
#include "proof_words.h"
#include "release_words.h"
#include "worst_seam.h"

namespace rt {
namespace {

using look::State;

QString mm2(double v) {
  return QString::number(v, 'f', 1);
}

StationVerdict briefVerdict(const Desk& desk) {
  const Job& job = desk.job();
  if (job.brief.item.empty())
    return {State::UnderWay, QObject::tr("Say what is sewn on"),
            QObject::tr(
                "Name the item, its fabric and the place, so that every limit fits the cloth.")};
  const Box box = desk.statistics().bounds;
  const bool fits =
      box.width() <= job.brief.place_width_mm && box.height() <= job.brief.place_height_mm;
  if (!fits)
    return {State::Check, QObject::tr("The place is too small"),
            QObject::tr("The layout is %1 × %2, the place %3 × %4.")
                .arg(oneUnit(desk, box.width()), oneUnit(desk, box.height()),
                     oneUnit(desk, job.brief.place_width_mm),
                     oneUnit(desk, job.brief.place_height_mm))};
  return {
      State::Ready, QObject::tr("Brief is complete"),
      QObject::tr("%1: %2 × %3 to sew on.")
          .arg(QString::fromStdString(desk.fabric().name), oneUnit(desk, job.brief.place_width_mm),
               oneUnit(desk, job.brief.place_height_mm))};
}

size_t mirroredTexts(const Job& job) {
  return static_cast<size_t>(
      std::count_if(job.pieces.begin(), job.pieces.end(), [](const Piece& p) {
        return std::holds_alternative<TextSource>(p.source) && p.place.mirrored;
      }));
}

/// What the lettering wants; unset: it was read and agrees, or there is none.
std::optional<StationVerdict> letteringVerdict(const Desk& desk) {
  const Job& job = desk.job();
  if (proofKey(job).empty()) return std::nullopt;
  const bool ordered = !job.brief.order_text.empty(), accepted = proofAccepted(job);
  const QString proof = QString::fromStdString(proofOf(job));
  const size_t mirrored = mirroredTexts(job);
  if (ordered && !proof.isEmpty())
    return StationVerdict{State::Check,
                          accepted ? QObject::tr("Accepted, though it differs")
                                   : QObject::tr("Read the lettering again"),
                          QObject::tr("Against the order, %1.").arg(proof)};
  if (!accepted && !ordered)
    return StationVerdict{
        State::UnderWay, QObject::tr("Nothing to read the lettering against"),
        QObject::tr(
            "The order text is empty. Type it at Brief (1) as the customer wrote it, or read "
            "the letters and accept them as they are.")};
  if (mirrored > 0)
    return StationVerdict{
        State::Check,
        counted(mirrored, QObject::tr("line of lettering is mirrored"),
                QObject::tr("lines of lettering are mirrored")),
        QObject::tr(
            "Its letters cannot be read from the front. Mirror it back, unless that is meant.")};
  if (!accepted)
    return StationVerdict{
        State::UnderWay, QObject::tr("Read the proof and accept it"),
        QObject::tr(
            "%1 × %2, %3 stitches. The letters agree with the order; a person has to say so "
            "before it is sewn.")
            .arg(oneUnit(desk, desk.statistics().bounds.width()),
                 oneUnit(desk, desk.statistics().bounds.height()),
                 grouped(desk.statistics().stitches))};
  return std::nullopt;
}

StationVerdict composeVerdict(const Desk& desk) {
  if (desk.job().pieces.empty())
    return {State::Untouched, QObject::tr("Nothing on the cloth yet"),
            QObject::tr("Add a stitch file, artwork or a line of lettering.")};
  if (const auto lettering = letteringVerdict(desk)) return *lettering;
  const Box box = desk.statistics().bounds;
  return {
      State::Ready,
      QObject::tr("%1 laid out")
          .arg(counted(desk.job().pieces.size(), QObject::tr("piece"), QObject::tr("pieces"))),
      QObject::tr("%1 × %2, %3 stitches%4.")
          .arg(oneUnit(desk, box.width()), oneUnit(desk, box.height()),
               grouped(desk.statistics().stitches),
               proofKey(desk.job()).empty()          ? QString()
               : desk.job().brief.order_text.empty() ? QObject::tr(", lettering read and accepted")
                                                     : QObject::tr(", spelled as ordered"))};
}

StationVerdict densityVerdict(const Desk& desk) {
  if (desk.job().pieces.empty())
    return {State::Untouched, QObject::tr("Nothing to weigh"),
            QObject::tr("Lay a piece on the cloth first.")};
  if (!desk.weighing() || !desk.weighingCurrent())
    return {State::UnderWay, QObject::tr("Weighing …"),
            QObject::tr("The layout changed; its weight is being worked out.")};
  const DensityReport& r = desk.weighing()->report;
  const Limit& limit = desk.fabric().density_mm_per_mm2;
  const Finding* first = r.findings.empty() ? nullptr : &r.findings[0];
  if (r.verdict == Verdict::Stop && first) {
    const bool overruled = !desk.overruled().empty();
    const QString place =
        first->kind == FindingKind::Density
            ? QObject::tr("Heaviest place %1 of %2 mm/mm²: %3. A needle break is likely.")
                  .arg(mm2(first->value), mm2(first->limit),
                       QString::fromStdString(inWords(*first)))
        : first->kind == FindingKind::Holes ? QObject::tr("%1 of %2 holes/mm²: %3.")
                                                  .arg(mm2(first->value), mm2(first->limit),
                                                       QString::fromStdString(inWords(*first)))
                                            : QString::fromStdString(inWords(*first)) + ".";
    return {overruled ? State::Check : State::Stop,
            overruled ? QObject::tr("Stop, overruled") : QObject::tr("Stop"), place};
  }
  if (r.verdict == Verdict::Check && first)
    return {State::Check, QObject::tr("Check"),
            first->kind == FindingKind::Density
                ? QObject::tr("Heaviest place %1, look twice from %2 mm/mm²: %3.")
                      .arg(mm2(first->value), mm2(first->limit),
                           QString::fromStdString(inWords(*first)))
                : QString::fromStdString(inWords(*first)) + "."};
  // a spot of under 1 mm² is no finding, and no figure under its limit either
  if (r.summary.peak_mm_per_mm2 > limit.check)
    return {State::Ready, QObject::tr("Sew"),
            QObject::tr("Nowhere over %1 mm/mm² on as much as 1 mm²; the heaviest spot has %2.")
                .arg(mm2(limit.check), mm2(r.summary.peak_mm_per_mm2))};
  return {State::Ready, QObject::tr("Sew"),
          QObject::tr("Heaviest place %1 of %2 mm/mm².")
              .arg(mm2(r.summary.peak_mm_per_mm2), mm2(limit.check))};
}

StationVerdict hoopingsVerdict(const Desk& desk) {
  if (desk.planning()) return {State::UnderWay, QObject::tr("Planning …"), {}};
  if (!desk.plan())
    return {State::Untouched, QObject::tr("No plan yet"),
            QObject::tr("Choose the hoop and press Plan: the fewest hoopings are sought.")};
  if (!desk.planCurrent())
    return {State::Check, QObject::tr("Plan is out of date"),
            QObject::tr("The layout changed after this plan was made. Plan again.")};
  const HoopingPlan& plan = *desk.plan();
  const int n = static_cast<int>(plan.hoopings.size());
  const QString least = n == plan.lower_bound
                            ? QObject::tr("No plan has fewer")
                            : QObject::tr("At least %1 are needed").arg(plan.lower_bound);
  QString seam;
  if (const Seam* worst = worstSeam(plan))
    seam = QObject::tr(" Worst seam ± %1 mm.").arg(worst->error_mm, 0, 'f', 2);
  else if (n > 1)
    seam = QObject::tr(" No thread meets that of another.");
  return {plan.doubts.empty() ? State::Ready : State::Check,
          counted(plan.hoopings.size(), QObject::tr("hooping"), QObject::tr("hoopings")),
          QObject::tr("%1.%2").arg(least, seam)};
}

StationVerdict paperVerdict(const Desk& desk) {
  if (desk.job().pieces.empty())
    return {State::Untouched, QObject::tr("Nothing to print"),
            QObject::tr("Lay a piece on the cloth first.")};
  return {State::Ready, QObject::tr("Template at true size"),
          QObject::tr("Print at 100 % and measure the check ruler before you cut.")};
}

StationVerdict alignVerdict(const Desk& desk) {
  if (!desk.planCurrent())
    return {State::Untouched, QObject::tr("Plan the hoopings first"),
            QObject::tr("Alignment is done for one hooping at a time.")};
  if (desk.scans().measuring())
    return {State::UnderWay, QObject::tr("Hooping %1: reading the photo …").arg(desk.hooping()),
            QObject::tr("What was found before it may not hold.")};
  const Measured* cloth = desk.moment().measuredAt(desk.hooping());
  if (cloth && cloth->unread)
    return {State::Stop, QObject::tr("Hooping %1 is not measured").arg(desk.hooping()),
            QObject::tr(
                "The last photo could not be read: %1. What was found before it counts no more. "
                "Take another, or throw this one away.")
                .arg(QString::fromStdString(cloth->problem))};
  if (!cloth || !cloth->alignment)
    return {cloth && cloth->marks > 0 ? State::UnderWay : State::Untouched,
            QObject::tr("Hooping %1: needle two marks or more").arg(desk.hooping()),
            cloth && !cloth->problem.empty()
                ? QObject::tr("As it stands %1.").arg(QString::fromStdString(cloth->problem))
                : QObject::tr("Bring the needle over each cross and type what the machine shows.")};
  const Alignment& a = *cloth->alignment;
  const State state = a.status == Readiness::Ready   ? State::Ready
                      : a.status == Readiness::Check ? State::Check
                                                     : State::Stop;
  const QString word = a.status == Readiness::Ready   ? QObject::tr("Ready")
                       : a.status == Readiness::Check ? QObject::tr("Check")
                                                      : QObject::tr("Re-hoop");
  return {state, word, QString::fromStdString(headlineOf(a)) + "."};
}

/// Whether it is wrong, and not merely still to be done.
bool forbids(ClearanceLine::What what) {
  using What = ClearanceLine::What;
  return what == What::DensityStop || what == What::LeavesField || what == What::PhotoNotRead ||
         what == What::ClothNotReady || what == What::SewnThrough || what == What::SewnAlready;
}

StationVerdict sewVerdict(const Desk& desk) {
  if (!desk.planCurrent())
    return {State::Untouched, QObject::tr("Nothing to sew yet"),
            desk.plan() ? QObject::tr("The plan is out of date: plan again (4).")
                        : QObject::tr("Plan the hoopings first.")};
  int done = 0;
  const int all = static_cast<int>(desk.plan()->hoopings.size());
  for (int i = 1; i <= all; ++i) done += desk.sewnThrough(i);
  if (done == all)
    return {State::Ready, QObject::tr("All sewn"),
            QObject::tr("%1 done.")
                .arg(counted(static_cast<size_t>(all), QObject::tr("hooping"),
                             QObject::tr("hoopings")))};
  const Clearance& clearance = desk.clearance();
  const QString head = QObject::tr("Hooping %1 of %2").arg(desk.hooping()).arg(all);
  if (const ClearanceLine* against = clearance.against())
    return {forbids(against->what) ? State::Stop
            : done > 0             ? State::UnderWay
                                   : State::Check,
            QObject::tr("%1: not yet").arg(head),
            QString::fromStdString(inWords(*against, clearance))};
  return {done > 0 ? State::UnderWay : State::Check, head,
          QObject::tr("%1 done. Nothing stands in the way: look, tick, then sew.").arg(done)};
}

StationVerdict ledgerVerdict(const Desk& desk) {
  const auto entries = desk.ledger().entries(desk.job().id);
  if (entries.empty())
    return {State::Untouched, QObject::tr("Nothing recorded yet"),
            QObject::tr("Plans, alignments and sewing are written down here by themselves.")};
  int breaks = 0;
  for (const LedgerEntry& e : entries) breaks += e.event == "break";
  return {State::Ready,
          QObject::tr("%1 kept").arg(
              counted(entries.size(), QObject::tr("event"), QObject::tr("events"))),
          QObject::tr("%1 in this job.")
              .arg(counted(static_cast<size_t>(breaks), QObject::tr("thread break"),
                           QObject::tr("thread breaks")))};
}

}  // namespace

QString nameOf(Station station) {
  static const char* const kNames[kStations] = {"Brief", "Compose", "Density", "Hoopings",
                                                "Paper", "Align",   "Sew",     "Ledger"};
  return QString::fromLatin1(kNames[static_cast<int>(station)]);
}

VerdictBoard::VerdictBoard(Desk& desk, QObject* parent) : QObject(parent), desk_(desk) {
  for (int i = 0; i < kStations; ++i)
    verdicts_[static_cast<size_t>(i)] = verdictOf(desk_, static_cast<Station>(i));
  constexpr Parts aside = Part::Selection | Part::Rows | Part::PlanProgress | Part::Cures |
                          Part::Advice | Part::Comparison;
  connect(&desk, &Desk::moved, this, [this, aside](Parts parts) {
    if (!(parts & ~aside)) return;
    for (int i = 0; i < kStations; ++i)
      verdicts_[static_cast<size_t>(i)] = verdictOf(desk_, static_cast<Station>(i));
    emit changed();
  });
}

StationVerdict verdictOf(const Desk& desk, Station station) {
  switch (station) {
    case Station::Brief:
      return briefVerdict(desk);
    case Station::Compose:
      return composeVerdict(desk);
    case Station::Density:
      return densityVerdict(desk);
    case Station::Hoopings:
      return hoopingsVerdict(desk);
    case Station::Paper:
      return paperVerdict(desk);
    case Station::Align:
      return alignVerdict(desk);
    case Station::Sew:
      return sewVerdict(desk);
    case Station::Ledger:
      break;
  }
  return ledgerVerdict(desk);
}

QString oneUnit(const Desk& desk, double mm) {
  return QString::fromStdString(desk.inches() ? formatInches(mm) : formatMillimetres(mm));
}

QString bothUnits(const Desk& desk, double mm) {
  const QString metric = QString::fromStdString(formatMillimetres(mm)),
                inches = QString::fromStdString(formatInches(mm));
  return desk.inches() ? inches + " · " + metric : metric + " · " + inches;
}

QString duration(double seconds) {
  const int minutes = static_cast<int>(std::lround(seconds / 60));
  if (seconds < 60) return QObject::tr("%1 s").arg(std::lround(seconds));
  if (minutes < 60) return QObject::tr("%1 min").arg(minutes);
  return QObject::tr("%1 h %2 min").arg(minutes / 60).arg(minutes % 60);
}

QString grouped(size_t number) {
  QString s = QString::number(number);
  for (qsizetype i = s.size() - 3; i > 0; i -= 3) s.insert(i, QChar(0x2009));
  return s;
}

}  // namespace rt
