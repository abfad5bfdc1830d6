// Where a person wants a piece parted; layout frame, mm.
#pragma once

#include "geometry.h"

namespace rt {

/// A shorter line parts nothing.
inline constexpr double kShortestCut_mm = 1;

/// A straight line over the pieces that it crosses: if one is parted at all, then along it.
struct AskedCut {
  Point from, to;
  /// On which side of the line, carried on past its ends, a place lies.
  bool left(Point p) const { return cross(to - from, p - from) > 0; }
  /// It passes through the box, from one side to another.
  bool meets(const Box& box) const;
  /// A stitch passes from one side of it to the other between its ends.
  bool crosses(Point a, Point b) const {
    return left(a) != left(b) && AskedCut{a, b}.left(from) != AskedCut{a, b}.left(to);
  }
  /// How far a place lies from it, mm.
  double off(Point p) const { return pointSegmentDistance(p, from, to); }
  /// Where it passes a place along x (or y): the other coordinate; unset beside its ends.
  std::optional<double> at(double along, bool vertical) const;
  friend bool operator==(const AskedCut&, const AskedCut&) = default;
};

}  // namespace rt
