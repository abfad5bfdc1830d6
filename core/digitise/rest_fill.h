// What the columns of an area leave bare, and how they run into it. Part of the column maker; not
// for other rooms.
#pragma once

#include <vector>

#include "cover_grid.h"

namespace rt {

/// The ground of an area that no column covers, by the cells of the cover. Strips up to 0.3 mm wide
/// are thread's own play and count as covered.
class RestGrid {
 public:
  RestGrid(const Area& area, const CoverGrid& cover);
  /// Leaves out what is covered now.
  void update(const CoverGrid& cover);
  bool none() const { return cores_ == 0; }
  /// Places 0.3 mm wide.
  size_t cores() const { return cores_; }
  /// How far bare ground goes on from `at` along `way` (unit), `most_mm` at most; 0 where it does
  /// not begin within 0.3 mm or is nowhere wider than 0.3 mm.
  double reach_mm(Point at, Point way, double most_mm) const;
  /// The longest bare stretch of the line at + t·way that meets [from, to]; std::nullopt where
  /// there is none.
  std::optional<std::pair<double, double>> stretch(Point at, Point way, double from,
                                                   double to) const;

 private:
  enum class Cell : uint8_t { Covered, Bare, Core };
  Cell at(Point p) const;
  void markBare(const Area& area, const CoverGrid& cover);
  void markCores();
  void markNear();
  bool isNear(Point p) const;
  Point origin_;
  int columns_ = 0, rows_ = 0;
  size_t cores_ = 0;
  std::vector<Cell> cells_;
  std::vector<size_t> bare_;  // those that are not covered
  std::vector<char> near_;    // by tile: bare ground can lie within a tile's width
};

/// The rungs of a course between two of its joints, by their places along it; unset where all of
/// one is left to other columns.
struct CourseStretch {
  std::vector<double> places_mm;
  std::vector<std::optional<Rung>> rungs;
  std::vector<bool> ranOn;          ///< Those that were made longer; empty: none.
  std::vector<Rung> before, after;  ///< Beyond the course's ends, outward.
  /// All of them in order.
  std::vector<Rung> all() const;
};

/// A course's stretches run into bare ground: rungs to where it ends, and on past an open end.
/// `gained_mm2`: about how much is covered by it.
struct Filled {
  std::vector<CourseStretch> stretches;
  double gained_mm2 = 0;
  std::vector<bool> changed;  ///< By stretch.
};
Filled filled(const Course& course, std::vector<CourseStretch> stretches, const RestGrid& rest,
              const OutlineCut& outline, double spacing_mm);

/// Where the ends of neighbours that ran on stand too far apart, shorter rungs come in between:
/// from the open edge to where they are near enough.
void closeFans(CourseStretch& stretch, const OutlineCut& outline, double spacing_mm);

}  // namespace rt
