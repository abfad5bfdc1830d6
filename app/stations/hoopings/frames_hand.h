// At Hoopings a field is chosen by a click and dragged to where it shall be held.
#pragma once

#include "frames_lens.h"
#include "hooping_hand.h"

namespace rt {

class FramesHand : public QObject, public HoopingHand {
  Q_OBJECT
 public:
  FramesHand(Desk& desk, FramesLens& lens) : HoopingHand(desk), edit_(desk), lens_(lens) {}

  bool press(const Touch& touch, const Eye& eye) override;
  void drag(const Touch& touch, const Eye& eye) override;
  void release() override;
  bool hover(const Touch& touch, const Eye& eye) override;
  void leave() override { lens_.setHovered(-1); }
  void giveUp() override;
  Qt::CursorShape cursor(QPointF at, const Eye& eye) const override;

 signals:
  /// The current hooping's frame was let go so far from where it was.
  void dropped(rt::Point by);

 private:
  Point snapped(Point by) const;
  Desk& edit_;
  FramesLens& lens_;
  bool holding_ = false;
  Point from_, by_;
  Box start_;
};

}  // namespace rt
