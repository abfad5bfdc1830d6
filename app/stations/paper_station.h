// Paper: true-size templates.
#pragma once

#include <QCheckBox>

#include "station.h"
#include "template_pdf.h"

namespace rt {

class PaperStation : public StationPanel {
  Q_OBJECT
 public:
  PaperStation(Desk& desk, FileAsker& asker);
  void refresh() override;
  void write(const QString& path);
  void writeTrims(const QString& path);

 signals:
  void mirroredChanged(bool mirrored);

 private:
  TemplateOptions options() const;
  FileAsker& asker_;
  QComboBox *paper_, *grid_;
  QCheckBox* mirror_;
  QLabel* sheets_;
  QPushButton *write_, *trims_;
  QCheckBox* byHand_;
  QLabel* cuts_;
};

}  // namespace rt
