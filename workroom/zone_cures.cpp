#include "zone_cures.h"

#include "density_words.h"
#include "length.h"
#include "remedies.h"

namespace rt {
namespace {

/// Does a piece, moved by some way, sew into a keep-out zone?
bool sewsInto(const Piece& piece, Point by, const Zone& zone) {
  const ZoneEntry entry(zone);
  if (!boundsOf(piece).moved(by).overlaps(entry.bounds())) return false;
  const Transform to = Transform::moving(by) * transformOf(piece.place);
  bool in = false;
  forEachSegment(*piece.stitches,
                 [&](Point a, Point b, size_t) { in = in || entry.of(to(a), to(b)); });
  return in;
}

}  // namespace

std::vector<Cure> curesForKeepOut(const Job& job, const Finding& finding) {
  constexpr int kWays = 16;
  std::vector<Cure> out;
  for (const Zone& zone : job.zones) {
    if (zone.kind != ZoneKind::KeepOut || !contains(zone.polygon_mm, finding.at)) continue;
    std::vector<size_t> inside;
    for (size_t i = 0; i < job.pieces.size(); ++i)
      if (sewsInto(job.pieces[i], {}, zone)) inside.push_back(i);
    auto clear = [&](Point by) {
      for (size_t i : inside)
        for (const Zone& other : job.zones)
          if (other.kind == ZoneKind::KeepOut && sewsInto(job.pieces[i], by, other)) return false;
      return true;
    };
    for (double mm = 0.5; mm <= 120 && out.empty() && !inside.empty(); mm += 0.5)
      for (int k = 0; k < kWays && out.empty(); ++k) {
        const Point by = Transform::turning(k * 360.0 / kWays).turn({mm, 0});
        if (!clear(by)) continue;
        Cure cure;
        cure.job = job;
        std::string names;
        for (size_t i : inside) {
          cure.job.pieces[i].place.at = cure.job.pieces[i].place.at + by;
          names += (names.empty() ? "" : " and ") + job.pieces[i].name;
        }
        cure.title = "Move " + names + " by " + formatNumber(mm, 1) + " mm " + wayName(by);
        cure.detail = "the shortest way out of the keep-out zone " + zone.name;
        out.push_back(std::move(cure));
      }
  }
  return out;
}

}  // namespace rt
