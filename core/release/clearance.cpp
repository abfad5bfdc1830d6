#include "clearance.h"

#include <algorithm>
#include <cmath>

#include "hooping_place.h"
#include "next_plan.h"

namespace rt {
namespace {

using What = ClearanceLine::What;
using Weight = ClearanceLine::Weight;

ClearanceLine line(What what, Weight weight) {
  ClearanceLine out;
  out.what = what;
  out.weight = weight;
  return out;
}

ClearanceLine overruledLine(What what, const Overruled& word) {
  ClearanceLine out = line(what, Weight::Look);
  out.reason = word.reason;
  out.time = word.time;
  return out;
}

ClearanceLine densityLine(const ReleaseFacts& known) {
  if (!known.weighed) return line(What::BeingWeighed, Weight::Bars);
  const DensityReport& r = *known.weighed;
  const auto of = [&](Verdict severity) {
    return static_cast<size_t>(
        std::count_if(r.findings.begin(), r.findings.end(),
                      [&](const Finding& f) { return f.severity == severity; }));
  };
  if (r.verdict == Verdict::Stop) {
    if (const Overruled* word = known.work.record.overruledDensity(known.layout_print))
      return overruledLine(What::DensityOverruled, *word);
    ClearanceLine out = line(What::DensityStop, Weight::Bars);
    out.count = of(Verdict::Stop);
    return out;
  }
  ClearanceLine out = r.verdict == Verdict::Check ? line(What::DensityCheck, Weight::Look)
                                                  : line(What::DensityFine, Weight::Fine);
  out.count = of(Verdict::Check);
  out.value = r.summary.peak_mm_per_mm2;
  return out;
}

/// As it will be sewn: where the cloth was found to lie, else where it was meant to.
ClearanceLine roomLine(const Hooping& hooping, const PlanSetting& s, const Field& field,
                       const Measured& cloth) {
  const double room = roomIn(
      field, cloth.alignment
                 ? onMeasuredCloth(hooping, static_cast<size_t>(s.index - 1), cloth.alignment->fit)
                 : inHoop(s));
  ClearanceLine out = room >= -kSame_mm ? line(What::RoomInField, Weight::Fine)
                                        : line(What::LeavesField, Weight::Bars);
  out.value = std::isinf(room) ? 0 : std::abs(room);
  out.limit = s.field.turn_deg;
  out.name = hooping.hoop_id;
  return out;
}

ClearanceLine clothLine(const ReleaseFacts& known, const SettingKey& key, const Measured& cloth) {
  ClearanceLine out;
  out.weight = Weight::Bars;
  if (known.reading) return line(What::PhotoBeingRead, Weight::Bars);
  out.reason = cloth.problem;
  out.what = cloth.unread ? What::PhotoNotRead : What::ClothNotMeasured;
  if (!cloth.alignment) return out;
  if (cloth.alignment->status == Readiness::Ready) return line(What::ClothReady, Weight::Fine);
  if (const Overruled* word = known.work.record.overruledAlignment(key))
    return overruledLine(What::ClothOverruled, *word);
  return line(What::ClothNotReady, Weight::Bars);
}

/// What of it is on the cloth, whatever was planned then.
void addSewn(const ReleaseFacts& known, const PlanSetting& setting, const SettingKey& key,
             std::vector<ClearanceLine>& to) {
  const Record& record = known.work.record;
  const size_t again = sewnAlready(known.work, *known.plan, setting);
  const bool through = record.sewn(key).done;
  if (!through && again == 0) return;
  if (const Overruled* word = record.overruledSewnAlready(key)) {
    to.push_back(overruledLine(What::SewnOverruled, *word));
    to.back().count = again;
    return;
  }
  to.push_back(line(through ? What::SewnThrough : What::SewnAlready, Weight::Bars));
  to.back().count = again;
}

void addEarlier(const ReleaseFacts& known, std::vector<ClearanceLine>& to) {
  for (const Hooping& h : known.plan->plan.hoopings) {
    if (h.index >= known.hooping) return;
    const bool through = std::all_of(
        h.settings.begin(), h.settings.end(),
        [&](const PlanSetting& s) { return known.work.record.sewn(keyOf(*known.plan, s)).done; });
    if (through) continue;
    to.push_back(line(What::EarlierUnsewn, Weight::Look));
    to.back().count = static_cast<size_t>(h.index);
    return;
  }
}

ClearanceLine machineLine(const MachineSays& says, const std::string& wanted) {
  ClearanceLine out = line(What::MachineFine, Weight::Fine);
  out.name = says.frame;
  out.reason = wanted;
  if (!says.frame.empty() && says.frame != wanted)
    out.what = What::OtherFrame;
  else if (!says.locked)
    out.what = What::FrameOpen;
  else if (says.foot_up)
    out.what = What::FootUp;
  if (out.what != What::MachineFine) out.weight = Weight::Bars;
  return out;
}

}  // namespace

bool atMachine(What what) {
  return what == What::OtherFrame || what == What::FrameOpen || what == What::FootUp;
}

const ClearanceLine* Clearance::against(bool before_sending) const {
  for (const ClearanceLine& l : lines)
    if (l.weight == Weight::Bars && !(before_sending && atMachine(l.what))) return &l;
  return nullptr;
}

Clearance clearanceOf(const ReleaseFacts& known) {
  Clearance out;
  const bool there = known.plan && known.hooping >= 1 &&
                     known.hooping <= static_cast<int>(known.plan->plan.hoopings.size());
  if (!there) {
    out.lines.push_back(line(known.planned ? What::PlanOutOfDate : What::NoPlan, Weight::Bars));
    return out;
  }
  const Hooping& h = known.plan->plan.hoopings[static_cast<size_t>(known.hooping - 1)];
  if (known.setting < 1 || known.setting > static_cast<int>(h.settings.size())) {
    out.lines.push_back(line(What::NoPlan, Weight::Bars));
    return out;
  }
  const PlanSetting& s = h.settings[static_cast<size_t>(known.setting - 1)];
  out.of = keyOf(*known.plan, s);
  out.cloth = measuredCloth(known.work, *known.plan, h, known.field, known.limits);
  out.lines.push_back(densityLine(known));
  out.lines.push_back(proofAccepted(known.work.job) ? line(What::ProofFine, Weight::Fine)
                                                    : line(What::ProofNotAccepted, Weight::Bars));
  out.lines.push_back(roomLine(h, s, known.field, out.cloth));
  addSewn(known, s, out.of, out.lines);
  if (known.gone > 0) {
    out.lines.push_back(line(What::SewnAndGone, Weight::Look));
    out.lines.back().count = known.gone;
  }
  addEarlier(known, out.lines);
  out.lines.push_back(clothLine(known, keyOf(*known.plan, h), out.cloth));
  if (known.machine) out.lines.push_back(machineLine(*known.machine, h.hoop_id));
  return out;
}

}  // namespace rt
