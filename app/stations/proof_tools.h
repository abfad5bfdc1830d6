// The proof: the order text and the sewn text side by side, to be accepted before sewing.
#pragma once

#include "station.h"

namespace rt {

class ProofTools : public QWidget {
  Q_OBJECT
 public:
  explicit ProofTools(Desk& desk);
  void refresh();

 public slots:
  void accept();

 private:
  Desk& desk_;
  QLabel *ordered_, *sewn_, *said_;
  QPushButton* accept_;
};

}  // namespace rt
