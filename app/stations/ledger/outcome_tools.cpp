#include "outcome_tools.h"

#include "learning_words.h"
#include "swatch.h"

namespace rt {

OutcomeTools::OutcomeTools(Desk& desk)
    : desk_(desk),
      words_(paragraph({}, true)),
      why_(new QLineEdit),
      went_(new QWidget),
      swatch_(new QWidget),
      rows_(new QVBoxLayout(swatch_)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  auto* box = new QVBoxLayout(went_);
  box->setContentsMargins(0, 0, 0, 0);
  box->setSpacing(6);
  box->addWidget(heading(tr("How did it sew out?")));
  box->addWidget(words_);
  why_->setObjectName(QStringLiteral("outcomeNote"));
  why_->setPlaceholderText(tr("note, if any"));
  why_->setAccessibleName(tr("Note on the outcome"));
  box->addWidget(why_);
  auto* buttons = new QHBoxLayout;
  buttons->setSpacing(6);
  const std::array<std::pair<QString, QString>, 3> names{
      {{tr("Fine"), tr("It sewed well and lies flat")},
       {tr("Puckered"), tr("It sewed, but the cloth drew in or is stiff")},
       {tr("Broke"), tr("Thread or needle broke where it is heaviest")}}};
  for (int i = 0; i < 3; ++i) {
    auto* b = button(names[static_cast<size_t>(i)].first, names[static_cast<size_t>(i)].second);
    b->setObjectName(QStringLiteral("outcome%1").arg(i));
    connect(b, &QPushButton::clicked, this, [this, i] { record(i); });
    buttons->addWidget(b);
  }
  box->addLayout(buttons);
  rows_->setContentsMargins(0, 0, 0, 0);
  rows_->setSpacing(6);
  column->addWidget(went_);
  column->addWidget(swatch_);
}

void OutcomeTools::record(int outcome) {
  guarded(desk_, [&] {
    const auto w = desk_.weighing();
    if (!w || !desk_.weighingCurrent()) return desk_.say(tr("Still weighing: try again."));
    desk_.addOutcome(OutcomeOf::Density, w->report.summary.peak_mm_per_mm2,
                     static_cast<Outcome>(outcome), why_->text().trimmed().toStdString());
    why_->clear();
    const LearnedLimit l = desk_.learned().density;
    desk_.say(l.enough ? tr("Kept. The outcomes now propose check %1, stop %2: see Density (3).")
                             .arg(l.limit.check, 0, 'f', 1)
                             .arg(l.limit.stop, 0, 'f', 1)
                       : tr("Kept: %1.").arg(QString::fromStdString(inWords(l))));
  });
  refresh();
}

void OutcomeTools::recordSwatch(const QString& row, int first_failed) {
  guarded(desk_, [&] {
    const std::string name = row.toStdString();
    const OutcomeOf of = name == "column"   ? OutcomeOf::Column
                         : name == "letter" ? OutcomeOf::Letter
                                            : OutcomeOf::Density;
    for (const SwatchOutcome& o : outcomesOf(desk_.job(), name, first_failed))
      desk_.addOutcome(of, o.value, o.failed ? Outcome::Broke : Outcome::Fine, "swatch, " + name);
    const Shop::Learned l = desk_.learned();
    const std::string reason = of == OutcomeOf::Column   ? inWords(l.column)
                               : of == OutcomeOf::Letter ? inWords(l.letter)
                                                         : inWords(l.density);
    desk_.say(tr("Kept: %1.").arg(QString::fromStdString(reason)));
  });
  refresh();
}

void OutcomeTools::buildSwatch() {
  clear(*rows_);
  picks_.clear();
  rows_->addWidget(heading(tr("Swatch: the first step that failed")));
  for (const SwatchRow& row : swatchRows()) {
    auto* pick = new QComboBox;
    pick->setObjectName(QStringLiteral("swatch-%1").arg(QString::fromStdString(row.row)));
    pick->addItem(tr("not tried"), -1);
    for (const SwatchStep& s : desk_.job().swatch)
      if (s.row == row.row)
        pick->addItem(tr("%1: %2 %3")
                          .arg(s.step)
                          .arg(s.value, 0, 'f', 1)
                          .arg(QString::fromStdString(row.unit)),
                      s.step);
    pick->addItem(tr("none failed"), 0);
    picks_[row.row] = pick;
    rows_->addWidget(labelled(QString::fromStdString(row.title), pick));
  }
  auto* keep = button(tr("Keep these results"),
                      tr("They teach the shop's limits, which move when you take them at Density"));
  keep->setObjectName(QStringLiteral("keepSwatch"));
  connect(keep, &QPushButton::clicked, this, &OutcomeTools::keepSwatch);
  rows_->addWidget(keep);
}

/// What was picked is told once.
void OutcomeTools::keepSwatch() {
  for (const auto& [row, pick] : picks_) {
    const int step = pick->currentData().toInt();
    if (step < 0 || !pick->isEnabled()) continue;
    pick->setEnabled(false);
    recordSwatch(QString::fromStdString(row), step);
  }
}

void OutcomeTools::refresh() {
  const bool swatch = !desk_.job().swatch.empty();
  went_->setVisible(!swatch && !desk_.job().pieces.empty());
  swatch_->setVisible(swatch);
  if (swatch && swatchOf_ != desk_.job().id) {
    swatchOf_ = desk_.job().id;
    buildSwatch();
  }
  const auto w = desk_.weighing();
  words_->setText(w ? tr("Heaviest place %1 mm/mm² on %2. What you say here moves the shop's "
                         "limits, when you take them at Density.")
                          .arg(w->report.summary.peak_mm_per_mm2, 0, 'f', 1)
                          .arg(QString::fromStdString(desk_.fabric().name).toLower())
                    : QString());
}

}  // namespace rt
