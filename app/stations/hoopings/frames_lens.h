// The frames of a plan on the cloth, with their seams, cuts and marks.
#pragma once

#include "desk.h"
#include "lens.h"

namespace rt {

class FramesLens : public Lens {
 public:
  explicit FramesLens(const Desk& desk) : desk_(desk) {}
  void paint(QPainter& painter, const Eye& eye) override;

  /// Seam errors are drawn so many times their size.
  void setEnlarged(double times) { enlarged_ = times; }
  double enlarged() const { return enlarged_; }
  /// A field that is being dragged, instead of the one that is current; unset: none.
  void setDragged(std::optional<Box> box) { dragged_ = box; }
  /// Index of the seam that the pointer is over; -1: none.
  int seamAt(QPointF at, const Eye& eye) const;
  void setHovered(int seam) { hovered_ = seam; }
  int hovered() const { return hovered_; }

 private:
  void frames(QPainter& p, const Eye& eye, const HoopingPlan& plan) const;
  void asked(QPainter& p, const Eye& eye) const;
  void seams(QPainter& p, const Eye& eye, const HoopingPlan& plan) const;
  void labels(QPainter& p, const Eye& eye, const HoopingPlan& plan) const;
  void marks(QPainter& p, const Eye& eye, const HoopingPlan& plan) const;
  QStringList wordsOf(const Seam& seam, const HoopingPlan& plan) const;

  const Desk& desk_;
  double enlarged_ = 1;
  std::optional<Box> dragged_;
  int hovered_ = -1;
};

}  // namespace rt
