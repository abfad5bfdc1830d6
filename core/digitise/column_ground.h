// Which ground the columns of a graph cover and when, and ways over it that are least seen. Part of
// the column maker; not for other rooms.
#pragma once

#include <array>
#include <optional>
#include <span>
#include <vector>

#include "geometry.h"

namespace rt {

/// Ground by columns, cell by cell. Times are steps of a tour: what a column finished at a step
/// before `now` covers lies above, what comes at `now` or later will lie on what is sewn now.
class ColumnGround {
 public:
  ColumnGround(const Box& bounds, size_t columns);
  /// Marks what a column's needle points cover.
  void add(size_t column, std::span<const Point> satin);
  /// Forgets when columns are finished: none is.
  void startOver();
  void finish(size_t column, int step) { finished_[column] = step; }

  /// Does any column ever cover it?
  bool covers(Point p) const;
  /// How much of a straight way will be seen, mm: across finished cover by over 12 degrees, or on
  /// ground that no column covers.
  double seen_mm(Point a, Point b, int now) const;
  /// Of a way of several legs.
  double seen_mm(std::span<const Point> line, int now) const;
  /// What a way costs, mm: what is seen of it and a little of its length.
  double cost_mm(std::span<const Point> line, int now) const;
  /// A way from `a` to `b`, both included, that costs least within `round_mm` of the two.
  std::vector<Point> leastSeen(Point a, Point b, int now, double round_mm = 4) const;

 private:
  /// A column's thread in a cell: its direction, radians. No column: -1.
  struct Cover {
    int column = -1;
    float angle = 0;
  };
  using Cell = std::array<Cover, 3>;  // more meet hardly anywhere
  enum class State { Hidden, Bare, Finished };
  struct Seen {
    State state = State::Bare;
    double angle = 0;
  };

  void markAlong(Point from, Point way, Cover cover);
  std::optional<size_t> cellAt(Point p) const;
  Seen at(Point p, int now) const;
  bool isSeen(Point p, Point ahead, int now) const;

  Point origin_;
  double cell_;
  int columns_ = 0, rows_ = 0;
  std::vector<Cell> cells_;
  std::vector<int> finished_;
};

}  // namespace rt
