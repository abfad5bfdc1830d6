// Where the hoop really lies over the layout, and how sure that is.
#pragma once

#include "desk.h"
#include "lens.h"

namespace rt {

class LandingLens : public Lens {
 public:
  explicit LandingLens(const Desk& desk) : desk_(desk) {}
  void paint(QPainter& painter, const Eye& eye) override;
  double pieces() const override { return 0.75; }

 private:
  const Desk& desk_;
};

}  // namespace rt
