#include "landing_lens.h"

#include "cloth_drawing.h"
#include "hooping_place.h"
#include "look.h"

namespace rt {
namespace {

/// The worst corner's error as an ellipse, enlarged so that it can be seen.
void drawError(QPainter& p, const Eye& eye, const Fit& fit, Point layout, QPointF at,
               double enlarge) {
  const PlaceCovariance c = fit.covarianceAt(layout);
  const double a = kWithin95 * c.longAxis_mm() * enlarge * eye.px_per_mm,
               b = kWithin95 * c.shortAxis_mm() * enlarge * eye.px_per_mm;
  p.save();
  p.translate(at);
  p.rotate(c.longAxis_deg());
  p.drawEllipse(QPointF(), a, b);
  p.restore();
}

/// Around each mark how far a place in the scan can be taken for the layout's.
void drawTruth(QPainter& p, const Eye& eye, const Alignment& a, const Transform& toLayout,
               double limit_mm) {
  p.setBrush(Qt::NoBrush);
  p.setPen(linePen(look::colours().ready, 1.2, Qt::DotLine));
  for (const Mark& m : a.marks) {
    const double r = trueWithin_mm(a.fit, m.layout, limit_mm) * eye.px_per_mm;
    if (r > 2 && r < 4 * eye.view.width()) p.drawEllipse(eye.px(toLayout(m.layout)), r, r);
  }
}

}  // namespace

void LandingLens::paint(QPainter& p, const Eye& eye) {
  const Hooping* h = desk_.currentHooping();
  if (!h) return;
  constexpr double kEnlarge = 10;  // errors are tenths of a millimetre
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.setBrush(Qt::NoBrush);
  p.setPen(linePen(look::colours().quiet, 1.3, Qt::DashLine));
  p.drawRoundedRect(eye.px(h->settings.front().field.box), 10, 10);
  const std::optional<Alignment> a = desk_.alignmentOf(h->index);
  for (const Mark& m : expectedMarks(*h)) {
    drawCross(p, eye.px(m.layout), 9, look::colours().ink);
    p.setFont(look::text(9, true));
    p.setPen(look::colours().ink);
    p.drawText(eye.px(m.layout) + QPointF(10, -8), QString::fromStdString(m.id));
  }
  if (a) {
    // the hoop, as it really lies over the layout
    const Transform meant = intendedPlace(h->settings.front()), toLayout = *meant.inverse(),
                    undo = *a->fit.toHoop.inverse();
    const Transform back = toLayout * undo;
    const Field field = desk_.fieldOf(*h);
    QPolygonF frame;
    for (Point corner : field.edgePoints()) frame << eye.px(back(corner));
    const look::State state = a->status == Readiness::Ready   ? look::State::Ready
                              : a->status == Readiness::Check ? look::State::Check
                                                              : look::State::Stop;
    QColor soft = look::colourOf(state);
    p.setPen(linePen(soft, 2.2));
    soft.setAlpha(22);
    p.setBrush(soft);
    p.drawPolygon(frame);
    soft.setAlpha(60);
    p.setBrush(soft);
    p.setPen(linePen(look::colourOf(state), 1.2));
    for (Point corner : field.edgePoints())
      drawError(p, eye, a->fit, undo(corner), eye.px(back(corner)), kEnlarge);
    for (size_t i = 0; i < a->marks.size(); ++i) {
      const Point at = toLayout(a->marks[i].layout), off = back(a->marks[i].hoop) - at;
      p.setPen(linePen(look::colours().stop, 2));
      p.drawLine(eye.px(at), eye.px(at + off * kEnlarge));
      p.setFont(look::figures(8.5));
      p.drawText(eye.px(at) + QPointF(10, 16),
                 QString("%1 mm").arg(a->fit.residual_mm[i], 0, 'f', 2));
    }
    drawTruth(p, eye, *a, toLayout, desk_.bench().shop.practice.photo_true_mm);
    p.setFont(look::text(8.5));
    p.setPen(look::colours().quiet);
    p.drawText(QPointF(eye.view.left() + 34, eye.view.bottom() - 32),
               QObject::tr("Solid frame: where the hoop lies. Dashed: where it was meant to. "
                           "Ellipses and red strokes are errors, drawn 10 times as large. Dotted: "
                           "true to %1 mm on the scan.")
                   .arg(desk_.bench().shop.practice.photo_true_mm, 0, 'f', 1));
  }
  p.restore();
}

}  // namespace rt
