#include "cover.h"

#include <algorithm>
#include <cstdint>

namespace rt {
namespace {

bool fits(const Box& box, const std::vector<FieldSize>& sizes) {
  return std::any_of(sizes.begin(), sizes.end(), [&](const FieldSize& s) {
    return box.width() <= s.width_mm + kSame_mm && box.height() <= s.height_mm + kSame_mm;
  });
}

/// Units that hold another are enough: who covers them covers it too.
std::vector<Box> essential(std::vector<Box> units) {
  std::sort(units.begin(), units.end(), [](const Box& a, const Box& b) {
    return a.width() * a.height() > b.width() * b.height();
  });
  std::vector<Box> kept;
  for (const Box& u : units)
    if (std::none_of(kept.begin(), kept.end(), [&](const Box& k) { return k.contains(u); }))
      kept.push_back(u);
  std::sort(kept.begin(), kept.end(), [](const Box& a, const Box& b) {
    return a.left != b.left ? a.left < b.left : a.top < b.top;
  });
  return kept;
}

class Search {
 public:
  Search(const std::vector<Box>& units, const std::vector<FieldSize>& sizes, int most_nodes)
      : units_(units), sizes_(sizes), nodesLeft_(most_nodes), covered_(units.size()) {}

  bool outOfNodes() const { return nodesLeft_ <= 0; }

  bool solve(int fields) {
    if (nodesLeft_-- <= 0) return false;
    const size_t first = firstOpen();
    if (first == units_.size()) return true;
    if (fields == 0 || independent(first) > fields) return false;
    for (const Choice& choice : choices(first)) {
      for (int u : choice.units) covered_[static_cast<size_t>(u)] += 1;
      chosen.push_back(choice.field);
      if (solve(fields - 1)) return true;
      chosen.pop_back();
      for (int u : choice.units) covered_[static_cast<size_t>(u)] -= 1;
      if (outOfNodes()) return false;
    }
    return false;
  }

  /// Always takes the choice that covers most; an upper bound.
  void greedy() {
    for (size_t first = firstOpen(); first < units_.size(); first = firstOpen()) {
      const Choice best = choices(first)[0];
      for (int u : best.units) covered_[static_cast<size_t>(u)] += 1;
      chosen.push_back(best.field);
    }
  }

  std::vector<PlacedField> chosen;

 private:
  struct Choice {
    PlacedField field;
    std::vector<int> units;  // open units that it covers
    double area = 0;
  };

  size_t firstOpen() const {
    return static_cast<size_t>(std::find(covered_.begin(), covered_.end(), 0) - covered_.begin());
  }

  int independent(size_t first) const {
    std::vector<Box> open;
    for (size_t u = first; u < units_.size(); ++u)
      if (covered_[u] == 0) open.push_back(units_[u]);
    return leastFields(open, sizes_);
  }

  std::vector<Choice> choices(size_t first) const {
    std::vector<Choice> all;
    const Box& unit = units_[first];
    for (const FieldSize& size : sizes_)
      for (double top : tops(unit, size)) {
        Choice c{{size, {unit.left, top, unit.left + size.width_mm, top + size.height_mm}}, {}, 0};
        const Box reach = c.field.box.grown(kSame_mm);
        for (size_t u = first; u < units_.size(); ++u)
          if (covered_[u] == 0 && reach.contains(units_[u])) {
            c.units.push_back(static_cast<int>(u));
            c.area += units_[u].width() * units_[u].height();
          }
        all.push_back(std::move(c));
      }
    std::stable_sort(all.begin(), all.end(), [](const Choice& a, const Choice& b) {
      return a.units.size() != b.units.size() ? a.units.size() > b.units.size() : a.area > b.area;
    });
    std::vector<Choice> kept;  // none that covers only part of what another does
    for (Choice& c : all)
      if (std::none_of(kept.begin(), kept.end(), [&](const Choice& k) {
            return std::includes(k.units.begin(), k.units.end(), c.units.begin(), c.units.end());
          }))
        kept.push_back(std::move(c));
    return kept;
  }

  /// Top edges worth trying: those of open units that could share the field with this one.
  std::vector<double> tops(const Box& unit, const FieldSize& size) const {
    std::vector<double> out;
    if (unit.width() > size.width_mm + kSame_mm || unit.height() > size.height_mm + kSame_mm)
      return out;
    out.push_back(unit.top);
    for (size_t u = 0; u < units_.size(); ++u) {
      const Box& o = units_[u];
      if (covered_[u] > 0 || o.left < unit.left || o.right > unit.left + size.width_mm + kSame_mm)
        continue;
      if (o.top <= unit.top && o.top + size.height_mm + kSame_mm >= unit.bottom)
        out.push_back(o.top);
    }
    std::sort(out.begin(), out.end());
    out.erase(std::unique(out.begin(), out.end()), out.end());
    return out;
  }

  const std::vector<Box>& units_;
  const std::vector<FieldSize>& sizes_;
  int nodesLeft_;
  std::vector<int> covered_;
};

}  // namespace

int leastFields(const std::vector<Box>& units, const std::vector<FieldSize>& sizes) {
  int most = 0;
  // four greedy sweeps from the sides; each picks units that no field holds with one picked before
  for (int sweep = 0; sweep < 4; ++sweep) {
    std::vector<const Box*> order;
    for (const Box& u : units) order.push_back(&u);
    std::stable_sort(order.begin(), order.end(), [&](const Box* a, const Box* b) {
      switch (sweep) {
        case 0:
          return a->left + a->top < b->left + b->top;
        case 1:
          return a->right - a->top > b->right - b->top;
        case 2:
          return a->left < b->left;
        default:
          return a->top < b->top;
      }
    });
    std::vector<Box> picked;
    for (const Box* u : order)
      if (std::none_of(picked.begin(), picked.end(), [&](Box p) {
            p.add(*u);
            return fits(p, sizes);
          }))
        picked.push_back(*u);
    most = std::max(most, static_cast<int>(picked.size()));
  }
  return most;
}

Cover coverBoxes(std::vector<Box> units, const std::vector<FieldSize>& sizes, int most_nodes) {
  units = essential(std::move(units));
  Cover cover;
  if (units.empty()) {
    cover.proven = true;
    return cover;
  }
  cover.lower_bound = leastFields(units, sizes);
  Search quick(units, sizes, most_nodes);
  quick.greedy();
  cover.fields = quick.chosen;
  while (cover.lower_bound < static_cast<int>(cover.fields.size())) {
    Search search(units, sizes, most_nodes);
    if (search.solve(cover.lower_bound)) {
      cover.fields = search.chosen;
      break;
    }
    if (search.outOfNodes()) return cover;
    cover.lower_bound += 1;
  }
  cover.proven = true;
  return cover;
}

}  // namespace rt
