// What each station lays over the cloth. Drawn in pixels; `Eye` says where millimetres lie.
#pragma once

#include <QPainter>

#include "desk.h"
#include "weight_picture.h"

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

void drawWeight(QPainter& painter, const Eye& eye, const Desk& desk, const WeightPicture& picture,
                int finding);
void drawFrames(QPainter& painter, const Eye& eye, const Desk& desk);
void drawSheets(QPainter& painter, const Eye& eye, const Desk& desk, bool mirrored);
void drawLanding(QPainter& painter, const Eye& eye, const Desk& desk);
void drawNeedle(QPainter& painter, const Eye& eye, Point at, bool running);
void drawZones(QPainter& painter, const Eye& eye, const Desk& desk);

/// A small card with lines of text beside a point, kept inside the view.
void drawCard(QPainter& painter, const Eye& eye, QPointF at, const QStringList& lines);

}  // namespace rt
