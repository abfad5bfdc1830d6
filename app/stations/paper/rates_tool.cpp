#include "rates_tool.h"

namespace rt {

RatesTool::RatesTool(Desk& desk)
    : desk_(desk), back_(button(tr("As they ship"), tr("Forget the shop's own rates"))) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  const auto field = [this](const QString& key, const QString& name, double Rates::*figure,
                            double factor, double most) {
    auto* box = new QDoubleSpinBox;
    box->setButtonSymbols(QAbstractSpinBox::NoButtons);
    box->setRange(0, most);
    box->setAccessibleName(name);
    box->setObjectName(QStringLiteral("rate") + key);
    rows_.push_back({box, figure, factor});
    connect(box, &QDoubleSpinBox::editingFinished, this, &RatesTool::keep);
    return labelled(name, box);
  };
  column->addWidget(pair(
      field(QStringLiteral("Hands"), tr("Hands, an hour"), &Rates::labour_per_hour, 1, 1e5),
      field(QStringLiteral("Machine"), tr("Machine, an hour"), &Rates::machine_per_hour, 1, 1e5)));
  column->addWidget(pair(
      field(QStringLiteral("Top"), tr("Top thread, 1,000 m"), &Rates::top_thread_per_1000_m, 1,
            1e5),
      field(QStringLiteral("Bobbin"), tr("Bobbin, 1,000 m"), &Rates::bobbin_per_1000_m, 1, 1e5)));
  column->addWidget(
      pair(field(QStringLiteral("Backing"), tr("Backing, m²"), &Rates::backing_per_m2, 1, 1e5),
           field(QStringLiteral("Spoilage"), tr("Spoilage, %"), &Rates::spoilage, 100, 99)));
  column->addWidget(
      pair(field(QStringLiteral("Hooping"), tr("A hooping, min"), &Rates::hooping_min, 1, 1e4),
           field(QStringLiteral("Setup"), tr("Set-up, min"), &Rates::setup_min, 1, 1e4)));
  column->addWidget(
      pair(field(QStringLiteral("Margin"), tr("Usual margin, %"), &Rates::usual_margin, 100, 99),
           back_));
  back_->setObjectName(QStringLiteral("ratesAsShipped"));
  connect(back_, &QPushButton::clicked, this, [this] {
    guarded(desk_, [&] { desk_.setRates(std::nullopt); });
    refresh();
    emit changed();
  });
  refresh();
}

void RatesTool::keep() {
  guarded(desk_, [&] {
    Rates next = desk_.rates();
    for (const Row& r : rows_) next.*r.figure = r.box->value() / r.factor;
    if (next == desk_.rates()) return;  // a field that was only left
    desk_.setRates(next);
    refresh();
    emit changed();
  });
}

void RatesTool::refresh() {
  for (const Row& r : rows_) {
    const QSignalBlocker quiet(r.box);
    r.box->setValue(desk_.rates().*r.figure * r.factor);
  }
  back_->setEnabled(desk_.ratesAreOwn());
}

}  // namespace rt
