// Paper: true-size templates.
#pragma once

#include <QCheckBox>

#include "job_sheet.h"
#include "price_tool.h"
#include "sheets_lens.h"
#include "station.h"
#include "tags_tool.h"
#include "template_pdf.h"
#include "tool_shelf.h"
#include "trim_sheet.h"

namespace rt {

class PaperStation : public StationPanel {
  Q_OBJECT
 public:
  explicit PaperStation(const StationContext& context);
  void refresh() override;
  Lens* lens() override { return &lens_; }
  std::vector<StationAction> actions() override;
  void write(const QString& path);
  void writeTrims(const QString& path);

 private:
  QWidget* templateTool();
  QWidget* cutsTool();
  QWidget* jobTool();
  QWidget* printerFold();
  void writeJob(const QString& path);
  /// Measured for the printer in hand and the chosen paper.
  PrinterScale printer() const;
  void askAndWrite();
  TemplateOptions options() const;
  JobSheetOptions jobSheet() const;
  TrimSheetOptions trimOptions() const;
  FileAsker& asker_;
  SheetsLens lens_;
  QComboBox *paper_, *grid_, *printer_;
  LengthEdit* ruler_;
  QComboBox* side_;
  QLabel *sheets_, *jobWords_;
  QPushButton *write_, *trims_;
  QCheckBox* byHand_;
  QLabel* cuts_;
  ToolShelf* shelf_;
  QWidget *template_ = nullptr, *printerFold_ = nullptr;
  TagsTool* tags_;
  PriceTool* price_;
};

}  // namespace rt
