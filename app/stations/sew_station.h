// Sew: pre-flight, the machine, progress, and going on at the right stitch.
#pragma once

#include <QCheckBox>
#include <QElapsedTimer>
#include <QProgressBar>
#include <QSlider>

#include "machine_link.h"
#include "proof_tools.h"
#include "station.h"

namespace rt {

class SewStation : public StationPanel {
  Q_OBJECT
 public:
  SewStation(Desk& desk, FileAsker& asker);
  void refresh() override;
  MachineLink& machine() { return link_; }

 signals:
  void machineMoved(int hooping, size_t row, bool running);
  void traced(const QVector<QPointF>& layout_mm);

 private:
  void buildList();
  void showThreads(const Pattern& pattern);
  void start();
  void onPhase();
  void onBreak(int stitch);
  void onFinished();
  void keepProgress(bool done);
  void note(const char* event, int stitch, const QString& words = {});
  size_t resumeRow() const;
  bool listComplete() const;
  QString phaseWords() const;
  void countTime();
  void keepRun();

  FileAsker& asker_;
  MachineLink link_;
  QComboBox* hooping_;
  QVBoxLayout* facts_;
  std::array<QCheckBox*, 4> ticks_{};
  QPushButton *connect_, *send_, *trace_, *sew_, *pause_, *break_;
  QSlider* speed_;
  QLabel *speedWords_, *state_;
  QProgressBar* progress_;
  ProofTools* proof_;
  QElapsedTimer clock_;
  double machine_s_ = 0;
  bool broken_ = false;
  int loadedHooping_ = 0;
};

}  // namespace rt
