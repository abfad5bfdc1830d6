// Details drawn on the cloth, and parts of a design taken out with a lasso.
#pragma once

#include "details.h"
#include "gestures.h"
#include "station.h"

namespace rt {

class DrawTools : public QWidget {
  Q_OBJECT
 public:
  DrawTools(Desk& desk, Gestures& gestures);
  void refresh();
  /// What a finished stroke becomes.
  void add(const std::vector<Point>& drawn);
  void lasso(const std::vector<Point>& ring);

 private:
  Desk& desk_;
  Gestures& gestures_;
  QComboBox *kind_, *colour_;
  LengthEdit* width_;
  QPushButton* lasso_;
};

}  // namespace rt
