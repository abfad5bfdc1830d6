#include "scan_layer.h"

#include <QPainterPath>

namespace rt {
namespace {

QTransform qt(const Transform& t) {
  return {t.xx, t.yx, t.xy, t.yy, t.dx, t.dy};
}

/// From pixels of the picture to millimetres of its frame.
QTransform toFrame(const FlatPicture& p) {
  return QTransform(p.step_mm, 0, 0, p.step_mm, p.plane.left - p.step_mm / 2,
                    p.plane.top - p.step_mm / 2);
}

}  // namespace

const QImage& ScanLayer::picture(const ScanReading& reading) {
  const auto now = desk_.scans().reading();
  if (of_ != now) {
    of_ = now;
    const FlatPicture& p = reading.picture;
    image_ = QImage(p.bgr.data(), p.width, p.height, 3 * p.width, QImage::Format_BGR888)
                 .convertToFormat(QImage::Format_RGB32);
  }
  return image_;
}

void ScanLayer::paint(QPainter& p, const Eye& eye) {
  const auto reading = desk_.scans().reading();
  if (!reading || desk_.view().scan_strength <= 0) return;
  p.save();
  p.setOpacity(desk_.view().scan_strength);
  p.setRenderHint(QPainter::SmoothPixmapTransform);
  p.setTransform(toFrame(reading->picture) * qt(desk_.hoopToLayout()) * eye.toPx(), true);
  p.drawImage(0, 0, picture(*reading));
  p.restore();
}

void ScanLayer::paintEnlarged(QPainter& p, const Eye& eye, Point layout, QRectF into,
                              double times) {
  const auto reading = desk_.scans().reading();
  if (!reading) return;
  p.save();
  QPainterPath round;
  round.addEllipse(into);
  p.setClipPath(round);
  p.fillRect(into, Qt::white);
  p.setRenderHint(QPainter::SmoothPixmapTransform);
  Eye near = eye;
  near.px_per_mm = eye.px_per_mm * times;
  near.centre_px = into.center() - QPointF(layout.x, layout.y) * near.px_per_mm;
  p.setTransform(toFrame(reading->picture) * qt(desk_.hoopToLayout()) * near.toPx(), true);
  p.drawImage(0, 0, picture(*reading));
  p.restore();
}

}  // namespace rt
