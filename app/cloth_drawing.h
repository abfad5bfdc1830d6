// What several lenses draw: crosses, labels, cards, zones, the needle. In pixels; `Eye` says where
// millimetres lie.
#pragma once

#include "desk.h"
#include "eye.h"

namespace rt {

QPen linePen(const QColor& colour, double width = 1.5, Qt::PenStyle style = Qt::SolidLine);
void drawCross(QPainter& painter, QPointF at, double arm, const QColor& colour);
void drawLabel(QPainter& painter, QPointF at, const QString& text, const QColor& colour,
               bool filled = true);
/// A small card with lines of text beside a point, kept inside the view.
void drawCard(QPainter& painter, const Eye& eye, QPointF at, const QStringList& lines);
void drawZones(QPainter& painter, const Eye& eye, const Desk& desk);
void drawNeedle(QPainter& painter, const Eye& eye, Point at, bool running);
/// Of the place that a job is sewn in.
Box placeOf(const Job& job);

}  // namespace rt
