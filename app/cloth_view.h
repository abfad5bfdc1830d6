// The cloth: always there, same place, true millimetres. Stations change only the lens over it and
// the hand on it.
#pragma once

#include <QVariantAnimation>
#include <QWidget>

#include "desk.h"
#include "gestures.h"
#include "hand.h"
#include "lens.h"
#include "moment_picture.h"
#include "piece_pictures.h"
#include "scan_layer.h"

namespace rt {

class ClothView : public QWidget, public Gestures {
  Q_OBJECT
 public:
  explicit ClothView(Desk& desk, QWidget* parent = nullptr);
  ~ClothView() override;

  /// What lies over the cloth and what acts on it; either may be null. They outlive the cloth, or
  /// are taken away first.
  void setLensAndHand(Lens* lens, Hand* hand);
  void askForBox(const QString& prompt, Taken corners) override;
  void askForStroke(const QString& prompt, Taken taken) override;
  void focusCloth() override { setFocus(); }
  void askForPoints(int count, const QString& prompt, Taken taken) override;
  void lookAt(Point layout_mm) override;
  Point seenMiddle() const override;
  bool typing() const { return hand_ && hand_->typing(); }
  void setRunning(bool running);
  /// Shows only what is sewn up to a row of the ribbon's pattern; unset: all.
  void setMoment(std::shared_ptr<const Pattern> pattern, size_t row);
  void clearMoment();
  void fitAll();
  void zoomBy(double factor, QPointF about);
  const Eye& eye() const { return eye_; }
  /// Waits for pictures that are being drawn.
  void settle();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;
  bool event(QEvent* event) override;
  void leaveEvent(QEvent* event) override;

 private:
  enum class Grip { None, Pan, Box, Stroke, Hand };
  enum class Ask { None, Box, Stroke, Points };

  void paintCloth(QPainter& p);
  void paintPieces(QPainter& p);
  void paintBox(QPainter& p);
  void paintRulers(QPainter& p);
  void paintReadings(QPainter& p);
  void paintEmpty(QPainter& p);
  void paintGesture(QPainter& p);

  void beginGesture(QPointF at);
  void giveUpGesture();
  void finishGesture();
  void beginAsking(Ask what, const QString& prompt, Taken taken);

  Desk& desk_;
  Lens* lens_ = nullptr;
  Hand* hand_ = nullptr;
  Eye eye_;
  bool fitted_ = false, running_ = false, momentWhole_ = true;
  PiecePictures pictures_;
  MomentPicture moment_;
  ScanLayer scan_;
  Ask ask_ = Ask::None;
  int askCount_ = 0;
  QString prompt_;
  Taken takenBy_;
  std::vector<Point> taken_;
  std::optional<rt::Box> box_;  // being drawn
  Grip grip_ = Grip::None;
  QPointF pressed_, pointer_, panFrom_;
  QVariantAnimation way_;  // of the cloth to where it shall be looked at
};

}  // namespace rt
