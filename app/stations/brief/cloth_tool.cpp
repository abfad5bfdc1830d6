#include "cloth_tool.h"

#include "items.h"
#include "tool_shelf.h"

namespace rt {

ClothTool::ClothTool(Desk& desk)
    : desk_(desk),
      fabric_(new QComboBox),
      holding_(new QComboBox),
      needle_(new QComboBox),
      thread_(new QComboBox),
      backing_(new QLineEdit),
      topper_(new QCheckBox(tr("Topper"))),
      limits_(paragraph({}, true)),
      advice_(paragraph({}, true)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  for (const Fabric& f : desk.bench().shop.fabrics)
    fabric_->addItem(QString::fromStdString(f.name), QString::fromStdString(f.id));
  holding_->addItems({tr("Hooped"), tr("Floated on hooped backing")});
  for (QComboBox* box : {fabric_, holding_})  // long names do not widen the panel
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  for (int nm : {60, 65, 70, 75, 80, 90, 100, 110}) needle_->addItem(QString::number(nm), nm);
  for (int weight : {12, 30, 40, 60}) thread_->addItem(tr("%1 weight").arg(weight), weight);
  fabric_->setObjectName(QStringLiteral("briefFabric"));
  needle_->setObjectName(QStringLiteral("briefNeedle"));
  thread_->setObjectName(QStringLiteral("briefThread"));
  needle_->setToolTip(
      tr("Needle size in hundredths of a millimetre. Change needles with the machine off"));
  auto* swatch = button(tr("Make a test swatch"),
                        tr("A job for a scrap of this fabric: fills, satins, columns, letters and "
                           "overlaps in steps, each labelled in stitches"));
  swatch->setObjectName(QStringLiteral("makeSwatch"));
  column->addWidget(pair(labelled(tr("Fabric"), fabric_), labelled(tr("Held"), holding_)));
  column->addWidget(pair(labelled(tr("Backing"), backing_), labelled(tr("On top"), topper_)));
  column->addWidget(pair(labelled(tr("Needle size"), needle_), labelled(tr("Thread"), thread_)));
  column->addWidget(advice_);
  auto* more = new QWidget;
  auto* box = new QVBoxLayout(more);
  box->setContentsMargins(0, 0, 0, 0);
  box->addWidget(limits_);
  box->addWidget(swatch);
  column->addWidget(new Fold(tr("Limits, and a test swatch"), QStringLiteral("ClothLimits"), more));
  connect(swatch, &QPushButton::clicked, this, &ClothTool::swatchAsked);
  connect(fabric_, &QComboBox::activated, this, [this](int i) {
    const Fabric& fabric = desk_.bench().shop.fabrics[static_cast<size_t>(i)];
    desk_.change(tr("fabric %1").arg(QString::fromStdString(fabric.name)),
                 actions::onFabric(desk_.job(), fabric.id, desk_.bench()));
  });
  connect(holding_, &QComboBox::activated, this, [this](int i) {
    set(tr("how it is held"),
        [i](Brief& b) { b.holding = i == 1 ? Holding::Floated : Holding::Hooped; });
  });
  connect(backing_, &QLineEdit::editingFinished, this, [this] {
    set(tr("backing"), [this](Brief& b) { b.backing = backing_->text().toStdString(); });
  });
  connect(topper_, &QCheckBox::clicked, this,
          [this](bool on) { set(tr("topper"), [on](Brief& b) { b.topper = on; }); });
  connect(needle_, &QComboBox::activated, this, [this](int i) {
    set(tr("needle size"), [&](Brief& b) { b.needle_nm = needle_->itemData(i).toInt(); });
  });
  connect(thread_, &QComboBox::activated, this, [this](int i) {
    set(tr("thread weight"), [&](Brief& b) { b.thread_weight = thread_->itemData(i).toInt(); });
  });
}

void ClothTool::set(const QString& name, const std::function<void(Brief&)>& edit) {
  guarded(desk_, [&] {
    Brief next = desk_.job().brief;
    edit(next);
    if (next == desk_.job().brief) return;  // a field that was only left
    desk_.change(name, actions::briefed(desk_.job(), std::move(next), desk_.bench()));
  });
}

void ClothTool::refresh() {
  const Brief& b = desk_.job().brief;
  fabric_->setCurrentIndex(fabric_->findData(QString::fromStdString(b.fabric)));
  holding_->setCurrentIndex(b.holding == Holding::Floated ? 1 : 0);
  if (!backing_->hasFocus()) backing_->setText(QString::fromStdString(b.backing));
  topper_->setChecked(b.topper);
  needle_->setCurrentIndex(needle_->findData(b.needle_nm));
  thread_->setCurrentIndex(thread_->findData(b.thread_weight));
  const Fabric& f = desk_.fabric();
  limits_->setText(tr("Density: check %1, stop %2 mm/mm². Holes: check %3, stop %4 per mm². Pull "
                      "%5 mm, columns from %6 mm. Shop starting values.")
                       .arg(f.density_mm_per_mm2.check, 0, 'g', 3)
                       .arg(f.density_mm_per_mm2.stop, 0, 'g', 3)
                       .arg(f.holes_per_mm2.check, 0, 'g', 3)
                       .arg(f.holes_per_mm2.stop, 0, 'g', 3)
                       .arg(f.pull_compensation_mm)
                       .arg(f.least_column_mm));
  guarded(desk_, [&] {
    QStringList lines;
    for (const Advice& a : adviceFor(b.fabric, desk_.bench())) {
      QString what = QString::fromStdString(a.what);
      what[0] = what[0].toUpper();
      lines << QStringLiteral("<p style='margin:0 0 4px 0'><b>%1: %2.</b> %3</p>")
                   .arg(what.toHtmlEscaped(), QString::fromStdString(a.choice).toHtmlEscaped(),
                        QString::fromStdString(a.why).toHtmlEscaped());
    }
    advice_->setText(lines.join(QString()));
    advice_->setVisible(!lines.isEmpty());
  });
}

}  // namespace rt
