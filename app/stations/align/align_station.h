// Align: needle points of one hooping, and whether to sew.
#pragma once

#include "hooping_hand.h"
#include "landing_lens.h"
#include "station.h"

namespace rt {

class AlignStation : public StationPanel {
  Q_OBJECT
 public:
  explicit AlignStation(const StationContext& context);
  void refresh() override;
  Lens* lens() override { return &lens_; }
  Hand* hand() override { return &hand_; }
  std::vector<StationAction> actions() override {
    return {
        {tr("Keep the alignment in the ledger"), QKeySequence(tr("Ctrl+R")), [this] { record(); }}};
  }
  /// Types a mark's place as the machine shows it.
  void setPoint(const std::string& id, Point hoop);
  void record();

 private:
  void clearMarks();
  void addRow(const Mark& m, const Mark* typed, const QString& residual, const QString& focus);
  LandingLens lens_;
  HoopingHand hand_;
  QComboBox* hooping_;
  QLabel* intro_;
  QVBoxLayout* rows_;
  LengthEdit* tolerance_;
  QLabel* facts_;
  QPushButton *record_, *clear_;
  int shownHooping_ = -1;
  size_t shownPlan_ = 0;
};

}  // namespace rt
