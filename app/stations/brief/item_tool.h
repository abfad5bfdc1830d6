// Items that come again and again: their places with the reason for each, laid under the job.
#pragma once

#include "items.h"
#include "station.h"

namespace rt {

class ItemTool : public QWidget {
  Q_OBJECT
 public:
  explicit ItemTool(Desk& desk);
  void refresh();

 private:
  const Item* item() const;
  const ItemPlace* place() const;
  void showPlaces();
  void showReason();
  void lay();
  Desk& desk_;
  std::vector<Item> items_;
  QComboBox *item_, *size_, *place_;
  QLabel *reason_, *measures_;
  QPushButton* lay_;
};

}  // namespace rt
