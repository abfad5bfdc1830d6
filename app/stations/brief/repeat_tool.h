// An old job once more: everything stays but the text.
#pragma once

#include "items.h"
#include "station.h"

namespace rt {

class RepeatTool : public QWidget {
  Q_OBJECT
 public:
  RepeatTool(Desk& desk, FileAsker& asker);
  void refresh();

 signals:
  /// The job in hand is left: may it be?
  void takeAsked(const rt::Job& job);

 private:
  void repeat(const QString& path);
  Desk& desk_;
  FileAsker& asker_;
  QLineEdit* text_;
  QLabel* words_;
  QVBoxLayout* jobs_;
  QPushButton* other_;
};

}  // namespace rt
