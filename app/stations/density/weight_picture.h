// The weight lens: a density map as a picture.
#pragma once

#include <QImage>
#include <QPainterPath>

#include "findings.h"

namespace rt {

/// What the weight lens draws over the cloth, in layout millimetres.
struct WeightPicture {
  QImage image;  ///< One pixel a sample.
  QRectF place_mm;
  QPainterPath check, stop;  ///< Iso-lines at the two limits.
};

/// Colour of a density on the ramp.
QColor weightColour(double density, double stop_limit);
WeightPicture weightPicture(const Weighing& weighing, const Limit& limit,
                            const std::vector<Zone>& zones);

}  // namespace rt
