// Hoopings: the layout split over hoopings, with its seam errors before a stitch is sewn.
#pragma once

#include <QCheckBox>

#include "station.h"

namespace rt {

class HoopingsStation : public StationPanel {
  Q_OBJECT
 public:
  HoopingsStation(Desk& desk, FileAsker& asker);
  void refresh() override;
  void writeFiles(const QString& folder);

 private:
  void set(const QString& name, const std::function<void(PlanSettings&)>& edit);
  FileAsker& asker_;
  QComboBox* hoop_;
  LengthEdit* overlap_;
  QCheckBox* turn_;
  QComboBox* style_;
  QPushButton *plan_, *write_;
  QVBoxLayout* list_;
  QLabel* facts_;
};

}  // namespace rt
