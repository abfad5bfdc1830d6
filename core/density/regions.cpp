#include "regions.h"

#include <algorithm>
#include <bitset>

namespace rt {
namespace {

constexpr int kTile = DensityMap::kTile;

struct Sample {
  DensityMap::Key tile;
  int x = 0, y = 0;
};

class Flood {
 public:
  Flood(const DensityMap& map, Measure measure, const LimitAt& limit)
      : map_(map), measure_(measure), limit_(limit) {}

  std::vector<Region> run() {
    for (const DensityMap::Key& key : map_.keys()) marks_[key] = marked(key);
    std::vector<Region> regions;
    for (const DensityMap::Key& key : map_.keys())
      for (int i = 0; i < kTile * kTile; ++i)
        if (marks_[key].test(static_cast<size_t>(i)))
          regions.push_back(fill({key, i % kTile, i / kTile}));
    std::stable_sort(regions.begin(), regions.end(), [](const Region& a, const Region& b) {
      return a.peak / a.limit_at_peak > b.peak / b.limit_at_peak;
    });
    return regions;
  }

 private:
  using Marks = std::bitset<kTile * kTile>;

  double value(const Sample& s) const {
    const DensityMap::Tile& tile = *map_.tile(s.tile);
    const auto i = static_cast<size_t>(s.y * kTile + s.x);
    return (measure_ == Measure::Thread ? tile.thread_mm[i] : tile.holes[i]) / kDisc_mm2;
  }
  Point place(const Sample& s) const {
    return map_.lattice().sample(static_cast<int64_t>(s.tile.first) * kTile + s.x,
                                 static_cast<int64_t>(s.tile.second) * kTile + s.y);
  }

  Marks marked(const DensityMap::Key& key) const {
    Marks marks;
    for (int i = 0; i < kTile * kTile; ++i) {
      const Sample s{key, i % kTile, i / kTile};
      const double v = value(s);
      if (v > 0 && v > limit_(place(s))) marks.set(static_cast<size_t>(i));
    }
    return marks;
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
      const double v = value(s);
      const Point at = place(s);
      sum += v;
      count += 1;
      region.bounds.add(Box{at.x - half, at.y - half, at.x + half, at.y + half});
      if (v > region.peak) {
        region.peak = v;
        region.peak_at = at;
      }
      for (int dy = -1; dy <= 1; ++dy)
        for (int dx = -1; dx <= 1; ++dx) {
          const Sample next = stepped(s, dx, dy);
          if (unmark(next)) open.push_back(next);
        }
    }
    region.mean = sum / static_cast<double>(count);
    region.area_mm2 = static_cast<double>(count) * 4 * half * half;
    region.limit_at_peak = limit_(region.peak_at);
    return region;
  }

  static Sample stepped(Sample s, int dx, int dy) {
    s.x += dx;
    s.y += dy;
    if (s.x < 0) s.x += kTile, s.tile.first -= 1;
    if (s.x >= kTile) s.x -= kTile, s.tile.first += 1;
    if (s.y < 0) s.y += kTile, s.tile.second -= 1;
    if (s.y >= kTile) s.y -= kTile, s.tile.second += 1;
    return s;
  }

  /// True if the sample was still marked.
  bool unmark(const Sample& s) {
    const auto found = marks_.find(s.tile);
    const auto i = static_cast<size_t>(s.y * kTile + s.x);
    if (found == marks_.end() || !found->second.test(i)) return false;
    found->second.reset(i);
    return true;
  }

  const DensityMap& map_;
  Measure measure_;
  const LimitAt& limit_;
  struct Hash {
    size_t operator()(const DensityMap::Key& k) const {
      return std::hash<int64_t>()((static_cast<int64_t>(k.first) << 32) ^
                                  static_cast<uint32_t>(k.second));
    }
  };
  std::unordered_map<DensityMap::Key, Marks, Hash> marks_;
};

}  // namespace

std::vector<Region> regionsOver(const DensityMap& map, Measure measure, const LimitAt& limit) {
  return Flood(map, measure, limit).run();
}

}  // namespace rt
