// How well sewn thread covers a drawn shape, counted on pixels.
#pragma once

#include <QImage>
#include <QPainter>
#include <QPainterPath>

#include "pattern.h"
#include "polygon.h"

namespace rt::testing {

/// Draws areas and thread black on white over one frame.
class Canvas {
 public:
  Canvas(const Box& frame, double pixels_per_mm)
      : image_(static_cast<int>(frame.width() * pixels_per_mm) + 2,
               static_cast<int>(frame.height() * pixels_per_mm) + 2, QImage::Format_Grayscale8) {
    image_.fill(Qt::white);
    painter_.begin(&image_);
    painter_.scale(pixels_per_mm, pixels_per_mm);
    painter_.translate(-frame.left, -frame.top);
  }
  void fill(const Area& area) {
    QPainterPath path;
    path.setFillRule(Qt::OddEvenFill);
    for (const Ring& ring : area) {
      QPolygonF polygon;
      for (Point p : ring) polygon << QPointF(p.x, p.y);
      path.addPolygon(polygon);
      path.closeSubpath();
    }
    painter_.fillPath(path, Qt::black);
  }
  void sew(const Pattern& pattern, double width_mm) {
    QPen pen(Qt::black, width_mm);
    pen.setCapStyle(Qt::RoundCap);
    painter_.setPen(pen);
    forEachSegment(pattern, [&](Point a, Point b, size_t) {
      painter_.drawLine(QPointF(a.x, a.y), QPointF(b.x, b.y));
    });
  }
  bool dark(int x, int y) const { return image_.constScanLine(y)[x] < 128; }
  int width() const { return image_.width(); }
  int height() const { return image_.height(); }

 private:
  QImage image_;
  QPainter painter_;
};

struct Cover {
  double both = 0, either = 0, first = 0;  ///< Pixels.
  double overUnion() const { return either > 0 ? both / either : 0; }
  double ofFirst() const { return first > 0 ? both / first : 0; }
};

inline Cover compared(const Canvas& a, const Canvas& b) {
  Cover c;
  for (int y = 0; y < a.height(); ++y)
    for (int x = 0; x < a.width(); ++x) {
      const bool inA = a.dark(x, y), inB = b.dark(x, y);
      c.both += inA && inB;
      c.either += inA || inB;
      c.first += inA;
    }
  return c;
}

/// Intersection over union of a shape and thread drawn `thread_mm` wide.
inline double overUnion(const Area& area, const Pattern& pattern, double thread_mm) {
  Box frame = boundsOf(area);
  frame.add(threadBounds(pattern));
  frame = frame.grown(1);
  Canvas drawn(frame, 20), sewn(frame, 20);
  drawn.fill(area);
  sewn.sew(pattern, thread_mm);
  return compared(drawn, sewn).overUnion();
}

}  // namespace rt::testing
