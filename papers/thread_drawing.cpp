#include "thread_drawing.h"

#include <algorithm>
#include <cmath>

namespace rt {
namespace {

constexpr double kWide_mm = 0.4;           // as it is sewn
constexpr double kLeastOnPaper_mm = 0.15;  // thinner lines drop out in print

}  // namespace

double scaleInto(const Pattern& layout, double width_mm, double height_mm) {
  const Box box = threadBounds(layout);
  return std::min(width_mm / std::max(0.1, box.width()), height_mm / std::max(0.1, box.height()));
}

void drawThread(PdfPages& pdf, const Pattern& layout, const Box& frame, double scale) {
  const Box box = threadBounds(layout);
  cairo_t* cr = pdf.cr();
  cairo_save(cr);
  cairo_rectangle(cr, frame.left, frame.top, frame.width(), frame.height());
  cairo_clip(cr);
  cairo_translate(cr, frame.centre().x, frame.centre().y);
  cairo_scale(cr, scale, scale);
  cairo_translate(cr, -box.centre().x, -box.centre().y);
  cairo_set_line_cap(cr, CAIRO_LINE_CAP_ROUND);
  cairo_set_line_width(cr, std::max(kWide_mm, kLeastOnPaper_mm / scale));
  int thread = -1;
  Point last{NAN, NAN};
  forEachSegment(layout, [&](Point a, Point b, size_t row) {
    const Stitch& s = layout.stitches[row];
    if (s.thread != thread) {
      if (thread >= 0) cairo_stroke(cr);
      thread = s.thread;
      pdf.colour(layout.colourOf(s));
      last = {NAN, NAN};
    }
    if (!(last == a)) cairo_move_to(cr, a.x, a.y);
    cairo_line_to(cr, b.x, b.y);
    last = b;
  });
  if (thread >= 0) cairo_stroke(cr);
  cairo_restore(cr);
  pdf.ink();
}

}  // namespace rt
