// What each station says at the top right: one sentence with its figure. No widgets.
#pragma once

#include "desk.h"
#include "look.h"
#include "station_id.h"

namespace rt {

struct StationVerdict {
  look::State state = look::State::Untouched;
  QString word;      ///< "Stop"
  QString sentence;  ///< With its figure.
};

StationVerdict verdictOf(const Desk& desk, Station station);

/// All verdicts as they are now, worked out once whenever something changed: head, thread of
/// stations and tooltips read them here and compute nothing.
class VerdictBoard : public QObject {
  Q_OBJECT
 public:
  explicit VerdictBoard(Desk& desk, QObject* parent = nullptr);
  const StationVerdict& of(Station station) const {
    return verdicts_[static_cast<size_t>(station)];
  }

 signals:
  void changed();

 private:
  Desk& desk_;
  std::array<StationVerdict, kStations> verdicts_;
};

/// A length in the job's unit, the other unit small beside it: "520 mm · 20 1/2 in".
QString bothUnits(const Desk& desk, double mm);
QString oneUnit(const Desk& desk, double mm);
/// "1 h 12 min", "18 min", "40 s".
QString duration(double seconds);
/// Whole numbers with thin spaces.
QString grouped(size_t number);

}  // namespace rt
