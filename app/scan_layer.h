// The scan in hand, flat and in true millimetres, under the pieces.
#pragma once

#include <QImage>

#include "desk.h"
#include "eye.h"

namespace rt {

class ScanLayer {
 public:
  explicit ScanLayer(const Desk& desk) : desk_(desk) {}
  void paint(QPainter& painter, const Eye& eye);
  /// What is seen at a place of the layout, enlarged: for the magnifier. Nothing without a scan.
  void paintEnlarged(QPainter& painter, const Eye& eye, Point layout, QRectF into, double times);

 private:
  const QImage& picture(const ScanReading& reading);
  const Desk& desk_;
  std::shared_ptr<const ScanReading> of_;
  QImage image_;
};

}  // namespace rt
