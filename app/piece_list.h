// Pieces with their pictures, sizes and what is wrong with them.
#pragma once

#include <QListWidget>

#include "desk.h"

namespace rt {

class PieceList : public QListWidget {
  Q_OBJECT
 public:
  explicit PieceList(Desk& desk);
  void refresh();

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
