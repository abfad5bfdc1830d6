// Where millimetres of the cloth lie on the screen.
#pragma once

#include <QPainter>

#include "geometry.h"

namespace rt {

/// The view onto the cloth.
struct Eye {
  double px_per_mm = 1;
  QPointF centre_px;  ///< Where the layout's (0, 0) lies.
  QRectF view;        ///< Of the widget.

  QPointF px(Point mm) const {
    return {centre_px.x() + mm.x * px_per_mm, centre_px.y() + mm.y * px_per_mm};
  }
  Point mm(QPointF p) const {
    return {(p.x() - centre_px.x()) / px_per_mm, (p.y() - centre_px.y()) / px_per_mm};
  }
  QRectF px(const Box& box) const {
    return QRectF(px(Point{box.left, box.top}), px(Point{box.right, box.bottom}));
  }
  QTransform toPx() const {
    return QTransform(px_per_mm, 0, 0, px_per_mm, centre_px.x(), centre_px.y());
  }
  Transform transform() const { return {px_per_mm, 0, 0, px_per_mm, centre_px.x(), centre_px.y()}; }
};

}  // namespace rt
