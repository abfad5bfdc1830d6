// Measuring on the scan: distances, angles, arcs, edges.
#pragma once

#include "gauge.h"
#include "station.h"

namespace rt {

class GaugeTool : public QWidget {
  Q_OBJECT
 public:
  GaugeTool(Desk& desk, Gestures& gestures);
  void refresh();
  /// Measures points as if they had been clicked.
  void measure(const std::vector<Point>& layout_mm);
  /// Takes a rough stroke: its edge becomes a zone.
  void trace(const std::vector<Point>& layout_mm);

 private:
  enum What { Distance, OffLine, Angle, ArcOf };
  void ask();
  void letterAlong();
  void tell(const QString& words);
  Desk& desk_;
  Gestures& gestures_;
  QComboBox *what_, *zone_;
  QPushButton *pick_, *letter_, *trace_;
  QLabel *read_, *note_;
  QStringList told_;
  std::optional<ArcGauge> arc_;
};

}  // namespace rt
