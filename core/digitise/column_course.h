// The course of one column: its centre line, how wide it may be, and its rungs. Part of the column
// maker; not for other rooms.
#pragma once

#include <optional>

#include "medial_axis.h"
#include "satin.h"

namespace rt {

/// A cut across a column, edge to edge.
struct Rung {
  Point left, right;
  Point middle() const { return mix(left, right, 0.5); }
  double width_mm() const { return distance(left, right); }
};

/// Where a rung is bare, looked at every 0.2 mm and at both ends.
struct BareStretch {
  std::optional<Rung> rung;  ///< From the first to the last bare place; unset where there is none.
  bool bothEnds = false;     ///< It sticks out on both sides of what covers it.
  double covered = 0;        ///< Share of the places that are covered.
};
template <class Covered>
BareStretch bareStretch(const Rung& rung, Covered covered) {
  const int parts = std::max(4, static_cast<int>(std::ceil(rung.width_mm() / 0.2)));
  auto at = [&](int k) { return mix(rung.left, rung.right, static_cast<double>(k) / parts); };
  int first = -1, last = -1, count = 0;
  for (int k = 0; k <= parts; ++k) {
    if (covered(at(k))) {
      ++count;
      continue;
    }
    if (first < 0) first = k;
    last = k;
  }
  BareStretch out;
  if (first >= 0) out.rung = Rung{at(first), at(last)};
  out.bothEnds = first == 0 && last == parts;
  out.covered = static_cast<double>(count) / (parts + 1);
  return out;
}

/// A rung narrower than this is left to the rungs beside it, mm.
inline constexpr double kLeastRung_mm = 0.25;

/// How far a rung goes in other cover, of the lap.
inline constexpr double kReachMost = 2.5;

/// A bare stretch of a rung, at either end made longer within it to the first place that is well
/// `lapped`, by `most_mm` at most: along a column's edge it would go on and on. std::nullopt where
/// that is no rung.
template <class Lapped>
std::optional<Rung> withLaps(const Rung& bare, const Rung& rung, double most_mm, Lapped lapped) {
  constexpr double kStep_mm = 0.1;
  if (bare.width_mm() < kStep_mm) return std::nullopt;  // the thread beside it is as wide
  const Point way = unit(rung.right - rung.left);
  auto reachIn = [&](Point p, Point end, Point step) {
    for (double mm = 0; mm < most_mm && !lapped(p); mm += kStep_mm) {
      if (dot(end - p, step) <= 0) return end;
      p = p + step;
    }
    return dot(end - p, step) > 0 ? p : end;
  };
  const Rung out{reachIn(bare.left, rung.left, way * -kStep_mm),
                 reachIn(bare.right, rung.right, way * kStep_mm)};
  return out.width_mm() < kLeastRung_mm ? std::nullopt : std::optional(out);
}

/// An outline that lines are cut by; rings wind as polygon clipping leaves them, so that the area
/// lies to their left. Cuts look at the edges near the line only.
class OutlineCut {
 public:
  explicit OutlineCut(const Area& area);
  /// The stretch [from, to] of the line at + t·way (unit) inside the area that holds t = 0, else
  /// the nearest one; std::nullopt if none lies within `reach_mm`.
  std::optional<std::pair<double, double>> inside(Point at, Point way, double reach_mm) const;
  const Area& area() const { return area_; }

 private:
  struct Edge {
    Point a, b;
  };
  using Square = std::pair<int, int>;
  static Square squareOf(Point p);
  int columns() const { return high_.first - low_.first + 1; }
  size_t indexOf(int x, int y) const {
    return static_cast<size_t>(y - low_.second) * static_cast<size_t>(columns()) +
           static_cast<size_t>(x - low_.first);
  }

  Area area_;
  std::vector<Edge> edges_;
  Square low_{0, 0}, high_{-1, -1};     // of the area's bounds
  std::vector<std::vector<int>> near_;  // edges by the squares that they touch, row by row
};

/// A centre line with half widths along it.
class Course {
 public:
  Course() = default;
  /// Half widths are given at some places along the line and run evenly between them.
  Course(std::vector<Point> line, std::vector<std::pair<double, double>> halves, bool closed);

  bool closed = false;
  std::vector<double> joints_mm;  ///< Where it meets its joints, in order.

  double total() const { return along_.empty() ? 0 : along_.back(); }
  Point at(double mm) const;
  Point direction(double mm, double window_mm) const;
  double half(double mm) const;
  std::vector<Point> stretch(double from_mm, double to_mm) const;
  /// Places of rungs, half a spacing apart along the centre line and closer in tight curves, where
  /// the outer edge would open by more than the rule allows: as it bends, and as the rungs that are
  /// cut by the outline then lie.
  std::vector<double> rungPlaces(double from_mm, double to_mm, const SatinOptions& satin,
                                 const OutlineCut& outline) const;
  /// The cut across the course at a place, within the outline and its own width.
  std::optional<Rung> rung(double mm, const OutlineCut& outline) const;

  /// Goes straight on from an end until the outline closes, `most_mm` at most.
  void reach(bool atStart, double most_mm, const OutlineCut& outline);
  /// Goes straight on from an end to the centre line of another course near `at_mm`.
  void reachTo(bool atStart, const Course& owner, double at_mm, double most_mm);

 private:
  std::vector<double> evened(const std::vector<double>& places, const SatinOptions& satin,
                             const OutlineCut& outline) const;
  void measure();
  /// Turn to the right for each mm on the way, radians; over 0 the centre of the curve lies on the
  /// side of the quarter turn.
  double bend(double mm) const;
  void lengthen(bool atStart, double by_mm);
  double wrapped(double mm) const;
  /// Nearest distance from a point to the line within [from, to].
  double distanceTo(Point p, double from_mm, double to_mm) const;

  std::vector<Point> line_;
  std::vector<double> along_;
  std::vector<std::pair<double, double>> halves_;  // place along the line, half width
};

/// The ground that a column takes near a place of its course, as its rungs really lie there.
class Claim {
 public:
  /// Within `near_mm` of the place `at_mm`, both ways along the course.
  Claim(const Course& course, double at_mm, double near_mm, const OutlineCut& outline);
  /// The stretch of a rung outside this ground less `by_mm` at its edges; std::nullopt where
  /// nothing is left. One that sticks out on both sides stays whole, unless most of it is covered
  /// and it may be `spared`: its neighbours reach both corners.
  std::optional<Rung> outside(const Rung& rung, double by_mm, bool spared) const;

 private:
  /// How far within the nearer edge a point lies; below 0 outside.
  double depth_mm(Point p) const;
  struct Place {
    Point at;
    double left, right;  // from there to the column's edges
  };
  std::vector<Place> places_;
  double room_ = 0;  // half the column's width at the place
};

/// The point `mm` along an axis line.
Point pointAlong(const std::vector<AxisPoint>& line, double mm);

/// Collects the branches of a course and smooths them: near joints, where the axis bends toward the
/// other branches, it goes straight across.
class CourseMaker {
 public:
  CourseMaker(const OutlineCut& outline, double spacing_mm)
      : outline_(outline), spacing_(spacing_mm) {}

  /// A branch from the joint where the course is now; `zone_mm` is that joint's radius.
  void add(const std::vector<AxisPoint>& branch, double zone_mm);
  /// The last joint's radius.
  void close(double zone_mm);
  Course open(bool freeStart, bool freeEnd);
  Course ring();
  /// A course straight through an area that is a dot.
  Course across();

 private:
  struct Joint {
    size_t index;  // into raw_
    double zone_mm;
  };
  std::vector<AxisPoint> kept(bool closed) const;
  Course made(const std::vector<AxisPoint>& points, bool closed) const;

  const OutlineCut& outline_;
  double spacing_;
  std::vector<AxisPoint> raw_;
  std::vector<Joint> joints_;
};

/// Writes rungs as satin, left and right in turn.
class ZigzagWriter {
 public:
  ZigzagWriter(const SatinOptions& options, double inset_mm)
      : options_(options), inset_(inset_mm) {}
  void add(const Rung& rung);
  double meanWidth_mm() const;
  /// That three rungs in four stay under.
  double wideWidth_mm() const;
  const std::vector<Rung>& rungs() const { return rungs_; }
  /// Narrower than this in the mean and over most of the length.
  bool narrow(double least_mm) const;
  /// Split where too long; on the inner side of a tight curve as many points stand back as the edge
  /// has no room for. `fromRight`: begun at the right side.
  std::vector<Point> needlePoints(bool fromRight = false) const;
  /// Running stitches along the column, `part` of the way from its left to its right edge.
  std::vector<Point> rail(double part) const;
  /// A wide zigzag well inside the edges.
  std::vector<Point> underlay(bool fromRight = false) const;

 private:
  std::pair<double, double> gapsAt(size_t k, bool left) const;
  double standsBack(size_t k, bool left, double gap_mm) const;

  SatinOptions options_;
  double inset_;
  std::vector<Rung> rungs_;
};

}  // namespace rt
