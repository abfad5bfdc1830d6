// Density: where the needle will break, and the exact change that cures it.
#pragma once

#include <QListWidget>

#include "limit_tools.h"
#include "station.h"
#include "tool_shelf.h"
#include "weight_lens.h"

namespace rt {

class DensityStation : public StationPanel {
  Q_OBJECT
 public:
  explicit DensityStation(const StationContext& context);
  void refresh() override;
  Lens* lens() override { return &lens_; }
  Hand* hand() override { return &hand_; }
  void pick(int finding);
  int picked() const { return picked_; }
  /// Takes a cure; undone as one step.
  void take(int cure);

 protected:
  void hideEvent(QHideEvent* event) override;

 private:
  void showCures();
  QWidget* cureRow(size_t cure, bool keepOut);
  Job jobWith(const Cure& cure) const;
  void compare(size_t cure);
  void overrule();
  CompareLine line_;
  WeightLens lens_;
  WeightHand hand_;
  QLabel* found_;
  QListWidget* list_;
  QWidget* cureBox_;
  QVBoxLayout* cures_;
  QWidget* moreBox_;
  QVBoxLayout* moreCures_;
  LimitTools* limits_;
  Fold *more_ = nullptr, *over_ = nullptr;
  QWidget* overruleBox_;
  QLineEdit* reason_;
  int picked_ = -1;
};

}  // namespace rt
