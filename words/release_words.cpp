#include "release_words.h"

#include "alignment_words.h"
#include "length.h"

namespace rt {
namespace {

using What = ClearanceLine::What;

std::string mm(double v) {
  return formatNumber(v, 1) + " mm";
}

std::string stitches(size_t n) {
  return std::to_string(n) + (n == 1 ? " stitch" : " stitches");
}

std::string because(const ClearanceLine& l) {
  return l.reason.empty() ? "" : ": " + l.reason;
}

std::string densityWords(const ClearanceLine& l) {
  switch (l.what) {
    case What::BeingWeighed:
      return "The layout is being weighed.";
    case What::DensityFine:
      return "Density: sew, heaviest place " + formatNumber(l.value, 1) + " mm/mm².";
    case What::DensityCheck:
      return "Density: look at " + std::to_string(l.count) + (l.count == 1 ? " place" : " places") +
             " at station 3.";
    case What::DensityStop:
      return "Density says stop: cure or overrule it at station 3.";
    default:
      return "Density overruled" + because(l) + ".";
  }
}

std::string fieldWords(const ClearanceLine& l) {
  std::string out = "Frame " + l.name;
  if (l.limit != 0) out += ", the file is turned by " + formatNumber(l.limit, 0) + "°";
  return out + (l.what == What::LeavesField
                    ? ": the sewing leaves it by " + mm(l.value) + "."
                    : ": the sewing keeps " + mm(l.value) + " from its edge.");
}

std::string clothWords(const ClearanceLine& l, const Clearance& of) {
  switch (l.what) {
    case What::ClothNotMeasured:
      return l.reason.empty() ? "This hooping is not aligned: find its marks at Align (6)."
                              : "This hooping is not aligned: " + l.reason + ".";
    case What::PhotoNotRead:
      return "Not measured: the last photo could not be read" + because(l) +
             ". What was found before it counts no more.";
    case What::PhotoBeingRead:
      return "A photo is being read: what was found before it may not hold.";
    case What::ClothReady:
      return of.cloth.alignment ? headlineOf(*of.cloth.alignment) : "Aligned.";
    case What::ClothNotReady:
      return "The alignment is not ready: " +
             (of.cloth.alignment ? headlineOf(*of.cloth.alignment) : std::string()) + ".";
    default:
      return "Alignment overruled" + because(l) + ".";
  }
}

std::string sewnWords(const ClearanceLine& l) {
  switch (l.what) {
    case What::SewnThrough:
      return "This is sewn: it lies on the cloth. Choose what comes next.";
    case What::SewnAlready:
      return stitches(l.count) +
             " of it lie on the cloth already, sewn under an earlier plan: they "
             "would be sewn twice. Plan again (4), or overrule it with a reason.";
    case What::SewnOverruled:
      return "Sewn over what lies there" + because(l) + ".";
    case What::SewnAndGone:
      return stitches(l.count) + " lie on the cloth that the layout has no more.";
    default:
      return "Hooping " + std::to_string(l.count) +
             " comes before this one and is not sewn through.";
  }
}

std::string machineWords(const ClearanceLine& l) {
  switch (l.what) {
    case What::OtherFrame:
      return "Frame " + l.name + " is mounted, " + l.reason + " is wanted.";
    case What::FrameOpen:
      return "The frame is not locked.";
    case What::FootUp:
      return "The presser foot is up.";
    default:
      return l.name.empty() ? "Foot down, frame lock closed."
                            : "Frame mounted and locked, foot down.";
  }
}

}  // namespace

std::string inWords(const ClearanceLine& l, const Clearance& of) {
  switch (l.what) {
    case What::NoPlan:
      return "Plan the hoopings first (4).";
    case What::PlanOutOfDate:
      return "The plan is out of date: plan again (4).";
    case What::BeingWeighed:
    case What::DensityFine:
    case What::DensityCheck:
    case What::DensityStop:
    case What::DensityOverruled:
      return densityWords(l);
    case What::ProofFine:
      return "Letters read and accepted.";
    case What::ProofNotAccepted:
      return "The proof is not accepted: read it at Compose (2) and accept it.";
    case What::RoomInField:
    case What::LeavesField:
      return fieldWords(l);
    case What::ClothNotMeasured:
    case What::PhotoNotRead:
    case What::PhotoBeingRead:
    case What::ClothReady:
    case What::ClothNotReady:
    case What::ClothOverruled:
      return clothWords(l, of);
    case What::SewnThrough:
    case What::SewnAlready:
    case What::SewnOverruled:
    case What::SewnAndGone:
    case What::EarlierUnsewn:
      return sewnWords(l);
    case What::OtherFrame:
    case What::FrameOpen:
    case What::FootUp:
    case What::MachineFine:
      break;
  }
  return machineWords(l);
}

}  // namespace rt
