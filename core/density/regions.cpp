#include "regions.h"

#include <algorithm>
#include <bitset>
#include <map>

namespace rt {
namespace {

constexpr int kTile = DensityMap::kTile;

using Marks = std::bitset<kTile * kTile>;

/// A tile and those of its samples that are over the limit and not in a region yet.
struct MarkedTile {
  DensityMap::Key key;
  const DensityMap::Tile* tile = nullptr;
  Marks marks;
};

struct Sample {
  size_t tile = 0;
  int x = 0, y = 0;
};

class Flood {
 public:
  Flood(const DensityMap& map, Measure measure, const LimitAt& limit)
      : map_(map), measure_(measure), limit_(limit) {}

  std::vector<Region> run() {
    for (const DensityMap::Key& key : map_.keys()) mark(key);
    std::vector<Region> regions;
    for (size_t t = 0; t < tiles_.size(); ++t)
      for (size_t i = 0; tiles_[t].marks.any() && i < kTile * kTile; ++i)
        if (tiles_[t].marks.test(i))
          regions.push_back(fill({t, static_cast<int>(i % kTile), static_cast<int>(i / kTile)}));
    std::stable_sort(regions.begin(), regions.end(), [](const Region& a, const Region& b) {
      return a.peak / a.limit_at_peak > b.peak / b.limit_at_peak;
    });
    return regions;
  }

 private:
  double value(const MarkedTile& t, size_t i) const {
    return (measure_ == Measure::Thread ? t.tile->thread_mm[i] : t.tile->holes[i]) / kDisc_mm2;
  }
  Point place(const DensityMap::Key& key, int x, int y) const {
    return map_.lattice().sample(static_cast<int64_t>(key.first) * kTile + x,
                                 static_cast<int64_t>(key.second) * kTile + y);
  }

  void mark(const DensityMap::Key& key) {
    MarkedTile t{key, map_.tile(key), {}};
    for (size_t i = 0; i < kTile * kTile; ++i) {
      const double v = value(t, i);
      if (v > 0 && v > limit_(place(key, static_cast<int>(i % kTile), static_cast<int>(i / kTile))))
        t.marks.set(i);
    }
    if (t.marks.none()) return;
    index_[key] = tiles_.size();
    tiles_.push_back(t);
  }

  Region fill(Sample seed) {
    Region region;
    double sum = 0;
    size_t count = 0;
    const double half = map_.lattice().cell_mm / 2;
    std::vector<Sample> open{seed};
    unmark(seed);
    while (!open.empty()) {
      const Sample s = open.back();
      open.pop_back();
      const double v = value(tiles_[s.tile], static_cast<size_t>(s.y * kTile + s.x));
      const Point at = place(tiles_[s.tile].key, s.x, s.y);
      sum += v;
      count += 1;
      region.bounds.add(Box{at.x - half, at.y - half, at.x + half, at.y + half});
      if (v > region.peak) {
        region.peak = v;
        region.peak_at = at;
      }
      for (int dy = -1; dy <= 1; ++dy)
        for (int dx = -1; dx <= 1; ++dx)
          if (Sample next = s; step(next, dx, dy) && unmark(next)) open.push_back(next);
    }
    region.mean = sum / static_cast<double>(count);
    region.area_mm2 = static_cast<double>(count) * 4 * half * half;
    region.limit_at_peak = limit_(region.peak_at);
    return region;
  }

  /// False where no marked tile lies.
  bool step(Sample& s, int dx, int dy) const {
    s.x += dx;
    s.y += dy;
    if (s.x >= 0 && s.x < kTile && s.y >= 0 && s.y < kTile) return true;
    DensityMap::Key key = tiles_[s.tile].key;
    if (s.x < 0) s.x += kTile, key.first -= 1;
    if (s.x >= kTile) s.x -= kTile, key.first += 1;
    if (s.y < 0) s.y += kTile, key.second -= 1;
    if (s.y >= kTile) s.y -= kTile, key.second += 1;
    const auto found = index_.find(key);
    if (found == index_.end()) return false;
    s.tile = found->second;
    return true;
  }

  /// True if the sample was still marked.
  bool unmark(const Sample& s) {
    const auto i = static_cast<size_t>(s.y * kTile + s.x);
    const bool was = tiles_[s.tile].marks.test(i);
    tiles_[s.tile].marks.reset(i);
    return was;
  }

  const DensityMap& map_;
  Measure measure_;
  const LimitAt& limit_;
  std::vector<MarkedTile> tiles_;
  std::map<DensityMap::Key, size_t> index_;
};

}  // namespace

std::vector<Region> regionsOver(const DensityMap& map, Measure measure, const LimitAt& limit) {
  return Flood(map, measure, limit).run();
}

}  // namespace rt
