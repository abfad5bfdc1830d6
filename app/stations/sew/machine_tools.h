// Seldom used at the machine: going on elsewhere by hand, its files, faults to practise on.
#pragma once

#include <QSlider>
#include <QSpinBox>

#include "station.h"

namespace rt {

/// Steps back and forward while the machine stands.
class StepTool : public QWidget {
  Q_OBJECT
 public:
  explicit StepTool(Desk& desk);
  void refresh();

 private:
  void step(int stitches);
  void stepBlock();
  void stepColour();
  Desk& desk_;
  QLabel* words_;
  std::vector<QPushButton*> buttons_;
};

/// Files in the machine's memory; those of this job that are not the one in use can be removed.
class FilesTool : public QWidget {
  Q_OBJECT
 public:
  explicit FilesTool(Desk& desk);
  void refresh();

 private:
  void show(const QVector<MachineFile>& files, bool stick);
  Desk& desk_;
  QLabel* words_;
  QPushButton *list_, *stick_, *remove_;
  QStringList stale_;
  bool onStick_ = false;
};

/// How fast the practice machine's time passes, and what shall go wrong.
class FaultTool : public QWidget {
  Q_OBJECT
 public:
  explicit FaultTool(Desk& desk);
  double speed() const;

 private:
  Desk& desk_;
  QSlider* speed_;
  QLabel* words_;
  QComboBox* fault_;
  QSpinBox* after_;
  QPushButton* strike_;
};

}  // namespace rt
