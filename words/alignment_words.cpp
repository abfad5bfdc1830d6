#include "alignment_words.h"

#include "length.h"

namespace rt {
namespace {

std::string place(Point p) {
  return "(" + formatNumber(p.x, 0) + ", " + formatNumber(p.y, 0) + ") mm in the hoop";
}

std::string side(double mm, const char* plus, const char* minus, const char* between) {
  return formatNumber(std::abs(mm), 1) + " mm " + between + (mm >= 0 ? plus : minus);
}

std::string stretchWords(const AlignmentNote& n) {
  return "the cloth is " + formatNumber(n.value * 100, 1) + " % off its size: " +
         (n.weight == Readiness::Rehoop ? "hoop it again without pulling"
                                        : "ease it, or accept a similarity fit");
}

std::string fieldWords(const AlignmentNote& n) {
  std::string text =
      n.value > 0 ? "the layout leaves the field" : "the layout's corners leave the oval";
  if (std::abs(n.at.x) > 0) text += ", by " + side(n.at.x, "right", "left", "at the ");
  if (std::abs(n.at.y) > 0) text += ", by " + side(n.at.y, "bottom", "top", "at the ");
  return text + ": hoop it again nearer the middle";
}

std::string sewingLeaves(const AlignmentNote& n) {
  return "as the cloth lies, the sewing leaves the field by " + formatNumber(n.value, 1) + " mm";
}

}  // namespace

std::string inWords(const LeftOut& m) {
  switch (m.why) {
    case LeftOut::Why::NotFound:
      return "not found in the photo";
    case LeftOut::Why::SeenTwice:
      return "seen twice in the photo";
    case LeftOut::Why::OffTheOthers:
      return "not believed: " + formatNumber(m.off_mm, 1) + " mm from where the other marks put it";
    case LeftOut::Why::OffItsList:
      return "not believed: it is not where the set-up has it";
  }
  return "";
}

std::string inWords(const AlignmentNote& n) {
  const std::string count = formatNumber(n.value, 0);
  switch (n.what) {
    case AlignmentNote::What::Unmeasured:
      return "the marks do not say where the layout lies: measure again";
    case AlignmentNote::What::Error:
      return "worst corner " + formatNumber(n.value, 2) + " mm of " + formatNumber(n.limit, 2) +
             " mm allowed";
    case AlignmentNote::What::Stretch:
      return stretchWords(n);
    case AlignmentNote::What::OutOfSquare:
      return "the cloth is " + formatNumber(n.value, 2) +
             "° out of square: pull it straight along the other diagonal";
    case AlignmentNote::What::MarkOff:
      return "mark " + n.id + " is " + formatNumber(n.value, 2) +
             " mm off the fit, more than its error allows: measure it again";
    case AlignmentNote::What::MarkMissing:
      return "mark " + n.left_out.id + " " + inWords(n.left_out);
    case AlignmentNote::What::LeavesField:
      return fieldWords(n);
    case AlignmentNote::What::SewingLeaves:
      return sewingLeaves(n) + ": hoop the cloth again nearer to where it was meant to lie";
    case AlignmentNote::What::AddMark:
      return "one more mark near " + place(n.at) + " lowers the worst corner to " +
             formatNumber(n.value, 2) + " mm";
    case AlignmentNote::What::SingleMark:
      return "it rests on a single mark: add another far from it";
    case AlignmentNote::What::FewFrameTags:
      return "the hoop's plane rests on " + count + (n.value == 1 ? " tag: " : " tags: ") +
             "it is less sure far from them";
    case AlignmentNote::What::FrameByHand:
      return "the hoop's plane rests on " + count + " places pointed at by hand";
  }
  return "";
}

std::vector<std::string> adviceOf(const Alignment& alignment) {
  std::vector<std::string> out;
  for (const AlignmentNote& n : alignment.notes) out.push_back(inWords(n));
  return out;
}

std::string headlineOf(const Alignment& a) {
  const Point middle = a.fit.toHoop({0, 0});
  std::string text = "Turned " + formatNumber(a.fit.rotation_deg, 1) + "°, " +
                     side(middle.x, "right", "left", "") + ", " + side(middle.y, "down", "up", "") +
                     ": ";
  for (const AlignmentNote& n : a.notes)
    if (n.what == AlignmentNote::What::SewingLeaves) return text + "re-hoop, " + sewingLeaves(n);
  text += a.status == Readiness::Ready   ? "ready"
          : a.status == Readiness::Check ? "check"
                                         : "re-hoop";
  return text + ", worst corner " + formatNumber(a.error_worst_mm, 2) + " mm";
}

}  // namespace rt
