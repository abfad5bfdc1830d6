// Compose: size, combine, letter.
#pragma once

#include <QCheckBox>

#include "order_tools.h"
#include "piece_list.h"
#include "piece_tools.h"
#include "station.h"

namespace rt {

class ComposeStation : public StationPanel {
  Q_OBJECT
 public:
  ComposeStation(Desk& desk, FileAsker& asker);
  void refresh() override;
  void addFile(const QString& path);
  void addLettering();
  void removeSelected();
  void reorder(int by);
  void mirror();
  PieceTools& tools() { return *tools_; }

 private:
  void buildPlacing();
  void buildLettering();
  void place(const QString& name, const std::function<void(Placement&, const Box&)>& edit);
  void letter(const QString& name, const std::function<void(TextSource&)>& edit);
  void readArc();
  void fitLettering();

  FileAsker& asker_;
  PieceList* list_;
  QWidget* placing_;
  LengthEdit *x_, *y_, *width_, *height_;
  QLineEdit* turn_;
  QCheckBox *locked_, *mirrored_;
  QWidget* lettering_;
  QLineEdit* text_;
  QComboBox *face_, *curve_;
  LengthEdit *capHeight_, *radius_, *chord_, *sagitta_;
  LengthEdit* fit_;
  QLineEdit* gaps_;
  PieceTools* tools_;
  OrderTools* order_;
  QLabel* hint_;
};

}  // namespace rt
