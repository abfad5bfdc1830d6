#include "letter_hand.h"

#include <QPainterPath>

#include "actions.h"
#include "face.h"
#include "look.h"
#include "measured_curve.h"
#include "station.h"

namespace rt {
namespace {

constexpr double kLetterHandle_px = 10;
constexpr double kHandleBelow_px = 26;  // the handle stands off the letters, on the baseline's side
constexpr double kStraight_mm = 0.6;    // a bow flatter than this is none
constexpr double kMostTurn = 0.95;      // of a full circle

/// Signed sagitta of a baseline of some length with a signed curvature.
double sagittaOf(double curvature, double length_mm) {
  if (std::abs(curvature) * length_mm < 1e-6) return curvature * length_mm * length_mm / 8;
  return (1 - std::cos(curvature * length_mm / 2)) / curvature;
}

double signedCurvature(const TextSource& t) {
  if (t.arc_radius_mm <= 0) return 0;
  return (t.arc_side == ArcSide::Outside ? 1 : -1) / t.arc_radius_mm;
}

}  // namespace

const Piece* LetterHand::piece() const {
  return draft_ ? &*draft_ : desk_.selectedPiece();
}

const TextSource* LetterHand::text() const {
  const Piece* p = piece();
  return p ? std::get_if<TextSource>(&p->source) : nullptr;
}

std::shared_ptr<const Lettering> LetterHand::lettering() {
  return text() ? desk_.lettering(*piece()) : nullptr;
}

Transform LetterHand::toLayout() const {
  return transformOf(piece()->place) * Transform::scaling(text()->stretch, 1);
}

double LetterHand::advance() {
  const auto l = lettering();
  return l ? l->advance_mm : 0;
}

void LetterHand::change(const std::function<void(TextSource&)>& edit) {
  Piece next = *piece();
  auto& source = std::get<TextSource>(next.source);
  const bool named = next.name == source.text;
  edit(source);
  if (named) next.name = source.text;
  try {
    next = remade(next, desk_.fabric(), desk_.bench()).piece;
  } catch (const std::exception&) {
    // while it is typed a text may be empty or too long for its circle: the letters wait
  }
  draft_ = std::move(next);
}

bool LetterHand::beginTyping() {
  const TextSource* source = text();
  if (!source) return false;
  typing_ = true;
  draft_ = base_ = *desk_.selectedPiece();
  caret_ = decodeUtf8(source->text).size();
  return true;
}

bool LetterHand::key(const QKeyEvent& event) {
  if (!typing_) return false;
  std::u32string codes = decodeUtf8(text()->text);
  caret_ = std::min(caret_, codes.size());
  auto set = [&] {
    std::string out;
    for (char32_t c : codes) out += encodeUtf8(c);
    change([&](TextSource& t) { t.text = out; });
  };
  switch (event.key()) {
    case Qt::Key_Escape:
      giveUp();
      return true;
    case Qt::Key_Left:
      caret_ -= caret_ > 0;
      return true;
    case Qt::Key_Right:
      caret_ += caret_ < codes.size();
      return true;
    case Qt::Key_Home:
      caret_ = 0;
      return true;
    case Qt::Key_End:
      caret_ = codes.size();
      return true;
    case Qt::Key_Backspace:
      if (caret_ > 0) codes.erase(--caret_, 1), set();
      return true;
    case Qt::Key_Delete:
      if (caret_ < codes.size()) codes.erase(caret_, 1), set();
      return true;
    case Qt::Key_Return:
    case Qt::Key_Enter:
      if (!(event.modifiers() & Qt::ShiftModifier)) {
        keep();
        return true;
      }
      codes.insert(caret_++, 1, U'\n');
      set();
      return true;
    default:
      break;
  }
  if (event.modifiers() & (Qt::ControlModifier | Qt::MetaModifier)) return false;
  const std::u32string typed = event.text().toStdU32String();
  if (typed.empty() || typed[0] < U' ') return false;
  codes.insert(caret_, typed);
  caret_ += typed.size();
  set();
  return true;
}

void LetterHand::keep() {
  typing_ = bending_ = false;
  if (!draft_) return;
  const Piece kept = std::move(*draft_);
  draft_.reset();
  guarded(desk_, [&] {
    for (const Piece& p : desk_.job().pieces) {
      if (p.id != kept.id || p == kept) continue;
      const bool bent =
          std::get<TextSource>(p.source).text == std::get<TextSource>(kept.source).text;
      return desk_.change(bent ? QObject::tr("bend the baseline") : QObject::tr("text"),
                          actions::remadeAs(desk_.job(), kept, desk_.bench()));
    }
  });
}

void LetterHand::giveUp() {
  typing_ = bending_ = false;
  draft_.reset();
}

void LetterHand::refresh() {
  if (!draft_) return;
  for (const Piece& p : desk_.job().pieces)
    if (p.id == draft_->id && p == *base_) return;
  giveUp();
}

std::optional<QPointF> LetterHand::handle(const Eye& eye) const {
  const TextSource* source = text();
  if (!source || source->monogram) return std::nullopt;
  const Transform to = toLayout();
  const QPointF middle = eye.px(to({0, 0}));
  const Point down = unit(to.turn({0, 1}));
  return middle + QPointF(down.x, down.y) * kHandleBelow_px;
}

bool LetterHand::press(QPointF at, const Eye& eye) {
  const auto grip = handle(eye);
  if (typing_ || !grip || QLineF(*grip, at).length() > kLetterHandle_px) return false;
  bending_ = true;
  pressed_ = at;
  sagittaThen_ = sagittaOf(signedCurvature(*text()), advance());
  draft_ = base_ = *desk_.selectedPiece();
  return true;
}

void LetterHand::drag(QPointF at, const Eye& eye) {
  if (!bending_) return;
  const auto back = toLayout().inverse();
  if (!back) return;
  const Point by = back->turn(eye.mm(at) - eye.mm(pressed_));
  bend(sagittaThen_ - by.y);
}

/// The curvature that bows the baseline so far, its length kept.
void LetterHand::bend(double sagitta) {
  const double length = advance();
  if (!(length > 0)) return;
  double low = 0, high = 2 * kPi * kMostTurn / length;
  for (int k = 0; k < 50; ++k) {
    const double middle = (low + high) / 2;
    (sagittaOf(middle, length) < std::abs(sagitta) ? low : high) = middle;
  }
  const double radius = std::abs(sagitta) < kStraight_mm ? 0 : std::round(10 / low) / 10;
  change([&](TextSource& t) {
    bendTo(t, radius);
    t.arc_side = sagitta > 0 ? ArcSide::Outside : ArcSide::Inside;
  });
}

void LetterHand::release() {
  if (bending_) keep();
}

/// Where the caret stands: its frame has the baseline on x and heads toward -y.
Transform LetterHand::caretPlace() {
  const auto l = lettering();
  const std::u32string codes = decodeUtf8(text()->text);
  const double h = text()->height_mm;
  size_t letters = 0, spaces = 0;  // before the caret; spaces since the last letter
  for (size_t i = 0; i < caret_ && i < codes.size(); ++i) {
    const bool space = codes[i] == U' ' || codes[i] == U'\n';
    letters += !space;
    spaces = space ? spaces + 1 : 0;
  }
  if (!l || l->glyphs.empty()) return Transform::moving({0, 0});
  const bool first = letters == 0;
  const PlacedGlyph& g = l->glyphs[std::min(first ? 0 : letters - 1, l->glyphs.size() - 1)];
  const double by = first ? -0.45 * h : 0.45 * h + 0.5 * h * static_cast<double>(spaces);
  return Transform::moving(g.at) * Transform::turning(g.angle_deg) * Transform::moving({by, 0});
}

void LetterHand::paintCaret(QPainter& p, const Eye& eye) {
  const Transform to = toLayout() * caretPlace();
  const double h = text()->height_mm;
  p.setPen(QPen(look::colours().accent, 2.4, Qt::SolidLine, Qt::RoundCap));
  p.drawLine(eye.px(to({0, 0.15 * h})), eye.px(to({0, -1.15 * h})));
}

void LetterHand::paintArc(QPainter& p, const Eye& eye) {
  const auto grip = handle(eye);
  if (!grip) return;
  const TextSource& t = *text();
  const double length = advance(), k = signedCurvature(t);
  const Transform to = toLayout();
  QPainterPath base;
  for (int i = -30; i <= 30; ++i) {
    const double s = length / 2 * i / 30;
    const Point at = k == 0 ? Point{s, 0} : Point{std::sin(k * s) / k, (1 - std::cos(k * s)) / k};
    i == -30 ? base.moveTo(eye.px(to(at))) : base.lineTo(eye.px(to(at)));
  }
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(look::colours().accent, 1.2, Qt::DashLine));
  p.drawPath(base);
  p.setPen(QPen(look::colours().accent, 1.6));
  p.setBrush(bending_ ? look::colours().accent : look::colours().raised);
  // a bowed needle: bend me
  p.drawEllipse(*grip, 7, 7);
  QPainterPath bow(*grip + QPointF(-4, 2));
  bow.quadTo(*grip + QPointF(0, -5), *grip + QPointF(4, 2));
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(bending_ ? look::colours().raised : look::colours().accent, 1.4));
  p.drawPath(bow);
  if (k == 0) return;
  // a curve that was measured has a chord of its own, which is not that of these letters
  const bool ofLetters = t.curve.given == MeasuredCurve::Given::Radius;
  const ChordOf chord = chordOf(t.arc_radius_mm, length);
  QString words = QObject::tr("radius %1").arg(oneUnit(desk_, t.arc_radius_mm));
  if (ofLetters)
    words += QObject::tr(" · chord %1 · sagitta %2")
                 .arg(oneUnit(desk_, chord.chord_mm), oneUnit(desk_, chord.sagitta_mm));
  p.setFont(look::figures(9));
  QRectF box = p.fontMetrics().boundingRect(words);
  box.adjust(-6, -3, 6, 3);
  box.moveCenter(*grip + QPointF(0, 20));
  p.setPen(Qt::NoPen);
  QColor ground = look::colours().raised;
  ground.setAlpha(225);
  p.setBrush(ground);
  p.drawRoundedRect(box, 5, 5);
  p.setPen(look::colours().ink);
  p.drawText(box, Qt::AlignCenter, words);
}

void LetterHand::paintGaps(QPainter& p, const Eye& eye) {
  const auto l = lettering();
  if (!l) return;
  const bool joins = [&] {
    for (const Face& f : desk_.faces())
      if (f.id == text()->face) return f.joins;
    return false;
  }();
  for (const PlacedGlyph& g : l->glyphs) {
    if (!g.gap_to_next_mm) continue;
    const double gap = *g.gap_to_next_mm;
    const bool open = joins && gap >= kJoined_mm, crowded = !joins && gap < kCrowdedGap_mm;
    if (!open && !crowded) continue;
    const QPointF at = eye.px(toLayout()(g.gap_at));
    p.setPen(QPen(open ? look::colours().stop : look::colours().check, 2));
    p.setBrush(Qt::NoBrush);
    p.drawLine(at + QPointF(-5, 10), at);  // an open or a crowded notch, by its shape too
    p.drawLine(at + QPointF(5, 10), at);
    if (open) p.drawLine(at + QPointF(-5, 10), at + QPointF(5, 10));
    p.setFont(look::figures(8.5, true));
    p.drawText(at + QPointF(-10, 22), QString::number(gap, 'f', gap < 0.995 ? 2 : 1));
  }
}

void LetterHand::paint(QPainter& p, const Eye& eye) {
  if (!text()) return;
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  paintGaps(p, eye);
  paintArc(p, eye);
  if (typing_) paintCaret(p, eye);
  p.restore();
}

}  // namespace rt
