#include "chart_view.h"

#include <QHelpEvent>
#include <QPainter>
#include <QToolTip>
#include <cmath>

#include "look.h"

namespace rt {
namespace {

/// The next of 1, 2, 5, 10 … that is no smaller.
double rounded(double v) {
  if (!(v > 0)) return 1;
  const double power = std::pow(10, std::floor(std::log10(v)));
  for (double step : {1.0, 2.0, 5.0, 10.0})
    if (v <= step * power * 1.0001) return step * power;
  return 10 * power;
}

look::State stateOf(int mark) {
  return mark == 0 ? look::State::Ready : mark == 1 ? look::State::Check : look::State::Stop;
}

}  // namespace

ChartView::ChartView(QWidget* parent) : QWidget(parent) {
  setMinimumHeight(200);
}

void ChartView::setChart(Chart chart, const QString& x, const QString& y, const QString& empty) {
  chart_ = std::move(chart);
  x_ = x;
  y_ = y;
  empty_ = empty;
  mostX_ = mostY_ = 0;
  for (const ChartPoint& p : chart_.points) {
    mostX_ = std::max(mostX_, p.x);
    mostY_ = std::max(mostY_, p.y);
  }
  if (chart_.line) mostY_ = std::max(mostY_, *chart_.line * 1.1);
  if (chart_.diagonal) mostX_ = mostY_ = std::max(mostX_, mostY_);
  mostX_ = rounded(mostX_);
  mostY_ = rounded(mostY_);
  setAccessibleName(tr("%1 over %2, %3 points").arg(y, x).arg(chart_.points.size()));
  update();
}

QRectF ChartView::area() const {
  return QRectF(rect()).adjusted(38, 20, -10, -30);
}

QPointF ChartView::px(const ChartPoint& p) const {
  const QRectF a = area();
  return {a.left() + a.width() * p.x / mostX_, a.bottom() - a.height() * p.y / mostY_};
}

void ChartView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF a = area();
  p.setPen(look::colours().quiet);
  p.setFont(look::text(9.5));
  if (chart_.points.empty()) {
    p.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap, empty_);
    return;
  }
  p.drawText(QRectF(0, 0, width(), 18), Qt::AlignLeft | Qt::AlignVCenter, y_);
  p.drawText(QRectF(0, height() - 16, width() - 8, 16), Qt::AlignRight | Qt::AlignVCenter, x_);
  p.setFont(look::figures(8));
  for (int i = 0; i <= 4; ++i) {
    const double y = a.bottom() - a.height() * i / 4;
    p.setPen(QPen(look::colours().line, 1));
    p.drawLine(QPointF(a.left(), y), QPointF(a.right(), y));
    p.setPen(look::colours().quiet);
    p.drawText(QRectF(0, y - 8, a.left() - 6, 16), Qt::AlignRight | Qt::AlignVCenter,
               QString::number(mostY_ * i / 4, 'g', 3));
  }
  if (chart_.diagonal) {
    p.setPen(QPen(look::colours().quiet, 1.2, Qt::DashLine));
    p.drawLine(a.bottomLeft(), a.topRight());
    p.drawText(QRectF(a.right() - 60, a.bottom() + 2, 60, 14), Qt::AlignRight,
               QString::number(mostX_, 'g', 3));
  }
  if (chart_.line) {
    const double y = px({0, *chart_.line, 0, {}}).y();
    p.setPen(QPen(look::colourOf(look::State::Stop), 1.4, Qt::DashLine));
    p.drawLine(QPointF(a.left(), y), QPointF(a.right(), y));
    p.drawText(QRectF(a.right() - 80, y - 15, 78, 14), Qt::AlignRight,
               tr("limit %1").arg(*chart_.line, 0, 'g', 3));
  }
  if (!chart_.diagonal) {
    p.setPen(QPen(look::colours().accentSoft, 1.5));
    for (size_t i = 1; i < chart_.points.size(); ++i)
      p.drawLine(px(chart_.points[i - 1]), px(chart_.points[i]));
  }
  for (const ChartPoint& point : chart_.points) {
    QRectF dot(0, 0, 11, 11);
    dot.moveCenter(px(point));
    look::drawState(p, dot, stateOf(point.mark));
  }
}

bool ChartView::event(QEvent* event) {
  if (event->type() != QEvent::ToolTip) return QWidget::event(event);
  auto* help = static_cast<QHelpEvent*>(event);
  for (const ChartPoint& point : chart_.points)
    if (QLineF(px(point), help->pos()).length() < 9) {
      QToolTip::showText(
          help->globalPos(),
          QStringLiteral("%1\n%2").arg(point.y, 0, 'f', 2).arg(QString::fromStdString(point.label)),
          this);
      return true;
    }
  QToolTip::hideText();
  return true;
}

}  // namespace rt
