// Zones of the item: places to stay clear of, and places where the cloth is thick.
#pragma once

#include <QSpinBox>

#include "desk.h"
#include "fields.h"
#include "gestures.h"

namespace rt {

class ZoneTools : public QWidget {
  Q_OBJECT
 public:
  ZoneTools(Desk& desk, Gestures& gestures);
  void refresh();
  /// A box drawn on the cloth becomes a zone of the chosen kind.
  void drawn(const Box& box);

 private:
  void add(const Box& box);
  void remove(size_t index);

  Desk& desk_;
  Gestures& gestures_;
  QVBoxLayout* list_;
  QComboBox* kind_;
  QLineEdit* name_;
  QSpinBox* layers_;
  LengthEdit *left_, *top_, *width_, *height_;
};

}  // namespace rt
