// Align: needle points of one hooping, and whether to sew.
#pragma once

#include "station.h"

namespace rt {

class AlignStation : public StationPanel {
  Q_OBJECT
 public:
  explicit AlignStation(Desk& desk);
  void refresh() override;
  /// Types a mark's place as the machine shows it.
  void setPoint(const std::string& id, Point hoop);
  void record();

 private:
  void clearMarks();
  void addRow(const Mark& m, const Mark* typed, const QString& residual, const QString& focus);
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
