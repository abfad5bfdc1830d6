#include "frames_hand.h"

namespace rt {
namespace {

constexpr double kSnap_mm = 3.0;
constexpr double kFrameGrip_px = 9.0;  // from the field's edge: its middle stays free for panning

}  // namespace

bool FramesHand::press(const Touch& touch, const Eye& eye) {
  const PlanSetting* s = edit_.currentSetting();
  // the current frame's edge first, also where it lies in another field
  if (!s || !edit_.planCurrent() || cursor(touch.at, eye) != Qt::SizeAllCursor)
    return HoopingHand::press(touch, eye);
  holding_ = true;
  from_ = eye.mm(touch.at);
  by_ = {};
  start_ = s->field.box;
  return true;
}

void FramesHand::drag(const Touch& touch, const Eye& eye) {
  if (!holding_) return;
  const Point way = eye.mm(touch.at) - from_;
  by_ = touch.modifiers & Qt::AltModifier ? way : snapped(way);
  lens_.setDragged(start_.moved(by_));
}

void FramesHand::release() {
  if (!holding_) return;
  holding_ = false;
  lens_.setDragged(std::nullopt);
  if (length(by_) > 0.2) emit dropped(by_);
}

bool FramesHand::hover(const Touch& touch, const Eye& eye) {
  const int seam = lens_.seamAt(touch.at, eye);
  const bool changed = seam != lens_.hovered();
  lens_.setHovered(seam);
  return changed;
}

void FramesHand::giveUp() {
  holding_ = false;
  lens_.setDragged(std::nullopt);
}

Qt::CursorShape FramesHand::cursor(QPointF at, const Eye& eye) const {
  const PlanSetting* s = edit_.currentSetting();
  if (!s) return Qt::ArrowCursor;
  const QRectF box = eye.px(s->field.box);
  const bool edge =
      box.adjusted(-kFrameGrip_px, -kFrameGrip_px, kFrameGrip_px, kFrameGrip_px).contains(at) &&
      !box.adjusted(kFrameGrip_px, kFrameGrip_px, -kFrameGrip_px, -kFrameGrip_px).contains(at);
  return edge ? Qt::SizeAllCursor : Qt::ArrowCursor;
}

/// To the edges of pieces, so that one lies just inside or just outside.
Point FramesHand::snapped(Point by) const {
  const Box box = start_.moved(by);
  double dx = kSnap_mm, dy = kSnap_mm;
  bool x = false, y = false;
  const auto near = [](double& best, bool& found, double off) {
    if (std::abs(off) < std::abs(best)) best = off, found = true;
  };
  for (const Piece& p : edit_.job().pieces) {
    const Box b = boundsOf(p);
    for (double edge : {b.left, b.right})
      near(dx, x, edge - box.left), near(dx, x, edge - box.right);
    for (double edge : {b.top, b.bottom})
      near(dy, y, edge - box.top), near(dy, y, edge - box.bottom);
  }
  return by + Point{x ? dx : 0, y ? dy : 0};
}

}  // namespace rt
