// The needle's way: bring it over each cross and tell where the machine says it is.
#pragma once

#include "station.h"

namespace rt {

class NeedleTool : public QWidget {
  Q_OBJECT
 public:
  explicit NeedleTool(Desk& desk);
  void refresh();
  /// Types a mark's place as the machine shows it.
  void setPoint(const std::string& id, Point hoop);

 private:
  void addRow(const Mark& meant, const Mark* found, const QString& residual, const QString& focus);
  void takeHere(QPointF needle_mm);
  Desk& desk_;
  QLabel* intro_;
  QVBoxLayout* rows_;
  std::string awaited_;  ///< Mark that the machine's needle stands over.
};

}  // namespace rt
