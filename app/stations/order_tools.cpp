#include "order_tools.h"

#include <QtConcurrent/QtConcurrentRun>

#include "hidden.h"
#include "needles.h"
#include "order.h"
#include "station.h"
#include "travel.h"

namespace rt {

OrderTools::OrderTools(Desk& desk)
    : desk_(desk),
      colours_(new QCheckBox(tr("Fewest colour changes"))),
      hidden_(new QCheckBox(tr("Take out hidden stitches"))),
      travel_(new QCheckBox(tr("Shortest ways between blocks"))),
      keep_(new QCheckBox(tr("Keep fills under lettering, thinned"))),
      margin_(new LengthEdit(tr("Margin left under the edge"))),
      needles_(new QSpinBox),
      stop_(new QLineEdit),
      changes_(paragraph({})),
      stitches_(paragraph({})),
      time_(paragraph({})),
      threads_(paragraph({}, true)),
      stops_(paragraph({}, true)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  colours_->setObjectName(QStringLiteral("fewestColours"));
  hidden_->setObjectName(QStringLiteral("takeHidden"));
  margin_->line()->setObjectName(QStringLiteral("hiddenMargin"));
  needles_->setObjectName(QStringLiteral("needleCount"));
  stop_->setObjectName(QStringLiteral("stopNote"));
  colours_->setToolTip(
      tr("Blocks in the order of fewest colour changes; no overlap is turned over"));
  hidden_->setToolTip(tr("Stitches that later sewing covers go, but for the margin"));
  needles_->setRange(1, 20);
  needles_->setMinimumHeight(32);
  needles_->setButtonSymbols(QAbstractSpinBox::NoButtons);
  needles_->setAccessibleName(tr("Needles of the machine"));
  stop_->setPlaceholderText(tr("add the topper"));
  stop_->setToolTip(tr("The machine waits before the chosen piece; the note is shown there"));
  for (QLabel* label : {changes_, stitches_, time_}) label->setFont(look::figures(9.5));
  column->addWidget(heading(tr("Sewing order")));
  column->addWidget(colours_);
  column->addWidget(changes_);
  column->addWidget(travel_);
  column->addWidget(pair(hidden_, margin_));
  column->addWidget(keep_);
  column->addWidget(stitches_);
  column->addWidget(time_);
  column->addWidget(
      pair(labelled(tr("Needles"), needles_), labelled(tr("Wait, with a note"), stop_)));
  column->addWidget(threads_);
  column->addWidget(stops_);
  connect(colours_, &QCheckBox::clicked, this, [this](bool on) {
    set(tr("fewest colour changes"), [on](SequenceSettings& s) { s.fewest_colours = on; });
  });
  travel_->setObjectName(QStringLiteral("shortestTravel"));
  keep_->setObjectName(QStringLiteral("keepUnderLetters"));
  travel_->setToolTip(
      tr("Blocks of one thread change places and runs turn round where that "
         "shortens the ways and no overlap forbids it"));
  keep_->setToolTip(tr("A fill under lettering stays whole, its rows 1.4 times as far apart"));
  connect(travel_, &QCheckBox::clicked, this, [this](bool on) {
    set(tr("shortest ways"), [on](SequenceSettings& s) { s.shortest_travel = on; });
  });
  connect(keep_, &QCheckBox::clicked, this, [this](bool on) {
    set(tr("fills under lettering"), [on](SequenceSettings& s) { s.keep_under_letters = on; });
  });
  connect(hidden_, &QCheckBox::clicked, this, [this](bool on) {
    const double mm = std::max(0.3, margin_->value_mm());
    set(tr("hidden stitches"), [on, mm](SequenceSettings& s) { s.hidden_margin_mm = on ? mm : 0; });
  });
  connect(margin_, &LengthEdit::edited, this, [this](double mm) {
    if (hidden_->isChecked())
      set(tr("hidden stitches"),
          [mm](SequenceSettings& s) { s.hidden_margin_mm = std::clamp(mm, 0.3, 20.0); });
  });
  connect(needles_, &QSpinBox::valueChanged, this,
          [this](int n) { set(tr("needles"), [n](SequenceSettings& s) { s.needles = n; }); });
  connect(stop_, &QLineEdit::returnPressed, this, [this] {
    const int piece = desk_.selected();
    if (piece == 0 || stop_->text().trimmed().isEmpty())
      return desk_.say(tr("Choose the piece that the machine shall wait before, and type a note."));
    const std::string note = stop_->text().trimmed().toStdString();
    stop_->clear();
    set(tr("wait before a piece"), [&](SequenceSettings& s) {
      std::erase_if(s.stops, [&](const OperatorStop& o) { return o.piece == piece; });
      s.stops.push_back({piece, note});
    });
  });
  connect(&watch_, &QFutureWatcherBase::finished, this, [this] {
    last_ = watch_.result();
    if (last_.key == keyOf(desk_.job())) return show(last_);
    measure();
  });
}

void OrderTools::set(const QString& name, const std::function<void(SequenceSettings&)>& edit) {
  Job next = desk_.job();
  edit(next.sequence);
  desk_.change(name, std::move(next));
}

size_t OrderTools::keyOf(const Job& job) const {
  return printOf(laidOut(job.pieces)) * 31 +
         std::hash<double>()(job.sequence.hidden_margin_mm + 1000 * job.sequence.needles +
                             1e6 * job.sequence.fewest_colours +
                             2e6 * job.sequence.shortest_travel +
                             4e6 * job.sequence.keep_under_letters);
}

OrderTools::Figures OrderTools::figuresOf(const Job& job, const TimeModel& time) {
  Figures f;
  const Pattern plain = laidOut(job.pieces);
  if (threadBounds(plain).empty()) return f;
  const Ordered ordered = orderColours(plain);
  f.changes_before = ordered.colour_changes_before;
  f.changes_after = ordered.colour_changes_after;
  f.trims_before = ordered.trims_before;
  f.trims_after = ordered.trims_after;
  f.bound = ordered.lower_bound;
  const double margin = job.sequence.hidden_margin_mm > 0 ? job.sequence.hidden_margin_mm : 1.0;
  const Unhidden u = withoutHidden(plain, {margin});
  f.stitches_before = u.stitches_before;
  f.stitches_after = u.stitches_after;
  f.thread_before_mm = u.thread_before_mm;
  f.thread_after_mm = u.thread_after_mm;
  const Pattern sewn = sewnLayout(job);
  const Travelled t = shortestTravel(job.sequence.fewest_colours ? ordered.pattern : plain);
  f.travel_before_mm = t.before_mm;
  f.travel_after_mm = t.after_mm;
  f.one_before_s = sewingTime_s(plain, time, Needles::One);
  f.many_before_s = sewingTime_s(plain, time, Needles::Many);
  f.one_after_s = sewingTime_s(sewn, time, Needles::One);
  f.many_after_s = sewingTime_s(sewn, time, Needles::Many);
  f.rethreadings = planNeedles(sewn, job.sequence.needles).rethreadings;
  return f;
}

void OrderTools::measure() {
  if (watch_.isRunning()) return;
  watch_.setFuture(QtConcurrent::run(
      [job = desk_.job(), time = desk_.bench().shop.time, key = keyOf(desk_.job())] {
        Figures f = figuresOf(job, time);
        f.key = key;
        return f;
      }));
}

void OrderTools::refresh() {
  const SequenceSettings& s = desk_.job().sequence;
  const QSignalBlocker block(needles_);
  colours_->setChecked(s.fewest_colours);
  travel_->setChecked(s.shortest_travel);
  keep_->setChecked(s.keep_under_letters);
  hidden_->setChecked(s.hidden_margin_mm > 0);
  if (s.hidden_margin_mm > 0 || margin_->value_mm() <= 0)
    margin_->setValue_mm(s.hidden_margin_mm > 0 ? s.hidden_margin_mm : 1.0,
                         desk_.job().brief.inches);
  needles_->setValue(s.needles);
  QStringList stops;
  for (const OperatorStop& o : s.stops)
    for (const Piece& p : desk_.job().pieces)
      if (p.id == o.piece)
        stops << tr("Waits before %1: %2")
                     .arg(QString::fromStdString(p.name), QString::fromStdString(o.note));
  stops_->setText(stops.join('\n'));
  stops_->setVisible(!stops.empty());
  if (last_.key == keyOf(desk_.job()))
    show(last_);
  else
    measure();
}

void OrderTools::show(const Figures& f) {
  changes_->setText(tr("%1 → %2 changes (%3 is the least), %4 → %5 trims")
                        .arg(f.changes_before)
                        .arg(f.changes_after)
                        .arg(f.bound)
                        .arg(f.trims_before)
                        .arg(f.trims_after));
  travel_->setText(f.travel_before_mm > 0 ? tr("Shortest ways between blocks: %1 → %2 m")
                                                .arg(f.travel_before_mm / 1000, 0, 'f', 1)
                                                .arg(f.travel_after_mm / 1000, 0, 'f', 1)
                                          : tr("Shortest ways between blocks"));
  const size_t less = f.stitches_before - std::min(f.stitches_before, f.stitches_after);
  stitches_->setText(less == 0
                         ? tr("Nothing lies hidden")
                         : tr("%1 stitches and %2 m lie hidden")
                               .arg(grouped(less))
                               .arg((f.thread_before_mm - f.thread_after_mm) / 1000, 0, 'f', 1));
  time_->setText(tr("As set: %1 on one needle (%2 saved), %3 on many")
                     .arg(duration(f.one_after_s),
                          duration(std::max(0.0, f.one_before_s - f.one_after_s)),
                          duration(f.many_after_s)));
  threads_->setText(desk_.job().sequence.needles > 1
                        ? tr("%1 needles: %2 re-threadings while it sews")
                              .arg(desk_.job().sequence.needles)
                              .arg(f.rethreadings)
                        : tr("One needle: every colour change is threaded by hand"));
}

}  // namespace rt
