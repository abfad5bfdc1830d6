// What the blocks of a read design were recognised as, to be set right by hand.
#pragma once

#include "sizing.h"
#include "station.h"

namespace rt {

class BlockTools : public QWidget {
  Q_OBJECT
 public:
  explicit BlockTools(Desk& desk);
  void refresh();

 private:
  void show(size_t index, const KnownBlock& block);
  void set(size_t index, Kind kind);

  Desk& desk_;
  QVBoxLayout* rows_;
  QLabel* head_;
  std::shared_ptr<const Pattern> shown_;
  Placement shownAt_;
};

}  // namespace rt
