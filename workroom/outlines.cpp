#include "outlines.h"

#include <algorithm>

#include "error.h"
#include "overlap.h"
#include "strand.h"

namespace rt {
namespace {

constexpr double kCloseGaps_mm = 2;  // between threads of one cover
constexpr double kLeastRing_mm2 = 4;

/// Equal but for where it lies.
bool alike(const Piece& a, const Piece& b) {
  return (a.stitches == b.stitches || *a.stitches == *b.stitches) &&
         a.place.scale_x == b.place.scale_x && a.place.scale_y == b.place.scale_y;
}

Piece lineAlong(const std::vector<Ring>& rings, double inside_mm, double stitch_mm, Colour colour,
                const TieRule& ties, const std::string& name) {
  std::vector<Strand> strands;
  for (const Ring& ring : rings)
    for (Ring way : inside_mm > 0 ? grown(Area{ring}, -inside_mm) : Area{ring}) {
      way.push_back(way.front());
      Strand s;
      runWithin(s, way, stitch_mm, 0.15, Kind::Run);
      strands.push_back(std::move(s));
    }
  Pattern sewn;
  appendStrands(sewn, strands, {colour, name, ties});
  return pieceOf(std::move(sewn), name);
}

}  // namespace

std::vector<Ring> outlineOf(const Piece& piece) {
  const Pattern laid = laidOut(piece);
  Area all;
  for (const Block& block : blocksOf(laid)) {
    Area ink;
    Point last = block.entry;
    std::vector<Point> line{last};
    for (size_t row = block.first; row < block.last; ++row)
      if (laid.stitches[row].op == Op::Stitch && laid.stitches[row].kind != Kind::Tie)
        line.push_back(laid.stitches[row].at);
    // rows lie closer than this: the widened line closes over them
    ink = widened(line, kThreadWidth_mm + kCloseGaps_mm, LineEnd::Round);
    all = united(all, ink);
  }
  std::vector<Ring> out;
  for (const Area& part : separated(grown(all, -kCloseGaps_mm / 2)))
    if (!part.empty() && std::abs(signedArea_mm2(part[0])) > kLeastRing_mm2) out.push_back(part[0]);
  return out;
}

Job outlinedFirst(Job job, int piece_id, const ShopPractice& practice) {
  const auto chosen = std::find_if(job.pieces.begin(), job.pieces.end(),
                                   [=](const Piece& p) { return p.id == piece_id; });
  if (chosen == job.pieces.end())
    throw Error("there is no such piece", "outline", "choose a piece");
  const Piece model = *chosen;
  const Colour colour = model.stitches->threads.empty() ? Colour{} : model.stitches->threads[0];
  std::vector<Piece> placements, tacks;
  size_t first = job.pieces.size();
  int group = freeGroup(job) - 1;
  for (size_t i = 0; i < job.pieces.size(); ++i) {
    Piece& p = job.pieces[i];
    if (!alike(p, model)) continue;
    const std::vector<Ring> rings = outlineOf(p);
    if (rings.empty())
      throw Error(p.name + " covers no area", "outline", "choose a piece with a fill or a column");
    first = std::min(first, i);
    p.group = ++group;
    auto line = [&](double inside_mm, const char* what) {
      return lineAlong(rings, inside_mm, practice.outline_stitch_mm, colour, practice.sewing.ties,
                       what + p.name);
    };
    placements.push_back(line(0, "placement line of "));
    tacks.push_back(line(practice.tack_inside_mm, "tack-down of "));
    placements.back().group = tacks.back().group = group;
  }
  for (auto* lines : {&placements, &tacks})
    for (Piece& p : *lines) p.id = job.next_piece_id++;
  const int wait = tacks.front().id;
  placements.insert(placements.end(), tacks.begin(), tacks.end());
  job.pieces.insert(job.pieces.begin() + static_cast<long>(first), placements.begin(),
                    placements.end());
  job.sequence.stops.push_back({wait, "lay the cloth over the line"});
  return job;
}

}  // namespace rt
