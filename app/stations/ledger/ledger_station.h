// Ledger: what was hooped, aligned and sewn.
#pragma once

#include <QListWidget>

#include "outcome_tools.h"
#include "station.h"

namespace rt {

class LedgerStation : public StationPanel {
  Q_OBJECT
 public:
  explicit LedgerStation(const StationContext& context);
  void refresh() override;
  void exportCsv(const QString& path);

 private:
  FileAsker& asker_;
  QComboBox* which_;
  QListWidget* list_;
  QPushButton* export_;
  OutcomeTools* outcomes_;
};

}  // namespace rt
