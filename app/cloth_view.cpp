#include "cloth_view.h"

#include <QElapsedTimer>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainterPath>
#include <QWheelEvent>

#include "fields.h"
#include "layers.h"
#include "length.h"
#include "look.h"
#include "sizing.h"
#include "thread_picture.h"
#include "verdicts.h"

namespace rt {
namespace {

constexpr double kLeastZoom = 0.05, kMostZoom = 60;  // px per mm
constexpr double kTrueSize_px_per_mm = 96 / 25.4;
constexpr int kRuler = 26;

constexpr size_t kDrawnAtOnce = 150'000;  // rows of a moment; longer ways go over several frames
constexpr size_t kDrawnBetween = 4'096;   // rows between two looks at the clock
constexpr qint64 kDrawing_ms = 11;        // of a frame
constexpr size_t kKeptEvery = 65'536;     // rows between moments that are kept for going back

/// Rulers carry round figures at least this far apart.
double rulerStep(double px_per_mm) {
  for (double step : {1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0, 200.0, 500.0, 1000.0, 2000.0, 5000.0})
    if (step * px_per_mm >= 56) return step;
  return 10000;
}

Box placeOf(const Job& job) {
  return Box::around({0, 0}, job.brief.place_width_mm, job.brief.place_height_mm);
}

}  // namespace

ClothView::~ClothView() = default;

ClothView::ClothView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk), letters_(desk) {
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  setMinimumSize(400, 300);
  setAccessibleName(tr("Cloth"));
  setAccessibleDescription(
      tr("The layout at true size. Arrows move the chosen piece, + and - zoom, 0 shows all."));
  setObjectName(QStringLiteral("cloth"));
  connect(&desk, &Desk::changed, this, [this] {
    std::erase_if(sprites_, [&](const auto& s) {
      return std::none_of(desk_.job().pieces.begin(), desk_.job().pieces.end(),
                          [&](const Piece& p) { return p.id == s.first; });
    });
    letters_.refresh();
    clearMoment();
    tellStatus();
    update();
  });
  connect(&desk, &Desk::selectionChanged, this, [this] {
    tellStatus();
    update();
  });
  connect(&desk, &Desk::weighed, this, qOverload<>(&QWidget::update));
  connect(&desk, &Desk::compared, this, [this] {
    if (desk_.comparison() && !desk_.comparison()->weighed) placeWipe();
    update();
  });
  connect(&desk, &Desk::hoopingChanged, this, qOverload<>(&QWidget::update));
}

void ClothView::setStation(Station station) {
  letters_.keep();
  giveUpGesture();
  station_ = station;
  clearMoment();
  tellStatus();
  update();
}

void ClothView::setFinding(int finding) {
  finding_ = finding;
  update();
}

void ClothView::setMirrored(bool mirrored) {
  mirrored_ = mirrored;
  update();
}

void ClothView::setMachine(std::optional<Point> needle, bool running) {
  needle_ = needle;
  running_ = running;
  update();
}

void ClothView::setMoment(std::shared_ptr<const Pattern> pattern, size_t row) {
  if (momentPattern_ != pattern) momentDrawn_ = SIZE_MAX;
  momentPattern_ = std::move(pattern);
  momentRow_ = row;
  update();
}

void ClothView::clearMoment() {
  momentPattern_.reset();
  momentImage_ = {};
  kept_.clear();
  update();
}

void ClothView::fitAll() {
  Box box = placeOf(desk_.job());
  box.add(threadBounds(desk_.layout()));
  const double w = width() - kRuler - 40, h = height() - kRuler - 64;
  eye_.px_per_mm =
      std::clamp(std::min(w / std::max(box.width(), 1.0), h / std::max(box.height(), 1.0)),
                 kLeastZoom, kMostZoom);
  const Point c = box.centre();
  eye_.centre_px = QPointF(kRuler + 20 + w / 2 - c.x * eye_.px_per_mm,
                           kRuler + 14 + h / 2 - c.y * eye_.px_per_mm);
  fitted_ = true;
  tellStatus();
  update();
}

void ClothView::zoomBy(double factor, QPointF about) {
  const Point mm = eye_.mm(about);
  eye_.px_per_mm = std::clamp(eye_.px_per_mm * factor, kLeastZoom, kMostZoom);
  eye_.centre_px = about - QPointF(mm.x, mm.y) * eye_.px_per_mm;
  fitted_ = false;
  tellStatus();
  update();
}

void ClothView::settle() {
  do repaint();
  while (momentPattern_ && momentDrawn_ < momentRow_);
}

void ClothView::resizeEvent(QResizeEvent*) {
  eye_.view = rect();
  if (fitted_ || eye_.centre_px.isNull()) fitAll();
}

void ClothView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  eye_.view = rect();
  p.fillRect(rect(), look::colours().cloth);
  paintCloth(p);
  drawZones(p, eye_, desk_);
  if (momentPattern_)
    paintMoment(p);
  else
    paintPieces(p);
  paintLens(p);
  if (composing()) {
    paintSelection(p);
    if (grip_ == Grip::None || grip_ == Grip::Bend) letters_.paint(p, eye_);
  }
  paintGesture(p);
  if (box_ && !box_->empty()) {
    p.setPen(QPen(look::colours().accent, 2, Qt::DashLine));
    p.setBrush(Qt::NoBrush);
    p.drawRect(eye_.px(*box_));
    drawCard(
        p, eye_, eye_.px(*box_).bottomRight(),
        {QString("%1 × %2").arg(oneUnit(desk_, box_->width()), oneUnit(desk_, box_->height()))});
  }
  paintProbe(p);
  paintRulers(p);
  paintReadings(p);
  if (desk_.job().pieces.empty()) paintEmpty(p);
  if (hasFocus()) {
    p.setPen(QPen(look::colours().accent, 2));
    p.setBrush(Qt::NoBrush);
    p.drawRect(rect().adjusted(1, 1, -1, -1));
  }
}

/// A calm hint of weave, the place's edge and its centre lines.
void ClothView::paintCloth(QPainter& p) {
  const QRectF place = eye_.px(placeOf(desk_.job()));
  const bool dark = look::isDark();
  p.fillRect(place, dark ? QColor(0x4b, 0x48, 0x41) : QColor(0xec, 0xe5, 0xd3));
  QPixmap weave(8, 8);
  weave.fill(Qt::transparent);
  QPainter w(&weave);
  w.setPen(QColor(dark ? 255 : 120, dark ? 250 : 105, dark ? 230 : 70, dark ? 14 : 26));
  w.drawLine(0, 1, 3, 1);
  w.drawLine(4, 5, 7, 5);
  w.drawLine(1, 4, 1, 7);
  w.drawLine(5, 0, 5, 3);
  w.end();
  p.save();
  p.setBrushOrigin(place.topLeft());
  p.fillRect(place, QBrush(weave));
  p.restore();
  p.setPen(QPen(look::colours().clothEdge, 1));
  p.setBrush(Qt::NoBrush);
  p.drawRoundedRect(place, 3, 3);
  p.setPen(
      QPen(look::isDark() ? QColor(150, 190, 190) : QColor(0x8f, 0xac, 0xa6), 1.4, Qt::DotLine));
  const Transform turn = Transform::turning(desk_.job().brief.centre_line_deg);
  const double hw = desk_.job().brief.place_width_mm / 2,
               hh = desk_.job().brief.place_height_mm / 2;
  p.save();
  p.setClipRect(place);
  p.setRenderHint(QPainter::Antialiasing);
  p.drawLine(eye_.px(turn(Point{-2 * hw, 0})), eye_.px(turn(Point{2 * hw, 0})));
  p.drawLine(eye_.px(turn(Point{0, -2 * hh})), eye_.px(turn(Point{0, 2 * hh})));
  p.restore();
}

Placement ClothView::draggedPlace(const Piece& piece) const {
  if (!gripsPieces()) return piece.place;
  if (piece.id == desk_.selected()) return drag_;
  Placement place = piece.place;
  if (grip_ == Grip::Move && desk_.isChosen(piece.id))
    place.at = place.at + (drag_.at - dragStart_.at);
  return place;
}

/// Draws the piece's picture anew if zoom, turn, size or stitches are not those it was drawn with.
void ClothView::freshenSprite(const Piece& piece) {
  Sprite& s = sprites_[piece.id];
  Placement here = piece.place;
  const QRectF seen(
      QPointF(eye_.mm(QPointF(0, 0)).x, eye_.mm(QPointF(0, 0)).y),
      QPointF(eye_.mm(QPointF(width(), height())).x, eye_.mm(QPointF(width(), height())).y));
  Placement drawn = s.place;
  drawn.at = here.at;
  const bool same = s.px_per_mm == eye_.px_per_mm && drawn == here && s.stitches == piece.stitches;
  if (same && s.clip_mm.translated(here.at.x - s.place.at.x, here.at.y - s.place.at.y)
                  .contains(seen.intersected(
                      s.box_mm.translated(here.at.x - s.place.at.x, here.at.y - s.place.at.y))))
    return;
  const Box bounds = boundsOf(piece).grown(0.6);
  const QRectF box(bounds.left, bounds.top, bounds.width(), bounds.height());
  // somewhat more than is seen, so that panning does not draw at each step
  const QRectF wide = box.intersected(
      seen.adjusted(-seen.width() / 2, -seen.height() / 2, seen.width() / 2, seen.height() / 2));
  s = {};
  s.box_mm = box;
  s.clip_mm = wide;
  s.px_per_mm = eye_.px_per_mm;
  s.place = here;
  s.stitches = piece.stitches;
  if (wide.isEmpty()) return;
  const double ratio = devicePixelRatioF();
  s.image = QImage((wide.size() * eye_.px_per_mm * ratio).toSize() + QSize(2, 2),
                   QImage::Format_ARGB32_Premultiplied);
  s.image.setDevicePixelRatio(ratio);
  s.image.fill(Qt::transparent);
  QPainter painter(&s.image);
  ThreadDrawing how;
  how.px_per_mm = eye_.px_per_mm;
  how.to_px = Transform::scaling(eye_.px_per_mm, eye_.px_per_mm) *
              Transform::moving({-wide.left(), -wide.top()}) * transformOf(here);
  how.visible = QRectF(QPointF(), QSizeF(s.image.size()) / ratio);
  drawThread(painter, *piece.stitches, how);
}

void ClothView::paintPieces(QPainter& p) {
  const bool faint = station_ == Station::Density && desk_.weighing();
  p.setOpacity(faint ? 0.25 : station_ == Station::Align ? 0.75 : 1);
  for (const Piece& stored : desk_.job().pieces) {
    const Piece* draft = letters_.draft();
    const Piece& piece = draft && draft->id == stored.id ? *draft : stored;
    freshenSprite(piece);
    const Sprite& s = sprites_[piece.id];
    if (s.image.isNull()) continue;
    const Placement now = draggedPlace(piece);
    p.save();
    if (now == piece.place ||
        (now.turn_deg == piece.place.turn_deg && now.scale_x == piece.place.scale_x &&
         now.scale_y == piece.place.scale_y && now.mirrored == piece.place.mirrored)) {
      const Point shift = now.at - s.place.at;
      p.drawImage(eye_.px(Point{s.clip_mm.left() + shift.x, s.clip_mm.top() + shift.y}), s.image);
    } else {
      // while it is sized or turned, the picture itself is; it is drawn anew at the end
      const Transform change = transformOf(now) * *transformOf(piece.place).inverse();
      const Transform all = eye_.transform() * change *
                            Transform::moving({s.clip_mm.left(), s.clip_mm.top()}) *
                            Transform::scaling(1 / s.px_per_mm, 1 / s.px_per_mm);
      p.setRenderHint(QPainter::SmoothPixmapTransform);
      p.setTransform(QTransform(all.xx, all.yx, all.xy, all.yy, all.dx, all.dy), true);
      p.drawImage(QPointF(), s.image);
    }
    p.restore();
  }
  p.setOpacity(1);
}

/// Goes on from the latest moment that was kept before the one asked for.
bool ClothView::takeKeptMoment(double ratio) {
  if (momentImage_.size() != size() * ratio || momentEye_ != eye_.toPx() ||
      keptOf_ != momentPattern_)
    return false;
  while (!kept_.empty() && kept_.back().first > momentRow_) kept_.pop_back();
  if (kept_.empty()) return false;
  std::tie(momentDrawn_, momentImage_) = kept_.back();
  return true;
}

/// What is sewn up to the moment, over a faint whole. Going on only adds to the picture.
void ClothView::paintMoment(QPainter& p) {
  p.setOpacity(0.14);
  const Station keep = station_;
  station_ = Station::Compose;
  p.save();
  for (const Piece& piece : desk_.job().pieces) {
    freshenSprite(piece);
    const Sprite& s = sprites_[piece.id];
    if (!s.image.isNull()) p.drawImage(eye_.px(Point{s.clip_mm.left(), s.clip_mm.top()}), s.image);
  }
  p.restore();
  station_ = keep;
  p.setOpacity(1);
  const double ratio = devicePixelRatioF();
  const bool fresh = momentImage_.size() != size() * ratio || momentEye_ != eye_.toPx() ||
                     momentRow_ < momentDrawn_;
  if (fresh && takeKeptMoment(ratio)) {
    // an earlier moment was kept for this view: only what comes after it is drawn
  } else if (fresh) {
    kept_.clear();
    momentImage_ = QImage(size() * ratio, QImage::Format_ARGB32_Premultiplied);
    momentImage_.setDevicePixelRatio(ratio);
    momentImage_.fill(Qt::transparent);
    momentEye_ = eye_.toPx();
    momentDrawn_ = 0;
    keptOf_ = momentPattern_;
  }
  if (momentDrawn_ < momentRow_) {
    QPainter painter(&momentImage_);
    ThreadDrawing how;
    how.px_per_mm = eye_.px_per_mm;
    how.to_px = eye_.transform();
    how.visible = rect();
    QElapsedTimer clock;
    clock.start();
    const bool long_way = momentRow_ - momentDrawn_ > kDrawnAtOnce;
    while (momentDrawn_ < momentRow_) {
      how.first_row = momentDrawn_;
      how.end_row = long_way ? std::min(momentRow_, momentDrawn_ + kDrawnBetween) : momentRow_;
      drawThread(painter, *momentPattern_, how);
      momentDrawn_ = how.end_row;
      if (momentDrawn_ / kKeptEvery > kept_.size()) kept_.push_back({momentDrawn_, momentImage_});
      if (long_way && clock.elapsed() >= kDrawing_ms) break;
    }
    painter.end();
    if (momentDrawn_ < momentRow_) update();  // the rest at the next frame: nothing waits for it
  }
  p.drawImage(0, 0, momentImage_);
  if (momentRow_ > 0 && momentRow_ <= momentPattern_->stitches.size())
    drawNeedle(p, eye_, momentPattern_->stitches[momentRow_ - 1].at, running_);
}

void ClothView::paintWeight(QPainter& p) {
  const auto w = desk_.weighing();
  if (!w) return;
  if (weightOf_ != w) {
    weight_ = weightPicture(*w, desk_.fabric().density_mm_per_mm2, desk_.job().zones);
    weightOf_ = w;
  }
  if (desk_.comparison() && desk_.comparison()->weighed) return paintWipe(p);
  drawWeight(p, eye_, desk_, weight_, desk_.weighingCurrent() ? finding_ : -1);
}

/// The line begins over the place that is looked at, so that both sides of it can be compared.
void ClothView::placeWipe() {
  wipe_ = 0.5;
  const auto w = desk_.weighing();
  if (w && finding_ >= 0 && finding_ < static_cast<int>(w->report.findings.size())) {
    const Point c = w->report.findings[static_cast<size_t>(finding_)].bounds.centre();
    wipe_ = eye_.px(c).x() / std::max(1, width());
  } else if (const Piece* piece = desk_.selectedPiece()) {
    wipe_ = eye_.px(boundsOf(*piece).centre()).x() / std::max(1, width());
  }
  wipe_ = std::clamp(wipe_, 0.05, 0.95);
}

/// To the left of the line the layout as it is, to the right as it would be.
void ClothView::paintWipe(QPainter& p) {
  const auto& other = desk_.comparison()->weighed;
  if (otherOf_ != other) {
    otherWeight_ = weightPicture(*other, desk_.fabric().density_mm_per_mm2, desk_.job().zones);
    otherOf_ = other;
  }
  const double x = wipe_ * width();
  p.save();
  p.setClipRect(QRectF(0, 0, x, height()));
  drawWeight(p, eye_, desk_, weight_, -1);
  p.setClipRect(QRectF(x, 0, width() - x, height()));
  drawWeight(p, eye_, desk_, otherWeight_, -1);
  p.restore();
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(look::colours().ink, 2));
  p.drawLine(QPointF(x, kRuler), QPointF(x, height() - 24));
  p.setBrush(look::colours().raised);
  p.drawRoundedRect(QRectF(x - 9, height() / 2.0 - 18, 18, 36), 9, 9);
  p.drawLine(QPointF(x - 3, height() / 2.0 - 6), QPointF(x - 3, height() / 2.0 + 6));
  p.drawLine(QPointF(x + 3, height() / 2.0 - 6), QPointF(x + 3, height() / 2.0 + 6));
  p.setFont(look::text(10, true));
  auto label = [&](const QString& words, double at, bool left) {
    QRectF box = p.fontMetrics().boundingRect(words);
    box.adjust(-8, -4, 8, 4);
    box.moveTopLeft(QPointF(left ? at - 12 - box.width() : at + 12, kRuler + 10));
    p.setPen(Qt::NoPen);
    p.setBrush(look::colours().raised);
    p.drawRoundedRect(box, 6, 6);
    p.setPen(look::colours().ink);
    p.drawText(box, Qt::AlignCenter, words);
  };
  label(desk_.comparison()->now, x, true);
  label(desk_.comparison()->name, x, false);
  p.restore();
}

void ClothView::paintLens(QPainter& p) {
  switch (station_) {
    case Station::Density:
      paintWeight(p);
      break;
    case Station::Hoopings:
      drawFrames(p, eye_, desk_);
      break;
    case Station::Paper:
      drawSheets(p, eye_, desk_, mirrored_);
      break;
    case Station::Align:
      drawLanding(p, eye_, desk_);
      break;
    case Station::Sew:
      if (const Hooping* h = desk_.currentHooping()) {
        p.setRenderHint(QPainter::Antialiasing);
        p.setPen(QPen(look::colours().accent, 2));
        p.setBrush(Qt::NoBrush);
        p.drawRoundedRect(eye_.px(h->field), 10, 10);
        p.setPen(QPen(look::colours().quiet, 1, Qt::DashLine));
        p.drawRect(eye_.px(threadBounds(h->pattern)));
        p.setRenderHint(QPainter::Antialiasing, false);
      }
      if (needle_ && !momentPattern_) drawNeedle(p, eye_, *needle_, running_);
      break;
    case Station::Compose:
      if (desk_.comparison()) paintWeight(p);
      break;
    default:
      break;
  }
}

void ClothView::paintRulers(QPainter& p) {
  const look::Palette& c = look::colours();
  p.fillRect(QRect(0, 0, width(), kRuler), c.cloth);
  p.fillRect(QRect(0, 0, kRuler, height()), c.cloth);
  const bool inches = desk_.inches();
  const double unit = inches ? 25.4 : 1, step = rulerStep(eye_.px_per_mm * unit) * unit;
  p.setFont(look::figures(8));
  const Point from = eye_.mm(QPointF(kRuler, kRuler)), to = eye_.mm(QPointF(width(), height()));
  for (double x = std::ceil(from.x / step) * step; x <= to.x; x += step) {
    const double px = eye_.px(Point{x, 0}).x();
    p.setPen(c.quiet);
    p.drawText(QRectF(px - 30, 2, 60, 14), Qt::AlignCenter, QString::number(std::round(x / unit)));
    p.drawLine(QPointF(px, 18), QPointF(px, kRuler - 2));
  }
  for (double y = std::ceil(from.y / step) * step; y <= to.y; y += step) {
    const double py = eye_.px(Point{0, y}).y();
    p.save();
    p.translate(9, py);
    p.rotate(-90);
    p.drawText(QRectF(-30, -7, 60, 14), Qt::AlignCenter, QString::number(std::round(y / unit)));
    p.restore();
    p.drawLine(QPointF(18, py), QPointF(kRuler - 2, py));
  }
  p.drawText(QRectF(0, 0, kRuler, kRuler), Qt::AlignCenter, inches ? "in" : "mm");
}

std::array<QPointF, 9> ClothView::handles(const Piece& piece, const Placement& place) const {
  const Box b = threadBounds(*piece.stitches);
  const Transform to = eye_.transform() * transformOf(place);
  auto px = [&](double x, double y) {
    const Point q = to({x, y});
    return QPointF(q.x, q.y);
  };
  const Point m = b.centre();
  std::array<QPointF, 9> h{px(b.left, b.top),    px(m.x, b.top),        px(b.right, b.top),
                           px(b.right, m.y),     px(b.right, b.bottom), px(m.x, b.bottom),
                           px(b.left, b.bottom), px(b.left, m.y),       {}};
  const QPointF up = h[1] - px(m.x, m.y);
  const double n = std::max(1.0, std::hypot(up.x(), up.y()));
  h[kTurnHandle] = h[1] + up / n * 26;
  return h;
}

void ClothView::paintSelection(QPainter& p) {
  const Piece* piece = letters_.draft() ? letters_.draft() : desk_.selectedPiece();
  if (!piece) return;
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  for (const Piece& other : desk_.job().pieces) {  // the others that are chosen too
    if (other.id == piece->id || !desk_.isChosen(other.id)) continue;
    const auto c = handles(other, draggedPlace(other));
    p.setPen(QPen(look::colours().accent, 1.2, Qt::DashLine));
    p.setBrush(Qt::NoBrush);
    p.drawPolygon(QPolygonF({c[0], c[2], c[4], c[6]}));
  }
  const Placement place = draggedPlace(*piece);
  const auto h = handles(*piece, place);
  p.setPen(QPen(look::colours().accent, 1.4));
  p.setBrush(Qt::NoBrush);
  p.drawPolygon(QPolygonF({h[0], h[2], h[4], h[6]}));
  p.drawLine(h[1], h[kTurnHandle]);
  p.setBrush(look::colours().raised);
  for (size_t i = 0; i < 8; ++i)
    p.drawRoundedRect(QRectF(h[i] - QPointF(4.5, 4.5), QSizeF(9, 9)), i % 2 == 0 ? 2 : 4.5,
                      i % 2 == 0 ? 2 : 4.5);
  p.drawEllipse(h[kTurnHandle], 6, 6);
  if (gripsPieces()) {
    Piece moved = *piece;
    moved.place = place;
    const Box b = boundsOf(moved), room = placeOf(desk_.job());
    QStringList lines;
    if (grip_ == Grip::Turn) lines << tr("turned %1°").arg(place.turn_deg, 0, 'f', 1);
    lines << QString("%1 × %2").arg(oneUnit(desk_, b.width()), oneUnit(desk_, b.height()));
    lines << tr("left %1 · right %2")
                 .arg(oneUnit(desk_, b.left - room.left), oneUnit(desk_, room.right - b.right));
    lines << tr("top %1 · bottom %2")
                 .arg(oneUnit(desk_, b.top - room.top), oneUnit(desk_, room.bottom - b.bottom));
    if (grip_ == Grip::Move) {
      const QString near = nearestPiece(moved);
      if (!near.isEmpty()) lines << near;
    }
    drawCard(p, eye_, QPointF(eye_.px(b).right(), eye_.px(b).center().y()), lines);
    p.setPen(QPen(look::colours().accent, 1, Qt::DashLine));
    if (grip_ == Grip::Move)
      for (const auto& [from, to] : snapLines(b)) p.drawLine(eye_.px(from), eye_.px(to));
  }
  p.restore();
}

/// Points and lines that were asked for, as far as they are there.
void ClothView::paintGesture(QPainter& p) {
  if (ask_ == Ask::None || ask_ == Ask::Box) return;
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(look::colours().accent, 2));
  p.setBrush(look::colours().raised);
  if (ask_ == Ask::Stroke) {
    QPolygonF line;
    for (Point q : taken_) line << eye_.px(q);
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(line);
  } else {
    for (size_t i = 0; i < taken_.size(); ++i) {
      const QPointF at = eye_.px(taken_[i]);
      p.drawEllipse(at, 6, 6);
      p.setFont(look::text(9, true));
      p.drawText(at + QPointF(10, -8), QString::number(i + 1));
    }
  }
  p.setFont(look::text(10, true));
  const QString words = ask_ == Ask::Points && askCount_ > 1
                            ? tr("%1 (%2 of %3)").arg(prompt_).arg(taken_.size() + 1).arg(askCount_)
                            : prompt_;
  QRectF box = p.fontMetrics().boundingRect(words);
  box.adjust(-12, -6, 12, 6);
  box.moveCenter(QPointF(width() / 2.0 + 13, 52));
  p.setPen(Qt::NoPen);
  p.setBrush(look::colours().accent);
  p.drawRoundedRect(box, 8, 8);
  p.setPen(look::isDark() ? look::colours().ground : QColor(Qt::white));
  p.drawText(box, Qt::AlignCenter, words);
  p.restore();
}

void ClothView::paintReadings(QPainter& p) {
  p.setFont(look::figures(9.5));
  const Box box = desk_.statistics().bounds;
  const QString left =
      box.empty() ? QString()
                  : tr("Layout %1 × %2   %3 × %4")
                        .arg(oneUnit(desk_, box.width()), oneUnit(desk_, box.height()),
                             QString::fromStdString(desk_.inches() ? formatMillimetres(box.width())
                                                                   : formatInches(box.width())),
                             QString::fromStdString(desk_.inches() ? formatMillimetres(box.height())
                                                                   : formatInches(box.height())));
  const QString right =
      tr("%1 % of true size").arg(std::lround(eye_.px_per_mm / kTrueSize_px_per_mm * 100));
  const QRectF strip(0, height() - 24, width(), 24);
  QColor ground = look::colours().cloth;
  ground.setAlpha(225);
  p.fillRect(strip, ground);
  p.setPen(look::colours().quiet);
  p.drawText(strip.adjusted(20, 0, -20, 0), Qt::AlignVCenter | Qt::AlignLeft, left);
  p.drawText(strip.adjusted(20, 0, -20, 0), Qt::AlignVCenter | Qt::AlignRight, right);
}

/// Density, holes and who laid them, under the pointer.
void ClothView::paintProbe(QPainter& p) {
  if (station_ != Station::Density || !probe_ || !desk_.weighing() || !desk_.weighingCurrent())
    return;
  const Weighing& w = *desk_.weighing();
  const Lattice& l = w.frame.lattice;
  const auto column = static_cast<int64_t>(std::floor((probe_->x - l.origin.x) / l.cell_mm)),
             row = static_cast<int64_t>(std::floor((probe_->y - l.origin.y) / l.cell_mm));
  const double d = w.map.density(column, row);
  if (d < kCovered_mm_per_mm2) return;
  QStringList lines{tr("%1 mm/mm²").arg(d, 0, 'f', 1),
                    tr("%1 holes/mm²").arg(w.map.holes(column, row), 0, 'f', 1)};
  if (layersOf_ != desk_.layoutPrint()) {
    layersPattern_ = std::make_unique<Pattern>(desk_.layout());
    layers_ = std::make_unique<Layers>(*layersPattern_);
    layersOf_ = desk_.layoutPrint();
  }
  const std::vector<size_t> covers = layers_->at(*probe_);
  lines << counted(covers.size(), tr("layer"), tr("layers"));
  QStringList who;
  for (auto it = covers.rbegin(); it != covers.rend(); ++it) {
    const QString name =
        QString::fromStdString(layersPattern_->pieces[layers_->blocks()[*it].piece]);
    if (!name.isEmpty() && !who.contains(name)) who << name;
  }
  if (!who.isEmpty()) lines << tr("top down: %1").arg(who.mid(0, 3).join(QStringLiteral(", ")));
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(look::colours().ink, 1));
  p.setBrush(Qt::NoBrush);
  p.drawEllipse(eye_.px(*probe_), kDisc_mm * eye_.px_per_mm, kDisc_mm * eye_.px_per_mm);
  drawCard(p, eye_, eye_.px(*probe_), lines);
}

void ClothView::paintEmpty(QPainter& p) {
  p.setPen(look::colours().quiet);
  p.setFont(look::text(12));
  p.drawText(rect(), Qt::AlignCenter,
             tr("Nothing on the cloth yet.\nAt Compose (2), add a stitch file, artwork or "
                "lettering,\nor drop a file here."));
}

void ClothView::tellStatus() {
  const Piece* piece = desk_.selectedPiece();
  emit statusChanged(piece ? QString::fromStdString(piece->name) : QString(), {});
}

}  // namespace rt
