#include "density_map.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <thread>

namespace rt {
namespace {

constexpr int kTile = DensityMap::kTile;
constexpr size_t kWorthThreads = 20000;  // stitches from which a second thread pays

/// Length of the segment inside the disc of radius 1 around the origin of (u, v), where u runs
/// along the segment from its start and v across it: the chord [u-h, u+h] cut to [0, length].
inline float insideDisc(float u, float v, float length_mm) {
  const float h = std::sqrt(std::max(0.0f, 1.0f - v * v));
  return std::max(0.0f, std::min(length_mm, u + h) - std::max(0.0f, u - h));
}

#if defined(__x86_64__) && defined(__GNUC__) && !defined(__clang__) && !defined(RT_SANITIZE)
#define RT_WIDE __attribute__((target_clones("avx2", "default")))  // eight samples at a time
#else
#define RT_WIDE
#endif

/// Adds one row of samples. (u, v) belong to the first sample, (du, dv) lead to the next.
RT_WIDE void addRow(float* cells, int count, float u, float v, float du, float dv,
                    float length_mm) {
  for (int i = 0; i < count; ++i) {
    const float k = static_cast<float>(i);
    cells[i] += insideDisc(u + k * du, v + k * dv, length_mm);
  }
}

/// Whole number below or at x; the library's floor is a call on older processors.
inline int64_t floorOf(double x) {
  const auto i = static_cast<int64_t>(x);
  return i - (x < static_cast<double>(i));
}

inline int64_t ceilOf(double x) {
  return -floorOf(-x);
}

int32_t tileOf(int64_t sample) {
  return static_cast<int32_t>(sample >> 6);  // kTile is 64; shifts round down below 0 too
}
static_assert(kTile == 64);

/// Where base + slope·x stays within reach of [from, to], as x = offset + dy·lean ± half.
struct Strip {
  double low = -INFINITY, high = INFINITY, lean = 0;
  /// x·slope + dy·other within [from, to].
  Strip(double slope, double other, double from, double to) {
    if (std::abs(slope) < 1e-9) return;  // level with the row: no bound from this side
    low = std::min(from / slope, to / slope);
    high = std::max(from / slope, to / slope);
    lean = -other / slope;
  }
};

}  // namespace

/// Adds segments and holes to a map, asking for each tile once while it stays the same.
class MapFiller {
 public:
  explicit MapFiller(DensityMap& map) : map_(map), perCell_(1 / map.lattice_.cell_mm) {}

  void addSegment(Point a, Point b) {
    const double len = distance(a, b);
    if (len <= 0) return;
    const Point way = (b - a) * (1 / len);
    const auto [first, last] = rowRange(std::min(a.y, b.y), std::max(a.y, b.y));
    const double cell = map_.lattice_.cell_mm, reach = kDisc_mm;
    const Strip along(way.x, way.y, -reach, len + reach), across(-way.y, way.x, -reach, reach);
    const double left = std::min(0.0, b.x - a.x) - reach, right = std::max(0.0, b.x - a.x) + reach;
    for (int64_t row = first; row <= last; ++row) {
      const double dy = map_.lattice_.sample(0, row).y - a.y;
      // x relative to a: the samples where the disc reaches the segment
      const double from_x =
          std::max({left, along.low + dy * along.lean, across.low + dy * across.lean});
      const double to_x =
          std::min({right, along.high + dy * along.lean, across.high + dy * across.lean});
      if (from_x > to_x) continue;
      const auto [from, to] = columnRange(a.x + from_x, a.x + to_x);
      forTiles(row, from, to, [&](DensityMap::Tile& tile, int offset, int64_t column, int count) {
        const double dx = map_.lattice_.sample(column, row).x - a.x;
        addRow(tile.thread_mm.data() + offset, count, static_cast<float>(dx * way.x + dy * way.y),
               static_cast<float>(dy * way.x - dx * way.y), static_cast<float>(cell * way.x),
               static_cast<float>(-cell * way.y), static_cast<float>(len));
      });
    }
  }

  void addHole(Point p) {
    const auto [first, last] = rowRange(p.y, p.y);
    for (int64_t row = first; row <= last; ++row) {
      const double dy = map_.lattice_.sample(0, row).y - p.y;
      const double left = kDisc_mm * kDisc_mm - dy * dy;
      if (left < 0) continue;
      const double half = std::sqrt(left);
      const auto [from, to] = columnRange(p.x - half, p.x + half);
      forTiles(row, from, to, [](DensityMap::Tile& tile, int offset, int64_t, int count) {
        for (int i = 0; i < count; ++i) tile.holes[offset + i] += 1;
      });
    }
  }

 private:
  using Bounds = std::pair<int64_t, int64_t>;

  /// Rows whose samples lie within a disc's radius of [top, bottom].
  Bounds rowRange(double top, double bottom) const {
    const Lattice& l = map_.lattice_;
    return {ceilOf((top - kDisc_mm - l.origin.y) * perCell_ - 0.5),
            floorOf((bottom + kDisc_mm - l.origin.y) * perCell_ - 0.5)};
  }
  Bounds columnRange(double left, double right) const {
    const Lattice& l = map_.lattice_;
    return {ceilOf((left - l.origin.x) * perCell_ - 0.5),
            floorOf((right - l.origin.x) * perCell_ - 0.5)};
  }

  template <class Use>
  void forTiles(int64_t row, int64_t from, int64_t to, Use&& use) {
    const int32_t tileRow = tileOf(row);
    const int inRow = static_cast<int>(row - static_cast<int64_t>(tileRow) * kTile) * kTile;
    while (from <= to) {
      const int32_t tileColumn = tileOf(from);
      const int64_t start = static_cast<int64_t>(tileColumn) * kTile;
      const int64_t end = std::min(to, start + kTile - 1);
      use(tile({tileColumn, tileRow}), inRow + static_cast<int>(from - start), from,
          static_cast<int>(end - from + 1));
      from = end + 1;
    }
  }

  DensityMap::Tile& tile(DensityMap::Key key) {
    if (!last_ || key != lastKey_) {
      auto& slot = map_.tiles_[key];
      if (!slot) slot = std::make_unique<DensityMap::Tile>();
      last_ = slot.get();
      lastKey_ = key;
    }
    return *last_;
  }

  DensityMap& map_;
  double perCell_;
  DensityMap::Key lastKey_{};
  DensityMap::Tile* last_ = nullptr;
};

void DensityMap::add(const Pattern& pattern) {
  struct Segment {
    Point a, b;
    bool sewn;
  };
  std::vector<Segment> needle;  // one a needle point, with the thread that leads to it
  needle.reserve(pattern.stitches.size());
  NeedleWalk walk;
  for (const Stitch& s : pattern.stitches) {
    const NeedleWalk::Step step = walk.next(s);
    if (s.op == Op::Stitch) needle.push_back({step.from, s.at, step.sewn});
  }
  auto fill = [&](DensityMap& map, size_t from, size_t to) {
    MapFiller filler(map);
    for (size_t i = from; i < to; ++i) {
      if (needle[i].sewn) filler.addSegment(needle[i].a, needle[i].b);
      filler.addHole(needle[i].b);
    }
  };
  if (needle.size() < kWorthThreads || std::thread::hardware_concurrency() < 2)
    return fill(*this, 0, needle.size());
  // two halves side by side; sewing goes from place to place, so their tiles are mostly different
  DensityMap second(lattice_);
  std::thread helper([&] { fill(second, needle.size() / 2, needle.size()); });
  fill(*this, 0, needle.size() / 2);
  helper.join();
  for (auto& [key, tile] : second.tiles_)
    if (!tiles_.count(key)) tiles_[key] = std::move(tile);
  std::erase_if(second.tiles_, [](const auto& t) { return !t.second; });
  add(second);
}

void DensityMap::add(const DensityMap& other, float sign) {
  assert(lattice_ == other.lattice_);
  for (const auto& [key, tile] : other.tiles_) {
    auto& slot = tiles_[key];
    if (!slot) slot = std::make_unique<Tile>();
    for (int i = 0; i < kTile * kTile; ++i) {
      slot->thread_mm[i] += sign * tile->thread_mm[i];
      slot->holes[i] += sign * tile->holes[i];
    }
  }
}

const DensityMap::Tile* DensityMap::tile(Key key) const {
  const auto found = tiles_.find(key);
  return found == tiles_.end() ? nullptr : found->second.get();
}

std::vector<DensityMap::Key> DensityMap::keys() const {
  std::vector<Key> all;
  all.reserve(tiles_.size());
  for (const auto& [key, tile] : tiles_) all.push_back(key);
  std::sort(all.begin(), all.end(), [](const Key& a, const Key& b) {
    return std::pair(a.second, a.first) < std::pair(b.second, b.first);
  });
  return all;
}

double DensityMap::density(int64_t column, int64_t row) const {
  const Key key{tileOf(column), tileOf(row)};
  const Tile* found = tile(key);
  if (!found) return 0;
  const int64_t i = column - static_cast<int64_t>(key.first) * kTile;
  const int64_t j = row - static_cast<int64_t>(key.second) * kTile;
  return found->thread_mm[static_cast<size_t>(j * kTile + i)] / kDisc_mm2;
}

double DensityMap::holes(int64_t column, int64_t row) const {
  const Key key{tileOf(column), tileOf(row)};
  const Tile* found = tile(key);
  if (!found) return 0;
  const int64_t i = column - static_cast<int64_t>(key.first) * kTile;
  const int64_t j = row - static_cast<int64_t>(key.second) * kTile;
  return found->holes[static_cast<size_t>(j * kTile + i)] / kDisc_mm2;
}

double densityAt(const Pattern& pattern, Point p) {
  double sum = 0;
  forEachSegment(pattern, [&](Point a, Point b, size_t) {
    const double len = distance(a, b);
    if (len <= 0) return;
    const Point way = (b - a) * (1 / len);
    const double u = dot(p - a, way), v = cross(way, p - a);
    const double inside = kDisc_mm * kDisc_mm - v * v;
    if (inside <= 0) return;
    const double h = std::sqrt(inside);
    sum += std::max(0.0, std::min(len, u + h) - std::max(0.0, u - h));
  });
  return sum / kDisc_mm2;
}

double holesAt(const Pattern& pattern, Point p) {
  size_t count = 0;
  for (const Stitch& stitch : pattern.stitches)
    count += stitch.op == Op::Stitch && distance(stitch.at, p) <= kDisc_mm;
  return static_cast<double>(count) / kDisc_mm2;
}

Frame frameFor(const Box& bounds, double cell_mm) {
  if (bounds.empty()) return {{{0, 0}, cell_mm}, 0, 0};
  const Box grown = bounds.grown(kDisc_mm);
  auto cells = [&](double mm) { return static_cast<int64_t>(std::ceil(mm / cell_mm - 1e-9)); };
  return {{{grown.left, grown.top}, cell_mm}, cells(grown.width()), cells(grown.height())};
}

DensitySummary summaryOf(const DensityMap& map) {
  DensitySummary sum;
  double total = 0;
  size_t covered = 0;
  for (const DensityMap::Key& key : map.keys()) {
    const DensityMap::Tile& tile = *map.tile(key);
    for (int i = 0; i < kTile * kTile; ++i) {
      const double density = tile.thread_mm[i] / kDisc_mm2;
      sum.peak_holes_per_mm2 = std::max(sum.peak_holes_per_mm2, tile.holes[i] / kDisc_mm2);
      if (density > sum.peak_mm_per_mm2) {
        sum.peak_mm_per_mm2 = density;
        sum.peak_at = map.lattice().sample(static_cast<int64_t>(key.first) * kTile + i % kTile,
                                           static_cast<int64_t>(key.second) * kTile + i / kTile);
      }
      if (density < kCovered_mm_per_mm2) continue;
      total += density;
      covered += 1;
    }
  }
  sum.covered_mm2 = static_cast<double>(covered) * map.lattice().cell_mm * map.lattice().cell_mm;
  sum.mean_mm_per_mm2 = covered > 0 ? total / static_cast<double>(covered) : 0;
  return sum;
}

}  // namespace rt
