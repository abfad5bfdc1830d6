// How a sewing went, and what the steps of a swatch showed: what the limits learn from.
#pragma once

#include <map>

#include "station.h"

namespace rt {

class OutcomeTools : public QWidget {
  Q_OBJECT
 public:
  explicit OutcomeTools(Desk& desk);
  void refresh();

 public slots:
  void record(int outcome);
  /// The first step of a swatch's row that failed; 0: none.
  void recordSwatch(const QString& row, int first_failed);

 private:
  void buildSwatch();
  void keepSwatch();
  Desk& desk_;
  QLabel* words_;
  QLineEdit* why_;
  QWidget *went_, *swatch_;
  QVBoxLayout* rows_;
  std::map<std::string, QComboBox*> picks_;
  std::string swatchOf_;
};

}  // namespace rt
