// The cloth and what is sewn with: fabric, how it is held, backing, topper, needle, thread, each
// with the reason for the usual choice.
#pragma once

#include <QCheckBox>

#include "station.h"

namespace rt {

class ClothTool : public QWidget {
  Q_OBJECT
 public:
  explicit ClothTool(Desk& desk);
  void refresh();

 signals:
  void swatchAsked();

 private:
  void set(const QString& name, const std::function<void(Brief&)>& edit);
  Desk& desk_;
  QComboBox *fabric_, *holding_, *needle_, *thread_;
  QLineEdit* backing_;
  QCheckBox* topper_;
  QLabel *limits_, *advice_;
};

}  // namespace rt
