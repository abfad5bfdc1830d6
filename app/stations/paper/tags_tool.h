// Sheets of printable tags: those of the plan's marks and of its frames, or any numbers.
#pragma once

#include <QSpinBox>

#include "paper.h"
#include "station.h"

namespace rt {

class TagsTool : public QWidget {
  Q_OBJECT
 public:
  TagsTool(Desk& desk, FileAsker& asker);
  void setPaper(Paper paper) { paper_ = paper; }
  void refresh();

 private:
  void write();
  Desk& desk_;
  FileAsker& asker_;
  Paper paper_ = Paper::A4;
  QSpinBox *first_, *count_, *size_;
  QLabel* words_;
};

}  // namespace rt
