#include "weight_picture.h"

#include <array>

#include "ramp.h"

namespace rt {
namespace {

/// Iso-line of one cell by marching squares.
void addCell(QPainterPath& path, const std::array<double, 4>& v, double x, double y, double cell) {
  const std::array<Point, 4> corner{{{x, y}, {x + cell, y}, {x + cell, y + cell}, {x, y + cell}}};
  std::array<Point, 4> cut;
  int cuts = 0;
  for (size_t i = 0; i < 4; ++i) {
    const size_t j = (i + 1) % 4;
    if ((v[i] > 0) == (v[j] > 0)) continue;
    cut[static_cast<size_t>(cuts++)] = mix(corner[i], corner[j], v[i] / (v[i] - v[j]));
  }
  for (int k = 0; k + 1 < cuts; k += 2) {
    path.moveTo(cut[static_cast<size_t>(k)].x, cut[static_cast<size_t>(k)].y);
    path.lineTo(cut[static_cast<size_t>(k) + 1].x, cut[static_cast<size_t>(k) + 1].y);
  }
}

}  // namespace

QColor weightColour(double density, double stop_limit) {
  return QColor(QRgb(0xff000000u | rampColour(density, stop_limit).rgb));
}

WeightPicture weightPicture(const Weighing& w, const Limit& limit, const std::vector<Zone>& zones) {
  WeightPicture out;
  const int columns = static_cast<int>(std::min<int64_t>(w.frame.columns, 12000)),
            rows = static_cast<int>(std::min<int64_t>(w.frame.rows, 12000));
  if (columns <= 1 || rows <= 1) return out;
  const double cell = w.frame.lattice.cell_mm;
  out.image = QImage(columns, rows, QImage::Format_ARGB32_Premultiplied);
  out.image.fill(Qt::transparent);
  out.place_mm =
      QRectF(w.frame.lattice.origin.x, w.frame.lattice.origin.y, columns * cell, rows * cell);
  for (int r = 0; r < rows; ++r) {
    auto* line = reinterpret_cast<QRgb*>(out.image.scanLine(r));
    for (int c = 0; c < columns; ++c) {
      const double d = w.map.density(c, r);
      if (d < kCovered_mm_per_mm2) continue;
      line[c] = 0xff000000u | rampColour(d, limit.stop).rgb;
    }
  }
  for (int r = 0; r + 1 < rows; ++r)
    for (int c = 0; c + 1 < columns; ++c) {
      std::array<double, 4> d{w.map.density(c, r), w.map.density(c + 1, r),
                              w.map.density(c + 1, r + 1), w.map.density(c, r + 1)};
      if (std::max({d[0], d[1], d[2], d[3]}) < 0.5 * limit.check) continue;
      const Point p = w.frame.lattice.sample(c, r);
      const double factor = zones.empty() ? 1 : limitFactorAt(zones, p);
      for (const auto& [level, path] : {std::pair{limit.check * factor, &out.check},
                                        std::pair{limit.stop * factor, &out.stop}}) {
        std::array<double, 4> v = d;
        for (double& x : v) x -= level;
        addCell(*path, v, p.x, p.y, cell);
      }
    }
  return out;
}

}  // namespace rt
