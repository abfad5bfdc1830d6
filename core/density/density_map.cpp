#include "density_map.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>
#include <thread>

namespace rt {
namespace {

constexpr int kTile = DensityMap::kTile;
constexpr size_t kWorthThreads = 20000;  // stitches from which a second thread pays

#if defined(__x86_64__) && defined(__GNUC__) && !defined(__clang__) && !defined(RT_SANITIZE)
#define RT_WIDE __attribute__((target_clones("avx2", "default")))  // eight samples at a time
#else
#define RT_WIDE
#endif

constexpr int kLane = 8;  // samples that go through the processor together
static_assert(kTile % kLane == 0);
typedef float Lane __attribute__((vector_size(kLane * sizeof(float))));
typedef int32_t LaneMask __attribute__((vector_size(kLane * sizeof(int32_t))));

/// Where a box of samples lies against a segment: (u, v) of its first sample, where u runs along
/// the segment from its start and v across it, and the steps to the next column and the next row.
struct Slope {
  float u, v, uColumn, vColumn, uRow, vRow;
};

/// Adds to a box of samples, `lanes` groups of eight wide, the length of the segment inside the
/// disc of radius 1 around each: the chord [u-h, u+h] cut to [0, length]. Samples that do not reach
/// the segment get nothing, so that a box may be too large.
RT_WIDE void addChords(float* cells, int rows, int lanes, Slope s, float length_mm) {
  const Lane count{0, 1, 2, 3, 4, 5, 6, 7}, none{};
  for (int r = 0; r < rows; ++r) {
    float* at = cells + r * kTile;
    Lane u = s.u + static_cast<float>(r) * s.uRow + count * s.uColumn;
    Lane v = s.v + static_cast<float>(r) * s.vRow + count * s.vColumn;
    for (int lane = 0; lane < lanes; ++lane, at += kLane) {
      Lane h = 1.0f - v * v;
      h = h > none ? h : none;
      for (int i = 0; i < kLane; ++i) h[i] = __builtin_sqrtf(h[i]);
      Lane to = u + h, from = u - h, sum;
      to = to < length_mm ? to : none + length_mm;
      from = from > none ? from : none;
      const Lane inside = to - from;
      __builtin_memcpy(&sum, at, sizeof sum);
      sum += inside > none ? inside : none;
      __builtin_memcpy(at, &sum, sizeof sum);
      u += kLane * s.uColumn;
      v += kLane * s.vColumn;
    }
  }
}

/// Adds one to each sample whose disc holds the point; (dx, dy) leads from it to the first sample.
RT_WIDE void addPoint(float* cells, int rows, int lanes, float dx, float dy, float cell_mm) {
  const Lane count{0, 1, 2, 3, 4, 5, 6, 7};
  for (int r = 0; r < rows; ++r) {
    float* at = cells + r * kTile;
    const float y = dy + static_cast<float>(r) * cell_mm, left = 1.0f - y * y;
    Lane x = dx + count * cell_mm;
    for (int lane = 0; lane < lanes; ++lane, at += kLane) {
      Lane sum;
      __builtin_memcpy(&sum, at, sizeof sum);
      const LaneMask in = x * x <= left;  // -1 where it holds
      sum -= __builtin_convertvector(in, Lane);
      __builtin_memcpy(at, &sum, sizeof sum);
      x += kLane * cell_mm;
    }
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

}  // namespace

/// Adds segments and holes to a map, asking for each tile once while it stays the same.
class MapFiller {
 public:
  explicit MapFiller(DensityMap& map) : map_(map), perCell_(1 / map.lattice_.cell_mm) {}

  /// Long slanting segments go in parts: the box around each is little larger than its reach.
  void addSegment(Point a, Point b) {
    const double len = distance(a, b);
    if (len <= 0) return;
    const Point way = (b - a) * (1 / len);
    const bool slants = std::min(std::abs(way.x), std::abs(way.y)) > 0.2;
    const int parts = slants ? static_cast<int>(len / kPart_mm) + 1 : 1;
    for (int k = 0; k < parts; ++k)
      addPart(mix(a, b, static_cast<double>(k) / parts), way, len / parts);
  }

  void addHole(Point p) {
    const double cell = map_.lattice_.cell_mm;
    const Box box{p.x - kDisc_mm, p.y - kDisc_mm, p.x + kDisc_mm, p.y + kDisc_mm};
    forTiles(box, [&](DensityMap::Tile& tile, int offset, Point sample, int rows, int lanes) {
      addPoint(tile.holes.data() + offset, rows, lanes, static_cast<float>(sample.x - p.x),
               static_cast<float>(sample.y - p.y), static_cast<float>(cell));
    });
  }

 private:
  static constexpr double kPart_mm = 4;

  void addPart(Point a, Point way, double len) {
    const double cell = map_.lattice_.cell_mm;
    const Point b = a + way * len;
    const Box box{std::min(a.x, b.x) - kDisc_mm, std::min(a.y, b.y) - kDisc_mm,
                  std::max(a.x, b.x) + kDisc_mm, std::max(a.y, b.y) + kDisc_mm};
    forTiles(box, [&](DensityMap::Tile& tile, int offset, Point sample, int rows, int lanes) {
      const Point d = sample - a;
      addChords(tile.thread_mm.data() + offset, rows, lanes,
                {static_cast<float>(dot(d, way)), static_cast<float>(cross(way, d)),
                 static_cast<float>(cell * way.x), static_cast<float>(-cell * way.y),
                 static_cast<float>(cell * way.y), static_cast<float>(cell * way.x)},
                static_cast<float>(len));
    });
  }

  /// Calls `use` for each tile with the samples in the box, begun at a whole group of eight: the
  /// offset in the tile, the first sample's place, and how many rows and groups.
  template <class Use>
  void forTiles(const Box& box, Use&& use) {
    const Lattice& l = map_.lattice_;
    const int64_t left = ceilOf((box.left - l.origin.x) * perCell_ - 0.5);
    const int64_t right = floorOf((box.right - l.origin.x) * perCell_ - 0.5);
    const int64_t top = ceilOf((box.top - l.origin.y) * perCell_ - 0.5);
    const int64_t bottom = floorOf((box.bottom - l.origin.y) * perCell_ - 0.5);
    if (left > right || top > bottom) return;
    for (int32_t tileRow = tileOf(top); tileRow <= tileOf(bottom); ++tileRow) {
      const int64_t firstRow = static_cast<int64_t>(tileRow) * kTile;
      const int64_t row = std::max(top, firstRow), lastRow = std::min(bottom, firstRow + kTile - 1);
      for (int32_t tileColumn = tileOf(left); tileColumn <= tileOf(right); ++tileColumn) {
        const int64_t first = static_cast<int64_t>(tileColumn) * kTile;
        const int64_t from = (std::max(left, first) - first) / kLane;
        const int64_t to = (std::min(right, first + kTile - 1) - first) / kLane;
        use(tile({tileColumn, tileRow}), static_cast<int>((row - firstRow) * kTile + from * kLane),
            l.sample(first + from * kLane, row), static_cast<int>(lastRow - row + 1),
            static_cast<int>(to - from + 1));
      }
    }
  }

  /// A few tiles around the needle are kept at hand, so that most are not looked up.
  DensityMap::Tile& tile(DensityMap::Key key) {
    Near& near = near_[(key.first & 3) + 4 * (key.second & 3)];
    if (!near.tile || key != near.key) {
      auto& slot = map_.tiles_[key];
      if (!slot) slot = std::make_unique<DensityMap::Tile>();
      near = {key, slot.get()};
    }
    return *near.tile;
  }

  struct Near {
    DensityMap::Key key{};
    DensityMap::Tile* tile = nullptr;
  };
  DensityMap& map_;
  double perCell_;
  std::array<Near, 16> near_{};
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

DensitySummary summaryOf(const Pattern& pattern, double cell_mm) {
  DensityMap map(frameFor(threadBounds(pattern), cell_mm).lattice);
  map.add(pattern);
  return summaryOf(map);
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
