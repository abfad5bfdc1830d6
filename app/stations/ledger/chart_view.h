// A chart of the ledger: points in the order in which they happened, and the level they are held
// against.
#pragma once

#include <QWidget>

#include "ledger_charts.h"

namespace rt {

class ChartView : public QWidget {
  Q_OBJECT
 public:
  explicit ChartView(QWidget* parent = nullptr);
  void setChart(Chart chart, const QString& x, const QString& y, const QString& empty);
  const Chart& chart() const { return chart_; }
  QSize sizeHint() const override { return {296, 210}; }

 protected:
  void paintEvent(QPaintEvent* event) override;
  bool event(QEvent* event) override;

 private:
  QRectF area() const;
  QPointF px(const ChartPoint& point) const;
  Chart chart_;
  QString x_, y_, empty_;
  double mostX_ = 1, mostY_ = 1;
};

}  // namespace rt
