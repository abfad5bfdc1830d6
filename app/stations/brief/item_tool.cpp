#include "item_tool.h"

namespace rt {

ItemTool::ItemTool(Desk& desk)
    : desk_(desk),
      item_(new QComboBox),
      size_(new QComboBox),
      place_(new QComboBox),
      reason_(paragraph({})),
      measures_(paragraph({}, true)),
      lay_(button(tr("Lay it under the job"),
                  tr("Takes over place, fabric, how it is held, and seams and hems as zones"),
                  true)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  item_->setObjectName(QStringLiteral("itemKind"));
  size_->setObjectName(QStringLiteral("itemSize"));
  place_->setObjectName(QStringLiteral("itemPlace"));
  lay_->setObjectName(QStringLiteral("layItem"));
  measures_->setObjectName(QStringLiteral("itemMeasures"));
  column->addWidget(pair(labelled(tr("Item"), item_), labelled(tr("Size"), size_)));
  column->addWidget(labelled(tr("Place"), place_));
  column->addWidget(lay_);
  column->addWidget(reason_);
  column->addWidget(measures_);
  guarded(desk_, [&] { items_ = itemsOf(desk_.bench()); });
  for (const Item& i : items_)
    item_->addItem(QString::fromStdString(i.name), QString::fromStdString(i.id));
  connect(item_, &QComboBox::currentIndexChanged, this, &ItemTool::showPlaces);
  connect(place_, &QComboBox::currentIndexChanged, this, &ItemTool::showReason);
  connect(size_, &QComboBox::currentIndexChanged, this, &ItemTool::showReason);
  connect(lay_, &QPushButton::clicked, this, &ItemTool::lay);
  showPlaces();
}

const Item* ItemTool::item() const {
  const int i = item_->currentIndex();
  return i >= 0 ? &items_[static_cast<size_t>(i)] : nullptr;
}

const ItemPlace* ItemTool::place() const {
  const Item* of = item();
  const int i = place_->currentIndex();
  return of && i >= 0 ? &of->places[static_cast<size_t>(i)] : nullptr;
}

void ItemTool::showPlaces() {
  const QSignalBlocker quiet(place_), still(size_);
  place_->clear();
  size_->clear();
  if (const Item* of = item()) {
    for (const ItemPlace& p : of->places) place_->addItem(QString::fromStdString(p.name));
    for (const std::string& s : of->sizes) size_->addItem(QString::fromStdString(s));
  }
  showReason();
}

void ItemTool::showReason() {
  const ItemPlace* p = place();
  lay_->setEnabled(p != nullptr);
  if (!p) return;
  const auto size = static_cast<size_t>(std::max(0, size_->currentIndex()));
  reason_->setText(QString::fromStdString(p->reason));
  QStringList lines{tr("Place %1 × %2")
                        .arg(oneUnit(desk_, forSize(p->width_mm, size)),
                             oneUnit(desk_, forSize(p->height_mm, size)))};
  for (const ItemMeasure& m : p->measures) {
    const double mm = forSize(m.mm, size);
    const QString what = QString::fromStdString(m.what);
    lines << (mm > 0 ? tr("%1 %2").arg(oneUnit(desk_, mm), what) : what);
  }
  lines << QString::fromStdString(p->held_reason);
  measures_->setText(QStringLiteral("• ") + lines.join(QStringLiteral("\n• ")));
}

void ItemTool::lay() {
  const Item* of = item();
  const ItemPlace* p = place();
  if (!of || !p) return;
  guarded(desk_, [&] {
    desk_.change(
        tr("lay %1").arg(QString::fromStdString(of->name)),
        actions::laidOn(desk_.job(), *of, *p,
                        static_cast<size_t>(std::max(0, size_->currentIndex())), desk_.bench()));
    desk_.say(tr("%1 lies under the job; its seams and hems are zones.")
                  .arg(QString::fromStdString(of->name)));
  });
}

void ItemTool::refresh() {
  showReason();  // in the unit in hand
}

}  // namespace rt
