// The right side: the verdict on top, the station's own panel under it.
#pragma once

#include <QLabel>
#include <QStackedWidget>

#include "station.h"

namespace rt {

class VerdictPanel : public QWidget {
  Q_OBJECT
 public:
  VerdictPanel(Desk& desk, const VerdictBoard& board);
  void add(StationPanel* panel);
  void setStation(Station station);
  const std::vector<StationPanel*>& panels() const { return panels_; }
  StationPanel* panel(Station station) const { return panels_[static_cast<size_t>(station)]; }
  void refreshVerdict();

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  const VerdictBoard& board_;
  Station station_ = Station::Brief;
  QLabel *word_, *sentence_;
  QStackedWidget* stack_;
  std::vector<StationPanel*> panels_;
  look::State state_ = look::State::Untouched;
};

}  // namespace rt
