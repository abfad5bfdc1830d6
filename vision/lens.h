// How a lens bends what is seen. Part of this room.
#pragma once

#include "geometry.h"

namespace rt {

/// A place at u from the picture's middle, as a part of half its diagonal, is seen at
/// u (1 + k1 |u|²): one radial term (Brown 1971).
struct Lens {
  Point middle;     ///< px
  double half = 1;  ///< Of the picture's diagonal, px.
  double k1 = 0;

  static Lens of(int width, int height, double k1) {
    return {{(width - 1) / 2.0, (height - 1) / 2.0}, std::hypot(width, height) / 2, k1};
  }
  /// Where a place is seen, px; `u` as above.
  Point seen(Point u) const { return middle + u * (half * (1 + k1 * dot(u, u))); }
  /// The other way round, by iteration: each round leaves less than a tenth of the error.
  Point straight(Point px) const {
    constexpr int kTurns = 14;
    const Point d = (px - middle) * (1 / half);
    Point u = d;
    for (int i = 0; k1 != 0 && i < kTurns; ++i) u = d * (1 / (1 + k1 * dot(u, u)));
    return u;
  }
};

}  // namespace rt
