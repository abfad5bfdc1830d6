// Choosing, moving, sizing and turning pieces, and lettering typed on the cloth.
#pragma once

#include "desk.h"
#include "hand.h"
#include "letter_hand.h"
#include "weight_lens.h"

namespace rt {

class ComposeHand : public Hand {
 public:
  ComposeHand(Desk& desk, CompareLine& line) : desk_(desk), line_(line), letters_(desk) {}

  bool press(const Touch& touch, const Eye& eye) override;
  bool doubleClick(const Touch& touch, const Eye& eye) override;
  void drag(const Touch& touch, const Eye& eye) override;
  void release() override;
  bool key(const QKeyEvent& event) override;
  bool typing() const override { return letters_.typing(); }
  void giveUp() override;
  void keep() override { letters_.keep(); }
  void jobChanged() override { letters_.refresh(); }
  Qt::CursorShape cursor(QPointF at, const Eye& eye) const override;
  Placement placeOf(const Piece& piece) const override;
  const Piece* draft() const override { return letters_.draft(); }
  void paint(QPainter& painter, const Eye& eye) override;

 private:
  enum class Grip { None, Move, Size, Turn, Bend, Line };
  enum Handle { kNoHandle = -1, kTurnHandle = 8 };
  /// Levels and uprights that a dragged box may snap to.
  struct SnapTo {
    std::vector<double> left, centre, right, top, middle, bottom;
    std::vector<std::pair<rt::Box, QString>> others;  ///< Pieces that stay, with their names.
  };

  bool gripsPieces() const {
    return grip_ == Grip::Move || grip_ == Grip::Size || grip_ == Grip::Turn;
  }
  std::array<QPointF, 9> handles(const Piece& piece, const Placement& place, const Eye& eye) const;
  int handleAt(QPointF at, const Eye& eye) const;
  int pieceAt(QPointF at, const Eye& eye) const;
  bool grab(const Touch& touch, const Eye& eye);
  void dragTurn(const Touch& touch, const Eye& eye);
  void dragSize(const Touch& touch, const Eye& eye);
  void commit();
  SnapTo snapTargets() const;
  Point snapped(Point moved, const Box& box, const Eye& eye) const;
  /// Lines along which a dragged box lies flush with the place, the cross or another piece.
  std::vector<std::pair<Point, Point>> snapLines(const Box& box) const;
  /// The nearest other piece and how far away it is, in words.
  QString nearestPiece(const Piece& moved) const;
  void paintSelection(QPainter& p, const Eye& eye);
  void paintReadings(QPainter& p, const Eye& eye, const Piece& piece, const Placement& place);

  Desk& desk_;
  CompareLine& line_;
  LetterHand letters_;
  Grip grip_ = Grip::None;
  int handle_ = kNoHandle;
  QPointF pressed_;
  Placement dragStart_, drag_;
  SnapTo snaps_;
};

}  // namespace rt
