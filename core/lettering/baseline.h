// The baseline: where straight text comes to lie. Part of lettering; not for other rooms.
#pragma once

#include "letter.h"

namespace rt {

class Baseline {
 public:
  /// `drop_mm` is how far the line lies below the first one.
  Baseline(const LetterOptions& options, double drop_mm);

  /// Of this line, mm; 0 is straight.
  double radius_mm() const { return radius_; }
  double angle_deg(double x) const;
  /// Rigid placement of a letter whose advance is centred on `x`.
  Transform at(double x) const;
  /// Bends a point onto the arc: keeps joins of neighbouring letters closed.
  Point bent(Point p) const { return at(p.x)(p); }

 private:
  double first_, radius_, drop_;
  bool inside_;
};

}  // namespace rt
