#include "order_tools.h"

#include "actions.h"
#include "station.h"

namespace rt {

OrderTools::OrderTools(Desk& desk)
    : desk_(desk),
      fewest_(new QCheckBox(tr("Fewest colour changes"))),
      hidden_(new QCheckBox(tr("Take out hidden stitches"))),
      travel_(new QCheckBox(tr("Shortest ways between blocks"))),
      keep_(new QCheckBox(tr("Keep fills under lettering, thinned"))),
      order_(new ColourList(desk)),
      margin_(new LengthEdit(tr("Margin left under the edge"))),
      needles_(new QSpinBox),
      stop_(new QLineEdit),
      changes_(paragraph({})),
      stitches_(paragraph({})),
      time_(paragraph({})),
      threads_(paragraph({}, true)),
      where_(paragraph({}, true)),
      stops_(new QVBoxLayout) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  for (QLabel* label : {changes_, stitches_, time_}) label->setFont(look::figures(9.5));
  column->addWidget(heading(tr("Sewing order")));
  buildChanges(*column);
  buildHidden(*column);
  buildStops(*column);
  connect(&desk.studies(), &Studies::figured, this, [this] {
    if (const auto f = desk_.studies().figures()) show(*f);
  });
  desk.on(Part::Selection, this, &OrderTools::standNowhere);
}

void OrderTools::buildChanges(QVBoxLayout& column) {
  fewest_->setObjectName(QStringLiteral("fewestColours"));
  travel_->setObjectName(QStringLiteral("shortestTravel"));
  fewest_->setToolTip(
      tr("Blocks in the order of fewest colour changes; no overlap is turned over"));
  travel_->setToolTip(
      tr("Blocks of one thread change places and runs turn round where that "
         "shortens the ways and no overlap forbids it"));
  column.addWidget(fewest_);
  column.addWidget(changes_);
  column.addWidget(order_);
  column.addWidget(travel_);
  connect(fewest_, &QCheckBox::clicked, this, [this](bool on) {
    set(tr("fewest colour changes"), [on](SequenceSettings& s) {
      s.fewest_colours = on;
      s.colours_by_hand.clear();
    });
  });
  connect(travel_, &QCheckBox::clicked, this, [this](bool on) {
    set(tr("shortest ways"), [on](SequenceSettings& s) { s.shortest_travel = on; });
  });
}

void OrderTools::buildHidden(QVBoxLayout& column) {
  const double thin = desk_.bench().shop.practice.thin_under_letters;
  hidden_->setObjectName(QStringLiteral("takeHidden"));
  margin_->line()->setObjectName(QStringLiteral("hiddenMargin"));
  keep_->setObjectName(QStringLiteral("keepUnderLetters"));
  hidden_->setToolTip(tr("Stitches that later sewing covers go, but for the margin"));
  keep_->setToolTip(
      tr("A fill under lettering stays whole, its rows %1 times as far apart").arg(thin));
  column.addWidget(pair(hidden_, margin_));
  column.addWidget(keep_);
  column.addWidget(stitches_);
  column.addWidget(time_);
  connect(keep_, &QCheckBox::clicked, this, [this, thin](bool on) {
    set(tr("fills under lettering"),
        [on, thin](SequenceSettings& s) { s.thin_under_letters = on ? thin : 0; });
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
}

void OrderTools::buildStops(QVBoxLayout& column) {
  needles_->setObjectName(QStringLiteral("needleCount"));
  stop_->setObjectName(QStringLiteral("stopNote"));
  needles_->setRange(1, 20);
  needles_->setMinimumHeight(32);
  needles_->setButtonSymbols(QAbstractSpinBox::NoButtons);
  needles_->setAccessibleName(tr("Needles of the machine"));
  stop_->setPlaceholderText(tr("add the topper"));
  stop_->setToolTip(
      tr("The machine waits before the chosen piece, or where the mark on the ribbon stands; the "
         "note is shown there. Enter keeps it"));
  stops_->setSpacing(2);
  column.addWidget(
      pair(labelled(tr("Needles"), needles_), labelled(tr("Wait, with a note"), stop_)));
  column.addWidget(where_);
  column.addWidget(threads_);
  column.addLayout(stops_);
  connect(needles_, &QSpinBox::valueChanged, this,
          [this](int n) { set(tr("needles"), [n](SequenceSettings& s) { s.needles = n; }); });
  connect(stop_, &QLineEdit::returnPressed, this, &OrderTools::addStop);
}

void OrderTools::standAt(const Pattern& sewn, size_t row) {
  here_ = stopAt(desk_.job(), sewn, row);
  where_->setText(
      here_
          ? tr("It would wait before %1.").arg(QString::fromStdString(placeOf(desk_.job(), *here_)))
          : QString());
  where_->setVisible(here_.has_value());
}

void OrderTools::standNowhere() {
  here_.reset();
  where_->hide();
}

void OrderTools::addStop() {
  OperatorStop stop = here_.value_or(OperatorStop{desk_.selected(), {}, 0});
  stop.note = stop_->text().trimmed().toStdString();
  if (stop.piece == 0 || stop.note.empty())
    return desk_.say(
        tr("Type a note, and choose the piece that the machine shall wait before or go to a "
           "moment on the ribbon."));
  stop_->clear();
  guarded(desk_,
          [&] { desk_.change(tr("wait with a note"), actions::waiting(desk_.job(), stop)); });
}

void OrderTools::showStops() {
  clear(*stops_);
  const std::vector<OperatorStop>& stops = desk_.job().sequence.stops;
  for (size_t i = 0; i < stops.size(); ++i) {
    const std::string place = placeOf(desk_.job(), stops[i]);
    if (place.empty()) continue;  // its piece is gone, and comes back with an undo
    auto* away = button(tr("Take away"), tr("The machine no longer waits here"));
    away->setObjectName(QStringLiteral("stopAway%1").arg(i));
    connect(away, &QPushButton::clicked, this, [this, i] {
      set(tr("no wait"), [i](SequenceSettings& s) {
        if (i < s.stops.size()) s.stops.erase(s.stops.begin() + static_cast<long>(i));
      });
    });
    auto* words =
        paragraph(tr("Waits before %1: %2")
                      .arg(QString::fromStdString(place), QString::fromStdString(stops[i].note)),
                  true);
    stops_->addWidget(pair(words, away));
  }
}

void OrderTools::set(const QString& name, const std::function<void(SequenceSettings&)>& edit) {
  guarded(desk_, [&] {
    SequenceSettings next = desk_.job().sequence;
    edit(next);
    desk_.change(name, actions::sequencedWith(desk_.job(), std::move(next)));
  });
}

void OrderTools::refresh() {
  const SequenceSettings& s = desk_.job().sequence;
  const QSignalBlocker block(needles_);
  fewest_->setChecked(s.fewest_colours);
  travel_->setChecked(s.shortest_travel);
  keep_->setChecked(s.thin_under_letters > 0);
  hidden_->setChecked(s.hidden_margin_mm > 0);
  if (s.hidden_margin_mm > 0 || margin_->value_mm() <= 0)
    margin_->setValue_mm(s.hidden_margin_mm > 0 ? s.hidden_margin_mm : 1.0, desk_.inches());
  needles_->setValue(s.needles);
  order_->refresh();
  showStops();
  // hidden tools ask for nothing: they are refreshed again when they are opened
  if (isVisible()) desk_.studies().askFigures(desk_.job(), desk_.bench().shop.time);
}

void OrderTools::show(const SequenceFigures& f) {
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
  stitches_->setText(
      less == 0 ? tr("Nothing lies hidden that would shorten the sewing")
                : tr("%1 stitches, %2 m and %3 lie hidden (trims %4 → %5); without them the "
                     "heaviest place is %6 instead of %7 mm/mm²")
                      .arg(grouped(less))
                      .arg((f.thread_before_mm - f.thread_after_mm) / 1000, 0, 'f', 1)
                      .arg(duration(f.hidden_before_s - f.hidden_after_s))
                      .arg(f.hidden_trims_before)
                      .arg(f.hidden_trims_after)
                      .arg(f.peak_after, 0, 'f', 1)
                      .arg(f.peak_before, 0, 'f', 1));
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
