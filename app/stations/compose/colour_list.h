// Colours in sewing order, to be dragged into another.
#pragma once

#include "drag_list.h"
#include "hand_order.h"
#include "station.h"

namespace rt {

class ColourList : public QWidget {
  Q_OBJECT
 public:
  explicit ColourList(Desk& desk);
  void refresh();

 public slots:
  /// Sews a run of one colour at another place; refused with the reason where an overlap forbids
  /// it.
  void moveRun(int from, int to);
  /// Back to the order in which the pieces come.
  void asTheyCome();

 private:
  Desk& desk_;
  QLabel *head_, *state_;
  DragList* list_;
  QPushButton* back_;
  std::vector<ColourRun> runs_;
  size_t shown_ = 0;            ///< Print of the layout whose runs are shown.
  std::vector<Colour> wished_;  ///< And the order that was wished for it.
};

}  // namespace rt
