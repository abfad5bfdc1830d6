#include "cut_thread.h"

#include <algorithm>

#include "overlap.h"

namespace rt {
namespace {

constexpr double kCell_mm = 0.8;
// Costs of one stitch, in cuts of half a stitch: shop practice, few cuts before straight seams.
constexpr double kChange = 2.0, kWrongSide = 0.4, kWrongSideOfSatin = 0.1, kOutOfOrder = 40;

int64_t key(long x, long y) {
  return (static_cast<int64_t>(y) << 32) ^ static_cast<uint32_t>(x);
}

double wrongSide(const Link& link, int field, const SeamPaths& paths,
                 const std::vector<int>& order) {
  if (link.holders.size() < 2) return 0;
  const double bias = link.kind == Kind::Underlay ? paths.rule().underlay_beyond_mm : 0;
  if (paths.owner(mix(link.from, link.to, 0.5), link.holders, order, bias) == field) return 0;
  return link.kind == Kind::Satin ? kWrongSideOfSatin : kWrongSide;
}

}  // namespace

template <class Use>
void SewnLayers::eachCell(Point a, Point b, Use&& use) {
  const int parts = static_cast<int>(distance(a, b) / (kCell_mm / 2)) + 1;
  int64_t last[4] = {-1, -1, -1, -1};
  for (int k = 0; k <= parts; ++k) {
    const Point p = mix(a, b, static_cast<double>(k) / parts);
    for (int corner = 0; corner < 4; ++corner) {
      const double reach = kThreadWidth_mm / 2;
      const int64_t at =
          key(std::lround(std::floor((p.x + (corner % 2 ? reach : -reach)) / kCell_mm)),
              std::lround(std::floor((p.y + (corner / 2 ? reach : -reach)) / kCell_mm)));
      if (std::find(last, last + corner, at) != last + corner) continue;
      if (last[corner] == at) continue;
      last[corner] = at;
      use(at);
    }
  }
}

void SewnLayers::add(Point a, Point b, size_t layer, int place) {
  eachCell(a, b, [&](int64_t cell) {
    auto& entries = cells_[cell];
    for (const Entry& e : entries)
      if (e.layer == layer && e.place == place) return;
    entries.push_back({layer, place});
  });
}

SewnLayers::Range SewnLayers::range(Point a, Point b, size_t layer) const {
  Range r;
  eachCell(a, b, [&](int64_t cell) {
    const auto it = cells_.find(cell);
    if (it == cells_.end()) return;
    for (const Entry& e : it->second) {
      if (e.layer < layer) r.soonest = std::max(r.soonest, e.place);
      if (e.layer > layer) r.latest = std::min(r.latest, e.place);
    }
  });
  return r;
}

std::vector<int> partLinks(std::span<const Link> links, const SeamPaths& paths,
                           const SewnLayers& layers, const std::vector<int>& order) {
  std::vector<std::vector<int>> from(
      links.size());  // per link and holder: field of the link before
  std::vector<double> cost;
  const size_t layer = links.empty() ? 0 : links.front().row;
  for (size_t k = 0; k < links.size(); ++k) {
    const Link& link = links[k];
    const SewnLayers::Range allowed =
        link.holders.size() > 1 ? layers.range(link.from, link.to, layer) : SewnLayers::Range{};
    std::vector<double> next;
    const auto cheapest = std::min_element(cost.begin(), cost.end());
    for (int f : link.holders) {
      double stay = INFINITY, change = 0;
      int before = -1;
      if (k > 0) {
        const std::vector<int>& held = links[k - 1].holders;
        const auto same = std::find(held.begin(), held.end(), f);
        if (same != held.end()) stay = cost[static_cast<size_t>(same - held.begin())];
        change = *cheapest + kChange;
        before = stay <= change ? f : held[static_cast<size_t>(cheapest - cost.begin())];
      }
      const int place = order[static_cast<size_t>(f)];
      double here = wrongSide(link, f, paths, order);
      if (place < allowed.soonest || place > allowed.latest) here += kOutOfOrder;
      next.push_back((k > 0 ? std::min(stay, change) : 0) + here);
      from[k].push_back(before);
    }
    cost = std::move(next);
  }
  std::vector<int> fields(links.size(), -1);
  if (links.empty()) return fields;
  int f =
      links.back()
          .holders[static_cast<size_t>(std::min_element(cost.begin(), cost.end()) - cost.begin())];
  for (size_t k = links.size(); k-- > 0;) {
    fields[k] = f;
    const auto& held = links[k].holders;
    f = from[k][static_cast<size_t>(std::find(held.begin(), held.end(), f) - held.begin())];
  }
  return fields;
}

}  // namespace rt
