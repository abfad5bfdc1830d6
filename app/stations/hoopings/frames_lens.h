// Fields as frames, seams and marks.
#pragma once

#include "desk.h"
#include "lens.h"

namespace rt {

class FramesLens : public Lens {
 public:
  explicit FramesLens(const Desk& desk) : desk_(desk) {}
  void paint(QPainter& painter, const Eye& eye) override;

 private:
  const Desk& desk_;
};

}  // namespace rt
