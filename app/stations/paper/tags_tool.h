// Sheets of printable tags: those of the plan's marks and of its frames, or any numbers.
#pragma once

#include <QSpinBox>

#include "paper.h"
#include "station.h"
#include "tag_sheets.h"

namespace rt {

class TagsTool : public QWidget {
  Q_OBJECT
 public:
  TagsTool(Desk& desk, FileAsker& asker);
  void setPaper(Paper paper, PrinterScale printer) { paper_ = paper, printer_ = printer; }
  void refresh();

 private:
  TagSheetOptions options() const;
  void write();
  Desk& desk_;
  FileAsker& asker_;
  Paper paper_ = Paper::A4;
  PrinterScale printer_;
  QSpinBox *first_, *count_, *size_;
  QLabel* words_;
};

}  // namespace rt
