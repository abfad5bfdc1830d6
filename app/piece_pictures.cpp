#include "piece_pictures.h"

#include "thread_picture.h"

namespace rt {

void PiecePictures::keepTo(const std::vector<Piece>& pieces) {
  std::erase_if(pictures_, [&](const auto& s) {
    return std::none_of(pieces.begin(), pieces.end(),
                        [&](const Piece& p) { return p.id == s.first; });
  });
}

/// Draws the piece's picture anew if zoom, turn, size or stitches are not those it was drawn with.
const PiecePictures::Picture& PiecePictures::fresh(const Piece& piece, const Eye& eye,
                                                   double ratio) {
  Picture& s = pictures_[piece.id];
  Placement here = piece.place;
  const QRectF seen(QPointF(eye.mm(QPointF(0, 0)).x, eye.mm(QPointF(0, 0)).y),
                    QPointF(eye.mm(QPointF(eye.view.width(), eye.view.height())).x,
                            eye.mm(QPointF(eye.view.width(), eye.view.height())).y));
  Placement drawn = s.place;
  drawn.at = here.at;
  const bool same = s.px_per_mm == eye.px_per_mm && drawn == here && s.stitches == piece.stitches;
  if (same && s.clip_mm.translated(here.at.x - s.place.at.x, here.at.y - s.place.at.y)
                  .contains(seen.intersected(
                      s.box_mm.translated(here.at.x - s.place.at.x, here.at.y - s.place.at.y))))
    return s;
  const Box bounds = boundsOf(piece).grown(0.6);
  const QRectF box(bounds.left, bounds.top, bounds.width(), bounds.height());
  // somewhat more than is seen, so that panning does not draw at each step
  const QRectF wide = box.intersected(
      seen.adjusted(-seen.width() / 2, -seen.height() / 2, seen.width() / 2, seen.height() / 2));
  s = {};
  s.box_mm = box;
  s.clip_mm = wide;
  s.px_per_mm = eye.px_per_mm;
  s.place = here;
  s.stitches = piece.stitches;
  if (wide.isEmpty()) return s;
  s.image = QImage((wide.size() * eye.px_per_mm * ratio).toSize() + QSize(2, 2),
                   QImage::Format_ARGB32_Premultiplied);
  s.image.setDevicePixelRatio(ratio);
  s.image.fill(Qt::transparent);
  QPainter painter(&s.image);
  ThreadDrawing how;
  how.px_per_mm = eye.px_per_mm;
  how.to_px = Transform::scaling(eye.px_per_mm, eye.px_per_mm) *
              Transform::moving({-wide.left(), -wide.top()}) * transformOf(here);
  how.visible = QRectF(QPointF(), QSizeF(s.image.size()) / ratio);
  drawThread(painter, *piece.stitches, how);
  return s;
}

void PiecePictures::draw(QPainter& p, const Eye& eye, const Piece& piece, const Placement& now,
                         double ratio) {
  const Picture& s = fresh(piece, eye, ratio);
  if (s.image.isNull()) return;
  p.save();
  if (now == piece.place ||
      (now.turn_deg == piece.place.turn_deg && now.scale_x == piece.place.scale_x &&
       now.scale_y == piece.place.scale_y && now.mirrored == piece.place.mirrored)) {
    const Point shift = now.at - s.place.at;
    p.drawImage(eye.px(Point{s.clip_mm.left() + shift.x, s.clip_mm.top() + shift.y}), s.image);
  } else {
    // while it is sized or turned, the picture itself is; it is drawn anew at the end
    const Transform change = transformOf(now) * *transformOf(piece.place).inverse();
    const Transform all = eye.transform() * change *
                          Transform::moving({s.clip_mm.left(), s.clip_mm.top()}) *
                          Transform::scaling(1 / s.px_per_mm, 1 / s.px_per_mm);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    p.setTransform(QTransform(all.xx, all.yx, all.xy, all.yy, all.dx, all.dy), true);
    p.drawImage(QPointF(), s.image);
  }
  p.restore();
}

}  // namespace rt
