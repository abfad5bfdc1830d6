// Thread and needle holes per area, sampled on a lattice.
#pragma once

#include <array>
#include <cstdint>
#include <functional>
#include <memory>
#include <unordered_map>

#include "pattern.h"

namespace rt {

/// Radius of the disc that density is defined over, mm.
inline constexpr double kDisc_mm = 1.0;
inline constexpr double kDisc_mm2 = kPi * kDisc_mm * kDisc_mm;
/// Samples under this are bare cloth: they count for neither the mean nor the covered area, mm/mm².
inline constexpr double kCovered_mm_per_mm2 = 0.5;

/// Where samples lie: at the centres of square cells, rows from the top left.
struct Lattice {
  Point origin;  ///< Top left corner of cell (0, 0), mm.
  double cell_mm = 0.25;
  friend bool operator==(const Lattice&, const Lattice&) = default;
  Point sample(int64_t column, int64_t row) const {
    return {origin.x + (static_cast<double>(column) + 0.5) * cell_mm,
            origin.y + (static_cast<double>(row) + 0.5) * cell_mm};
  }
};

/// Sums over the disc at each sample, kept in tiles only where there is thread. Not thread-safe
/// while it is being filled; free to read from many threads afterwards.
class DensityMap {
 public:
  static constexpr int kTile = 64;  ///< Samples along a tile's edge.
  struct Tile {
    std::array<float, kTile * kTile> thread_mm{};  ///< Thread inside the disc.
    std::array<float, kTile * kTile> holes{};      ///< Needle points inside the disc.
  };
  using Key = std::pair<int32_t, int32_t>;  ///< Tile column and row; may be negative.

  explicit DensityMap(Lattice lattice = {}) : lattice_(lattice) {}

  const Lattice& lattice() const { return lattice_; }
  /// Adds the pattern's thread and holes. Each disc-segment overlap is exact to single precision.
  void add(const Pattern& pattern);
  /// Adds (or, with sign -1, takes off) another map's tiles; both must share the lattice.
  void add(const DensityMap& other, float sign = 1);

  /// Thread length per area at a sample, mm/mm².
  double density(int64_t column, int64_t row) const;
  /// Needle points per area at a sample, 1/mm².
  double holes(int64_t column, int64_t row) const;

  size_t tileCount() const { return tiles_.size(); }
  const Tile* tile(Key key) const;
  /// Tiles in reading order.
  std::vector<Key> keys() const;

 private:
  struct KeyHash {
    size_t operator()(const Key& k) const {
      return static_cast<size_t>(
          static_cast<uint64_t>(static_cast<uint32_t>(k.first)) * 0x9E3779B97F4A7C15ull ^
          static_cast<uint64_t>(static_cast<uint32_t>(k.second)) * 0xC2B2AE3D27D4EB4Full);
    }
  };
  friend class MapFiller;
  Lattice lattice_;
  std::unordered_map<Key, std::unique_ptr<Tile>, KeyHash> tiles_;
};

/// The definition itself, slow and obvious: thread inside the disc around `p` over its area.
double densityAt(const Pattern& pattern, Point p);
double holesAt(const Pattern& pattern, Point p);

/// A lattice over the bounds grown by the disc's radius, and the samples that cover it.
struct Frame {
  Lattice lattice;
  int64_t columns = 0, rows = 0;
};
Frame frameFor(const Box& bounds, double cell_mm);

/// Figures over all samples of a map.
struct DensitySummary {
  double mean_mm_per_mm2 = 0, peak_mm_per_mm2 = 0, peak_holes_per_mm2 = 0;
  Point peak_at;
  double covered_mm2 = 0;
};
DensitySummary summaryOf(const DensityMap& map);
/// Of a pattern's own map over its bounds.
DensitySummary summaryOf(const Pattern& pattern, double cell_mm = 0.25);

}  // namespace rt
