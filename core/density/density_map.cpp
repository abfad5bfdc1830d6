#include "density_map.h"

#include <algorithm>
#include <cassert>
#include <cmath>

namespace rt {
namespace {

constexpr int kTile = DensityMap::kTile;

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

struct Range {
  double low, high;
  /// Keeps what lies where base + slope·x is in [from, to].
  void clip(double base, double slope, double from, double to) {
    if (std::abs(slope) < 1e-12) {
      if (base < from || base > to) high = low - 1;
      return;
    }
    const double a = (from - base) / slope, b = (to - base) / slope;
    low = std::max(low, std::min(a, b));
    high = std::min(high, std::max(a, b));
  }
};

int32_t tileOf(int64_t sample) {
  return static_cast<int32_t>(sample >= 0 ? sample / kTile : -((-sample + kTile - 1) / kTile));
}

}  // namespace

/// Adds segments and holes to a map, asking for each tile once while it stays the same.
class MapFiller {
 public:
  explicit MapFiller(DensityMap& map) : map_(map) {}

  void addSegment(Point a, Point b) {
    const double len = distance(a, b);
    if (len <= 0) return;
    const Point way = (b - a) * (1 / len);
    const auto [first, last] = rowRange(std::min(a.y, b.y), std::max(a.y, b.y));
    const double cell = map_.lattice_.cell_mm;
    for (int64_t row = first; row <= last; ++row) {
      const double dy = map_.lattice_.sample(0, row).y - a.y;
      // x relative to a: the samples where the disc reaches the segment's strip
      Range x{std::min(a.x, b.x) - a.x - kDisc_mm, std::max(a.x, b.x) - a.x + kDisc_mm};
      x.clip(dy * way.x, -way.y, -kDisc_mm, kDisc_mm);
      x.clip(dy * way.y, way.x, -kDisc_mm, len + kDisc_mm);
      const auto [from, to] = columnRange(a.x + x.low, a.x + x.high);
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
    return {static_cast<int64_t>(std::ceil((top - kDisc_mm - l.origin.y) / l.cell_mm - 0.5)),
            static_cast<int64_t>(std::floor((bottom + kDisc_mm - l.origin.y) / l.cell_mm - 0.5))};
  }
  Bounds columnRange(double left, double right) const {
    const Lattice& l = map_.lattice_;
    return {static_cast<int64_t>(std::ceil((left - l.origin.x) / l.cell_mm - 0.5)),
            static_cast<int64_t>(std::floor((right - l.origin.x) / l.cell_mm - 0.5))};
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
  DensityMap::Key lastKey_{};
  DensityMap::Tile* last_ = nullptr;
};

void DensityMap::add(const Pattern& pattern) {
  MapFiller filler(*this);
  forEachSegment(pattern, [&](Point a, Point b, size_t) { filler.addSegment(a, b); });
  for (const Stitch& stitch : pattern.stitches)
    if (stitch.op == Op::Stitch) filler.addHole(stitch.at);
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
