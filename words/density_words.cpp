#include "density_words.h"

#include "length.h"
#include "stitch_limits.h"

namespace rt {
namespace {

std::string causeWords(const Cause& c) {
  if (c.pieces.empty()) return "";
  const std::string& first = c.pieces[0];
  switch (c.plain) {
    case CauseKind::TiePile:
      return "tie-ins and tie-offs of " + first + " lie on one another";
    case CauseKind::ShortStitches:
      return "stitches of " + first + " are under " + formatNumber(kShortAtPile_mm, 1) +
             " mm there";
    case CauseKind::NarrowColumn:
      return "a column of " + first + " is narrower than this cloth holds";
    case CauseKind::Overlap:
      return (c.pieces.size() > 1 ? first + " and " + c.pieces[1] : "parts of " + first) +
             " lie on one another";
    default:
      return first + " is sewn too close";
  }
}

std::string blockWords(const Remedy& r) {
  const std::string number = "block " + std::to_string(r.block + 1);
  return r.piece.empty() ? number + " (" + r.thread.hex() + ")"
                         : r.piece + " (" + number + ", " + r.thread.hex() + ")";
}

}  // namespace

std::string inWords(const Finding& f) {
  const std::string count = std::to_string(f.count);
  switch (f.kind) {
    case FindingKind::ShortStitches:
      return count + " of " + std::to_string(f.of) + " stitches are under " +
             formatNumber(kShortestStitch_mm, 1) + " mm";
    case FindingKind::LongStitches:
      return count + " stitches are over " + formatNumber(kLongestStitch_mm, 0) +
             " mm and will snag";
    case FindingKind::KeepOut:
      return count + " stitches lie in the keep-out zone " + f.zone;
    case FindingKind::Perforation:
      return count + " holes in a line of " + formatNumber(f.value, 1) + " mm, " +
             formatNumber(f.apart_mm, 2) + " mm apart, tear like a stamp";
    default:
      break;
  }
  std::string words = causeWords(f.cause);
  if (f.cause.over_thick && !words.empty()) words += ", over a thick zone";
  if (f.places.size() > 1) words += ", in " + std::to_string(f.places.size()) + " places";
  return words;
}

std::string inWords(const Remedy& r) {
  if (r.kind == "scale")
    return "Enlarge to " + formatNumber(r.value * 100, 0) + " %, stitches kept";
  if (r.kind == "remove-hidden")
    return "Take out what later sewing covers, " + formatNumber(r.value, 1) +
           " mm left under its edge";
  if (r.kind == "drop") return "Leave " + blockWords(r) + " unsewn";
  if (r.kind == "move")
    return "Move " + (r.block < 0 ? std::string("everything") : blockWords(r)) + " by " +
           formatNumber(r.value, 1) + " mm " + wayName(r.move_mm) +
           (r.block < 0 ? ", out of the zone" : "");
  const std::string spacing =
      " from " + formatNumber(r.before, 2) + " to " + formatNumber(r.value, 2) + " mm";
  return r.kind == "thin" ? "Thin the lowest layer, " + blockWords(r) + "," + spacing
                          : "Re-space " + blockWords(r) + spacing;
}

std::string wayName(Point by) {
  const double most = std::max(std::abs(by.x), std::abs(by.y));
  const std::string up = by.y < -0.2 * most ? "up" : by.y > 0.2 * most ? "down" : "";
  const std::string side = by.x < -0.2 * most ? "left" : by.x > 0.2 * most ? "right" : "";
  return up.empty() || side.empty() ? up + side : up + " and " + side;
}

}  // namespace rt
