// Sew: one clear run of things to do. What is next stands large, what is done is a line.
#pragma once

#include <QCheckBox>
#include <QProgressBar>
#include <QTimer>

#include "hooping_hand.h"
#include "machine_lens.h"
#include "machine_link.h"
#include "machine_tools.h"
#include "preflight.h"
#include "proof_tools.h"
#include "run_ahead.h"
#include "spool_row.h"
#include "station.h"
#include "tool_shelf.h"

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
  /// The machine waits for a person.
  void called(const QString& words);

 private:
  void buildRun();
  void buildTools();
  void connectAll();
  void listHoopings();
  void showChecks();
  void showSpools();
  void showNext();
  void onPhase();
  void forgetTicks(bool loaded);
  void showOverrule(const std::optional<PreflightLine>& against);
  void overrule();
  void listMachines();
  void connectChosen();
  void onTrace(const QVector<QPointF>& way);
  void onMoved();
  void showProgress();
  bool looked() const;
  QString phaseWords() const;
  void sendOn();

  FileAsker& asker_;
  MachineLens lens_;
  HoopingHand hand_;
  MachineLink& link_;
  QComboBox *hooping_, *machines_;
  QVBoxLayout* checks_;
  std::array<QCheckBox*, 3> ticks_{};
  QPushButton *connect_, *send_, *trace_, *sew_, *pause_, *mounted_, *allTheSame_;
  QLineEdit* reason_;
  QLabel *state_, *next_, *facts_;
  QProgressBar* progress_;
  SpoolRow* spools_;
  ProofTools* proof_;
  StepTool* step_;
  FilesTool* files_;
  FaultTool* faults_;
  QVector<MachineFound> found_;
  QString ticksOf_;  ///< Machine and setting that the ticks were made for; empty: none.
  MachineLink::Phase lastPhase_ = MachineLink::Phase::Away;
};

}  // namespace rt
