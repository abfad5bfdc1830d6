#include "cloth_view.h"

#include <QMouseEvent>
#include <QWheelEvent>

#include "cloth_drawing.h"
#include "fields.h"
#include "length.h"
#include "look.h"
#include "verdicts.h"

namespace rt {
namespace {

constexpr double kLeastZoom = 0.05, kMostZoom = 60;  // px per mm
constexpr double kTrueSize_px_per_mm = 96 / 25.4;
constexpr int kRuler = 26;
constexpr int kWay_ms = 450;
constexpr double kPan_px = 40;  // by one arrow key

/// Rulers carry round figures at least this far apart.
double rulerStep(double px_per_mm) {
  for (double step : {1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0, 200.0, 500.0, 1000.0, 2000.0, 5000.0})
    if (step * px_per_mm >= 56) return step;
  return 10000;
}

Touch touchOf(const QMouseEvent& event) {
  return {event.position(), event.modifiers()};
}

}  // namespace

ClothView::~ClothView() = default;

ClothView::ClothView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk), scan_(desk) {
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  setMinimumSize(400, 300);
  setAccessibleName(tr("Cloth"));
  setAccessibleDescription(
      tr("The layout at true size. Arrows move the chosen piece, + and - zoom, 0 shows all."));
  setObjectName(QStringLiteral("cloth"));
  desk.on(Part::Job | Part::View, this, [this] {
    pictures_.keepTo(desk_.job().pieces);
    if (hand_) hand_->jobChanged();
    clearMoment();
  });
  desk.on(Part::Scan, this, [this] {
    if (fitted_) fitAll();
  });
  way_.setDuration(kWay_ms);
  way_.setEasingCurve(QEasingCurve::InOutCubic);
  connect(&way_, &QVariantAnimation::valueChanged, this, [this](const QVariant& at) {
    eye_.centre_px = at.toPointF();
    update();
  });
  desk.on(Part::Selection | Part::Weighing | Part::Comparison | Part::Hooping | Part::Record |
              Part::Scan | Part::View,
          this, qOverload<>(&QWidget::update));
}

void ClothView::setLensAndHand(Lens* lens, Hand* hand) {
  if (hand_) hand_->keep();
  giveUpGesture();
  grip_ = Grip::None;
  lens_ = lens;
  hand_ = hand;
  clearMoment();
}

void ClothView::setRunning(bool running) {
  running_ = running;
  update();
}

void ClothView::setMoment(std::shared_ptr<const Pattern> pattern, size_t row) {
  moment_.set(std::move(pattern), row);
  update();
}

void ClothView::clearMoment() {
  moment_.clear();
  update();
}

void ClothView::fitAll() {
  way_.stop();
  Box box = placeOf(desk_.job());
  box.add(threadBounds(desk_.layout()));
  if (const auto reading = desk_.scans().reading())
    for (int i = 0; i < 4; ++i) box.add(desk_.hoopToLayout()(reading->picture.plane.corner(i)));
  const double w = width() - kRuler - 40, h = height() - kRuler - 64;
  eye_.px_per_mm =
      std::clamp(std::min(w / std::max(box.width(), 1.0), h / std::max(box.height(), 1.0)),
                 kLeastZoom, kMostZoom);
  const Point c = box.centre();
  eye_.centre_px = QPointF(kRuler + 20 + w / 2 - c.x * eye_.px_per_mm,
                           kRuler + 14 + h / 2 - c.y * eye_.px_per_mm);
  fitted_ = true;
  update();
}

void ClothView::lookAt(Point layout_mm) {
  const QPointF there = eye_.centre_px + QRectF(rect()).center() - eye_.px(layout_mm);
  fitted_ = false;
  way_.stop();
  way_.setStartValue(eye_.centre_px);
  way_.setEndValue(there);
  way_.start();
}

Point ClothView::seenMiddle() const {
  return eye_.mm(QRectF(rect()).center());
}

void ClothView::zoomBy(double factor, QPointF about) {
  way_.stop();
  const Point mm = eye_.mm(about);
  eye_.px_per_mm = std::clamp(eye_.px_per_mm * factor, kLeastZoom, kMostZoom);
  eye_.centre_px = about - QPointF(mm.x, mm.y) * eye_.px_per_mm;
  fitted_ = false;
  update();
}

void ClothView::settle() {
  do repaint();
  while (moment_.shown() && !momentWhole_);
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
  scan_.paint(p, eye_);
  drawZones(p, eye_, desk_);
  paintPieces(p);
  if (lens_) lens_->paint(p, eye_);
  if (hand_) hand_->paint(p, eye_);
  paintGesture(p);
  paintBox(p);
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

/// All pieces; or what is sewn up to the moment, over a faint whole.
void ClothView::paintPieces(QPainter& p) {
  const double ratio = devicePixelRatioF();
  p.setOpacity(moment_.shown() ? 0.14 : lens_ ? lens_->pieces() : 1);
  for (const Piece& stored : desk_.job().pieces) {
    const Piece* draft = hand_ ? hand_->draft() : nullptr;
    const Piece& piece = draft && draft->id == stored.id ? *draft : stored;
    pictures_.draw(p, eye_, piece, hand_ ? hand_->placeOf(piece) : piece.place, ratio);
  }
  p.setOpacity(1);
  if (!moment_.shown()) return;
  momentWhole_ = moment_.paint(p, eye_, ratio, running_);
  if (!momentWhole_) update();  // the rest at the next frame: nothing waits for it
}

void ClothView::paintBox(QPainter& p) {
  if (!box_ || box_->empty()) return;
  p.setPen(QPen(look::colours().accent, 2, Qt::DashLine));
  p.setBrush(Qt::NoBrush);
  p.drawRect(eye_.px(*box_));
  drawCard(p, eye_, eye_.px(*box_).bottomRight(),
           {QString("%1 × %2").arg(oneUnit(desk_, box_->width()), oneUnit(desk_, box_->height()))});
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

/// Points and lines that were asked for, as far as they are there.
void ClothView::paintGesture(QPainter& p) {
  if (ask_ == Ask::None) return;
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(look::colours().accent, 2));
  p.setBrush(look::colours().raised);
  if (ask_ == Ask::Stroke) {
    QPolygonF line;
    for (Point q : taken_) line << eye_.px(q);
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(line);
  } else if (ask_ == Ask::Points) {
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

void ClothView::paintEmpty(QPainter& p) {
  p.setPen(look::colours().quiet);
  p.setFont(look::text(12));
  p.drawText(rect(), Qt::AlignCenter,
             tr("Nothing on the cloth yet.\nAt Compose (2), add a stitch file, artwork or "
                "lettering,\nor drop a file here."));
}

void ClothView::beginAsking(Ask what, const QString& prompt, Taken taken) {
  if (hand_) hand_->keep();
  giveUpGesture();
  ask_ = what;
  prompt_ = prompt;
  takenBy_ = std::move(taken);
  setCursor(Qt::CrossCursor);
  setFocus();
  update();
}

void ClothView::askForBox(const QString& prompt, Taken corners) {
  beginAsking(Ask::Box, prompt, std::move(corners));
}

void ClothView::askForStroke(const QString& prompt, Taken taken) {
  beginAsking(Ask::Stroke, prompt, std::move(taken));
}

void ClothView::askForPoints(int count, const QString& prompt, Taken taken) {
  askCount_ = count;
  beginAsking(Ask::Points, prompt, std::move(taken));
}

void ClothView::giveUpGesture() {
  ask_ = Ask::None;
  takenBy_ = {};
  taken_.clear();
  box_.reset();
  unsetCursor();
  update();
}

void ClothView::finishGesture() {
  const Taken by = std::move(takenBy_);
  const std::vector<Point> points = std::move(taken_);
  giveUpGesture();
  if (by) by(points);
}

void ClothView::beginGesture(QPointF at) {
  switch (ask_) {
    case Ask::Box:
      grip_ = Grip::Box;
      box_ = Box{};
      return;
    case Ask::Stroke:
      grip_ = Grip::Stroke;
      taken_ = {eye_.mm(at)};
      return;
    case Ask::Points:
      grip_ = Grip::None;
      taken_.push_back(eye_.mm(at));
      if (static_cast<int>(taken_.size()) >= askCount_) finishGesture();
      return update();
    case Ask::None:
      break;
  }
}

void ClothView::mousePressEvent(QMouseEvent* event) {
  way_.stop();  // the hand goes before
  setFocus();
  pressed_ = pointer_ = event->position();
  panFrom_ = eye_.centre_px;
  grip_ = Grip::Pan;
  if (event->button() == Qt::MiddleButton || event->button() == Qt::RightButton) return;
  if (ask_ != Ask::None) return beginGesture(pressed_);
  if (hand_ && hand_->press(touchOf(*event), eye_)) grip_ = Grip::Hand;
  update();
}

void ClothView::mouseDoubleClickEvent(QMouseEvent* event) {
  if (event->button() == Qt::LeftButton && ask_ == Ask::None && hand_ &&
      hand_->doubleClick(touchOf(*event), eye_))
    return update();
  mousePressEvent(event);
}

void ClothView::mouseMoveEvent(QMouseEvent* event) {
  pointer_ = event->position();
  switch (grip_) {
    case Grip::None:
      if (!hand_) return;
      if (ask_ == Ask::None) setCursor(hand_->cursor(pointer_, eye_));
      if (hand_->hover(touchOf(*event), eye_)) update();
      return;
    case Grip::Box:
      box_ = boundsOf(std::vector{eye_.mm(pressed_), eye_.mm(pointer_)});
      break;
    case Grip::Stroke:
      taken_.push_back(eye_.mm(pointer_));
      break;
    case Grip::Hand:
      if (hand_) hand_->drag(touchOf(*event), eye_);
      break;
    case Grip::Pan:
      eye_.centre_px = panFrom_ + (pointer_ - pressed_);
      fitted_ = false;
      break;
  }
  update();
}

void ClothView::mouseReleaseEvent(QMouseEvent*) {
  const Grip grip = std::exchange(grip_, Grip::None);
  if (grip == Grip::Box) {
    taken_ = {eye_.mm(pressed_), eye_.mm(pointer_)};
    return finishGesture();
  }
  if (grip == Grip::Stroke) return finishGesture();
  if (grip == Grip::Hand && hand_) hand_->release();
  update();
}

void ClothView::wheelEvent(QWheelEvent* event) {
  zoomBy(std::pow(1.0015, event->angleDelta().y()), event->position());
}

void ClothView::leaveEvent(QEvent*) {
  if (hand_) hand_->leave();
  update();
}

void ClothView::focusOutEvent(QFocusEvent* event) {
  if (typing() && event->reason() != Qt::ActiveWindowFocusReason) hand_->keep();
  QWidget::focusOutEvent(event);
}

/// While a text is typed its keys are letters, not shortcuts.
bool ClothView::event(QEvent* event) {
  if (!typing() || (event->type() != QEvent::ShortcutOverride && event->type() != QEvent::KeyPress))
    return QWidget::event(event);
  auto* key = static_cast<QKeyEvent*>(event);
  if (event->type() == QEvent::ShortcutOverride) {
    if (key->modifiers() & Qt::ControlModifier) return QWidget::event(event);
    event->accept();
    return true;
  }
  if (!hand_->key(*key)) return QWidget::event(event);
  event->accept();
  update();
  return true;
}

void ClothView::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape) {
    grip_ = Grip::None;
    if (hand_) hand_->giveUp();
    return giveUpGesture();
  }
  if (hand_ && hand_->key(*event)) return update();
  const double step = event->modifiers() & Qt::ShiftModifier ? 10 : 1;
  QPointF by;
  switch (event->key()) {
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
    default:
      return QWidget::keyPressEvent(event);
  }
  eye_.centre_px -= by * kPan_px;
  fitted_ = false;
  update();
}

}  // namespace rt
