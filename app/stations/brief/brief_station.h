// Brief: the item, the cloth, the materials.
#pragma once

#include <QCheckBox>
#include <QPlainTextEdit>

#include "station.h"
#include "zone_tools.h"

namespace rt {

class BriefStation : public StationPanel {
  Q_OBJECT
 public:
  explicit BriefStation(const StationContext& context);
  void refresh() override;
  ZoneTools& zones() { return *zones_; }

 signals:
  void swatchAsked();

 private:
  void set(const QString& name, void (*edit)(Brief&, const QVariant&), const QVariant& value);
  QLineEdit* title_;
  QLineEdit* item_;
  QPlainTextEdit* order_;
  QComboBox* fabric_;
  QComboBox* holding_;
  QLineEdit* backing_;
  QCheckBox* topper_;
  LengthEdit* width_;
  LengthEdit* height_;
  QLineEdit* angle_;
  QComboBox *needle_, *thread_;
  QLabel* limits_;
  ZoneTools* zones_;
};

}  // namespace rt
