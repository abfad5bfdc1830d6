// The thread of work: a sewn line down the left edge with a knot for each station.
#pragma once

#include <QWidget>

#include "verdicts.h"

namespace rt {

class WorkThread : public QWidget {
  Q_OBJECT
 public:
  explicit WorkThread(const VerdictBoard& board, QWidget* parent = nullptr);
  void setStation(Station station);
  QRect knotRect(Station station) const;
  QSize sizeHint() const override { return {look::kThreadWidth, 640}; }

 signals:
  void chosen(Station station);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool event(QEvent* event) override;

 private:
  const VerdictBoard& board_;
  Station station_ = Station::Brief;
};

}  // namespace rt
