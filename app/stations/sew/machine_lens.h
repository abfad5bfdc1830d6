// The field at the machine, and its needle.
#pragma once

#include "desk.h"
#include "lens.h"

namespace rt {

class MachineLens : public Lens {
 public:
  explicit MachineLens(const Desk& desk) : desk_(desk) {}
  void paint(QPainter& painter, const Eye& eye) override;

 private:
  const Desk& desk_;
};

}  // namespace rt
