// Paper: true-size templates.
#pragma once

#include <QCheckBox>

#include "price_tool.h"
#include "sheets_lens.h"
#include "station.h"
#include "tags_tool.h"
#include "template_pdf.h"
#include "tool_shelf.h"

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
  void askAndWrite();
  TemplateOptions options() const;
  FileAsker& asker_;
  SheetsLens lens_;
  QComboBox *paper_, *grid_;
  QCheckBox* mirror_;
  QLabel* sheets_;
  QPushButton *write_, *trims_;
  QCheckBox* byHand_;
  QLabel* cuts_;
  ToolShelf* shelf_;
  TagsTool* tags_;
  PriceTool* price_;
};

}  // namespace rt
