// What the shop pays: typed once, kept for every quote.
#pragma once

#include <QDoubleSpinBox>

#include "station.h"
#include "tool_shelf.h"

namespace rt {

class RatesTool : public QWidget {
  Q_OBJECT
 public:
  explicit RatesTool(Desk& desk);
  void refresh();

 signals:
  void changed();

 private:
  struct Row {
    QDoubleSpinBox* box;
    double Rates::*figure;
    double factor;  ///< Of the figure as it is typed.
  };
  void keep();
  Desk& desk_;
  std::vector<Row> rows_;
  QPushButton* back_;
};

}  // namespace rt
