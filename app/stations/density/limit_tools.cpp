#include "limit_tools.h"

#include <QDoubleValidator>

#include "error.h"
#include "learning_words.h"

namespace rt {

LimitTools::LimitTools(Desk& desk)
    : desk_(desk),
      source_(paragraph({}, true)),
      factors_(paragraph({}, true)),
      learned_(paragraph({}, true)),
      learn_(button({}, tr("Move the limits as the recorded outcomes say"))),
      starting_(button(tr("Starting values"), tr("Back to the values that ship"))) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  column->addWidget(heading(tr("Shop limits for this fabric")));
  const std::array<std::pair<QString, QString>, 6> names{
      {{tr("Density, check"), tr("Density limit, check")},
       {tr("stop"), tr("Density limit, stop")},
       {tr("Holes, check"), tr("Hole limit, check")},
       {tr("stop"), tr("Hole limit, stop")},
       {tr("Columns from, mm"), tr("Least column")},
       {tr("Letters from, mm"), tr("Least letters; 0 is not known yet")}}};
  for (size_t i = 0; i < fields_.size(); ++i) {
    fields_[i] = new QLineEdit;
    fields_[i]->setObjectName(QStringLiteral("shopLimit%1").arg(i));
    fields_[i]->setAccessibleName(names[i].second);
    fields_[i]->setToolTip(names[i].second);
    auto* range = new QDoubleValidator(i == 5 ? 0 : 0.1, 100, 2, fields_[i]);
    range->setLocale(QLocale::c());
    fields_[i]->setValidator(range);
    connect(fields_[i], &QLineEdit::editingFinished, this, [this, i] {
      if (fields_[i]->isModified()) takeTyped();
    });
  }
  for (size_t i = 0; i < fields_.size(); i += 2)
    column->addWidget(
        pair(labelled(names[i].first, fields_[i]), labelled(names[i + 1].first, fields_[i + 1])));
  column->addWidget(source_);
  column->addWidget(factors_);
  column->addWidget(learned_);
  column->addWidget(pair(learn_, starting_));
  learn_->setObjectName(QStringLiteral("takeLearned"));
  starting_->setObjectName(QStringLiteral("takeStarting"));
  connect(learn_, &QPushButton::clicked, this, &LimitTools::takeLearned);
  connect(starting_, &QPushButton::clicked, this, &LimitTools::takeStarting);
  desk.on(Part::Ledger, this, &LimitTools::refresh);
}

void LimitTools::takeTyped() {
  guarded(desk_, [this] {
    std::array<double, 6> v{};
    for (size_t i = 0; i < v.size(); ++i) {
      v[i] = QLocale::c().toDouble(fields_[i]->text());
      fields_[i]->setModified(false);
    }
    if (!(v[0] > 0) || !(v[1] >= v[0]) || !(v[2] > 0) || !(v[3] >= v[2]) || !(v[4] > 0) ||
        !(v[5] >= 0)) {
      refresh();
      throw Error("limits need 0 < check ≤ stop, and columns a width", "shop limits",
                  "the old ones stay in force");
    }
    desk_.setShopLimits(ShopLimits{{v[0], v[1]}, {v[2], v[3]}, "typed", v[4], v[5]});
  });
}

void LimitTools::takeLearned() {
  guarded(desk_, [this] {
    const Shop::Learned l = desk_.learned();
    if (!l.any()) return;
    const Fabric& now = desk_.shopFabric();
    std::vector<std::string> why;
    if (l.density.enough) why.push_back(inWords(l.density));
    if (l.column.enough) why.push_back("columns " + inWords(l.column));
    if (l.letter.enough) why.push_back("letters " + inWords(l.letter));
    std::string note;
    for (const std::string& w : why) note += (note.empty() ? "" : "; ") + w;
    desk_.setShopLimits(
        ShopLimits{l.density.limit, now.holes_per_mm2, note, l.column.least_mm, l.letter.least_mm});
  });
}

void LimitTools::takeStarting() {
  guarded(desk_, [this] { desk_.setShopLimits(std::nullopt); });
}

void LimitTools::showLearned() {
  const Shop::Learned l = desk_.learned();
  QStringList words{
      tr("Recorded on this fabric: %1").arg(QString::fromStdString(inWords(l.density)))};
  const auto recorded = [this](OutcomeOf of) {
    return !outcomesIn(desk_.ledger().all(), desk_.job().brief.fabric, of).empty();
  };
  if (recorded(OutcomeOf::Column))
    words << tr("columns, %1").arg(QString::fromStdString(inWords(l.column)));
  if (recorded(OutcomeOf::Letter))
    words << tr("letters, %1").arg(QString::fromStdString(inWords(l.letter)));
  learned_->setText(words.join(QStringLiteral("; ")) + QStringLiteral("."));
  QStringList take;
  if (l.density.enough)
    take << tr("%1 and %2")
                .arg(l.density.limit.check, 0, 'f', 1)
                .arg(l.density.limit.stop, 0, 'f', 1);
  if (l.column.enough) take << tr("columns %1").arg(l.column.least_mm, 0, 'f', 2);
  if (l.letter.enough) take << tr("letters %1").arg(l.letter.least_mm, 0, 'f', 1);
  learn_->setText(tr("Take %1").arg(take.join(QStringLiteral(", "))));
  learn_->setVisible(l.any());
}

void LimitTools::refresh() {
  const Fabric& shop = desk_.shopFabric();
  const std::array<double, 6> values{shop.density_mm_per_mm2.check, shop.density_mm_per_mm2.stop,
                                     shop.holes_per_mm2.check,      shop.holes_per_mm2.stop,
                                     shop.least_column_mm,          shop.least_letter_mm};
  for (size_t i = 0; i < values.size(); ++i)
    if (!fields_[i]->hasFocus() || !fields_[i]->isModified())
      fields_[i]->setText(QLocale::c().toString(values[i], 'g', 4));
  const auto own = desk_.shopLimits();
  const Fabric& start = desk_.startingFabric();
  source_->setText(own ? tr("The shop's own: %1. Starting values were %2 and %3.")
                             .arg(QString::fromStdString(own->note))
                             .arg(start.density_mm_per_mm2.check)
                             .arg(start.density_mm_per_mm2.stop)
                       : QString::fromStdString(desk_.bench().shop.limits_source));
  const LimitFactors& f = desk_.limitFactors();
  const Limit& now = desk_.fabric().density_mm_per_mm2;
  const bool plain = std::abs(f.density - 1) < 0.005 && std::abs(f.holes - 1) < 0.005;
  factors_->setText(
      plain ? tr("Needle, thread, backing and topper of the brief leave them as they are.")
            : tr("With the brief's needle, thread, backing and topper × %1 (holes × %2): check "
                 "%3, stop %4 mm/mm².")
                  .arg(f.density, 0, 'f', 2)
                  .arg(f.holes, 0, 'f', 2)
                  .arg(now.check, 0, 'f', 1)
                  .arg(now.stop, 0, 'f', 1));
  showLearned();
  starting_->setEnabled(own.has_value());
}

}  // namespace rt
