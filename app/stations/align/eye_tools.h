// Two more ways: one tag that gives place and angle, and the eye with the arrow keys.
#pragma once

#include <QButtonGroup>
#include <QSpinBox>

#include "align_hand.h"
#include "station.h"

namespace rt {

/// One tag on the cloth, and which of nine anchors of the layout goes there.
class OneTagTool : public QWidget {
  Q_OBJECT
 public:
  explicit OneTagTool(Desk& desk);
  void refresh();

 private:
  void apply();
  Desk& desk_;
  QSpinBox *id_, *angle_;
  QButtonGroup* anchors_;
  QPushButton *use_, *end_;
  QLabel* words_;
};

/// The scan is moved and turned under the layout, or two points are matched.
class EyeTool : public QWidget {
  Q_OBJECT
 public:
  EyeTool(Desk& desk, Gestures& gestures, AlignHand& hand);
  void refresh();

 private:
  void matchTwo();
  Desk& desk_;
  Gestures& gestures_;
  AlignHand& hand_;
  QPushButton *begin_, *keep_, *give_, *match_;
  QLabel* words_;
};

/// A virtual cloth is clamped badly on purpose; the person decides, then the truth is shown.
class PracticeTool : public QWidget {
  Q_OBJECT
 public:
  explicit PracticeTool(Desk& desk);
  void refresh();

 private:
  void decide(bool sew);
  void tellTruth();
  Desk& desk_;
  QComboBox* level_;
  QPushButton *hoop_, *sew_, *again_;
  QLabel *words_, *trend_;
  bool decidedToSew_ = false;
};

}  // namespace rt
