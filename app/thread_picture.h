// Stitches drawn as thread.
#pragma once

#include <QImage>
#include <QPainter>

#include "pattern.h"

namespace rt {

/// How a pattern lies on the screen: `to_px` takes mm to device-independent pixels.
struct ThreadDrawing {
  Transform to_px;
  double px_per_mm = 1;
  size_t first_row = 0, end_row = SIZE_MAX;
  QRectF visible;  ///< Pixels; thread outside is skipped. Empty: all is drawn.
};

/// Draws in sewing order. Thread is 0.4 mm wide, lighter or darker by its direction against the
/// light; close up each stitch has an edge and a sheen, far off it is one even line.
void drawThread(QPainter& painter, const Pattern& pattern, const ThreadDrawing& how);

/// A picture of a pattern fitted into a box, on a clear ground.
QImage pictureOf(const Pattern& pattern, QSize size, double device_ratio);

}  // namespace rt
