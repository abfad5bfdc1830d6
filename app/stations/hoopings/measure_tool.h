// A frame measured once: typed from its template or with a ruler, checked, drawn, kept.
#pragma once

#include <QSpinBox>

#include "measured_frame.h"
#include "station.h"

namespace rt {

/// The frame to scale, as far as it is measured.
class FramePicture : public QWidget {
 public:
  explicit FramePicture(QWidget* parent = nullptr);
  void show(const FrameMeasures& measures);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  FrameMeasures measures_;
  std::optional<Hoop> frame_;
};

class MeasureTool : public QWidget {
  Q_OBJECT
 public:
  MeasureTool(Desk& desk, FileAsker& asker);
  void refresh();

 private:
  void buildFields(QVBoxLayout& column);
  FrameMeasures typed() const;
  void show();
  void keep();
  void showOwn();
  void readFile();
  void writeFile();

  Desk& desk_;
  FileAsker& asker_;
  QLineEdit* name_;
  QComboBox* kind_;
  LengthEdit *fieldW_, *fieldH_, *innerW_, *innerH_, *outerW_, *outerH_, *diagonal_, *lap_, *step_,
      *tag_, *tagHeight_;
  QSpinBox *positions_, *firstTag_;
  QWidget *lapRow_, *positionsRow_, *stepRow_;
  FramePicture* picture_;
  QLabel* doubts_;
  QPushButton* keep_;
  QVBoxLayout* own_;
};

}  // namespace rt
