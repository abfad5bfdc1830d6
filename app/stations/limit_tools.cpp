#include "limit_tools.h"

#include <QDoubleValidator>

#include "error.h"

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
  const std::array<QString, 4> names{tr("Density, check"), tr("stop"), tr("Holes, check"),
                                     tr("stop")};
  for (size_t i = 0; i < 4; ++i) {
    fields_[i] = new QLineEdit;
    fields_[i]->setObjectName(QStringLiteral("shopLimit%1").arg(i));
    fields_[i]->setAccessibleName(i < 2 ? tr("Density limit, %1").arg(i == 0 ? "check" : "stop")
                                        : tr("Hole limit, %1").arg(i == 2 ? "check" : "stop"));
    auto* range = new QDoubleValidator(0.1, 100, 2, fields_[i]);
    range->setLocale(QLocale::c());
    fields_[i]->setValidator(range);
    connect(fields_[i], &QLineEdit::editingFinished, this, [this, i] {
      if (fields_[i]->isModified()) takeTyped();
    });
  }
  column->addWidget(pair(labelled(names[0], fields_[0]), labelled(names[1], fields_[1])));
  column->addWidget(pair(labelled(names[2], fields_[2]), labelled(names[3], fields_[3])));
  column->addWidget(source_);
  column->addWidget(factors_);
  column->addWidget(learned_);
  column->addWidget(pair(learn_, starting_));
  learn_->setObjectName(QStringLiteral("takeLearned"));
  starting_->setObjectName(QStringLiteral("takeStarting"));
  connect(learn_, &QPushButton::clicked, this, &LimitTools::takeLearned);
  connect(starting_, &QPushButton::clicked, this, &LimitTools::takeStarting);
  connect(&desk, &Desk::ledgerChanged, this, &LimitTools::refresh);
}

void LimitTools::takeTyped() {
  guarded(desk_, [this] {
    std::array<double, 4> v{};
    for (size_t i = 0; i < 4; ++i) {
      v[i] = QLocale::c().toDouble(fields_[i]->text());
      fields_[i]->setModified(false);
    }
    if (!(v[0] > 0) || !(v[1] >= v[0]) || !(v[2] > 0) || !(v[3] >= v[2])) {
      refresh();
      throw Error("limits need 0 < check ≤ stop", "shop limits", "the old ones stay in force");
    }
    desk_.setShopLimits(ShopLimits{{v[0], v[1]}, {v[2], v[3]}, "typed"});
  });
}

void LimitTools::takeLearned() {
  guarded(desk_, [this] {
    const LearnedLimit l = desk_.learned();
    if (l.enough)
      desk_.setShopLimits(ShopLimits{l.limit, desk_.shopFabric().holes_per_mm2, l.reason});
  });
}

void LimitTools::takeStarting() {
  guarded(desk_, [this] { desk_.setShopLimits(std::nullopt); });
}

void LimitTools::refresh() {
  const Fabric& shop = desk_.shopFabric();
  const double values[4] = {shop.density_mm_per_mm2.check, shop.density_mm_per_mm2.stop,
                            shop.holes_per_mm2.check, shop.holes_per_mm2.stop};
  for (size_t i = 0; i < 4; ++i)
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
  const LearnedLimit l = desk_.learned();
  learned_->setText(tr("Recorded on this fabric: %1.").arg(QString::fromStdString(l.reason)));
  learn_->setText(tr("Take %1 and %2").arg(l.limit.check, 0, 'f', 1).arg(l.limit.stop, 0, 'f', 1));
  learn_->setVisible(l.enough);
  starting_->setEnabled(own.has_value());
}

}  // namespace rt
