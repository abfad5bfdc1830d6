// What a station lays over the cloth.
#pragma once

#include "eye.h"

namespace rt {

/// Reads and paints; computes nothing and never touches a store.
class Lens {
 public:
  virtual ~Lens() = default;
  /// Over the pieces, in widget pixels.
  virtual void paint(QPainter& painter, const Eye& eye) = 0;
  /// How strongly the pieces show under it, 0 to 1.
  virtual double pieces() const { return 1; }
};

}  // namespace rt
