// Ledger: what was hooped, aligned and sewn.
#pragma once

#include <QListWidget>

#include "chart_view.h"
#include "compare_tool.h"
#include "outcome_tools.h"
#include "station.h"
#include "tool_shelf.h"

namespace rt {

class LedgerStation : public StationPanel {
  Q_OBJECT
 public:
  explicit LedgerStation(const StationContext& context);
  void refresh() override;
  void exportCsv(const QString& path);

 private:
  QWidget* linesTool();
  QWidget* chartTool();
  QWidget* placeTool();
  void showLines();
  void showChart();
  void showPlace();
  void showRuns();
  void importLines();
  void backUp();
  FileAsker& asker_;
  QComboBox *which_, *event_, *chartOf_;
  QLineEdit *search_, *store_;
  QListWidget* list_;
  QPushButton* export_;
  ChartView* chart_;
  QLabel *found_, *place_;
  OutcomeTools* outcomes_;
  CompareTool* compare_;
  ToolShelf* shelf_;
  QWidget *lines_, *charts_, *where_;
};

}  // namespace rt
