// Which pieces are chosen.
#pragma once

#include <QObject>
#include <vector>

#include "job.h"

namespace rt {

/// Pieces by id; groups are chosen as one. Holds no job: it is told which one is in hand.
class Selection : public QObject {
  Q_OBJECT
 public:
  using QObject::QObject;

  /// The piece that leads; 0: none.
  int leading() const { return leading_; }
  /// All that are chosen, in sewing order; `leading` is one of them.
  const std::vector<int>& chosen() const { return chosen_; }
  bool isChosen(int piece_id) const;

  /// Chooses a piece and its group, and no other.
  void select(const Job& job, int piece_id);
  /// Adds a piece and its group to what is chosen, or takes them out.
  void selectAlso(const Job& job, int piece_id);
  /// Makes one of those that are chosen the leading one.
  void lead(int piece_id);
  void clear();
  /// The job changed: what is gone is not chosen. Says nothing of it.
  void keepTo(const Job& job);

 signals:
  void changed();

 private:
  int leading_ = 0;
  std::vector<int> chosen_;
};

}  // namespace rt
