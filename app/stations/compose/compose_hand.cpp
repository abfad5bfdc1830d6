#include "compose_hand.h"

#include "actions.h"
#include "cloth_drawing.h"
#include "look.h"
#include "verdicts.h"

namespace rt {
namespace {

/// By what an arrow moves a piece: figures that a ruler of the unit has.
double arrowStep_mm(bool inches, Qt::KeyboardModifiers keys) {
  if (inches) return 25.4 / (keys & Qt::ShiftModifier ? 16 : 32);
  return keys & Qt::ShiftModifier ? 10 : keys & Qt::AltModifier ? 0.1 : 1;
}

constexpr double kSnap_px = 7;
constexpr double kHandle_px = 9;

}  // namespace

int ComposeHand::pieceAt(QPointF at, const Eye& eye) const {
  const Point mm = eye.mm(at);
  const double near = std::max(2.0, 5 / eye.px_per_mm);
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

int ComposeHand::handleAt(QPointF at, const Eye& eye) const {
  const Piece* piece = desk_.selectedPiece();
  if (!piece) return kNoHandle;
  const auto h = handles(*piece, piece->place, eye);
  for (int i = 8; i >= 0; --i)
    if (QLineF(h[static_cast<size_t>(i)], at).length() <= kHandle_px) return i;
  return kNoHandle;
}

bool ComposeHand::press(const Touch& touch, const Eye& eye) {
  pressed_ = touch.at;
  snaps_ = snapTargets();
  if (letters_.press(touch.at, eye)) {
    grip_ = Grip::Bend;
    return true;
  }
  if (letters_.typing()) letters_.keep();
  if (line_.holds(touch.at, eye)) {
    grip_ = Grip::Line;
    return true;
  }
  return grab(touch, eye);
}

/// A handle of the chosen piece, or a piece.
bool ComposeHand::grab(const Touch& touch, const Eye& eye) {
  grip_ = Grip::None;
  handle_ = handleAt(touch.at, eye);
  if (handle_ == kNoHandle) {
    const int id = pieceAt(touch.at, eye);
    if (touch.modifiers & Qt::ShiftModifier) {
      if (id != 0) desk_.selectAlso(id);
      return true;
    }
    if (id == 0 || !desk_.isChosen(id)) desk_.select(id);
    if (id == 0) return false;
    if (id != desk_.selected()) desk_.lead(id);
  }
  const Piece* piece = desk_.selectedPiece();
  if (!piece) return false;
  dragStart_ = drag_ = piece->place;
  grip_ = handle_ == kTurnHandle ? Grip::Turn : handle_ == kNoHandle ? Grip::Move : Grip::Size;
  return true;
}

bool ComposeHand::doubleClick(const Touch&, const Eye&) {
  return letters_.beginTyping();
}

void ComposeHand::drag(const Touch& touch, const Eye& eye) {
  const Piece* piece = desk_.selectedPiece();
  switch (grip_) {
    case Grip::None:
      return;
    case Grip::Line:
      return line_.drag(touch.at, eye);
    case Grip::Bend:
      return letters_.drag(touch.at, eye);
    case Grip::Turn:
      return dragTurn(touch, eye);
    case Grip::Size:
      return dragSize(touch, eye);
    case Grip::Move:
      break;
  }
  if (!piece) return;
  Point by = eye.mm(touch.at) - eye.mm(pressed_);
  if (!(touch.modifiers & Qt::AltModifier)) by = snapped(by, boundsOf(*piece), eye);
  drag_.at = dragStart_.at + by;
}

void ComposeHand::release() {
  if (grip_ == Grip::Bend) letters_.release();
  if (gripsPieces()) commit();
  grip_ = Grip::None;
  handle_ = kNoHandle;
}

void ComposeHand::giveUp() {
  grip_ = Grip::None;
  letters_.giveUp();
}

bool ComposeHand::key(const QKeyEvent& event) {
  if (letters_.typing()) return letters_.key(event);
  const double step = arrowStep_mm(desk_.inches(), event.modifiers());
  Point by;
  switch (event.key()) {
    case Qt::Key_F2:
    case Qt::Key_Return:
      return letters_.beginTyping();
    case Qt::Key_Less:
    case Qt::Key_Greater:
      line_.step(event.key() == Qt::Key_Less ? -0.05 : 0.05);
      return true;
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
      return false;
  }
  if (!desk_.selectedPiece()) return false;
  desk_.change(QObject::tr("move %1").arg(QString::fromStdString(desk_.selectedPiece()->name)),
               actions::moved(desk_.job(), desk_.chosen(), by));
  return true;
}

Qt::CursorShape ComposeHand::cursor(QPointF at, const Eye& eye) const {
  return handleAt(at, eye) != kNoHandle ? Qt::SizeAllCursor : Qt::ArrowCursor;
}

Placement ComposeHand::placeOf(const Piece& piece) const {
  if (!gripsPieces()) return piece.place;
  if (piece.id == desk_.selected()) return drag_;
  Placement place = piece.place;
  if (grip_ == Grip::Move && desk_.isChosen(piece.id))
    place.at = place.at + (drag_.at - dragStart_.at);
  return place;
}

void ComposeHand::paint(QPainter& p, const Eye& eye) {
  paintSelection(p, eye);
  if (grip_ == Grip::None || grip_ == Grip::Bend) letters_.paint(p, eye);
}

ComposeHand::SnapTo ComposeHand::snapTargets() const {
  const Box room = rt::placeOf(desk_.job());
  SnapTo to{{room.left}, {0}, {room.right}, {room.top}, {0}, {room.bottom}, {}};
  if (const PlanSetting* s = desk_.planCurrent() ? desk_.currentSetting() : nullptr) {
    to.left.push_back(s->field.box.left);
    to.right.push_back(s->field.box.right);
    to.top.push_back(s->field.box.top);
    to.bottom.push_back(s->field.box.bottom);
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
Point ComposeHand::snapped(Point by, const Box& box, const Eye& eye) const {
  const double reach = kSnap_px / eye.px_per_mm;
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

std::vector<std::pair<Point, Point>> ComposeHand::snapLines(const Box& b) const {
  std::vector<std::pair<Point, Point>> out;
  const Box room = rt::placeOf(desk_.job());
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

QString ComposeHand::nearestPiece(const Piece& moved) const {
  const Box b = boundsOf(moved);
  const QString* nearest = nullptr;
  double least = INFINITY;
  for (const auto& [o, name] : snaps_.others) {
    const double dx = std::max({0.0, o.left - b.right, b.left - o.right}),
                 dy = std::max({0.0, o.top - b.bottom, b.top - o.bottom});
    if (const double d = std::hypot(dx, dy); d < least) least = d, nearest = &name;
  }
  if (!nearest) return {};
  return QObject::tr("%1 from %2").arg(oneUnit(desk_, least), *nearest);
}

/// About the piece's middle; by steps of 15° while Shift is held.
void ComposeHand::dragTurn(const Touch& touch, const Eye& eye) {
  const Point a = eye.mm(pressed_) - dragStart_.at, b = eye.mm(touch.at) - dragStart_.at;
  double turn = dragStart_.turn_deg + degrees(std::atan2(cross(a, b), dot(a, b)));
  if (touch.modifiers & Qt::ShiftModifier) turn = std::round(turn / 15) * 15;
  drag_.turn_deg = wrapDegrees(turn);
}

/// About the piece's middle, in its own axes; corners keep the proportions unless Shift is held.
void ComposeHand::dragSize(const Touch& touch, const Eye& eye) {
  const Transform own = Transform::turning(-dragStart_.turn_deg);
  const Point a = own(eye.mm(pressed_) - dragStart_.at), b = own(eye.mm(touch.at) - dragStart_.at);
  auto factor = [](double to, double from) {
    return std::clamp(std::abs(from) > 1e-6 ? to / from : 1, 0.02, 50.0);
  };
  double fx = factor(b.x, a.x), fy = factor(b.y, a.y);
  const bool corner = handle_ % 2 == 0;
  if (handle_ == 1 || handle_ == 5) fx = 1;
  if (handle_ == 3 || handle_ == 7) fy = 1;
  if (corner && !(touch.modifiers & Qt::ShiftModifier)) fx = fy = factor(dot(b, a), dot(a, a));
  drag_.scale_x = dragStart_.scale_x * fx;
  drag_.scale_y = dragStart_.scale_y * fy;
}

void ComposeHand::commit() {
  const Grip grip = std::exchange(grip_, Grip::None);
  const Piece* piece = desk_.selectedPiece();
  if (!piece) return;
  const QString name = (grip == Grip::Move   ? QObject::tr("move %1")
                        : grip == Grip::Turn ? QObject::tr("turn %1")
                                             : QObject::tr("size %1"))
                           .arg(QString::fromStdString(piece->name));
  if (grip == Grip::Move)  // the others of a group, or that are chosen too, go along
    return desk_.change(name,
                        actions::moved(desk_.job(), desk_.chosen(), drag_.at - dragStart_.at));
  try {
    desk_.change(name, actions::placed(desk_.job(), piece->id, drag_, desk_.bench()));
  } catch (const std::exception&) {
    // what cannot be made again at this size stays stretched, and is weighed as it is
    desk_.change(name, actions::stretchedTo(desk_.job(), piece->id, drag_));
  }
}

std::array<QPointF, 9> ComposeHand::handles(const Piece& piece, const Placement& place,
                                            const Eye& eye) const {
  const Box b = threadBounds(*piece.stitches);
  const Transform to = eye.transform() * transformOf(place);
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

void ComposeHand::paintSelection(QPainter& p, const Eye& eye) {
  const Piece* piece = letters_.draft() ? letters_.draft() : desk_.selectedPiece();
  if (!piece) return;
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  for (const Piece& other : desk_.job().pieces) {  // the others that are chosen too
    if (other.id == piece->id || !desk_.isChosen(other.id)) continue;
    const auto c = handles(other, placeOf(other), eye);
    p.setPen(QPen(look::colours().accent, 1.2, Qt::DashLine));
    p.setBrush(Qt::NoBrush);
    p.drawPolygon(QPolygonF({c[0], c[2], c[4], c[6]}));
  }
  const Placement place = placeOf(*piece);
  const auto h = handles(*piece, place, eye);
  p.setPen(QPen(look::colours().accent, 1.4));
  p.setBrush(Qt::NoBrush);
  p.drawPolygon(QPolygonF({h[0], h[2], h[4], h[6]}));
  p.drawLine(h[1], h[kTurnHandle]);
  p.setBrush(look::colours().raised);
  for (size_t i = 0; i < 8; ++i)
    p.drawRoundedRect(QRectF(h[i] - QPointF(4.5, 4.5), QSizeF(9, 9)), i % 2 == 0 ? 2 : 4.5,
                      i % 2 == 0 ? 2 : 4.5);
  p.drawEllipse(h[kTurnHandle], 6, 6);
  if (gripsPieces()) paintReadings(p, eye, *piece, place);
  p.restore();
}

void ComposeHand::paintReadings(QPainter& p, const Eye& eye, const Piece& piece,
                                const Placement& place) {
  Piece moved = piece;
  moved.place = place;
  const Box b = boundsOf(moved), room = rt::placeOf(desk_.job());
  QStringList lines;
  if (grip_ == Grip::Turn) lines << QObject::tr("turned %1°").arg(place.turn_deg, 0, 'f', 1);
  lines << QString("%1 × %2").arg(oneUnit(desk_, b.width()), oneUnit(desk_, b.height()));
  lines << QObject::tr("left %1 · right %2")
               .arg(oneUnit(desk_, b.left - room.left), oneUnit(desk_, room.right - b.right));
  lines << QObject::tr("top %1 · bottom %2")
               .arg(oneUnit(desk_, b.top - room.top), oneUnit(desk_, room.bottom - b.bottom));
  if (grip_ == Grip::Move) {
    const QString near = nearestPiece(moved);
    if (!near.isEmpty()) lines << near;
  }
  drawCard(p, eye, QPointF(eye.px(b).right(), eye.px(b).center().y()), lines);
  p.setPen(QPen(look::colours().accent, 1, Qt::DashLine));
  if (grip_ == Grip::Move)
    for (const auto& [from, to] : snapLines(b)) p.drawLine(eye.px(from), eye.px(to));
}

}  // namespace rt
