#include "thread_units.h"

#include <algorithm>
#include <map>
#include <set>
#include <unordered_map>

namespace rt {
namespace {

constexpr int kCellsAcross = 14;       // a field's short side is divided in for cuts
constexpr double kBlockWeight = 0.02;  // of parting a block of a piece that is cut anyhow
constexpr size_t kMostBlockWholes = 80;
constexpr double kLeastCell_mm = 2.0;

/// Least overlap of the settings of one clamping; infinite without such frames. What is cut there
/// has to be found in cells that fit into it.
double narrowestBand(const std::vector<Hoop>& hoops) {
  double least = INFINITY;
  for (const Hoop& h : hoops) {
    const std::vector<PlacedField> fields = fieldsOf(h, 0);
    if (h.rail) continue;  // its fields can be laid anywhere
    for (size_t i = 0; i < fields.size(); ++i)
      for (size_t j = i + 1; j < fields.size(); ++j) {
        const Box s = fields[i].box.intersection(fields[j].box);
        if (!s.empty()) least = std::min(least, std::min(s.width(), s.height()));
      }
  }
  return least;
}

/// Of boxes of one group, those that lie in no other. Where a frame has several settings, which may
/// hold a box together, its core has to lie in the other's too.
void keepOutermost(std::vector<CoverNeed>& needs, size_t from, bool cores) {
  std::stable_sort(needs.begin() + static_cast<long>(from), needs.end(),
                   [](const CoverNeed& a, const CoverNeed& b) {
                     return a.box.width() * a.box.height() > b.box.width() * b.box.height();
                   });
  size_t kept = from;
  for (size_t i = from; i < needs.size(); ++i) {
    const bool inside =
        std::any_of(needs.begin() + static_cast<long>(from),
                    needs.begin() + static_cast<long>(kept), [&](const CoverNeed& k) {
                      return k.whole == needs[i].whole && k.box.contains(needs[i].box) &&
                             (!cores || k.core.contains(needs[i].core));
                    });
    if (!inside) needs[kept++] = needs[i];
  }
  needs.resize(kept);
}

}  // namespace

namespace {

template <class Use>
void eachStitch(const Motif& motif, const Pattern& pattern, const std::vector<Block>& blocks,
                Use&& use) {
  for (size_t b : motif.blocks) {
    NeedleWalk walk;
    for (size_t row = blocks[b].first; row < blocks[b].last; ++row) {
      const Stitch& s = pattern.stitches[row];
      const NeedleWalk::Step step = walk.next(s);
      if (s.op == Op::Stitch) use(b, step.from, s.at);
    }
  }
}

/// Cuts that pass through thread of a motif, not only through its bounds.
std::vector<const AskedCut*> cutsThrough(const Motif& motif, const Pattern& pattern,
                                         const std::vector<Block>& blocks,
                                         const std::vector<AskedCut>& cuts) {
  std::vector<const AskedCut*> out;
  for (const AskedCut& c : cuts) {
    if (!c.meets(motif.bounds)) continue;
    bool crossed = false;
    eachStitch(motif, pattern, blocks,
               [&](size_t, Point a, Point b) { crossed = crossed || c.crosses(a, b); });
    if (crossed) out.push_back(&c);
  }
  return out;
}

/// Thread of a motif by the side of each cut on which its stitches' middles lie.
void findParts(Motif& motif, const Pattern& pattern, const std::vector<Block>& blocks,
               const std::vector<AskedCut>& cuts) {
  const auto here = cutsThrough(motif, pattern, blocks, cuts);
  if (here.empty()) return;
  std::map<std::vector<bool>, Box> parts;
  std::map<size_t, std::set<std::vector<bool>>> sides;
  eachStitch(motif, pattern, blocks, [&](size_t block, Point a, Point b) {
    std::vector<bool> side;
    for (const AskedCut* c : here) side.push_back(c->left(mix(a, b, 0.5)));
    Box& part = parts[side];
    part.add(a), part.add(b);
    sides[block].insert(std::move(side));
  });
  for (const auto& [block, of] : sides) {
    const Box& bounds = blocks[block].bounds;
    const bool met =
        std::any_of(here.begin(), here.end(), [&](const AskedCut* c) { return c->meets(bounds); });
    if (of.size() > 1 && met) motif.crossed.push_back(block);
  }
  for (const auto& [side, box] : parts) motif.parts.push_back(box);
}

}  // namespace

std::vector<Motif> motifsOf(const Pattern& pattern, const std::vector<Block>& blocks,
                            const std::vector<std::string>& keep,
                            const std::vector<AskedCut>& cuts) {
  std::vector<Motif> motifs;
  std::map<uint16_t, size_t> ofPiece;
  for (size_t b = 0; b < blocks.size(); ++b) {
    const uint16_t piece = blocks[b].piece;
    size_t at = motifs.size();
    if (piece != 0) at = ofPiece.try_emplace(piece, at).first->second;
    if (at == motifs.size())
      motifs.push_back({piece != 0 ? pattern.pieces[piece] : "block " + std::to_string(b + 1),
                        {},
                        {},
                        false,
                        {},
                        {}});
    motifs[at].blocks.push_back(b);
    motifs[at].bounds.add(blocks[b].bounds);
  }
  for (Motif& m : motifs) {
    m.keep = std::find(keep.begin(), keep.end(), m.name) != keep.end();
    if (!m.keep) findParts(m, pattern, blocks, cuts);
  }
  return motifs;
}

ThreadUnits::ThreadUnits(const Pattern& pattern, const std::vector<Block>& blocks,
                         const std::vector<Motif>& motifs, const std::vector<Hoop>& hoops,
                         bool turn, double overlap_mm)
    : pattern_(pattern),
      blocks_(blocks),
      motifs_(motifs),
      hoops_(hoops),
      turn_(turn),
      overlap_(overlap_mm) {
  for (const Block& b : blocks) all_.add(b.bounds);
  double side = INFINITY;
  for (const Hoop& h : hoops) side = std::min({side, h.field.width_mm, h.field.height_mm});
  cell_ = std::max(1.0, (side - overlap_mm) / kCellsAcross);
  if (const double band = narrowestBand(hoops); band < INFINITY)
    cell_ = std::min(cell_, std::max(kLeastCell_mm, band / 3));
}

void ThreadUnits::addBlock(size_t index, int whole, double cell_mm, CoverProblem& to) const {
  const Block& block = blocks_[index];
  if (block.bounds.width() <= cell_mm && block.bounds.height() <= cell_mm) {
    to.needs.push_back({block.bounds, whole, block.bounds});
    return;
  }
  const auto across = static_cast<int64_t>(all_.width() / cell_mm) + 2;
  std::unordered_map<int64_t, Box> cells;
  NeedleWalk walk;
  for (size_t row = block.first; row < block.last; ++row) {
    const NeedleWalk::Step step = walk.next(pattern_.stitches[row]);
    if (pattern_.stitches[row].op != Op::Stitch) continue;
    Box box;
    box.add(step.from);
    box.add(pattern_.stitches[row].at);
    const Point m = box.centre() - Point{all_.left, all_.top};
    cells[static_cast<int64_t>(m.y / cell_mm) * across + static_cast<int64_t>(m.x / cell_mm)].add(
        box);
  }
  std::vector<std::pair<int64_t, Box>> sorted(cells.begin(), cells.end());
  std::sort(sorted.begin(), sorted.end(),
            [](const auto& a, const auto& b) { return a.first < b.first; });
  for (const auto& [key, box] : sorted) {
    const Box grown = box.grown(overlap_ / 2 + 0.1).intersection(block.bounds);
    to.needs.push_back({fitsSomeField(grown, hoops_, turn_) ? grown : box, whole, box});
  }
}

/// Each side of a cut that is asked for lies whole in a field, with the overlap past the line: it
/// can be parted nowhere else. False where a side is too large for that.
bool ThreadUnits::addParts(const Motif& motif, CoverProblem& to) const {
  if (motif.parts.size() < 2) return false;
  std::vector<Box> held;
  for (const Box& part : motif.parts)
    held.push_back(part.grown(overlap_ / 2 + 0.1).intersection(motif.bounds));
  if (!std::all_of(held.begin(), held.end(),
                   [&](const Box& b) { return fitsSomeField(b, hoops_, turn_); }))
    return false;
  for (const Box& b : held) {
    to.wholes.push_back({b, 1, true});
    to.needs.push_back({b, -1, b});
  }
  return true;
}

CoverProblem ThreadUnits::problem(double cell_mm, double coarser) const {
  CoverProblem p;
  size_t blockWholes = 0;
  const bool several = std::any_of(hoops_.begin(), hoops_.end(),
                                   [](const Hoop& h) { return fieldsOf(h, 0).size() > 1; });
  for (const Motif& m : motifs_) {
    const size_t from = p.needs.size();
    if (addParts(m, p)) continue;
    const bool fits = fitsSomeField(m.bounds, hoops_, turn_);
    if (fits) {
      p.wholes.push_back({m.bounds, 1, m.keep});
      const int whole = static_cast<int>(p.wholes.size()) - 1;
      if (m.keep) p.needs.push_back({m.bounds, -1, m.bounds});
      if (!m.keep)
        for (size_t b : m.blocks) addBlock(b, whole, cell_mm * coarser, p);
    } else {
      for (size_t b : m.blocks) {
        const bool own = blockWholes < kMostBlockWholes && m.blocks.size() > 1 &&
                         fitsSomeField(blocks_[b].bounds, hoops_, turn_) &&
                         std::max(blocks_[b].bounds.width(), blocks_[b].bounds.height()) > cell_mm;
        int whole = -1;
        if (own) {
          ++blockWholes;
          p.wholes.push_back({blocks_[b].bounds, kBlockWeight, false});
          whole = static_cast<int>(p.wholes.size()) - 1;
        }
        addBlock(b, whole, cell_mm, p);
      }
    }
    keepOutermost(p.needs, from, several);
  }
  return p;
}

CoverProblem ThreadUnits::problemOf(size_t most) const {
  double cell = cell_;
  constexpr double kCoarser = 2.2;
  CoverProblem p = problem(cell, kCoarser);
  while (p.needs.size() > most && cell < 1000) p = problem(cell *= 1.25, kCoarser);
  return p;
}

/// From each stitch on, as far as the thread runs along one axis within the overlap while its
/// stitches share a place across. Sound for plans whose neighbours overlap by `overlap_` both ways:
/// of the fields that sew the stretch one reaches its first end and one its last; were none to hold
/// it all, two that follow one another would share less than its length, which is at most the
/// overlap.
void ThreadUnits::addStretches(const Block& block, std::vector<Box>& to) const {
  std::vector<Box> segments;
  std::vector<bool> joined;
  NeedleWalk walk;
  for (size_t row = block.first; row < block.last; ++row) {
    const Stitch& s = pattern_.stitches[row];
    const NeedleWalk::Step step = walk.next(s);
    if (s.op != Op::Stitch) continue;
    Box box;
    box.add(step.from);
    box.add(s.at);
    const bool follows = step.sewn && row > 0 && pattern_.stitches[row - 1].op == Op::Stitch;
    joined.push_back(follows && !segments.empty());
    segments.push_back(box);
  }
  for (bool alongX : {true, false})
    for (size_t i = 0; i < segments.size(); ++i) {
      Box run = segments[i];
      for (size_t k = i + 1; k < segments.size() && joined[k]; ++k) {
        const Box& s = segments[k];
        Box next = run;
        if (alongX) {
          next.left = std::min(run.left, s.left), next.right = std::max(run.right, s.right);
          next.top = std::max(run.top, s.top), next.bottom = std::min(run.bottom, s.bottom);
        } else {
          next.top = std::min(run.top, s.top), next.bottom = std::max(run.bottom, s.bottom);
          next.left = std::max(run.left, s.left), next.right = std::min(run.right, s.right);
        }
        const double length = alongX ? next.right - next.left : next.bottom - next.top;
        if (next.empty() || length > overlap_) break;
        run = next;
      }
      to.push_back(run);
    }
}

std::vector<Box> ThreadUnits::stretches(size_t most) const {
  std::vector<Box> all;
  for (const Motif& m : motifs_)
    if (m.keep) all.push_back(m.bounds);
  for (const Block& b : blocks_) addStretches(b, all);
  for (double cell = cell_;; cell *= 1.25) {
    // per cell the ones that reach farthest to each side
    std::map<std::pair<int, int>, std::array<const Box*, 4>> extreme;
    for (const Box& b : all) {
      const Point m = b.centre();
      auto& e = extreme[{static_cast<int>(std::floor(m.x / cell)),
                         static_cast<int>(std::floor(m.y / cell))}];
      if (!e[0] || b.left < e[0]->left) e[0] = &b;
      if (!e[1] || b.right > e[1]->right) e[1] = &b;
      if (!e[2] || b.top < e[2]->top) e[2] = &b;
      if (!e[3] || b.bottom > e[3]->bottom) e[3] = &b;
    }
    std::set<const Box*> kept;
    for (const auto& [key, e] : extreme) kept.insert(e.begin(), e.end());
    if (kept.size() > most && cell < 2000) continue;
    std::vector<Box> out;
    for (const Box& b : all)
      if (kept.count(&b)) out.push_back(b);
    return out;
  }
}

}  // namespace rt
