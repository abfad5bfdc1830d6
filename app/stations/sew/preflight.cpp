#include "preflight.h"

#include "release_words.h"

namespace rt {
namespace {

using look::State;
using What = ClearanceLine::What;

std::optional<Station> mendedAt(What what) {
  switch (what) {
    case What::NoPlan:
    case What::PlanOutOfDate:
    case What::RoomInField:
    case What::LeavesField:
    case What::SewnAlready:
    case What::SewnOverruled:
    case What::SewnAndGone:
      return Station::Hoopings;
    case What::BeingWeighed:
    case What::DensityFine:
    case What::DensityCheck:
    case What::DensityStop:
    case What::DensityOverruled:
      return Station::Density;
    case What::ProofFine:
    case What::ProofNotAccepted:
      return Station::Compose;
    case What::ClothNotMeasured:
    case What::PhotoNotRead:
    case What::PhotoBeingRead:
    case What::ClothReady:
    case What::ClothNotReady:
    case What::ClothOverruled:
      return Station::Align;
    case What::SewnThrough:
    case What::EarlierUnsewn:
    case What::OtherFrame:
    case What::FrameOpen:
    case What::FootUp:
    case What::MachineFine:
      break;
  }
  return std::nullopt;
}

State stateOf(ClearanceLine::Weight weight) {
  return weight == ClearanceLine::Weight::Fine   ? State::Ready
         : weight == ClearanceLine::Weight::Look ? State::Check
                                                 : State::Stop;
}

}  // namespace

std::vector<PreflightLine> preflight(const Clearance& clearance) {
  std::vector<PreflightLine> out;
  for (const ClearanceLine& l : clearance.lines)
    out.push_back({stateOf(l.weight), QString::fromStdString(inWords(l, clearance)),
                   mendedAt(l.what), l.what});
  return out;
}

std::optional<PreflightLine> hindranceIn(const std::vector<PreflightLine>& lines) {
  for (const PreflightLine& l : lines)
    if (l.state == State::Stop) return l;
  return std::nullopt;
}

}  // namespace rt
