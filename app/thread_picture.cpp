#include "thread_picture.h"

#include <QLineF>
#include <QVector>
#include <array>

#include "piece.h"

namespace rt {
namespace {

constexpr double kThread_mm = 0.4;
constexpr double kCloseUp_px_per_mm = 7;  // from here each stitch is drawn on its own
constexpr double kSmooth_px_per_mm =
    1.2;  // below, edges are not smoothed: nothing would show of it
constexpr int kShades = 6;
constexpr double kLight_deg = -55;  // where the light comes from

/// Shade of a stitch by its direction: thread across the light shines, along it lies in shade.
int shadeOf(Point way) {
  const double a = std::atan2(way.y, way.x) - radians(kLight_deg);
  return static_cast<int>(std::abs(std::sin(a)) * (kShades - 1) + 0.5);
}

QColor shaded(Colour colour, int shade) {
  const double f = 0.82 + 0.36 * shade / (kShades - 1);
  auto part = [&](int v) {
    const double lifted = f <= 1 ? v * f : v + (255 - v) * (f - 1) * 0.9;
    return static_cast<int>(std::clamp(lifted, 0.0, 255.0));
  };
  return QColor(part(colour.rgb >> 16 & 255), part(colour.rgb >> 8 & 255), part(colour.rgb & 255));
}

/// Collects lines of one colour and shade, so that the painter changes its pen seldom.
class Batch {
 public:
  Batch(QPainter& painter, double width_px) : painter_(painter), width_(width_px) {}
  ~Batch() { flush(); }
  void add(const QLineF& line, Colour colour, int shade) {
    if (colour != colour_ || shade != shade_ || lines_.size() > 4000) {
      flush();
      colour_ = colour;
      shade_ = shade;
    }
    lines_.append(line);
  }

 private:
  void flush() {
    if (lines_.isEmpty()) return;
    painter_.setPen(QPen(shaded(colour_, shade_), width_, Qt::SolidLine,
                         width_ > 1.5 ? Qt::RoundCap : Qt::FlatCap));
    painter_.drawLines(lines_);
    lines_.clear();
  }
  QPainter& painter_;
  double width_;
  QVector<QLineF> lines_;
  Colour colour_;
  int shade_ = -1;
};

void drawCloseUp(QPainter& p, const QLineF& line, Colour colour, int shade, double width_px) {
  p.setPen(QPen(shaded(colour, 0).darker(135), width_px, Qt::SolidLine, Qt::RoundCap));
  p.drawLine(line);
  p.setPen(QPen(shaded(colour, shade), width_px * 0.72, Qt::SolidLine, Qt::RoundCap));
  p.drawLine(line);
  p.setPen(
      QPen(shaded(colour, kShades - 1).lighter(112), width_px * 0.2, Qt::SolidLine, Qt::RoundCap));
  p.drawLine(QLineF(line.pointAt(0.15), line.pointAt(0.85)));
}

}  // namespace

namespace {

/// The row to begin reading at, so that the thread of `first` is known: a stitch that another one
/// of its thread came before tells where the next lies from.
size_t readFrom(const Pattern& pattern, size_t first) {
  size_t row = std::min(first, pattern.stitches.size());
  auto plain = [&](size_t k) { return pattern.stitches[k].op == Op::Stitch; };
  while (row > 1 && !(plain(row - 1) && plain(row - 2) &&
                      pattern.stitches[row - 1].thread == pattern.stitches[row - 2].thread))
    --row;
  return row > 1 ? row - 1 : 0;
}

}  // namespace

void drawThread(QPainter& painter, const Pattern& pattern, const ThreadDrawing& how) {
  painter.save();
  const bool closeUp = how.px_per_mm >= kCloseUp_px_per_mm;
  painter.setRenderHint(QPainter::Antialiasing, how.px_per_mm >= kSmooth_px_per_mm);
  const double width = std::max(0.9, kThread_mm * how.px_per_mm * (closeUp ? 1.0 : 1.1));
  const QRectF reach = how.visible.adjusted(-width, -width, width, width);
  {
    Batch batch(painter, width);
    NeedleWalk walk;
    const size_t end = std::min(how.end_row, pattern.stitches.size());
    for (size_t row = readFrom(pattern, how.first_row); row < end; ++row) {
      const NeedleWalk::Step step = walk.next(pattern.stitches[row]);
      if (!step.sewn || row < how.first_row) continue;
      const Point from = how.to_px(step.from), to = how.to_px(pattern.stitches[row].at);
      const QLineF line(from.x, from.y, to.x, to.y);
      if (!how.visible.isNull()) {
        if (std::max(from.x, to.x) < reach.left() || std::min(from.x, to.x) > reach.right())
          continue;
        if (std::max(from.y, to.y) < reach.top() || std::min(from.y, to.y) > reach.bottom())
          continue;
      }
      const Colour colour = pattern.threads[pattern.stitches[row].thread];
      if (closeUp)
        drawCloseUp(painter, line, colour, shadeOf(to - from), width);
      else
        batch.add(line, colour, shadeOf(to - from));
    }
  }
  painter.restore();
}

QImage pictureOf(const Pattern& pattern, QSize size, double device_ratio) {
  QImage image(size * device_ratio, QImage::Format_ARGB32_Premultiplied);
  image.setDevicePixelRatio(device_ratio);
  image.fill(Qt::transparent);
  const Box box = threadBounds(pattern);
  if (box.empty()) return image;
  const double scale = std::min((size.width() - 4) / std::max(box.width(), 1.0),
                                (size.height() - 4) / std::max(box.height(), 1.0));
  QPainter painter(&image);
  ThreadDrawing how;
  how.px_per_mm = scale;
  how.to_px = Transform::moving({size.width() / 2.0, size.height() / 2.0}) *
              Transform::scaling(scale, scale) * Transform::moving(Point{} - box.centre());
  drawThread(painter, pattern, how);
  return image;
}

}  // namespace rt
