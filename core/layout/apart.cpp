#include "apart.h"

#include <algorithm>
#include <map>
#include <numeric>

namespace rt {
namespace {

constexpr double kTogether_mm = 1.0;

/// Rows that belong with block i: from its landing to before the next block.
Pattern partOf(const Pattern& p, const std::vector<Block>& blocks, const std::vector<bool>& in) {
  Pattern out;
  out.title = p.title;
  out.pieces = p.pieces;
  for (size_t i = 0; i < blocks.size(); ++i) {
    if (!in[i]) continue;
    const size_t end = i + 1 < blocks.size() ? blocks[i + 1].first : p.stitches.size();
    bool first = true;
    for (size_t row = blocks[i].first; row < end; ++row) {
      Stitch s = p.stitches[row];
      if (s.op == Op::End) continue;
      s.thread = out.threadIndex(p.colourOf(s));
      if (first && s.op == Op::Stitch) {  // a block that began without a landing gets one
        Stitch jump = s;
        jump.op = Op::Jump;
        jump.at = blocks[i].entry;
        jump.kind = Kind::Unknown;
        out.stitches.push_back(jump);
      }
      first = false;
      out.stitches.push_back(s);
    }
    if (!out.stitches.empty() && out.stitches.back().op == Op::Stitch) cutThread(out);
  }
  return out;
}

/// A piece of some blocks, lying where they lay.
Piece pieceOfBlocks(const Piece& whole, Pattern part, const std::string& name, int id) {
  Piece p = whole;
  p.id = id;
  p.name = name;
  p.source = StitchSource{whole.name, nullptr, 1, 1, 1};
  const Point moved = centre(part);
  p.place.at = transformOf(whole.place)(moved);
  p.stitches = std::make_shared<const Pattern>(std::move(part));
  return p;
}

/// Pieces for the groups in order of their first block.
std::vector<Piece> shared(const Piece& piece, const std::vector<Block>& blocks,
                          const std::vector<int>& group, int next_id) {
  std::vector<int> seen;
  for (int g : group)
    if (std::find(seen.begin(), seen.end(), g) == seen.end()) seen.push_back(g);
  if (seen.size() < 2) return {piece};
  std::vector<Piece> out;
  for (int g : seen) {
    std::vector<bool> in(blocks.size());
    for (size_t i = 0; i < blocks.size(); ++i) in[i] = group[i] == g;
    out.push_back(pieceOfBlocks(piece, partOf(*piece.stitches, blocks, in),
                                piece.name + " " + std::to_string(out.size() + 1),
                                out.empty() ? piece.id : next_id++));
  }
  return out;
}

std::vector<int> byTrim(const Pattern& p, const std::vector<Block>& blocks) {
  std::vector<int> group(blocks.size());
  for (size_t i = 1; i < blocks.size(); ++i) {
    bool trimmed = blocks[i].thread != blocks[i - 1].thread;
    for (size_t row = blocks[i - 1].last; row < blocks[i].first; ++row)
      trimmed |= p.stitches[row].op == Op::Trim;
    group[i] = group[i - 1] + trimmed;
  }
  return group;
}

std::vector<int> byRegion(const std::vector<Block>& blocks) {
  std::vector<int> root(blocks.size());
  std::iota(root.begin(), root.end(), 0);
  auto find = [&](int i) {
    while (root[static_cast<size_t>(i)] != i) i = root[static_cast<size_t>(i)];
    return i;
  };
  for (size_t i = 0; i < blocks.size(); ++i)
    for (size_t j = 0; j < i; ++j)
      if (blocks[i]
              .bounds.grown(kTogether_mm / 2)
              .overlaps(blocks[j].bounds.grown(kTogether_mm / 2)))
        root[static_cast<size_t>(find(static_cast<int>(i)))] = find(static_cast<int>(j));
  std::vector<int> group;
  for (size_t i = 0; i < blocks.size(); ++i) group.push_back(find(static_cast<int>(i)));
  return group;
}

}  // namespace

std::vector<Piece> takenApart(const Piece& piece, ApartBy by, int next_id) {
  const std::vector<Block> blocks = blocksOf(*piece.stitches);
  std::vector<int> group;
  if (by == ApartBy::Colour)
    for (const Block& b : blocks) group.push_back(b.thread);
  else
    group = by == ApartBy::Trim ? byTrim(*piece.stitches, blocks) : byRegion(blocks);
  return shared(piece, blocks, group, next_id);
}

std::vector<Piece> cutOut(const Piece& piece, const Ring& lasso, int next_id) {
  const std::vector<Block> blocks = blocksOf(*piece.stitches);
  const Transform to = transformOf(piece.place);
  std::vector<int> group;
  for (const Block& b : blocks) {
    double in = 0, all = 0;
    Point last = b.entry;
    for (size_t row = b.first; row < b.last; ++row) {
      const Stitch& s = piece.stitches->stitches[row];
      if (s.op == Op::Stitch) {
        const double mm = distance(last, s.at);
        all += mm;
        if (contains({lasso}, to(mix(last, s.at, 0.5)))) in += mm;
      }
      last = s.at;
    }
    group.push_back(in > all / 2 ? 1 : 0);
  }
  return shared(piece, blocks, group, next_id);
}

}  // namespace rt
