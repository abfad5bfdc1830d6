#include "assign.h"

#include <algorithm>
#include <map>
#include <numeric>

#include "overlap.h"

namespace rt {
namespace {

constexpr double kEdge_mm = 0.05;  // stitches keep this far inside the field's edge
constexpr int kTryAllOrdersUpTo = 6;

/// Where the overlap of two fields is parted.
struct Cut {
  bool vertical = true;  ///< x = at, else y = at.
  double at = 0;
  bool firstIsLow = true;  ///< The first field has the smaller coordinate.
};

class Cutter {
 public:
  Cutter(const Pattern& pattern, const std::vector<PlacedField>& fields) : fields_(fields) {
    for (size_t i = 0; i < fields.size(); ++i)
      for (size_t j = i + 1; j < fields.size(); ++j)
        if (fields[i].box.overlaps(fields[j].box))
          cuts_[{static_cast<int>(i), static_cast<int>(j)}] = leastThread(pattern, i, j);
  }

  /// The field that a point belongs to among those that hold it.
  int owner(Point p, const std::vector<int>& holders) const {
    int best = holders[0];
    for (size_t k = 1; k < holders.size(); ++k)
      if (const auto it = cuts_.find(std::minmax(best, holders[k])); it != cuts_.end()) {
        const bool low = (it->second.vertical ? p.x : p.y) < it->second.at;
        best = low == it->second.firstIsLow ? it->first.first : it->first.second;
      }
    return best;
  }

 private:
  /// The straight line across the overlap that the fewest stitches cross, nearest the middle.
  Cut leastThread(const Pattern& pattern, size_t i, size_t j) const {
    const Box strip = fields_[i].box.intersection(fields_[j].box);
    Cut cut;
    const Point d = fields_[j].box.centre() - fields_[i].box.centre();
    // the strip is parted across the way from one field to the other
    cut.vertical = std::abs(d.x) * strip.height() >= std::abs(d.y) * strip.width();
    cut.firstIsLow = cut.vertical ? d.x >= 0 : d.y >= 0;
    const double low = cut.vertical ? strip.left : strip.top;
    const double high = cut.vertical ? strip.right : strip.bottom;
    const double margin = std::min(2.0, (high - low) / 4);
    const int places = std::max(1, static_cast<int>((high - low - 2 * margin) / 0.5));
    std::vector<double> crossings(static_cast<size_t>(places) + 1);
    auto placeOf = [&](double v) {
      return std::clamp((v - low - margin) / (high - low - 2 * margin) * places, -1.0,
                        places + 1.0);
    };
    forEachSegment(pattern, [&](Point a, Point b, size_t) {
      if (!strip.contains(mix(a, b, 0.5))) return;
      double from = placeOf(cut.vertical ? a.x : a.y), to = placeOf(cut.vertical ? b.x : b.y);
      if (from > to) std::swap(from, to);
      for (int k = std::max(0, static_cast<int>(std::ceil(from)));
           k <= std::min<int>(places, static_cast<int>(std::floor(to))); ++k)
        crossings[static_cast<size_t>(k)] += 1;
    });
    size_t best = 0;
    auto cost = [&](size_t k) {
      return crossings[k] + 0.01 * std::abs(static_cast<double>(k) - places / 2.0);
    };
    for (size_t k = 1; k < crossings.size(); ++k)
      if (cost(k) < cost(best)) best = k;
    cut.at = low + margin + (high - low - 2 * margin) * static_cast<double>(best) / places;
    return cut;
  }

  const std::vector<PlacedField>& fields_;
  std::map<std::pair<int, int>, Cut> cuts_;
};

/// A stitch of a block that is cut.
struct Link {
  size_t row = 0;
  std::vector<int> holders;  ///< Fields that hold both ends.
  int owner = 0;
  double length_mm = 0;
};

class Assigner {
 public:
  Assigner(const Pattern& pattern, const std::vector<Block>& blocks,
           const std::vector<PlacedField>& fields)
      : pattern_(pattern),
        blocks_(blocks),
        fields_(fields),
        cutter_(pattern, fields),
        label_(pattern.stitches.size(), -1),
        home_(blocks.size(), -1) {}

  Assignment run() {
    out_.cut_block.assign(blocks_.size(), false);
    for (size_t b = 0; b < blocks_.size(); ++b)
      holders_.push_back(fieldsHolding(blocks_[b].bounds));
    for (size_t b = 0; b < blocks_.size(); ++b)
      if (holders_[b].empty()) cut(b);
    collectOverlaps();
    chooseOrder();
    finish();
    return std::move(out_);
  }

 private:
  std::vector<int> fieldsHolding(const Box& box) const {
    std::vector<int> out;
    for (size_t f = 0; f < fields_.size(); ++f)
      if (fields_[f].box.grown(kSame_mm).contains(box)) out.push_back(static_cast<int>(f));
    return out;
  }

  std::vector<Link> linksOf(const Block& block) const {
    std::vector<Link> links;
    NeedleWalk walk;
    for (size_t row = block.first; row < block.last; ++row) {
      const NeedleWalk::Step step = walk.next(pattern_.stitches[row]);
      if (pattern_.stitches[row].op != Op::Stitch) continue;
      Box box;
      box.add(step.from);
      box.add(pattern_.stitches[row].at);
      Link link{row, fieldsHolding(box.grown(kEdge_mm)), 0,
                distance(step.from, pattern_.stitches[row].at)};
      if (link.holders.empty()) link.holders = fieldsHolding(box);
      if (link.holders.empty()) link.holders = {nearestField(box.centre())};
      link.owner = cutter_.owner(box.centre(), link.holders);
      links.push_back(std::move(link));
    }
    return links;
  }

  int nearestField(Point p) const {
    int best = 0;
    double least = INFINITY;
    for (size_t f = 0; f < fields_.size(); ++f) {
      const Box& b = fields_[f].box;
      const double d = std::max({b.left - p.x, p.x - b.right, b.top - p.y, p.y - b.bottom});
      if (d < least) least = d, best = static_cast<int>(f);
    }
    return best;
  }

  /// Fewest changes of hooping along the thread, each as near the cut line as it goes: the least
  /// sum of change costs and of stitches on the wrong side, by dynamic programming.
  void cut(size_t index) {
    constexpr double kChange = 2.0, kWrongSide = 0.4;
    const size_t before_cut = out_.cut_stitches;
    const std::vector<Link> links = linksOf(blocks_[index]);
    const size_t n = fields_.size();
    std::vector<std::vector<int>> from(links.size(), std::vector<int>(n, -1));
    std::vector<double> cost(n, INFINITY);
    for (size_t k = 0; k < links.size(); ++k) {
      const auto cheapest = std::min_element(cost.begin(), cost.end());
      const double base = k == 0 ? 0 : *cheapest;
      const int baseField = static_cast<int>(cheapest - cost.begin());
      std::vector<double> next(n, INFINITY);
      for (int f : links[k].holders) {
        const auto i = static_cast<size_t>(f);
        const double stay = k == 0 ? 0 : cost[i], change = base + (k == 0 ? 0 : kChange);
        next[i] = std::min(stay, change) + (f == links[k].owner ? 0 : kWrongSide);
        from[k][i] = stay <= change ? f : baseField;
      }
      cost = std::move(next);
    }
    if (links.empty()) return;
    int f = static_cast<int>(std::min_element(cost.begin(), cost.end()) - cost.begin());
    for (size_t k = links.size(); k-- > 0;) {
      label_[links[k].row] = f;
      const int before = from[k][static_cast<size_t>(f)];
      if (k > 0 && before != f) out_.cut_stitches += 1;
      f = before;
    }
    out_.cut_block[index] = out_.cut_stitches > before_cut;
  }

  void collectOverlaps() {
    under_.resize(blocks_.size());
    for (const auto& [low, high] : overlappingBlocks(pattern_, blocks_))
      under_[static_cast<size_t>(high)].push_back(low);
  }

  /// Fields that sew something of the block where `over` lies. What is cut does not depend on the
  /// order of hoopings, so it is looked up once.
  std::vector<int> partsOf(size_t block, size_t over) {
    if (home_[block] >= 0) return {home_[block]};
    const auto [it, fresh] = parts_.try_emplace({block, over});
    if (!fresh) return it->second;
    const Box near = blocks_[over].bounds.grown(1);
    for (size_t row = blocks_[block].first; row < blocks_[block].last; ++row)
      if (label_[row] >= 0 && near.contains(pattern_.stitches[row].at) &&
          std::find(it->second.begin(), it->second.end(), label_[row]) == it->second.end())
        it->second.push_back(label_[row]);
    return it->second;
  }

  /// Gives every whole block a home under this order; counts overlaps that come out reversed.
  size_t settle(const std::vector<int>& order) {
    std::vector<int> position(order.size());
    for (size_t i = 0; i < order.size(); ++i)
      position[static_cast<size_t>(order[i])] = static_cast<int>(i);
    std::map<uint16_t, std::vector<int>> ofPiece;
    std::fill(home_.begin(), home_.end(), -1);
    size_t reversed = 0;
    for (size_t b = 0; b < blocks_.size(); ++b) {
      int earliest = 0;
      for (int low : under_[b])
        for (int part : partsOf(static_cast<size_t>(low), b))
          earliest = std::max(earliest, position[static_cast<size_t>(part)]);
      if (holders_[b].empty()) {
        for (int part : partsOf(b, b)) reversed += position[static_cast<size_t>(part)] < earliest;
        continue;
      }
      home_[b] = choose(b, earliest, position, ofPiece[blocks_[b].piece]);
      ofPiece[blocks_[b].piece].push_back(home_[b]);
      reversed += position[static_cast<size_t>(home_[b])] < earliest;
    }
    return reversed;
  }

  int choose(size_t b, int earliest, const std::vector<int>& position,
             const std::vector<int>& pieceHomes) const {
    auto rank = [&](int f) {
      const int p = position[static_cast<size_t>(f)];
      const bool mates = blocks_[b].piece != 0 &&
                         std::find(pieceHomes.begin(), pieceHomes.end(), f) != pieceHomes.end();
      const bool owner = f == cutter_.owner(blocks_[b].bounds.centre(), holders_[b]);
      // never turned over, then with its piece, then on its side of the cut
      return std::tuple(p >= earliest ? 0 : 1, mates ? 0 : 1, owner ? 0 : 1, p);
    };
    return *std::min_element(holders_[b].begin(), holders_[b].end(),
                             [&](int a, int c) { return rank(a) < rank(c); });
  }

  /// Length of the way between hoopings: neighbours after one another keep the cloth flat.
  double wayLength(const std::vector<int>& order) const {
    double sum = 0;
    for (size_t i = 1; i < order.size(); ++i)
      sum += distance(fields_[static_cast<size_t>(order[i - 1])].box.centre(),
                      fields_[static_cast<size_t>(order[i])].box.centre());
    return sum;
  }

  void chooseOrder() {
    std::vector<int> order = rowByRow();
    auto score = [&](const std::vector<int>& o) {
      return static_cast<double>(settle(o)) * 1e6 + wayLength(o);
    };
    out_.order = order;
    double best = score(order);
    auto consider = [&](const std::vector<int>& o) {
      if (const double s = score(o); s < best) best = s, out_.order = o;
    };
    if (static_cast<int>(order.size()) <= kTryAllOrdersUpTo) {
      std::sort(order.begin(), order.end());
      do consider(order);
      while (std::next_permutation(order.begin(), order.end()));
    } else {
      improveBySwaps(order, consider);
    }
    out_.overturned = settle(out_.order);
  }

  template <class Consider>
  void improveBySwaps(std::vector<int> order, Consider&& consider) {
    std::vector<int> back(order.rbegin(), order.rend());
    consider(back);
    for (size_t i = 0; i < order.size(); ++i)
      for (size_t j = i + 1; j < order.size(); ++j) {
        std::vector<int> swapped = out_.order;
        std::swap(swapped[i], swapped[j]);
        consider(swapped);
      }
  }

  std::vector<int> rowByRow() const {
    std::vector<int> order(fields_.size());
    std::iota(order.begin(), order.end(), 0);
    std::sort(order.begin(), order.end(), [&](int a, int b) {
      const Point p = fields_[static_cast<size_t>(a)].box.centre(),
                  q = fields_[static_cast<size_t>(b)].box.centre();
      const double half = fields_[static_cast<size_t>(a)].box.height() / 2;
      return std::abs(p.y - q.y) > half ? p.y < q.y : p.x < q.x;
    });
    return order;
  }

  void finish() {
    std::vector<int> position(fields_.size());
    for (size_t i = 0; i < out_.order.size(); ++i)
      position[static_cast<size_t>(out_.order[i])] = static_cast<int>(i);
    out_.row_hooping.assign(pattern_.stitches.size(), -1);
    for (size_t b = 0; b < blocks_.size(); ++b)
      for (size_t row = blocks_[b].first; row < blocks_[b].last; ++row) {
        if (pattern_.stitches[row].op != Op::Stitch) continue;
        const int f = home_[b] >= 0 ? home_[b] : label_[row];
        if (f >= 0) out_.row_hooping[row] = position[static_cast<size_t>(f)];
      }
  }

  const Pattern& pattern_;
  const std::vector<Block>& blocks_;
  const std::vector<PlacedField>& fields_;
  Cutter cutter_;
  std::vector<int> label_;                 // per row, of cut blocks
  std::vector<int> home_;                  // per block, of whole ones
  std::vector<std::vector<int>> holders_;  // per block
  std::vector<std::vector<int>> under_;    // per block, earlier blocks that it lies on
  std::map<std::pair<size_t, size_t>, std::vector<int>> parts_;  // of cut blocks, by what lies over
  Assignment out_;
};

}  // namespace

Assignment assignBlocks(const Pattern& pattern, const std::vector<Block>& blocks,
                        const std::vector<PlacedField>& fields) {
  return Assigner(pattern, blocks, fields).run();
}

}  // namespace rt
