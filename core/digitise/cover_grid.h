// Where columns already lie, cell by cell. Part of the column maker; not for other rooms.
#pragma once

#include <cstdint>
#include <vector>

#include "column_course.h"

namespace rt {

class CoverGrid {
 public:
  /// For columns within `bounds`; rungs of one column up to `closed_mm` apart close what lies
  /// between them.
  CoverGrid(const Box& bounds, double closed_mm);
  /// Marks what lies between neighbouring rungs of one column; who comes first keeps a place.
  void add(const std::vector<Rung>& rungs, int column = 0);
  /// What of a rung is left from the first to the last bare place, and on by `lap_mm` into what
  /// other columns cover, but for `mates`; std::nullopt where there is none.
  std::optional<Rung> left(const Rung& rung, double lap_mm,
                           const std::vector<int>& mates = {}) const;
  bool has(Point p) const;

  static constexpr double kCell_mm = 0.15;
  Point origin() const { return origin_; }
  int columns() const { return columns_; }
  int rows() const { return rows_; }
  /// By row and column, row by row.
  bool hasCell(size_t cell) const { return cells_[cell] != 0; }

 private:
  /// Of places counted in cells from the origin.
  bool within(Point cells) const;
  size_t cellAt(Point cells) const;
  void markAlong(const Rung& rung, uint16_t mark);
  Point origin_;
  double closed_;
  int columns_, rows_;
  std::vector<uint16_t> cells_;  // column + 1; 0: bare
};

}  // namespace rt
