// Mouse and keys on the cloth.
#include <QKeyEvent>
#include <QMouseEvent>
#include <QWheelEvent>

#include "actions.h"
#include "cloth_view.h"
#include "length.h"
#include "look.h"
#include "verdicts.h"

namespace rt {
namespace {

constexpr double kSnap_px = 7;
constexpr double kHandle_px = 9;

Box placeOf(const Job& job) {
  return Box::around({0, 0}, job.brief.place_width_mm, job.brief.place_height_mm);
}

}  // namespace

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
  adding_ = event->modifiers() & Qt::ShiftModifier;
  snaps_ = snapTargets();
  panFrom_ = eye_.centre_px;
  if (event->button() == Qt::MiddleButton || event->button() == Qt::RightButton) {
    grip_ = Grip::Pan;
    return;
  }
  if (ask_ != Ask::None) return beginGrip(pressed_);
  if (composing() && letters_.press(pressed_, eye_)) {
    grip_ = Grip::Bend;
    return update();
  }
  if (letters_.typing()) letters_.keep();
  if (desk_.comparison() && std::abs(pressed_.x() - wipe_ * width()) < 14) {
    grip_ = Grip::Wipe;
    return;
  }
  if (station_ == Station::Density && desk_.weighing()) {
    const Point mm = eye_.mm(pressed_);
    const auto& findings = desk_.weighing()->report.findings;
    for (size_t i = 0; i < findings.size(); ++i)
      if (findings[i].bounds.grown(3).contains(mm)) return emit findingPicked(static_cast<int>(i));
  }
  if (station_ == Station::Hoopings || station_ == Station::Align || station_ == Station::Sew)
    if (const HoopingPlan* plan = desk_.plan())
      for (const Hooping& h : plan->hoopings)
        if (h.index != desk_.hooping() && h.field.contains(eye_.mm(pressed_)) &&
            !desk_.currentHooping()->field.contains(eye_.mm(pressed_))) {
          desk_.setHooping(h.index);
          return;
        }
  beginGrip(pressed_);
}

void ClothView::mouseDoubleClickEvent(QMouseEvent* event) {
  if (event->button() == Qt::LeftButton && composing() && ask_ == Ask::None &&
      letters_.beginTyping())
    return update();
  mousePressEvent(event);
}

void ClothView::askForBox() {
  giveUpGesture();
  ask_ = Ask::Box;
  setCursor(Qt::CrossCursor);
  setFocus();
}

void ClothView::askForStroke(const QString& prompt, Taken taken) {
  askForBox();
  ask_ = Ask::Stroke;
  prompt_ = prompt;
  takenBy_ = std::move(taken);
  update();
}

void ClothView::askForPoints(int count, const QString& prompt, Taken taken) {
  askForStroke(prompt, std::move(taken));
  ask_ = Ask::Points;
  askCount_ = count;
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

void ClothView::beginGrip(QPointF at) {
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
  grip_ = Grip::Pan;
  if (!composing()) return;
  handle_ = handleAt(at);
  if (handle_ == kNoHandle) {
    const int id = pieceAt(at);
    if (adding_) {
      if (id != 0) desk_.selectAlso(id);
      grip_ = Grip::None;
      return;
    }
    if (id == 0 || !desk_.isChosen(id)) desk_.select(id);
    if (id == 0) return;
    if (id != desk_.selected()) desk_.lead(id);
  }
  const Piece* piece = desk_.selectedPiece();
  if (!piece) return;
  dragStart_ = drag_ = piece->place;
  grip_ = handle_ == kTurnHandle ? Grip::Turn : handle_ == kNoHandle ? Grip::Move : Grip::Size;
  update();
}

ClothView::SnapTo ClothView::snapTargets() const {
  const Box room = placeOf(desk_.job());
  SnapTo to{{room.left}, {0}, {room.right}, {room.top}, {0}, {room.bottom}, {}};
  if (const Hooping* h = desk_.planCurrent() ? desk_.currentHooping() : nullptr) {
    to.left.push_back(h->field.left);
    to.right.push_back(h->field.right);
    to.top.push_back(h->field.top);
    to.bottom.push_back(h->field.bottom);
  }
  for (const Piece& p : desk_.job().pieces) {
    if (desk_.isChosen(p.id)) continue;
    const Box b = boundsOf(p);
    for (double x : {b.left, b.right}) to.left.push_back(x), to.right.push_back(x);
    for (double y : {b.top, b.bottom}) to.top.push_back(y), to.bottom.push_back(y);
    to.others.emplace_back(b, QString::fromStdString(p.name));
    to.centre.push_back(b.centre().x);
    to.middle.push_back(b.centre().y);
  }
  return to;
}

/// Draws edges and centre onto the centre lines, the edges of place and field, and other pieces
/// when they come near.
Point ClothView::snapped(Point by, const Box& box) const {
  const double reach = kSnap_px / eye_.px_per_mm;
  const Box b = box.moved(by);
  double x = reach, y = reach;
  auto pull = [](double& best, double have, const std::vector<double>& want) {
    for (double w : want)
      if (std::abs(w - have) < std::abs(best)) best = w - have;
  };
  pull(x, b.centre().x, snaps_.centre);
  pull(x, b.left, snaps_.left);
  pull(x, b.right, snaps_.right);
  pull(y, b.centre().y, snaps_.middle);
  pull(y, b.top, snaps_.top);
  pull(y, b.bottom, snaps_.bottom);
  return by + Point{x == reach ? 0 : x, y == reach ? 0 : y};
}

std::vector<std::pair<Point, Point>> ClothView::snapLines(const Box& b) const {
  std::vector<std::pair<Point, Point>> out;
  const Box room = placeOf(desk_.job());
  auto on = [](double v, const std::vector<double>& list) {
    return std::any_of(list.begin(), list.end(), [v](double w) { return std::abs(w - v) < 0.005; });
  };
  for (const auto& [x, list] :
       {std::pair{b.centre().x, &snaps_.centre}, {b.left, &snaps_.left}, {b.right, &snaps_.right}})
    if (on(x, *list)) out.push_back({{x, room.top}, {x, room.bottom}});
  for (const auto& [y, list] :
       {std::pair{b.centre().y, &snaps_.middle}, {b.top, &snaps_.top}, {b.bottom, &snaps_.bottom}})
    if (on(y, *list)) out.push_back({{room.left, y}, {room.right, y}});
  return out;
}

QString ClothView::nearestPiece(const Piece& moved) const {
  const Box b = boundsOf(moved);
  const QString* nearest = nullptr;
  double least = INFINITY;
  for (const auto& [o, name] : snaps_.others) {
    const double dx = std::max({0.0, o.left - b.right, b.left - o.right}),
                 dy = std::max({0.0, o.top - b.bottom, b.top - o.bottom});
    if (const double d = std::hypot(dx, dy); d < least) least = d, nearest = &name;
  }
  if (!nearest) return {};
  return tr("%1 from %2").arg(oneUnit(desk_, least), *nearest);
}

void ClothView::mouseMoveEvent(QMouseEvent* event) {
  pointer_ = event->position();
  free_ = event->modifiers() & Qt::ShiftModifier;
  probe_ = eye_.mm(pointer_);
  const Piece* piece = desk_.selectedPiece();
  switch (grip_) {
    case Grip::None:
      if (ask_ == Ask::None)
        setCursor(handleAt(pointer_) != kNoHandle ? Qt::SizeAllCursor : Qt::ArrowCursor);
      if (station_ == Station::Density) update();
      return;
    case Grip::Box:
      box_ = boundsOf(std::vector{eye_.mm(pressed_), eye_.mm(pointer_)});
      break;
    case Grip::Stroke:
      taken_.push_back(eye_.mm(pointer_));
      break;
    case Grip::Wipe:
      wipe_ = std::clamp(pointer_.x() / std::max(1, width()), 0.05, 0.95);
      break;
    case Grip::Bend:
      letters_.drag(pointer_, eye_);
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
    case Grip::Turn:
      dragTurn();
      break;
    case Grip::Size:
      dragSize();
      break;
  }
  update();
}

/// About the piece's middle; by steps of 15° while Shift is held.
void ClothView::dragTurn() {
  const Point a = eye_.mm(pressed_) - dragStart_.at, b = eye_.mm(pointer_) - dragStart_.at;
  double turn = dragStart_.turn_deg + degrees(std::atan2(cross(a, b), dot(a, b)));
  if (free_) turn = std::round(turn / 15) * 15;
  drag_.turn_deg = wrapDegrees(turn);
}

/// About the piece's middle, in its own axes; corners keep the proportions unless Shift is held.
void ClothView::dragSize() {
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
}

void ClothView::mouseReleaseEvent(QMouseEvent*) {
  if (grip_ == Grip::Box) {
    const Box box = boundsOf(std::vector{eye_.mm(pressed_), eye_.mm(pointer_)});
    grip_ = Grip::None;
    giveUpGesture();
    return emit boxDrawn(box.left, box.top, box.right, box.bottom);
  }
  if (grip_ == Grip::Stroke) {
    grip_ = Grip::None;
    return finishGesture();
  }
  if (grip_ == Grip::Bend) letters_.release();
  if (gripsPieces()) commitGrip();
  grip_ = Grip::None;
  handle_ = kNoHandle;
  update();
}

void ClothView::commitGrip() {
  const Grip grip = std::exchange(grip_, Grip::None);
  const Piece* piece = desk_.selectedPiece();
  if (!piece) return;
  const QString name = (grip == Grip::Move   ? tr("move %1")
                        : grip == Grip::Turn ? tr("turn %1")
                                             : tr("size %1"))
                           .arg(QString::fromStdString(piece->name));
  if (grip == Grip::Move)  // the others of a group, or that are chosen too, go along
    return desk_.change(name, actions::moved(desk_.job(), desk_.chosen(), drag_.at - dragStart_.at));
  try {
    desk_.change(name, actions::placed(desk_.job(), piece->id, drag_, desk_.bench()));
  } catch (const std::exception&) {
    // what cannot be made again at this size stays stretched, and is weighed as it is
    Job next = desk_.job();
    actions::pieceOf(next, piece->id).place = drag_;
    desk_.change(name, std::move(next));
  }
}

void ClothView::wheelEvent(QWheelEvent* event) {
  zoomBy(std::pow(1.0015, event->angleDelta().y()), event->position());
}

void ClothView::leaveEvent(QEvent*) {
  probe_.reset();
  update();
}

void ClothView::focusOutEvent(QFocusEvent* event) {
  if (letters_.typing() && event->reason() != Qt::ActiveWindowFocusReason) letters_.keep();
  QWidget::focusOutEvent(event);
}

/// While a text is typed its keys are letters, not shortcuts.
bool ClothView::event(QEvent* event) {
  if (event->type() == QEvent::ShortcutOverride && letters_.typing() &&
      !(static_cast<QKeyEvent*>(event)->modifiers() & Qt::ControlModifier)) {
    event->accept();
    return true;
  }
  if (event->type() == QEvent::KeyPress && letters_.typing() &&
      takesKey(static_cast<QKeyEvent*>(event)))
    return true;
  return QWidget::event(event);
}

bool ClothView::takesKey(QKeyEvent* event) {
  if (!letters_.key(*event)) return false;
  event->accept();
  tellStatus();
  update();
  return true;
}

void ClothView::keyPressEvent(QKeyEvent* event) {
  const double step = event->modifiers() & Qt::ShiftModifier ? 10
                      : event->modifiers() & Qt::AltModifier ? 0.1
                                                             : 1;
  Point by;
  switch (event->key()) {
    case Qt::Key_Escape:
      grip_ = Grip::None;
      letters_.giveUp();
      return giveUpGesture();
    case Qt::Key_F2:
    case Qt::Key_Return:
      if (composing() && letters_.beginTyping()) return update();
      return QWidget::keyPressEvent(event);
    case Qt::Key_Less:
    case Qt::Key_Greater:
      wipe_ = std::clamp(wipe_ + (event->key() == Qt::Key_Less ? -0.05 : 0.05), 0.05, 0.95);
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
    desk_.change(tr("move %1").arg(QString::fromStdString(desk_.selectedPiece()->name)),
                 actions::moved(desk_.job(), desk_.chosen(), by));
  } else {
    eye_.centre_px -= QPointF(by.x, by.y) * 40;
    fitted_ = false;
    update();
  }
}

}  // namespace rt
