// Points, boxes and plane transforms in millimetres. x runs right, y runs down; angles are in
// degrees, clockwise as seen.
#pragma once

#include <cmath>
#include <optional>
#include <span>
#include <vector>

namespace rt {

inline constexpr double kPi = 3.14159265358979323846;

/// A point or a displacement, mm.
struct Point {
  double x = 0, y = 0;
  friend bool operator==(const Point&, const Point&) = default;
};

inline Point operator+(Point a, Point b) {
  return {a.x + b.x, a.y + b.y};
}
inline Point operator-(Point a, Point b) {
  return {a.x - b.x, a.y - b.y};
}
inline Point operator*(Point a, double s) {
  return {a.x * s, a.y * s};
}
inline double dot(Point a, Point b) {
  return a.x * b.x + a.y * b.y;
}
inline double cross(Point a, Point b) {
  return a.x * b.y - a.y * b.x;
}
inline double length(Point a) {
  return std::sqrt(a.x * a.x +
                   a.y * a.y);  // within 1e5 mm nothing overflows as hypot guards against
}
inline double distance(Point a, Point b) {
  return length(b - a);
}
inline Point mix(Point a, Point b, double t) {
  return a + (b - a) * t;
}
/// `a` at length 1; (1, 0) for the null vector.
Point unit(Point a);
/// `a` turned a quarter clockwise as seen.
inline Point quarterTurn(Point a) {
  return {-a.y, a.x};
}
inline double radians(double degrees) {
  return degrees * kPi / 180.0;
}
inline double degrees(double radians) {
  return radians * 180.0 / kPi;
}
/// The same angle within (-180, 180].
double wrapDegrees(double angle_deg);

/// Lengths nearer to each other than this are one and the same, mm. The house's one tolerance.
inline constexpr double kSame_mm = 1e-6;

/// An axis-aligned box, mm. A default box is empty.
struct Box {
  double left = INFINITY, top = INFINITY, right = -INFINITY, bottom = -INFINITY;

  bool empty() const { return !(left <= right && top <= bottom); }
  double width() const { return empty() ? 0 : right - left; }
  double height() const { return empty() ? 0 : bottom - top; }
  Point centre() const { return {(left + right) / 2, (top + bottom) / 2}; }
  Point corner(int i) const;  ///< 0 to 3, from the top left clockwise.
  void add(Point p);
  void add(const Box& other);
  Box grown(double by_mm) const;
  Box moved(Point by) const;
  bool contains(Point p) const;
  bool contains(const Box& other) const;
  bool overlaps(const Box& other) const;
  Box intersection(const Box& other) const;
  friend bool operator==(const Box&, const Box&) = default;
  static Box around(Point centre, double width_mm, double height_mm);
};

Box boundsOf(std::span<const Point> points);

/// An affine map: p -> (xx·x + xy·y + dx, yx·x + yy·y + dy).
struct Transform {
  double xx = 1, xy = 0, yx = 0, yy = 1, dx = 0, dy = 0;

  Point operator()(Point p) const { return {xx * p.x + xy * p.y + dx, yx * p.x + yy * p.y + dy}; }
  /// The displacement part alone.
  Point turn(Point p) const { return {xx * p.x + xy * p.y, yx * p.x + yy * p.y}; }
  double determinant() const { return xx * yy - xy * yx; }
  /// The inverse; std::nullopt where the map is flat.
  std::optional<Transform> inverse() const;
  friend bool operator==(const Transform&, const Transform&) = default;

  static Transform moving(Point by);
  static Transform turning(double clockwise_deg);
  static Transform scaling(double sx, double sy);
};

/// First `right`, then `left`.
Transform operator*(const Transform& left, const Transform& right);

/// Least distance between two segments, mm.
double segmentDistance(Point a0, Point a1, Point b0, Point b1);
/// Least distance from a point to a segment, mm.
double pointSegmentDistance(Point p, Point a, Point b);

double polylineLength(std::span<const Point> line);
/// Points every `step_mm` or a little less along the line, ends kept exactly, corners not kept.
std::vector<Point> resample(std::span<const Point> line, double step_mm);

/// The circle through three points, or from chord and sagitta.
struct Arc {
  double radius_mm = 0, span_deg = 0, arc_length_mm = 0;
  Point centre;
};
/// R = c²/(8s) + s/2 (intersecting chords); the chord lies on the x axis, centred, with the bow
/// toward +y. Throws Error unless both are over 0.
Arc arcFromChord(double chord_mm, double sagitta_mm);
/// The arc from the first point through the second to the third. Throws Error for points on a line.
Arc arcThrough(Point a, Point b, Point c);

}  // namespace rt
