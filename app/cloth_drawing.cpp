#include "cloth_drawing.h"

#include "look.h"

namespace rt {

QPen linePen(const QColor& colour, double width, Qt::PenStyle style) {
  return QPen(colour, width, style, Qt::RoundCap, Qt::RoundJoin);
}

Box placeOf(const Job& job) {
  return Box::around({0, 0}, job.brief.place_width_mm, job.brief.place_height_mm);
}

void drawCross(QPainter& p, QPointF at, double arm, const QColor& colour) {
  p.setPen(linePen(look::colours().ground, 4));
  p.drawLine(at - QPointF(arm, 0), at + QPointF(arm, 0));
  p.drawLine(at - QPointF(0, arm), at + QPointF(0, arm));
  p.setPen(linePen(colour, 1.6));
  p.drawLine(at - QPointF(arm, 0), at + QPointF(arm, 0));
  p.drawLine(at - QPointF(0, arm), at + QPointF(0, arm));
}

void drawLabel(QPainter& p, QPointF at, const QString& text, const QColor& colour, bool filled) {
  p.setFont(look::text(9, true));
  QRectF box = p.fontMetrics().boundingRect(text);
  box.moveTopLeft(at);
  box.adjust(0, 0, 12, 6);
  if (const double over = box.right() - p.window().right() + 4; over > 0) box.translate(-over, 0);
  p.setPen(Qt::NoPen);
  p.setBrush(filled ? colour : look::colours().raised);
  p.drawRoundedRect(box, 5, 5);
  p.setPen(filled ? (look::isDark() ? look::colours().ground : QColor(Qt::white)) : colour);
  p.drawText(box, Qt::AlignCenter, text);
}

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
  p.setPen(linePen(look::colours().ink, 1));
  p.drawLine(at, QPointF(box.left() > at.x() ? box.left() : box.right(), box.center().y()));
  p.setPen(linePen(look::colours().line, 1));
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
    p.setPen(linePen(keepOut ? look::colours().stop : look::colours().check, 1.2, Qt::DashLine));
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

void drawNeedle(QPainter& p, const Eye& eye, Point at, bool running) {
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const QPointF tip = eye.px(at);
  p.setPen(linePen(look::colours().ground, 5));
  p.drawLine(tip, tip + QPointF(7, -24));
  p.setPen(linePen(look::colours().ink, 2.4));
  p.drawLine(tip, tip + QPointF(7, -24));
  p.setBrush(running ? look::colours().accent : look::colours().check);
  p.setPen(linePen(look::colours().ground, 1.5));
  p.drawEllipse(tip + QPointF(7, -27), 6, 6);
  p.restore();
}

}  // namespace rt
