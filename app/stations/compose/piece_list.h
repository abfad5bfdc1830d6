// Pieces with their pictures, sizes and what is wrong with them.
#pragma once

#include "desk.h"
#include "drag_list.h"

namespace rt {

class PieceList : public DragList {
  Q_OBJECT
 public:
  explicit PieceList(Desk& desk);
  void refresh();

 signals:
  /// A row was dragged to another place; with Shift the user means it whatever it covers.
  void dragged(int piece_id, int to_row, bool on_purpose);

 protected:
  void mousePressEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;

 private:
  QImage pictureFor(const Piece& piece);
  Desk& desk_;
  struct Kept {
    std::shared_ptr<const Pattern> stitches;
    QImage picture;
  };
  std::map<int, Kept> pictures_;
};

}  // namespace rt
