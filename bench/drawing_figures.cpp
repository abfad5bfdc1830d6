// Drawings looked at as sewing: what a viewer shows of a drawing against the thread of it, pixel by
// pixel, with the cuts and colour changes that it costs.
//
//   rapt-thimble-drawings [WIDTH_MM] [--pictures DIR] DRAWING.svg …
#include <cairo.h>
#include <librsvg/rsvg.h>

#include <QFileInfo>
#include <QImage>
#include <QPainter>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <memory>

#include "artwork.h"
#include "file_io.h"
#include "statistics.h"

namespace {

using namespace rt;

constexpr double kPixels = 8;  // a millimetre
constexpr double kAround_mm = 3;
constexpr double kPixelOfPage_mm = 25.4 / 96;
constexpr int kMostApart = 150;       // of a colour that still counts as the drawing's, of 765
constexpr double kLeastHole_mm2 = 2;  // smaller ones may close
constexpr double kMostClosed = 0.15;  // of a hole that counts as open

/// Where a millimetre of the layout lies in the pictures.
struct Canvas {
  Box box;
  int width = 0, height = 0;
  explicit Canvas(Box layout)
      : box(layout.grown(kAround_mm)),
        width(static_cast<int>(box.width() * kPixels)),
        height(static_cast<int>(box.height() * kPixels)) {}
};

/// The drawing as viewers show it, its page's pixels scaled by `mm` and moved by `to`.
QImage shown(const std::string& svg, const Canvas& canvas, double mm, Point to) {
  QImage image(canvas.width, canvas.height, QImage::Format_ARGB32_Premultiplied);
  image.fill(0);
  GError* problem = nullptr;
  RsvgHandle* drawing =
      rsvg_handle_new_from_data(reinterpret_cast<const guint8*>(svg.data()), svg.size(), &problem);
  if (!drawing) return g_error_free(problem), image;
  rsvg_handle_set_dpi(drawing, 96);
  RsvgRectangle page{0, 0, 0, 0};
  if (rsvg_handle_get_intrinsic_size_in_pixels(drawing, &page.width, &page.height)) {
    cairo_surface_t* surface =
        cairo_image_surface_create_for_data(image.bits(), CAIRO_FORMAT_ARGB32, image.width(),
                                            image.height(), static_cast<int>(image.bytesPerLine()));
    cairo_t* cr = cairo_create(surface);
    cairo_scale(cr, kPixels, kPixels);
    cairo_translate(cr, to.x - canvas.box.left, to.y - canvas.box.top);
    cairo_scale(cr, mm, mm);
    rsvg_handle_render_document(drawing, cr, &page, nullptr);
    cairo_destroy(cr);
    cairo_surface_destroy(surface);
  }
  g_object_unref(drawing);
  return image.convertToFormat(QImage::Format_ARGB32);
}

QImage sewn(const Pattern& pattern, const Canvas& canvas) {
  QImage image(canvas.width, canvas.height, QImage::Format_ARGB32);
  image.fill(0);
  QPainter p(&image);
  p.scale(kPixels, kPixels);
  p.translate(-canvas.box.left, -canvas.box.top);
  forEachSegment(pattern, [&](Point a, Point b, size_t row) {
    p.setPen(QPen(QColor(QRgb(pattern.colourOf(pattern.stitches[row]).rgb)), kThreadWidth_mm,
                  Qt::SolidLine, Qt::RoundCap));
    p.drawLine(QPointF(a.x, a.y), QPointF(b.x, b.y));
  });
  return image;
}

bool isWhite(QRgb p) {
  return qAlpha(p) > 200 && qRed(p) > 250 && qGreen(p) > 250 && qBlue(p) > 250;
}
int apart(QRgb a, QRgb b) {
  return std::abs(qRed(a) - qRed(b)) + std::abs(qGreen(a) - qGreen(b)) +
         std::abs(qBlue(a) - qBlue(b));
}

struct Figures {
  double ink_mm2 = 0, bare = 0, wrong = 0, beside = 0;  ///< The last three as parts of the ink.
  int holes = 0, open = 0;
};

/// Pixels without ink that hang together with (x, y), marked in `seen`; empty if they reach the
/// picture's edge.
std::vector<QPoint> holeAt(int x, int y, const std::vector<char>& ink, std::vector<char>& seen,
                           int w, int h) {
  std::vector<QPoint> hole{{x, y}};
  bool outer = false;
  seen[static_cast<size_t>(y * w + x)] = 1;
  for (size_t i = 0; i < hole.size(); ++i) {
    const QPoint at = hole[i];
    for (const QPoint d : {QPoint(1, 0), QPoint(-1, 0), QPoint(0, 1), QPoint(0, -1)}) {
      const QPoint n = at + d;
      if (n.x() < 0 || n.y() < 0 || n.x() >= w || n.y() >= h) {
        outer = true;
        continue;
      }
      const size_t k = static_cast<size_t>(n.y() * w + n.x());
      if (ink[k] || seen[k]) continue;
      seen[k] = 1;
      hole.push_back(n);
    }
  }
  if (outer) hole.clear();
  return hole;
}

Figures compared(const QImage& drawn, const QImage& thread) {
  const int w = drawn.width(), h = drawn.height();
  std::vector<char> ink(static_cast<size_t>(w * h)), seen(ink.size());
  Figures f;
  double n = 0;
  for (int y = 0; y < h; ++y)
    for (int x = 0; x < w; ++x) {
      const QRgb a = drawn.pixel(x, y), b = thread.pixel(x, y);
      const bool laid = qAlpha(b) > 127;
      // white that nothing sews is taken for the page
      const bool on = qAlpha(a) > 127 && !(isWhite(a) && !laid);
      ink[static_cast<size_t>(y * w + x)] = on;
      n += on;
      f.bare += on && !laid;
      f.wrong += on && laid && apart(a, b) > kMostApart;
      f.beside += !on && laid;
    }
  for (double* part : {&f.bare, &f.wrong, &f.beside}) *part /= std::max(1.0, n);
  f.ink_mm2 = n / (kPixels * kPixels);
  for (int y = 0; y < h; ++y)
    for (int x = 0; x < w; ++x) {
      const size_t k = static_cast<size_t>(y * w + x);
      if (ink[k] || seen[k]) continue;
      const std::vector<QPoint> hole = holeAt(x, y, ink, seen, w, h);
      if (static_cast<double>(hole.size()) < kLeastHole_mm2 * kPixels * kPixels) continue;
      size_t closed = 0;
      for (QPoint p : hole) closed += qAlpha(thread.pixel(p)) > 127;
      ++f.holes;
      f.open += static_cast<double>(closed) <= kMostClosed * static_cast<double>(hole.size());
    }
  return f;
}

void measure(const std::string& file, double width_mm, const std::string& pictures) {
  const std::string name = QFileInfo(QString::fromStdString(file)).completeBaseName().toStdString();
  const std::string svg = readFile(file);
  Artwork art = readArtwork(svg, name);
  Box own;
  for (const Shape& s : art.shapes) own.add(boundsOf(inkOf(s)));
  const double scale = width_mm / own.width();
  placeArtwork(art, width_mm);
  const auto start = std::chrono::steady_clock::now();
  const Digitised made = digitiseArtwork(art, {}, name);
  const std::chrono::duration<double> took = std::chrono::steady_clock::now() - start;
  Box placed;
  for (const Shape& s : art.shapes) placed.add(boundsOf(inkOf(s)));
  const Canvas canvas(placed);
  const QImage drawn =
      shown(svg, canvas, kPixelOfPage_mm * scale, (Point{} - own.centre()) * scale);
  const QImage thread = sewn(made.pattern, canvas);
  const Figures f = compared(drawn, thread);
  const Statistics counts = statisticsOf(made.pattern, {});
  std::printf("%-36.36s %6.0f %5.1f %5.1f %5.1f  %3d/%-3d %4zu/%-4zu %4zu %4zu %6.3f\n",
              name.c_str(), f.ink_mm2, 100 * f.bare, 100 * f.wrong, 100 * f.beside, f.open, f.holes,
              counts.trims, made.shapes.size(), counts.colour_changes, made.warnings.size(),
              took.count());
  std::fflush(stdout);
  if (pictures.empty()) return;
  QImage pair(2 * canvas.width, canvas.height, QImage::Format_RGB32);
  pair.fill(QColor(0xf4f1ea));
  QPainter p(&pair);
  p.drawImage(0, 0, drawn);
  p.drawImage(canvas.width, 0, thread);
  p.end();
  pair.save(QString::fromStdString(pictures + "/" + name + ".png"));
}

}  // namespace

int main(int argc, char** argv) {
  double width_mm = 80;
  std::string pictures;
  std::printf("%-36s %6s %5s %5s %5s  %7s %9s %4s %4s %6s\n", "drawing", "mm2", "bare%", "other%",
              "off%", "holes", "cuts/of", "chg", "warn", "s");
  for (int i = 1; i < argc; ++i) {
    const std::string word = argv[i];
    if (const double v = std::atof(argv[i]); v > 0 && word.find(".svg") == std::string::npos) {
      width_mm = v;
    } else if (word == "--pictures" && i + 1 < argc) {
      pictures = argv[++i];
    } else {
      try {
        measure(word, width_mm, pictures);
      } catch (const std::exception& problem) {
        std::printf("%s: %s\n", word.c_str(), problem.what());
      }
    }
  }
  return 0;
}
