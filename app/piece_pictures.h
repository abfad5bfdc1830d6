// Pictures of pieces, drawn once for each zoom and turn: a drag only moves them.
#pragma once

#include <QImage>
#include <map>

#include "eye.h"
#include "piece.h"

namespace rt {

class PiecePictures {
 public:
  /// Forgets pieces that are gone.
  void keepTo(const std::vector<Piece>& pieces);
  /// Draws a piece where it lies now; `view` and `ratio` are the widget's size and device ratio.
  void draw(QPainter& painter, const Eye& eye, const Piece& piece, const Placement& now,
            double ratio);

 private:
  struct Picture {
    QImage image;
    QRectF box_mm;  ///< In the layout frame when drawn with `place`.
    double px_per_mm = 0;
    Placement place;
    std::shared_ptr<const Pattern> stitches;
    QRectF clip_mm;  ///< What was drawn of it.
  };
  const Picture& fresh(const Piece& piece, const Eye& eye, double ratio);
  std::map<int, Picture> pictures_;
};

}  // namespace rt
