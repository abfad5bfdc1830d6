// How a lens bends what is seen. Part of this room.
#pragma once

#include <array>

#include "geometry.h"

namespace rt {

/// A place at u = (x, y) from where the lens looks, as a part of half the picture's diagonal, is
/// seen at u (1 + k1 r² + k2 r⁴) + (2 p1 x y + p2 (r² + 2 x²), p1 (r² + 2 y²) + 2 p2 x y),
/// r = |u| (Brown 1971); the lens looks at the picture's middle and `off`, the same unit.
struct Bend {
  double k1 = 0, k2 = 0, p1 = 0, p2 = 0;
  Point off;

  static constexpr size_t kTerms = 6;
  static Bend of(const std::array<double, kTerms>& t) {
    return {t[0], t[1], t[2], t[3], {t[4], t[5]}};
  }
  /// How much farther out a place is seen, as a part of 1.
  double radial(double r2) const { return 1 + r2 * (k1 + r2 * k2); }
  Point tangential(Point u, double r2) const {
    const double xy = 2 * u.x * u.y;
    return {p1 * xy + p2 * (r2 + 2 * u.x * u.x), p1 * (r2 + 2 * u.y * u.y) + p2 * xy};
  }
  bool straight() const { return k1 == 0 && k2 == 0 && p1 == 0 && p2 == 0; }
};

struct CameraLens {
  Point middle;     ///< Of the picture, px.
  double half = 1;  ///< Of the picture's diagonal, px.
  Bend bend;

  static CameraLens of(int width, int height, const Bend& bend = {}) {
    return {{(width - 1) / 2.0, (height - 1) / 2.0}, std::hypot(width, height) / 2, bend};
  }
  /// Where a place is seen, px; `u` as above.
  Point seen(Point u) const {
    const double r2 = dot(u, u);
    return middle + (u * bend.radial(r2) + bend.tangential(u, r2) + bend.off) * half;
  }
  /// The other way round, by iteration: each round leaves less than a tenth of the error.
  Point straight(Point px) const {
    constexpr int kTurns = 14;
    const Point d = (px - middle) * (1 / half) - bend.off;
    Point u = d;
    for (int i = 0; !bend.straight() && i < kTurns; ++i) {
      const double r2 = dot(u, u);
      const Point next = (d - bend.tangential(u, r2)) * (1 / bend.radial(r2));
      const bool still = std::abs(next.x - u.x) + std::abs(next.y - u.y) < 1e-12;
      u = next;
      if (still) break;
    }
    return u;
  }
};

}  // namespace rt
