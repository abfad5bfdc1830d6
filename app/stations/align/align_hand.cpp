#include "align_hand.h"

#include "look.h"

namespace rt {
namespace {

constexpr double kTimes = 5;  // of the magnifier
constexpr double kLens_px = 150;

}  // namespace

void AlignHand::askForMark(const std::string& mark) {
  mark_ = mark;
  guiding_ = false;
}

void AlignHand::askForGuides() {
  mark_.clear();
  guiding_ = true;
  desk_.scans().forgetGuides();
}

void AlignHand::setNudging(bool on) {
  nudging_ = on;
  if (!on) return desk_.setNudge(std::nullopt);
  const std::optional<Alignment> a = desk_.alignmentOf(desk_.hooping());
  desk_.setNudge(a ? a->fit.toHoop : Transform{});
}

void AlignHand::giveUp() {
  mark_.clear();
  guiding_ = false;
  if (nudging_) setNudging(false);
  if (done) done();
}

bool AlignHand::press(const Touch& touch, const Eye& eye) {
  if (!asking()) return HoopingHand::press(touch, eye);
  const Transform toHoop = desk_.hoopToLayout().inverse().value_or(Transform{});
  const Point hoop = toHoop(eye.mm(touch.at));
  if (guiding_) {
    const Hooping* h = desk_.currentHooping();
    if (!h) return true;
    const Field f = desk_.fieldOf(*h);
    const Point corner = Box::around({0, 0}, f.width_mm, f.height_mm)
                             .corner(static_cast<int>(desk_.scans().guides()));
    desk_.scans().pointAtGuide(corner, hoop);
    if (desk_.scans().guides() >= 4) guiding_ = false;
  } else {
    desk_.scans().pointAt(mark_, hoop);
    mark_.clear();
  }
  if (done) done();
  return true;
}

bool AlignHand::hover(const Touch& touch, const Eye&) {
  pointer_ = touch.at;
  return asking();
}

/// Arrows move by 0.5 mm, with Shift by 5, with Alt by 0.1; brackets turn by 0.1 and 1 degree.
bool AlignHand::key(const QKeyEvent& event) {
  if (!nudging_ || !desk_.nudge()) return false;
  const double step = event.modifiers() & Qt::ShiftModifier ? 5
                      : event.modifiers() & Qt::AltModifier ? 0.1
                                                            : 0.5;
  Transform by;
  switch (event.key()) {
    case Qt::Key_Left:
      by = Transform::moving({-step, 0});
      break;
    case Qt::Key_Right:
      by = Transform::moving({step, 0});
      break;
    case Qt::Key_Up:
      by = Transform::moving({0, -step});
      break;
    case Qt::Key_Down:
      by = Transform::moving({0, step});
      break;
    case Qt::Key_BracketLeft:
    case Qt::Key_BraceLeft:
      by = Transform::turning(event.modifiers() & Qt::ShiftModifier ? -1 : -0.1);
      break;
    case Qt::Key_BracketRight:
    case Qt::Key_BraceRight:
      by = Transform::turning(event.modifiers() & Qt::ShiftModifier ? 1 : 0.1);
      break;
    case Qt::Key_Return:
    case Qt::Key_Enter:
      nudging_ = false;
      desk_.keepNudge();
      if (done) done();
      return true;
    default:
      return false;
  }
  // the scan goes where the key points: the layout's place in the hoop goes the other way
  desk_.setNudge(by.inverse().value_or(Transform{}) * *desk_.nudge());
  return true;
}

Qt::CursorShape AlignHand::cursor(QPointF, const Eye&) const {
  return asking() ? Qt::CrossCursor : Qt::ArrowCursor;
}

void AlignHand::paint(QPainter& p, const Eye& eye) {
  if (!asking() || !pointer_) return;
  QRectF into(0, 0, kLens_px, kLens_px);
  into.moveCenter(*pointer_ + QPointF(kLens_px * 0.75, -kLens_px * 0.75));
  if (into.right() > eye.view.right()) into.moveRight(pointer_->x() - 20);
  if (into.top() < eye.view.top()) into.moveTop(pointer_->y() + 20);
  magnifier_.paintEnlarged(p, eye, eye.mm(*pointer_), into, kTimes);
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(look::colours().accent, 2));
  p.drawEllipse(into);
  p.setPen(QPen(look::colours().accent, 1));
  p.drawLine(into.center() - QPointF(12, 0), into.center() + QPointF(12, 0));
  p.drawLine(into.center() - QPointF(0, 12), into.center() + QPointF(0, 12));
  p.restore();
}

}  // namespace rt
