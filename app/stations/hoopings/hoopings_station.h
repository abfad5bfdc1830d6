// Hoopings: the layout split over hoopings, with its seam errors before a stitch is sewn.
#pragma once

#include <QCheckBox>

#include "frames_lens.h"
#include "hooping_hand.h"
#include "station.h"

namespace rt {

class HoopingsStation : public StationPanel {
  Q_OBJECT
 public:
  explicit HoopingsStation(const StationContext& context);
  void refresh() override;
  Lens* lens() override { return &lens_; }
  Hand* hand() override { return &hand_; }
  std::vector<StationAction> actions() override {
    return {
        {tr("Plan the hoopings"), QKeySequence(tr("Ctrl+P")), [this] { desk_.makePlan(); }, true}};
  }
  void writeFiles(const QString& folder);

 private:
  void set(const QString& name, const std::function<void(PlanSettings&)>& edit);
  FileAsker& asker_;
  FramesLens lens_;
  HoopingHand hand_;
  QComboBox* hoop_;
  LengthEdit* overlap_;
  QCheckBox* turn_;
  QComboBox* style_;
  QPushButton *plan_, *write_;
  QVBoxLayout* list_;
  QLabel* facts_;
};

}  // namespace rt
