#include "lenses.h"

#include <QPainterPath>

#include "hooping_place.h"
#include "length.h"
#include "look.h"
#include "template_pdf.h"
#include "verdicts.h"

namespace rt {
namespace {

QPen pen(const QColor& colour, double width = 1.5, Qt::PenStyle style = Qt::SolidLine) {
  return QPen(colour, width, style, Qt::RoundCap, Qt::RoundJoin);
}

void drawCross(QPainter& p, QPointF at, double arm, const QColor& colour) {
  p.setPen(pen(look::colours().ground, 4));
  p.drawLine(at - QPointF(arm, 0), at + QPointF(arm, 0));
  p.drawLine(at - QPointF(0, arm), at + QPointF(0, arm));
  p.setPen(pen(colour, 1.6));
  p.drawLine(at - QPointF(arm, 0), at + QPointF(arm, 0));
  p.drawLine(at - QPointF(0, arm), at + QPointF(0, arm));
}

void drawLabel(QPainter& p, QPointF at, const QString& text, const QColor& colour,
               bool filled = true) {
  p.setFont(look::text(9, true));
  QRectF box = p.fontMetrics().boundingRect(text);
  box.moveTopLeft(at);
  box.adjust(0, 0, 12, 6);
  p.setPen(Qt::NoPen);
  p.setBrush(filled ? colour : look::colours().raised);
  p.drawRoundedRect(box, 5, 5);
  p.setPen(filled ? (look::isDark() ? look::colours().ground : QColor(Qt::white)) : colour);
  p.drawText(box, Qt::AlignCenter, text);
}

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

}  // namespace

void drawCard(QPainter& p, const Eye& eye, QPointF at, const QStringList& lines) {
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  double width = 0, height = 14;
  for (qsizetype i = 0; i < lines.size(); ++i) {
    p.setFont(look::figures(i == 0 ? 10.5 : 9.5, i == 0));
    width = std::max<double>(width, p.fontMetrics().horizontalAdvance(lines[i]));
    height += p.fontMetrics().height() + 1;
  }
  QRectF box(at + QPointF(28, -height / 2 - 20), QSizeF(width + 24, height));
  if (box.right() > eye.view.right() - 8) box.moveRight(at.x() - 28);
  box.moveTop(std::clamp(box.top(), eye.view.top() + 30, eye.view.bottom() - height - 40));
  p.setPen(pen(look::colours().ink, 1));
  p.drawLine(at, QPointF(box.left() > at.x() ? box.left() : box.right(), box.center().y()));
  p.setPen(pen(look::colours().line, 1));
  p.setBrush(look::colours().raised);
  p.drawRoundedRect(box, 8, 8);
  double y = box.top() + 7;
  for (qsizetype i = 0; i < lines.size(); ++i) {
    p.setFont(look::figures(i == 0 ? 10.5 : 9.5, i == 0));
    p.setPen(i == 0 ? look::colours().ink : look::colours().quiet);
    p.drawText(QPointF(box.left() + 12, y + p.fontMetrics().ascent()), lines[i]);
    y += p.fontMetrics().height() + 1;
  }
  p.restore();
}

void drawZones(QPainter& p, const Eye& eye, const Desk& desk) {
  for (const Zone& z : desk.job().zones) {
    QPolygonF polygon;
    for (Point q : z.polygon_mm) polygon << eye.px(q);
    const bool keepOut = z.kind == ZoneKind::KeepOut;
    p.setPen(pen(keepOut ? look::colours().stop : look::colours().check, 1.2, Qt::DashLine));
    QColor soft = keepOut ? look::colours().stop : look::colours().check;
    soft.setAlpha(60);
    p.setBrush(QBrush(soft, keepOut ? Qt::DiagCrossPattern : Qt::HorPattern));
    p.drawPolygon(polygon);
    drawLabel(
        p, polygon.boundingRect().topLeft() + QPointF(0, -22),
        QString::fromStdString(z.name) +
            (keepOut ? QObject::tr(" · keep out") : QObject::tr(" · %1 layers").arg(z.layers)),
        p.pen().color(), false);
  }
}

void drawWeight(QPainter& p, const Eye& eye, const Desk& desk, const WeightPicture& picture,
                int finding) {
  if (picture.image.isNull()) return;
  p.save();
  p.setRenderHint(QPainter::SmoothPixmapTransform);
  const QRectF place(eye.px(Point{picture.place_mm.left(), picture.place_mm.top()}),
                     eye.px(Point{picture.place_mm.right(), picture.place_mm.bottom()}));
  p.setOpacity(0.93);
  p.drawImage(place, picture.image);
  p.setOpacity(1);
  p.setRenderHint(QPainter::Antialiasing);
  const QPainterPath check = eye.toPx().map(picture.check), stop = eye.toPx().map(picture.stop);
  p.setPen(pen(QColor(0xe0, 0x9a, 0x1e), 1.4));
  p.drawPath(check);
  p.setPen(pen(QColor(0xe2, 0x4a, 0x3b), 2));
  p.drawPath(stop);
  const auto weighing = desk.weighing();
  if (weighing && finding >= 0 && finding < static_cast<int>(weighing->report.findings.size())) {
    const Finding& f = weighing->report.findings[static_cast<size_t>(finding)];
    const QRectF around = eye.px(f.bounds.grown(2));
    if (f.severity == Verdict::Stop) {  // stop is hatched: it is told without colour
      p.save();
      p.setClipRect(around);
      p.setPen(Qt::NoPen);
      p.setBrush(QBrush(QColor(255, 240, 225, 150), Qt::BDiagPattern));
      const Limit limit = desk.fabric().density_mm_per_mm2;
      const Lattice& l = weighing->frame.lattice;
      const double cell = l.cell_mm;
      QPainterPath area;
      for (double y = f.bounds.top; y < f.bounds.bottom; y += cell) {
        double from = NAN;
        for (double x = f.bounds.left; x <= f.bounds.right + cell; x += cell) {
          const bool over = x < f.bounds.right &&
                            weighing->map.density(static_cast<int64_t>((x - l.origin.x) / cell),
                                                  static_cast<int64_t>((y - l.origin.y) / cell)) >
                                limit.stop * limitFactorAt(desk.job().zones, {x, y});
          if (over && std::isnan(from)) from = x;
          if (!over && !std::isnan(from))
            area.addRect(QRectF(eye.px(Point{from, y}), eye.px(Point{x, y + cell}))), from = NAN;
        }
      }
      p.setClipPath(area, Qt::IntersectClip);
      p.drawRect(around);
      p.restore();
    }
    p.setBrush(Qt::NoBrush);
    p.setPen(pen(look::colours().ink, 1.2, Qt::DotLine));
    p.drawRoundedRect(around, 6, 6);
    QStringList lines{
        QString("%1 %2")
            .arg(f.value, 0, 'f', 1)
            .arg(f.kind == FindingKind::Holes     ? QObject::tr("holes/mm²")
                 : f.kind == FindingKind::Density ? QObject::tr("mm/mm²")
                                                  : QObject::tr("mm")) +
        QObject::tr("   %1 %2")
            .arg(f.severity == Verdict::Stop ? QObject::tr("stop") : QObject::tr("check"))
            .arg(f.limit, 0, 'f', 1)};
    if (!f.cause.empty()) lines << QString::fromStdString(f.cause);
    if (f.area_mm2 > 0) lines << QObject::tr("%1 mm² over the limit").arg(f.area_mm2, 0, 'f', 0);
    drawCard(p, eye, eye.px(f.at), lines);
  }
  p.restore();
}

void drawFrames(QPainter& p, const Eye& eye, const Desk& desk) {
  const HoopingPlan* plan = desk.plan();
  if (!plan) return;
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  if (!desk.planCurrent()) p.setOpacity(0.45);
  for (const Hooping& h : plan->hoopings) {
    const bool here = h.index == desk.hooping();
    QColor soft = look::colours().accent;
    soft.setAlpha(here ? 34 : 12);
    p.setBrush(soft);
    p.setPen(pen(look::colours().accent, here ? 2.4 : 1.3, here ? Qt::SolidLine : Qt::DashLine));
    p.drawRoundedRect(eye.px(h.field), 10, 10);
  }
  for (const Seam& s : plan->seams)
    drawLabel(p, eye.px(s.at) + QPointF(-26, -10), QString("± %1 mm").arg(s.error_mm, 0, 'f', 2),
              look::colours().ink, false);
  for (const Hooping& h : plan->hoopings) {
    const QRectF box = eye.px(h.field);
    // in the outer corner, where the fewest other fields lie
    const QString words = QObject::tr("Hooping %1 · %2 st").arg(h.index).arg(grouped(h.stitches));
    p.setFont(look::text(9, true));
    const double wide = p.fontMetrics().horizontalAdvance(words) + 14;
    const QPointF at(h.field.centre().x > 0.5 ? box.right() - wide - 8 : box.left() + 8,
                     h.field.centre().y > 0.5 ? box.bottom() - 32 : box.top() + 8);
    drawLabel(p, at, words,
              h.index == desk.hooping() ? look::colours().accent : look::colours().quiet);
  }
  for (const Hooping& h : plan->hoopings)
    for (const PlanMark& m : h.marks) {
      drawCross(p, eye.px(m.at), std::max(6.0, 4 * eye.px_per_mm), look::colours().stop);
      p.setFont(look::text(8.5, true));
      p.setPen(look::colours().stop);
      p.drawText(eye.px(m.at) + QPointF(8, 16), QString::fromStdString(m.id));
    }
  p.restore();
}

void drawSheets(QPainter& p, const Eye& eye, const Desk& desk, bool mirrored) {
  if (desk.layout().stitches.empty()) return;
  TemplateOptions options;
  options.mirror = mirrored;
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  try {
    for (const TemplateTile& t : planTemplate(desk.layout(), options).tiles) {
      Box window = t.window;
      if (mirrored) window = {-window.right, window.top, -window.left, window.bottom};
      QColor paper(255, 255, 255, 70);
      p.setBrush(paper);
      p.setPen(pen(look::colours().accent, 1.4, Qt::DashLine));
      p.drawRect(eye.px(window));
      drawLabel(p, eye.px(window).topLeft() + QPointF(8, 8),
                QObject::tr("Sheet %1.%2").arg(t.column).arg(t.row), look::colours().accent);
    }
  } catch (const std::exception&) {
    // nothing to print: the verdict says so
  }
  drawCross(p, eye.px(Point{0, 0}), 14, look::colours().ink);
  p.restore();
}

void drawLanding(QPainter& p, const Eye& eye, const Desk& desk) {
  const Hooping* h = desk.currentHooping();
  if (!h) return;
  constexpr double kEnlarge = 10;  // errors are tenths of a millimetre
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.setBrush(Qt::NoBrush);
  p.setPen(pen(look::colours().quiet, 1.3, Qt::DashLine));
  p.drawRoundedRect(eye.px(h->field), 10, 10);
  const std::optional<Alignment> a = desk.alignmentOf(h->index);
  for (const Mark& m : expectedMarks(*h)) {
    drawCross(p, eye.px(m.layout), 9, look::colours().ink);
    p.setFont(look::text(9, true));
    p.setPen(look::colours().ink);
    p.drawText(eye.px(m.layout) + QPointF(10, -8), QString::fromStdString(m.id));
  }
  if (a) {
    // the hoop, as it really lies over the layout
    const Transform meant = intendedPlace(*h), toLayout = *meant.inverse(),
                    undo = *a->fit.toHoop.inverse();
    const Transform back = toLayout * undo;
    const Field field = desk.fieldOf(*h);
    QPolygonF frame;
    for (Point corner : field.edgePoints()) frame << eye.px(back(corner));
    const look::State state = a->status == Readiness::Ready   ? look::State::Ready
                              : a->status == Readiness::Check ? look::State::Check
                                                              : look::State::Stop;
    QColor soft = look::colourOf(state);
    p.setPen(pen(soft, 2.2));
    soft.setAlpha(22);
    p.setBrush(soft);
    p.drawPolygon(frame);
    soft.setAlpha(60);
    p.setBrush(soft);
    p.setPen(pen(look::colourOf(state), 1.2));
    for (Point corner : field.edgePoints())
      drawError(p, eye, a->fit, undo(corner), eye.px(back(corner)), kEnlarge);
    for (size_t i = 0; i < a->marks.size(); ++i) {
      const Point at = toLayout(a->marks[i].layout), off = back(a->marks[i].hoop) - at;
      p.setPen(pen(look::colours().stop, 2));
      p.drawLine(eye.px(at), eye.px(at + off * kEnlarge));
      p.setFont(look::figures(8.5));
      p.drawText(eye.px(at) + QPointF(10, 16),
                 QString("%1 mm").arg(a->fit.residual_mm[i], 0, 'f', 2));
    }
    p.setFont(look::text(8.5));
    p.setPen(look::colours().quiet);
    p.drawText(QPointF(eye.view.left() + 34, eye.view.bottom() - 32),
               QObject::tr("Solid frame: where the hoop lies. Dashed: where it was meant to. "
                           "Ellipses and red strokes are errors, drawn 10 times as large."));
  }
  p.restore();
}

void drawNeedle(QPainter& p, const Eye& eye, Point at, bool running) {
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const QPointF tip = eye.px(at);
  p.setPen(pen(look::colours().ground, 5));
  p.drawLine(tip, tip + QPointF(7, -24));
  p.setPen(pen(look::colours().ink, 2.4));
  p.drawLine(tip, tip + QPointF(7, -24));
  p.setBrush(running ? look::colours().accent : look::colours().check);
  p.setPen(pen(look::colours().ground, 1.5));
  p.drawEllipse(tip + QPointF(7, -27), 6, 6);
  p.restore();
}

}  // namespace rt
