// Several pieces at once: groups, flush edges, even gaps, sizes taken from one another.
#pragma once

#include "arrange.h"
#include "station.h"

namespace rt {

class GroupTools : public QWidget {
  Q_OBJECT
 public:
  explicit GroupTools(Desk& desk);
  void refresh();

 public slots:
  void group();
  void ungroup();
  /// The others that are chosen come flush with the leading piece at an edge or middle.
  void flush(int edge);
  void distribute(int axis);
  /// The leading piece takes the width or height of the piece picked in the list.
  void matchSize(bool width);

 private:
  void changeChosen(const QString& name,
                    const std::function<Job(Job, const std::vector<int>&)>& by);

  Desk& desk_;
  QWidget* several_;
  QLabel* count_;
  QPushButton *group_, *ungroup_, *evenX_, *evenY_;
  QWidget* match_;
  QComboBox* like_;
};

}  // namespace rt
