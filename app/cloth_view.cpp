#include "cloth_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainterPath>
#include <QWheelEvent>

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
constexpr double kSnap_px = 7;
constexpr double kHandle_px = 9;

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

ClothView::ClothView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
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
    clearMoment();
    tellStatus();
    update();
  });
  connect(&desk, &Desk::selectionChanged, this, [this] {
    tellStatus();
    update();
  });
  connect(&desk, &Desk::weighed, this, qOverload<>(&QWidget::update));
  connect(&desk, &Desk::hoopingChanged, this, qOverload<>(&QWidget::update));
}

void ClothView::setStation(Station station) {
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
  repaint();
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
  if (composing()) paintSelection(p);
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
  const bool dragged = grip_ != Grip::None && grip_ != Grip::Pan && grip_ != Grip::Box &&
                       piece.id == desk_.selected();
  return dragged ? drag_ : piece.place;
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
  for (const Piece& piece : desk_.job().pieces) {
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
  if (fresh) {
    momentImage_ = QImage(size() * ratio, QImage::Format_ARGB32_Premultiplied);
    momentImage_.setDevicePixelRatio(ratio);
    momentImage_.fill(Qt::transparent);
    momentEye_ = eye_.toPx();
    momentDrawn_ = 0;
  }
  if (momentDrawn_ < momentRow_) {
    QPainter painter(&momentImage_);
    ThreadDrawing how;
    how.px_per_mm = eye_.px_per_mm;
    how.to_px = eye_.transform();
    how.first_row = momentDrawn_;
    how.end_row = momentRow_;
    how.visible = rect();
    drawThread(painter, *momentPattern_, how);
    momentDrawn_ = momentRow_;
  }
  p.drawImage(0, 0, momentImage_);
  if (momentRow_ > 0 && momentRow_ <= momentPattern_->stitches.size())
    drawNeedle(p, eye_, momentPattern_->stitches[momentRow_ - 1].at, running_);
}

void ClothView::paintLens(QPainter& p) {
  switch (station_) {
    case Station::Density:
      if (const auto w = desk_.weighing()) {
        if (weightOf_ != w) {
          weight_ = weightPicture(*w, desk_.fabric().density_mm_per_mm2, desk_.job().zones);
          weightOf_ = w;
        }
        drawWeight(p, eye_, desk_, weight_, desk_.weighingCurrent() ? finding_ : -1);
      }
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
    default:
      break;
  }
}

void ClothView::paintRulers(QPainter& p) {
  const look::Palette& c = look::colours();
  p.fillRect(QRect(0, 0, width(), kRuler), c.cloth);
  p.fillRect(QRect(0, 0, kRuler, height()), c.cloth);
  const bool inches = desk_.job().brief.inches;
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
  const Piece* piece = desk_.selectedPiece();
  if (!piece) return;
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
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
  if (grip_ != Grip::None && grip_ != Grip::Pan && grip_ != Grip::Box) {
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
    drawCard(p, eye_, QPointF(eye_.px(b).right(), eye_.px(b).center().y()), lines);
    p.setPen(QPen(look::colours().accent, 1, Qt::DashLine));
    const Point c = b.centre();
    if (std::abs(c.x) < 0.005)
      p.drawLine(eye_.px(Point{0, room.top}), eye_.px(Point{0, room.bottom}));
    if (std::abs(c.y) < 0.005)
      p.drawLine(eye_.px(Point{room.left, 0}), eye_.px(Point{room.right, 0}));
  }
  p.restore();
}

void ClothView::paintReadings(QPainter& p) {
  p.setFont(look::figures(9.5));
  const Box box = desk_.statistics().bounds;
  const QString left = box.empty()
                           ? QString()
                           : tr("Layout %1 × %2   %3 × %4")
                                 .arg(oneUnit(desk_, box.width()), oneUnit(desk_, box.height()),
                                      QString::fromStdString(desk_.job().brief.inches
                                                                 ? formatMillimetres(box.width())
                                                                 : formatInches(box.width())),
                                      QString::fromStdString(desk_.job().brief.inches
                                                                 ? formatMillimetres(box.height())
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

int ClothView::pieceAt(QPointF at) const {
  const Point mm = eye_.mm(at);
  const double near = std::max(2.0, 5 / eye_.px_per_mm);
  for (auto piece = desk_.job().pieces.rbegin(); piece != desk_.job().pieces.rend(); ++piece) {
    if (!boundsOf(*piece).grown(near).contains(mm)) continue;
    const Transform to = transformOf(piece->place);
    bool hit = false;
    forEachSegment(*piece->stitches, [&](Point a, Point b, size_t) {
      hit = hit || pointSegmentDistance(mm, to(a), to(b)) < near;
    });
    if (hit) return piece->id;
  }
  return 0;
}

int ClothView::handleAt(QPointF at) const {
  const Piece* piece = desk_.selectedPiece();
  if (!piece || !composing()) return kNoHandle;
  const auto h = handles(*piece, piece->place);
  for (int i = 8; i >= 0; --i)
    if (QLineF(h[static_cast<size_t>(i)], at).length() <= kHandle_px) return i;
  return kNoHandle;
}

void ClothView::mousePressEvent(QMouseEvent* event) {
  setFocus();
  pressed_ = pointer_ = event->position();
  panFrom_ = eye_.centre_px;
  if (event->button() == Qt::MiddleButton || event->button() == Qt::RightButton) {
    grip_ = Grip::Pan;
    return;
  }
  if (boxAsked_) return beginGrip(pressed_);
  if (station_ == Station::Density && desk_.weighing()) {
    const Point mm = eye_.mm(pressed_);
    const auto& findings = desk_.weighing()->report.findings;
    for (size_t i = 0; i < findings.size(); ++i)
      if (findings[i].bounds.grown(3).contains(mm)) return emit findingPicked(static_cast<int>(i));
  }
  if (station_ == Station::Hoopings || station_ == Station::Align || station_ == Station::Sew)
    if (const HoopingPlan* plan = desk_.job().made.plan.get())
      for (const Hooping& h : plan->hoopings)
        if (h.index != desk_.hooping() && h.field.contains(eye_.mm(pressed_)) &&
            !desk_.currentHooping()->field.contains(eye_.mm(pressed_))) {
          desk_.setHooping(h.index);
          return;
        }
  beginGrip(pressed_);
}

void ClothView::askForBox() {
  boxAsked_ = true;
  setCursor(Qt::CrossCursor);
  setFocus();
}

void ClothView::beginGrip(QPointF at) {
  if (boxAsked_) {
    grip_ = Grip::Box;
    box_ = Box{};
    return;
  }
  grip_ = Grip::Pan;
  if (!composing()) return;
  handle_ = handleAt(at);
  if (handle_ == kNoHandle) {
    const int id = pieceAt(at);
    desk_.select(id);
    if (id == 0) return;
  }
  const Piece* piece = desk_.selectedPiece();
  if (!piece) return;
  dragStart_ = drag_ = piece->place;
  grip_ = handle_ == kTurnHandle ? Grip::Turn : handle_ == kNoHandle ? Grip::Move : Grip::Size;
  update();
}

/// Draws edges and centre onto the centre lines and the place's edges when they come near.
Point ClothView::snapped(Point by, const Box& box) const {
  const double reach = kSnap_px / eye_.px_per_mm;
  const Box b = box.moved(by), room = placeOf(desk_.job());
  auto best = [&](std::initializer_list<std::pair<double, double>> pairs) {
    double least = reach, shift = 0;
    for (const auto& [have, want] : pairs)
      if (std::abs(want - have) < least) least = std::abs(want - have), shift = want - have;
    return shift;
  };
  return by + Point{best({{b.centre().x, 0}, {b.left, room.left}, {b.right, room.right}}),
                    best({{b.centre().y, 0}, {b.top, room.top}, {b.bottom, room.bottom}})};
}

void ClothView::mouseMoveEvent(QMouseEvent* event) {
  pointer_ = event->position();
  free_ = event->modifiers() & Qt::ShiftModifier;
  probe_ = eye_.mm(pointer_);
  const Piece* piece = desk_.selectedPiece();
  switch (grip_) {
    case Grip::None:
      setCursor(handleAt(pointer_) != kNoHandle ? Qt::SizeAllCursor : Qt::ArrowCursor);
      if (station_ == Station::Density) update();
      return;
    case Grip::Box:
      box_ = boundsOf(std::vector{eye_.mm(pressed_), eye_.mm(pointer_)});
      break;
    case Grip::Pan:
      eye_.centre_px = panFrom_ + (pointer_ - pressed_);
      fitted_ = false;
      break;
    case Grip::Move: {
      if (!piece) return;
      Point by = eye_.mm(pointer_) - eye_.mm(pressed_);
      if (!(event->modifiers() & Qt::AltModifier)) by = snapped(by, boundsOf(*piece));
      drag_.at = dragStart_.at + by;
      break;
    }
    case Grip::Turn: {
      const Point a = eye_.mm(pressed_) - dragStart_.at, b = eye_.mm(pointer_) - dragStart_.at;
      double turn = dragStart_.turn_deg + degrees(std::atan2(cross(a, b), dot(a, b)));
      if (free_) turn = std::round(turn / 15) * 15;
      drag_.turn_deg = wrapDegrees(turn);
      break;
    }
    case Grip::Size: {
      // about the piece's middle, in its own axes; corners keep the proportions unless Shift is
      // held
      const Transform own = Transform::turning(-dragStart_.turn_deg);
      const Point a = own(eye_.mm(pressed_) - dragStart_.at),
                  b = own(eye_.mm(pointer_) - dragStart_.at);
      auto factor = [](double to, double from) {
        return std::clamp(std::abs(from) > 1e-6 ? to / from : 1, 0.02, 50.0);
      };
      double fx = factor(b.x, a.x), fy = factor(b.y, a.y);
      const bool corner = handle_ % 2 == 0;
      if (handle_ == 1 || handle_ == 5) fx = 1;
      if (handle_ == 3 || handle_ == 7) fy = 1;
      if (corner && !free_) fx = fy = factor(dot(b, a), dot(a, a));
      drag_.scale_x = dragStart_.scale_x * fx;
      drag_.scale_y = dragStart_.scale_y * fy;
      break;
    }
  }
  update();
}

void ClothView::mouseReleaseEvent(QMouseEvent*) {
  if (grip_ == Grip::Box) {
    const Box box = boundsOf(std::vector{eye_.mm(pressed_), eye_.mm(pointer_)});
    boxAsked_ = false;
    box_.reset();
    grip_ = Grip::None;
    unsetCursor();
    update();
    return emit boxDrawn(box.left, box.top, box.right, box.bottom);
  }
  if (grip_ != Grip::None && grip_ != Grip::Pan) commitGrip();
  grip_ = Grip::None;
  handle_ = kNoHandle;
  update();
}

void ClothView::commitGrip() {
  const Placement place = drag_;
  const Grip grip = grip_;
  grip_ = Grip::None;
  Job next = desk_.job();
  for (Piece& p : next.pieces)
    if (p.id == desk_.selected()) {
      p.place = place;
      try {
        p = settled(p, desk_.fabric(), desk_.bench());
      } catch (const std::exception&) {
        // what cannot be made again at this size stays stretched, and is weighed as it is
      }
      desk_.change((grip == Grip::Move   ? tr("move %1")
                    : grip == Grip::Turn ? tr("turn %1")
                                         : tr("size %1"))
                       .arg(QString::fromStdString(p.name)),
                   std::move(next));
      return;
    }
}

void ClothView::wheelEvent(QWheelEvent* event) {
  zoomBy(std::pow(1.0015, event->angleDelta().y()), event->position());
}

void ClothView::leaveEvent(QEvent*) {
  probe_.reset();
  update();
}

void ClothView::keyPressEvent(QKeyEvent* event) {
  const double step = event->modifiers() & Qt::ShiftModifier ? 10
                      : event->modifiers() & Qt::AltModifier ? 0.1
                                                             : 1;
  Point by;
  switch (event->key()) {
    case Qt::Key_Escape:
      boxAsked_ = false;
      box_.reset();
      grip_ = Grip::None;
      unsetCursor();
      return update();
    case Qt::Key_Plus:
    case Qt::Key_Equal:
      return zoomBy(1.25, rect().center());
    case Qt::Key_Minus:
      return zoomBy(0.8, rect().center());
    case Qt::Key_0:
      return fitAll();
    case Qt::Key_Left:
      by = {-step, 0};
      break;
    case Qt::Key_Right:
      by = {step, 0};
      break;
    case Qt::Key_Up:
      by = {0, -step};
      break;
    case Qt::Key_Down:
      by = {0, step};
      break;
    case Qt::Key_Tab:
    case Qt::Key_Backtab:
      return QWidget::keyPressEvent(event);
    default:
      return QWidget::keyPressEvent(event);
  }
  if (composing() && desk_.selectedPiece()) {
    Job next = desk_.job();
    for (Piece& p : next.pieces)
      if (p.id == desk_.selected()) p.place.at = p.place.at + by;
    desk_.change(tr("move %1").arg(QString::fromStdString(desk_.selectedPiece()->name)),
                 std::move(next));
  } else {
    eye_.centre_px -= QPointF(by.x, by.y) * 40;
    fitted_ = false;
    update();
  }
}

}  // namespace rt
