// The layout many times over: equal pieces or one a name, nested in the frame of the plan.
#pragma once

#include <QPlainTextEdit>
#include <QSpinBox>

#include "batch.h"
#include "station.h"

namespace rt {

class BatchTool : public QWidget {
  Q_OBJECT
 public:
  BatchTool(Desk& desk, FileAsker& asker);
  void refresh();

 signals:
  /// Another job shall take the place of the one in hand.
  void takeAsked(const rt::Job& job);

 private:
  BatchWish wish();
  QString nameWords(const Batch& batch) const;
  /// Works the batch out and says what it takes; nothing where it cannot be.
  std::optional<Batch> worked();
  void show();
  void make();
  void readNames();

  Desk& desk_;
  FileAsker& asker_;
  QSpinBox* count_;
  LengthEdit* gap_;
  QCheckBox *turn_, *baste_;
  QPlainTextEdit* names_;
  QComboBox* long_;
  QLabel* words_;
  QPushButton *more_, *fill_, *make_;
  int per_ = 0, blank_ = 0;
  NamedCopies known_;
};

}  // namespace rt
