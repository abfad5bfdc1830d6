// The cloth: always there, same place, true millimetres. Stations change only the lens over it.
#pragma once

#include <QFutureWatcher>
#include <QImage>
#include <QWidget>
#include <map>

#include "gestures.h"
#include "lenses.h"
#include "letter_hand.h"
#include "station_id.h"
#include "weight_picture.h"

namespace rt {

class Layers;

class ClothView : public QWidget, public Gestures {
  Q_OBJECT
 public:
  explicit ClothView(Desk& desk, QWidget* parent = nullptr);
  ~ClothView() override;

  void setStation(Station station);
  void setFinding(int finding);
  void setMirrored(bool mirrored);
  /// The next drag draws a box instead of moving pieces; Escape gives up.
  void askForBox();
  void askForStroke(const QString& prompt, Taken taken) override;
  void askForPoints(int count, const QString& prompt, Taken taken) override;
  bool typing() const { return letters_.typing(); }
  void setMachine(std::optional<Point> needle, bool running);
  /// Shows only what is sewn up to a row of the ribbon's pattern; unset: all.
  void setMoment(std::shared_ptr<const Pattern> pattern, size_t row);
  void clearMoment();
  void fitAll();
  void zoomBy(double factor, QPointF about);
  const Eye& eye() const { return eye_; }
  /// Waits for pictures that are being drawn.
  void settle();

 signals:
  void statusChanged(const QString& left, const QString& right);
  void boxDrawn(double left, double top, double right, double bottom);
  void sizeAsked();
  void findingPicked(int finding);

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
  /// A piece's picture at some zoom and turn; only its place changes while it is dragged.
  struct Sprite {
    QImage image;
    QRectF box_mm;  ///< In the layout frame when drawn with `place`.
    double px_per_mm = 0;
    Placement place;
    std::shared_ptr<const Pattern> stitches;
    QRectF clip_mm;  ///< What was drawn of it.
  };
  enum class Grip { None, Pan, Box, Stroke, Move, Size, Turn, Bend, Wipe };
  enum class Ask { None, Box, Stroke, Points };
  enum Handle { kNoHandle = -1, kTurnHandle = 8 };

  void paintCloth(QPainter& p);
  void paintPieces(QPainter& p);
  void paintMoment(QPainter& p);
  bool takeKeptMoment(double ratio);
  void paintLens(QPainter& p);
  void paintRulers(QPainter& p);
  void paintSelection(QPainter& p);
  void paintReadings(QPainter& p);
  void paintEmpty(QPainter& p);
  void paintProbe(QPainter& p);
  void paintGesture(QPainter& p);
  void paintWeight(QPainter& p);
  void paintWipe(QPainter& p);
  void placeWipe();

  void freshenSprite(const Piece& piece);
  Placement draggedPlace(const Piece& piece) const;
  std::array<QPointF, 9> handles(const Piece& piece, const Placement& place) const;
  int handleAt(QPointF at) const;
  int pieceAt(QPointF at) const;
  void beginGrip(QPointF at);
  void dragTurn();
  void dragSize();
  void commitGrip();
  Point snapped(Point moved, const Box& box) const;
  void tellStatus();
  void giveUpGesture();
  void finishGesture();
  /// A lettering key, or Escape; false for all others.
  bool takesKey(QKeyEvent* event);
  bool gripsPieces() const {
    return grip_ == Grip::Move || grip_ == Grip::Size || grip_ == Grip::Turn;
  }
  /// Lines along which a dragged box lies flush with the place, the cross or another piece.
  std::vector<std::pair<Point, Point>> snapLines(const Box& box) const;
  /// The nearest other piece and how far away it is, in words.
  QString nearestPiece(const Piece& moved) const;
  /// Levels and uprights that a dragged box may snap to.
  struct SnapTo {
    std::vector<double> left, centre, right, top, middle, bottom;
    std::vector<std::pair<rt::Box, QString>> others;  ///< Pieces that stay, with their names.
  };
  SnapTo snapTargets() const;
  bool composing() const { return station_ == Station::Compose; }

  Desk& desk_;
  Station station_ = Station::Compose;
  Eye eye_;
  bool fitted_ = false;
  std::map<int, Sprite> sprites_;
  WeightPicture weight_;
  std::shared_ptr<const Weighing> weightOf_;
  WeightPicture otherWeight_;
  std::shared_ptr<const Weighing> otherOf_;
  double wipe_ = 0.5;  ///< Of the view's width: to the left now, to the right the other state.
  int finding_ = -1;
  bool mirrored_ = false, running_ = false;
  Ask ask_ = Ask::None;
  int askCount_ = 0;
  QString prompt_;
  Taken takenBy_;
  std::vector<Point> taken_;
  std::optional<rt::Box> box_;  // being drawn
  std::optional<Point> needle_, probe_;

  Grip grip_ = Grip::None;
  int handle_ = kNoHandle;
  QPointF pressed_, pointer_;
  QPointF panFrom_;
  Placement dragStart_, drag_;
  bool free_ = false, adding_ = false;
  SnapTo snaps_;

  LetterHand letters_;
  std::unique_ptr<Pattern> layersPattern_;
  std::unique_ptr<Layers> layers_;
  size_t layersOf_ = 0;
  std::shared_ptr<const Pattern> momentPattern_;
  size_t momentRow_ = 0;
  QImage momentImage_;
  size_t momentDrawn_ = 0;
  std::vector<std::pair<size_t, QImage>> kept_;  ///< Earlier moments in this view, by rows.
  std::shared_ptr<const Pattern> keptOf_;
  QTransform momentEye_;
};

}  // namespace rt
