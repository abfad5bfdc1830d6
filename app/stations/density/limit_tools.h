// The shop's own limits for the job's fabric: shown, edited, and moved by what was recorded.
#pragma once

#include "station.h"

namespace rt {

class LimitTools : public QWidget {
  Q_OBJECT
 public:
  explicit LimitTools(Desk& desk);
  void refresh();

 public slots:
  void takeTyped();
  void takeLearned();
  void takeStarting();

 private:
  void showLearned();

  Desk& desk_;
  QLabel *source_, *factors_, *learned_;
  /// Density check and stop, holes check and stop, least column, least letters.
  std::array<QLineEdit*, 6> fields_{};
  QPushButton *learn_, *starting_;
};

}  // namespace rt
