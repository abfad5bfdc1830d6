// Sew: pre-flight, the machine, progress, and going on at the right stitch.
#pragma once

#include <QCheckBox>
#include <QProgressBar>
#include <QSlider>

#include "hooping_hand.h"
#include "machine_lens.h"
#include "machine_link.h"
#include "proof_tools.h"
#include "station.h"

namespace rt {

class SewStation : public StationPanel {
  Q_OBJECT
 public:
  explicit SewStation(const StationContext& context);
  void refresh() override;
  Lens* lens() override { return &lens_; }
  Hand* hand() override { return &hand_; }
  MachineLink& machine() { return link_; }

 signals:
  void machineMoved(int hooping, int setting, size_t row, bool running);
  void traced(const QVector<QPointF>& layout_mm);

 private:
  void buildList();
  void showThreads(const Pattern& pattern);
  void onPhase();
  bool listComplete() const;
  /// Why sewing may not begin, and where that is mended; empty: nothing stands against it.
  QString hindrance() const;
  QString phaseWords() const;

  FileAsker& asker_;
  MachineLens lens_;
  HoopingHand hand_;
  MachineLink& link_;
  QComboBox* hooping_;
  QVBoxLayout* facts_;
  std::array<QCheckBox*, 4> ticks_{};
  QPushButton *connect_, *send_, *trace_, *sew_, *pause_, *break_;
  QSlider* speed_;
  QLabel *speedWords_, *state_;
  QProgressBar* progress_;
  ProofTools* proof_;
};

}  // namespace rt
