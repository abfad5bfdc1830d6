#include "assign.h"

#include <algorithm>

#include "cut_thread.h"
#include "overlap.h"

namespace rt {
namespace {

constexpr double kEdge_mm = 0.05;  // stitches keep this far inside the field's edge, where they can
constexpr int kMostRepairs = 20;

/// A block of loose stitches, each landed on by a jump.
void addLoose(Pattern& to, Point a, Point b) {
  to.stitches.push_back({a, 0, 0, 0, Op::Jump, Kind::Unknown});
  to.stitches.push_back({b, 0, 0, 0, Op::Stitch, Kind::Unknown});
}

}  // namespace

Assigner::Assigner(const Pattern& pattern, const std::vector<Block>& blocks,
                   const std::vector<Motif>& motifs, const std::vector<ClampedField>& fields,
                   const CutRule& rule, const std::vector<AskedCut>& asked)
    : pattern_(pattern),
      blocks_(blocks),
      motifs_(motifs),
      fields_(fields),
      rule_(rule),
      asked_(asked),
      from_(pattern.stitches.size()),
      block_(pattern.stitches.size(), -1),
      item_(blocks.size(), -1),
      before_(fields.size(), std::vector<int>(fields.size(), 0)) {
  for (const ClampedField& f : fields) places_.push_back(f.field);
  for (size_t b = 0; b < blocks.size(); ++b)
    std::fill(block_.begin() + static_cast<long>(blocks[b].first),
              block_.begin() + static_cast<long>(blocks[b].last), static_cast<int>(b));
  NeedleWalk walk;
  for (size_t row = 0; row < pattern.stitches.size(); ++row)
    from_[row] = walk.next(pattern.stitches[row]).from;
  findItems();
  if (fields.size() < 2) return;
  findShared();
  findOverlaps();
}

/// Cloth never lies quite straight: fields that hold it with room to spare, if there is one; else
/// those that hold it inside their edge; else those that hold it at all.
std::vector<int> Assigner::holding(const Box& box) const {
  for (double room : {rule_.room_mm, kEdge_mm, 0.0}) {
    std::vector<int> out;
    for (size_t f = 0; f < places_.size(); ++f)
      if (places_[f].holds(box.grown(room))) out.push_back(static_cast<int>(f));
    if (!out.empty()) return out;
  }
  return {};
}

void Assigner::findItems() {
  for (size_t m = 0; m < motifs_.size(); ++m) {
    const Motif& motif = motifs_[m];
    if (const std::vector<int> homes = holding(motif.bounds); !homes.empty()) {
      for (size_t b : motif.blocks) item_[b] = static_cast<int>(items_.size());
      items_.push_back({motif.blocks.front(), motif.bounds, homes, m});
      continue;
    }
    const auto asked = [&](size_t b) {
      return std::find(motif.crossed.begin(), motif.crossed.end(), b) != motif.crossed.end();
    };
    for (size_t b : motif.blocks)
      if (asked(b))
        continue;  // parted there, though a field may hold it
      else if (const std::vector<int> held = holding(blocks_[b].bounds); !held.empty()) {
        item_[b] = static_cast<int>(items_.size());
        items_.push_back({b, blocks_[b].bounds, held, m});
      }
  }
}

void Assigner::findShared() {
  std::vector<Box> strips;
  for (size_t i = 0; i < places_.size(); ++i)
    for (size_t j = i + 1; j < places_.size(); ++j)
      if (const Box s = places_[i].box.intersection(places_[j].box); !s.empty())
        strips.push_back(s.grown(kThreadWidth_mm));
  std::vector<bool> near(blocks_.size());
  for (size_t b = 0; b < blocks_.size(); ++b)
    near[b] = std::any_of(strips.begin(), strips.end(),
                          [&](const Box& s) { return s.overlaps(blocks_[b].bounds); });
  forEachSegment(pattern_, [&](Point a, Point b, size_t row) {
    if (block_[row] < 0 || !near[static_cast<size_t>(block_[row])]) return;
    Box box;
    box.add(a), box.add(b);
    if (std::any_of(strips.begin(), strips.end(), [&](const Box& s) { return s.overlaps(box); }))
      shared_.push_back({row, a, b});
  });
}

void Assigner::findOverlaps() {
  Pattern loose;
  loose.threads.push_back({});
  std::vector<Block> of;
  std::vector<int> source;
  for (const Shared& s : shared_) {
    if (of.empty() || source.back() != block_[s.row]) {
      of.push_back({});
      of.back().first = loose.stitches.size();
      source.push_back(block_[s.row]);
    }
    addLoose(loose, s.from, s.to);
    of.back().last = loose.stitches.size();
  }
  for (const auto& [low, high] : overlappingBlocks(loose, of))
    overlaps_.push_back({source[static_cast<size_t>(low)], source[static_cast<size_t>(high)]});
  for (const auto& [low, high] : overlaps_) {
    const int a = item_[static_cast<size_t>(low)], b = item_[static_cast<size_t>(high)];
    if (a < 0 || b < 0 || a == b) continue;
    const auto &homes = items_[static_cast<size_t>(a)].homes,
               &over = items_[static_cast<size_t>(b)].homes;
    if (homes.size() == 1 && over.size() == 1 && homes[0] != over[0])
      before_[static_cast<size_t>(homes[0])][static_cast<size_t>(over[0])] += 1;
  }
}

/// Each to the field in whose middle it lies best; then, again and again, what lies the wrong way
/// round to where that is mended.
std::vector<int> Assigner::findHomes(const std::vector<int>& position) const {
  std::vector<std::vector<std::pair<int, bool>>> touching(items_.size());  // item, lies over it
  for (const auto& [low, high] : overlaps_) {
    const int a = item_[static_cast<size_t>(low)], b = item_[static_cast<size_t>(high)];
    if (a < 0 || b < 0 || a == b) continue;
    touching[static_cast<size_t>(a)].push_back({b, true});
    touching[static_cast<size_t>(b)].push_back({a, false});
  }
  std::vector<int> home(items_.size(), -1);
  const auto place = [&](int field) { return position[static_cast<size_t>(field)]; };
  const auto cost = [&](size_t i, int field) {
    const Item& item = items_[i];
    double sum =
        distance(places_[static_cast<size_t>(field)].box.centre(), item.bounds.centre()) / 100;
    for (const auto& [other, over] : touching[i]) {
      const int theirs = home[static_cast<size_t>(other)];
      if (theirs < 0 || theirs == field) continue;
      if (over ? place(theirs) < place(field) : place(theirs) > place(field)) sum += 1000;
    }
    if (i > 0 && items_[i - 1].motif == item.motif && home[i - 1] >= 0 && home[i - 1] != field)
      sum += 5;  // with its piece
    return sum;
  };
  for (int round = 0; round < kMostRepairs; ++round) {
    bool changed = false;
    for (size_t i = 0; i < items_.size(); ++i) {
      int best = home[i] >= 0 ? home[i] : items_[i].homes[0];
      double least = cost(i, best);
      for (int f : items_[i].homes)
        if (const double c = cost(i, f); c < least - 1e-9) least = c, best = f;
      changed = changed || best != home[i];
      home[i] = best;
    }
    if (!changed) break;
  }
  return home;
}

/// Layer by layer, as underlay and cover follow one another: each is held against those before.
void Assigner::partBlock(const std::vector<Link>& links, const SeamPaths& paths,
                         const std::vector<int>& position, SewnLayers& layers,
                         std::vector<int>& row_field) const {
  for (size_t from = 0, to = 0; from < links.size(); from = to) {
    const bool underlay = links[from].kind == Kind::Underlay;
    while (to < links.size() && (links[to].kind == Kind::Underlay) == underlay) ++to;
    const std::span<const Link> layer(links.data() + from, to - from);
    const std::vector<int> fields = partLinks(layer, paths, layers, position);
    for (size_t k = 0; k < layer.size(); ++k) {
      row_field[layer[k].row] = fields[k];
      if (layer[k].holders.size() > 1)
        layers.add(layer[k].from, layer[k].to, layer.front().row,
                   position[static_cast<size_t>(fields[k])]);
    }
  }
}

Assignment Assigner::assign(const std::vector<int>& order) const {
  std::vector<int> position(order.size());
  for (size_t i = 0; i < order.size(); ++i)
    position[static_cast<size_t>(order[i])] = static_cast<int>(i);
  Assignment out;
  out.row_field.assign(pattern_.stitches.size(), -1);
  const std::vector<int> home = findHomes(position);
  std::vector<bool> cut(pattern_.stitches.size());
  bool any = false;
  for (size_t row = 0; row < pattern_.stitches.size(); ++row) {
    if (block_[row] < 0 || pattern_.stitches[row].op != Op::Stitch) continue;
    const int item = item_[static_cast<size_t>(block_[row])];
    if (item >= 0) out.row_field[row] = home[static_cast<size_t>(item)];
    cut[row] = item < 0;
    any = any || item < 0;
  }
  if (any) {
    const SeamPaths paths(pattern_, places_, cut, rule_, asked_);
    SewnLayers layers;
    for (const Shared& s : shared_)
      if (out.row_field[s.row] >= 0)
        layers.add(s.from, s.to, blocks_[static_cast<size_t>(block_[s.row])].first,
                   position[static_cast<size_t>(out.row_field[s.row])]);
    for (size_t b = 0; b < blocks_.size(); ++b) {
      if (item_[b] >= 0) continue;
      std::vector<Link> links;
      for (size_t row = blocks_[b].first; row < blocks_[b].last; ++row) {
        const Stitch& s = pattern_.stitches[row];
        if (s.op != Op::Stitch) continue;
        Box box;
        box.add(from_[row]), box.add(s.at);
        Link link{row, from_[row], s.at, holding(box), s.kind};
        if (!link.holders.empty()) links.push_back(std::move(link));
      }
      partBlock(links, paths, position, layers, out.row_field);
    }
  }
  if (places_.size() > 1) out.turned = turnedOver(out.row_field, order);
  return out;
}

std::vector<std::pair<size_t, size_t>> Assigner::turnedOver(const std::vector<int>& row_field,
                                                            const std::vector<int>& order) const {
  Pattern loose;
  loose.threads.push_back({});
  std::vector<Block> of;
  std::vector<std::pair<int, int>> source;  // field, block
  std::vector<std::vector<const Shared*>> byField(order.size());
  for (const Shared& s : shared_)
    if (row_field[s.row] >= 0) byField[static_cast<size_t>(row_field[s.row])].push_back(&s);
  for (int f : order)
    for (const Shared* s : byField[static_cast<size_t>(f)]) {
      const std::pair<int, int> own{f, block_[s->row]};
      if (of.empty() || source.back() != own) {
        of.push_back({});
        of.back().first = loose.stitches.size();
        source.push_back(own);
      }
      addLoose(loose, s->from, s->to);
      of.back().last = loose.stitches.size();
    }
  std::vector<std::pair<size_t, size_t>> out;
  for (const auto& [first, second] : overlappingBlocks(loose, of)) {
    const auto &a = source[static_cast<size_t>(first)], &b = source[static_cast<size_t>(second)];
    if (a.first != b.first && a.second > b.second)
      out.push_back({static_cast<size_t>(b.second), static_cast<size_t>(a.second)});
  }
  std::sort(out.begin(), out.end());
  out.erase(std::unique(out.begin(), out.end()), out.end());
  return out;
}

}  // namespace rt
