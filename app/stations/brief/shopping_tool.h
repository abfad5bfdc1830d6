// What to have at hand before the job is sewn.
#pragma once

#include <QGridLayout>
#include <QSpinBox>

#include "items.h"
#include "station.h"

namespace rt {

class ShoppingTool : public QWidget {
  Q_OBJECT
 public:
  ShoppingTool(Desk& desk, FileAsker& asker);
  void refresh();

 private:
  void write();
  std::vector<ShoppingLine> list() const;
  Desk& desk_;
  FileAsker& asker_;
  QSpinBox* pieces_;
  QGridLayout* table_;
  QLabel* words_;
  QPushButton* write_;
};

}  // namespace rt
