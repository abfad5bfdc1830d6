#include "sew_ribbon.h"

#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include "fields.h"
#include "look.h"
#include "thread_picker.h"
#include "thread_shelf.h"
#include "verdicts.h"

namespace rt {
namespace {

constexpr int kSlices = 600;
constexpr int kMargin = 20;
constexpr int kFrame_ms = 33;

/// Words on a plate of their own, so that what lies under them does not run into them; kept within
/// the ribbon's right end.
void drawPlate(QPainter& p, QPointF at, const QString& words, const QColor& colour) {
  const QFontMetrics metrics = p.fontMetrics();
  const double wide = metrics.horizontalAdvance(words);
  at.setX(std::min(at.x(), p.window().width() - kMargin - wide));
  QColor plate = look::colours().panel;
  plate.setAlpha(225);
  p.fillRect(QRectF(at.x() - 2, at.y() - metrics.ascent(), wide + 4, metrics.height()), plate);
  p.setPen(colour);
  p.drawText(at, words);
}

}  // namespace

SewRibbon::SewRibbon(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setFixedHeight(look::kRibbonHeight);
  setFocusPolicy(Qt::TabFocus);
  setAccessibleName(tr("Sew ribbon"));
  setAccessibleDescription(
      tr("The job as time. Left and right arrows go through the sewing, Escape shows all."));
  setToolTip(
      tr("Drag along the ribbon to see the cloth at that moment. Space plays, Left and Right go "
         "on, Ctrl+Right is one stitch, Page Down the next colour, T the next trim, a click with "
         "the right button gives the colour another thread, Escape shows "
         "all"));
  playTimer_.setInterval(kFrame_ms);
  connect(&playTimer_, &QTimer::timeout, this, [this] {
    const double next = std::max(0.0, moment_s_) + playSpeed_ * kFrame_ms / 1000;
    choose(std::min(next, total_s_));
    if (next >= total_s_) playTimer_.stop();
  });
  setObjectName(QStringLiteral("sewRibbon"));
  desk.on(rt::Part::Job | rt::Part::View, this, &SewRibbon::rebuild);
  desk.on(rt::Part::Weighing, this, [this] {
    weigh();
    update();
  });
  rebuild();
}

void SewRibbon::rebuild() {
  const bool planned = desk_.planCurrent();
  // another plan, another layout, other times
  const size_t key = desk_.layoutPrint() * 2 + planned +
                     reinterpret_cast<size_t>(desk_.madePlan()) +
                     static_cast<size_t>(desk_.timeFactor() * 1e6) * 31;
  if (key == builtFor_) return update();
  builtFor_ = key;
  parts_.clear();
  spans_.clear();
  trims_.clear();
  stops_.clear();
  bobbins_.clear();
  playTimer_.stop();
  total_s_ = 0;
  stitches_ = 0;
  moment_s_ = -1;
  std::vector<std::tuple<std::shared_ptr<const Pattern>, int, int>> patterns;
  if (planned) {
    for (const Hooping& h : desk_.plan()->hoopings)
      for (const PlanSetting& s : h.settings)
        patterns.emplace_back(std::make_shared<const Pattern>(s.pattern), h.index, s.index);
  } else if (!desk_.layout().stitches.empty()) {
    patterns.emplace_back(std::make_shared<const Pattern>(desk_.layout()), 0, 0);
  }
  for (auto& [pattern, hooping, setting] : patterns) {
    if (!parts_.empty() && setting <= 1) total_s_ += desk_.bench().shop.practice.hooping_s;
    Part part{pattern, hooping, setting, total_s_, 0, {}};
    TimeWalk walk(desk_.bench().shop.time, Needles::One);
    part.time_s.reserve(pattern->stitches.size());
    int thread = -1;
    for (const Stitch& s : pattern->stitches) {
      const double before = total_s_;
      total_s_ += walk.next(s);
      part.time_s.push_back(static_cast<float>(total_s_));
      if (s.op == Op::Trim) trims_.push_back(total_s_);
      stitches_ += s.op == Op::Stitch ? 1 : 0;
      if (s.op == Op::Stop) stops_.push_back(total_s_);
      if (s.op != Op::Stitch) continue;
      if (s.thread != thread)
        spans_.push_back({total_s_ - 60 / desk_.bench().shop.time.stitches_per_minute, total_s_,
                          pattern->colourOf(s), hooping});
      thread = s.thread;
      spans_.back().to_s = total_s_;
      (void)before;
    }
    part.to_s = total_s_;
    if (const auto row =
            bobbinRunsOutAt(*pattern, desk_.threadTake(), desk_.bench().shop.bobbin_mm))
      bobbins_.push_back(static_cast<double>(part.time_s[*row]));
    parts_.push_back(std::move(part));
  }
  weigh();
  update();
}

void SewRibbon::weigh() {
  profile_.assign(kSlices, 0);
  const auto w = desk_.weighing();
  if (!w || total_s_ <= 0) return;
  const Lattice& l = w->frame.lattice;
  for (const Part& part : parts_)
    for (size_t row = 0; row < part.pattern->stitches.size(); ++row) {
      const Stitch& s = part.pattern->stitches[row];
      if (s.op != Op::Stitch) continue;
      const auto slice =
          std::min<size_t>(kSlices - 1, static_cast<size_t>(part.time_s[row] / total_s_ * kSlices));
      const double d =
          w->map.density(static_cast<int64_t>(std::floor((s.at.x - l.origin.x) / l.cell_mm)),
                         static_cast<int64_t>(std::floor((s.at.y - l.origin.y) / l.cell_mm)));
      profile_[slice] = std::max(profile_[slice], static_cast<float>(d));
    }
}

double SewRibbon::xOf(double s) const {
  return kMargin + (width() - 2 * kMargin) * s / std::max(1.0, total_s_);
}

double SewRibbon::sOf(double x) const {
  return std::clamp((x - kMargin) / (width() - 2 * kMargin), 0.0, 1.0) * total_s_;
}

void SewRibbon::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const look::Palette& c = look::colours();
  p.fillRect(rect(), c.panel);
  p.setPen(QPen(hasFocus() ? c.accent : c.line, hasFocus() ? 2 : 1));
  p.drawLine(0, 0, width(), 0);
  p.setFont(look::figures(9));
  if (parts_.empty()) {
    p.setPen(c.quiet);
    p.drawText(
        rect(), Qt::AlignCenter,
        tr("The sewing appears here as time, colour by colour, once something lies on the cloth."));
    return;
  }
  paintHead(p);
  paintColours(p);
  paintProfile(p);
  if (moment_s_ < 0) return;
  p.setPen(QPen(c.ink, 2));
  p.setBrush(c.ink);
  p.drawLine(QPointF(xOf(moment_s_), 22), QPointF(xOf(moment_s_), height() - 6));
  p.drawEllipse(QPointF(xOf(moment_s_), 22), 5, 5);
}

/// Hoopings with their times, and the sum of all.
void SewRibbon::paintHead(QPainter& p) const {
  const look::Palette& c = look::colours();
  const QString sum =
      tr("%1 · %2 stitches · %3 · %4")
          .arg(duration(total_s_ - desk_.bench().shop.practice.hooping_s *
                                       (static_cast<double>(parts_.size()) - 1)),
               grouped(stitches_),  // with the ties and laps of a plan
               counted(desk_.statistics().colours.size(), tr("colour"), tr("colours")),
               counted(trims_.size(), tr("trim"), tr("trims")));
  const double sumLeft = width() - kMargin - p.fontMetrics().horizontalAdvance(sum) - 12;
  for (const Part& part : parts_) {
    const double x0 = xOf(part.from_s);
    const QString words =
        part.hooping > 0
            ? tr("Hooping %1 · %2").arg(part.hooping).arg(duration(part.to_s - part.from_s))
            : tr("Whole layout, not planned yet");
    const double room = std::min(part.hooping > 0 ? xOf(part.to_s) + 8 : sumLeft, sumLeft) - x0;
    p.setPen(part.hooping == desk_.hooping() ? c.ink : c.quiet);
    if (room > 40)
      p.drawText(QRectF(x0, 5, room, 16), Qt::AlignLeft | Qt::AlignVCenter,
                 p.fontMetrics().elidedText(words, Qt::ElideRight, static_cast<int>(room)));
    if (part.from_s > 0) {
      const double x =
          (xOf(part.from_s) + xOf(part.from_s - desk_.bench().shop.practice.hooping_s)) / 2;
      p.setPen(QPen(c.quiet, 1, Qt::DashLine));
      p.drawLine(QPointF(x, 10), QPointF(x, 62));
    }
  }
  p.fillRect(QRectF(sumLeft, 2, width() - sumLeft, 20), c.panel);
  p.setPen(c.quiet);
  p.drawText(QRectF(kMargin, 5, width() - 2 * kMargin, 16), Qt::AlignRight | Qt::AlignVCenter, sum);
}

/// Colour by colour, with trims, waits and empty bobbins.
void SewRibbon::paintColours(QPainter& p) const {
  const look::Palette& c = look::colours();
  for (const Span& s : spans_) {
    const QRectF box(xOf(s.from_s), 26, std::max(1.5, xOf(s.to_s) - xOf(s.from_s) - 1), 22);
    p.setPen(QPen(c.line.darker(115), 1));
    p.setBrush(QColor(QRgb(0xff000000u | s.colour.rgb)));
    p.drawRoundedRect(box, std::min(4.0, box.width() / 2), std::min(4.0, box.width() / 2));
  }
  p.setPen(QPen(c.quiet, 1));
  for (double t : trims_) p.drawLine(QPointF(xOf(t), 50), QPointF(xOf(t), 54));
  p.setPen(Qt::NoPen);
  p.setBrush(c.accent);
  for (double t : stops_)  // a person is waited for
    p.drawPolygon(QPolygonF({{xOf(t) - 5, 50}, {xOf(t) + 5, 50}, {xOf(t), 58}}));
  p.setFont(look::text(8, true));
  for (double t : bobbins_) {  // a bobbin's rim, empty
    p.setPen(QPen(c.check, 2));
    p.setBrush(c.panel);
    p.drawEllipse(QPointF(xOf(t), 37), 6, 6);
    p.drawEllipse(QPointF(xOf(t), 37), 1.5, 1.5);
    drawPlate(p, QPointF(xOf(t) + 9, 41), tr("bobbin empty"), c.check);
  }
}

/// The heaviest place of each slice of time against the stop limit.
void SewRibbon::paintProfile(QPainter& p) const {
  const look::Palette& c = look::colours();
  const Limit limit = desk_.fabric().density_mm_per_mm2;
  QPainterPath path;
  const double base = height() - 8, tall = height() - 66;
  path.moveTo(kMargin, base);
  for (int i = 0; i < kSlices; ++i)
    path.lineTo(kMargin + (width() - 2 * kMargin) * (i + 0.5) / kSlices,
                base - tall * std::min(1.1, profile_[static_cast<size_t>(i)] / limit.stop) * 0.85);
  path.lineTo(width() - kMargin, base);
  p.setPen(Qt::NoPen);
  QColor grey = c.quiet;
  grey.setAlpha(110);
  p.setBrush(grey);
  p.drawPath(path);
  p.setPen(QPen(c.stop, 1, Qt::DashLine));
  p.drawLine(QPointF(kMargin, base - tall * 0.85), QPointF(width() - kMargin, base - tall * 0.85));
  p.setFont(look::figures(7.5));
  const QString stop = tr("stop %1").arg(limit.stop, 0, 'f', 1);
  drawPlate(
      p,
      QPointF(width() - kMargin - p.fontMetrics().horizontalAdvance(stop), base - tall * 0.85 + 3),
      stop, c.stop);
}

void SewRibbon::choose(double s) {
  moment_s_ = s;
  update();
  const Part* chosen = parts_.empty() ? nullptr : &parts_[0];
  for (const Part& part : parts_)
    if (part.from_s <= s) chosen = &part;
  if (!chosen) return;
  const auto row = static_cast<size_t>(
      std::upper_bound(chosen->time_s.begin(), chosen->time_s.end(), static_cast<float>(s)) -
      chosen->time_s.begin());
  emit momentChosen(chosen->pattern, row, chosen->hooping, chosen->setting);
}

void SewRibbon::goTo(double part) {
  choose(std::clamp(part, 0.0, 1.0) * total_s_);
}

void SewRibbon::play() {
  if (playTimer_.isActive()) return playTimer_.stop();
  if (parts_.empty()) return;
  if (moment_s_ < 0 || moment_s_ >= total_s_) choose(0);
  playTimer_.start();
}

void SewRibbon::stepAmong(const std::vector<double>& times, int by) {
  playTimer_.stop();
  const double now = std::max(0.0, moment_s_);
  const double slack = 1e-3;  // times are kept in single precision
  if (by > 0) {
    const auto next = std::upper_bound(times.begin(), times.end(), now + slack);
    choose(next == times.end() ? total_s_ : *next);
  } else {
    const auto next = std::lower_bound(times.begin(), times.end(), now - slack);
    choose(next == times.begin() ? 0 : *(next - 1));
  }
}

void SewRibbon::stepStitch(int by) {
  std::vector<double> times;
  for (const Part& part : parts_)
    for (size_t row = 0; row < part.time_s.size(); ++row)
      if (part.pattern->stitches[row].op == Op::Stitch)
        times.push_back(static_cast<double>(part.time_s[row]));
  stepAmong(times, by);
}

void SewRibbon::stepColour(int by) {
  std::vector<double> times;
  for (const Span& s : spans_) times.push_back(s.from_s + 0.01);
  stepAmong(times, by);
}

void SewRibbon::stepTrim(int by) {
  stepAmong(trims_, by);
}

void SewRibbon::followMachine(int hooping, int setting, size_t row) {
  for (const Part& part : parts_)
    if (part.hooping == hooping && part.setting == setting && !part.time_s.empty())
      choose(part.time_s[std::min(row, part.time_s.size() - 1)]);
}

void SewRibbon::mousePressEvent(QMouseEvent* event) {
  playTimer_.stop();
  choose(sOf(event->position().x()));
}

void SewRibbon::mouseMoveEvent(QMouseEvent* event) {
  if (event->buttons() & Qt::LeftButton) choose(sOf(event->position().x()));
}

void SewRibbon::contextMenuEvent(QContextMenuEvent* event) {
  const double s = event->reason() == QContextMenuEvent::Keyboard ? std::max(0.0, moment_s_)
                                                                  : sOf(event->pos().x());
  for (const Span& span : spans_)
    if (s >= span.from_s && s <= span.to_s)
      return void(ThreadPicker::open(this, desk_, span.colour, std::nullopt));
}

void SewRibbon::keyPressEvent(QKeyEvent* event) {
  const double step = event->modifiers() & Qt::ShiftModifier ? total_s_ / 20 : total_s_ / 200;
  if (event->key() == Qt::Key_Space) return play();
  if (event->key() == Qt::Key_PageDown) return stepColour(1);
  if (event->key() == Qt::Key_PageUp) return stepColour(-1);
  if (event->key() == Qt::Key_T) return stepTrim(event->modifiers() & Qt::ShiftModifier ? -1 : 1);
  if (event->modifiers() & Qt::ControlModifier && event->key() == Qt::Key_Right)
    return stepStitch(1);
  if (event->modifiers() & Qt::ControlModifier && event->key() == Qt::Key_Left)
    return stepStitch(-1);
  if (event->key() == Qt::Key_Home) return choose(0);
  if (event->key() == Qt::Key_End) return choose(total_s_);
  if (event->key() == Qt::Key_Escape) {
    playTimer_.stop();
    moment_s_ = -1;
    emit momentLeft();
    return update();
  }
  if (event->key() == Qt::Key_Left) return choose(std::max(0.0, std::max(0.0, moment_s_) - step));
  if (event->key() == Qt::Key_Right)
    return choose(std::min(total_s_, std::max(0.0, moment_s_) + step));
  QWidget::keyPressEvent(event);
}

}  // namespace rt
