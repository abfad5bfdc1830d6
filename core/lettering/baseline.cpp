#include "baseline.h"

namespace rt {

Baseline::Baseline(const LetterOptions& o, double drop_mm)
    : first_(o.arc_radius_mm), radius_(0), drop_(drop_mm), inside_(o.arc_side == ArcSide::Inside) {
  // further lines lie on circles about the same centre
  if (first_ > 0) radius_ = inside_ ? first_ + drop_mm : first_ - drop_mm;
}

double Baseline::angle_deg(double x) const {
  return radius_ > 0 ? (inside_ ? -1 : 1) * degrees(x / radius_) : 0;
}

Transform Baseline::at(double x) const {
  const double a = angle_deg(x), t = radians(a);
  Point foot{x, drop_};
  if (radius_ > 0)
    foot = inside_ ? Point{-radius_ * std::sin(t), -first_ + radius_ * std::cos(t)}
                   : Point{radius_ * std::sin(t), first_ - radius_ * std::cos(t)};
  return Transform::moving(foot) * Transform::turning(a) * Transform::moving({-x, 0});
}

}  // namespace rt
