#include "brief_station.h"

#include <QDoubleValidator>

#include "actions.h"

namespace rt {

BriefStation::BriefStation(const StationContext& context)
    : StationPanel(Station::Brief, context.desk),
      title_(new QLineEdit),
      item_(new QLineEdit),
      order_(new QPlainTextEdit),
      fabric_(new QComboBox),
      holding_(new QComboBox),
      backing_(new QLineEdit),
      topper_(new QCheckBox(tr("Topper on the pile"))),
      width_(new LengthEdit(tr("Place width"))),
      height_(new LengthEdit(tr("Place height"))),
      angle_(new QLineEdit),
      needle_(new QComboBox),
      thread_(new QComboBox),
      limits_(paragraph({}, true)),
      zones_(new ZoneTools(context.desk, context.gestures)) {
  Desk& desk = context.desk;
  title_->setObjectName(QStringLiteral("briefTitle"));
  item_->setObjectName(QStringLiteral("briefItem"));
  order_->setObjectName(QStringLiteral("briefOrder"));
  fabric_->setObjectName(QStringLiteral("briefFabric"));
  width_->line()->setObjectName(QStringLiteral("briefWidth"));
  height_->line()->setObjectName(QStringLiteral("briefHeight"));
  order_->setAccessibleName(tr("Order text"));
  order_->setToolTip(tr("The text as the customer wrote it; the lettering is read against it"));
  order_->setMaximumHeight(58);
  order_->setTabChangesFocus(true);
  for (const Fabric& f : desk.bench().shop.fabrics)
    fabric_->addItem(QString::fromStdString(f.name), QString::fromStdString(f.id));
  holding_->addItems({tr("Item hooped"), tr("Item floated on hooped backing")});
  angle_->setValidator(new QDoubleValidator(-180, 180, 2, angle_));
  column_->addWidget(labelled(tr("Job"), title_));
  column_->addWidget(labelled(tr("Item"), item_));
  column_->addWidget(labelled(tr("Order text, as the customer wrote it"), order_));
  column_->addWidget(heading(tr("Place on the item")));
  column_->addWidget(pair(labelled(tr("Width"), width_), labelled(tr("Height"), height_)));
  column_->addWidget(labelled(tr("Centre line turned by, degrees"), angle_));
  column_->addWidget(heading(tr("Cloth")));
  column_->addWidget(labelled(tr("Fabric"), fabric_));
  column_->addWidget(limits_);
  column_->addWidget(pair(labelled(tr("Held"), holding_), labelled(tr("Backing"), backing_)));
  column_->addWidget(topper_);
  for (int nm : {60, 65, 70, 75, 80, 90, 100, 110}) needle_->addItem(QString::number(nm), nm);
  for (int weight : {12, 30, 40, 60}) thread_->addItem(tr("%1 weight").arg(weight), weight);
  needle_->setObjectName(QStringLiteral("briefNeedle"));
  thread_->setObjectName(QStringLiteral("briefThread"));
  needle_->setToolTip(
      tr("Needle size in hundredths of a millimetre. Change needles with the "
         "machine off"));
  column_->addWidget(pair(labelled(tr("Needle size"), needle_), labelled(tr("Thread"), thread_)));
  auto* swatch = button(tr("Make a test swatch"),
                        tr("A job for a scrap of this fabric: fills, satins, columns, letters and "
                           "overlaps in steps, each labelled in stitches"));
  swatch->setObjectName(QStringLiteral("makeSwatch"));
  column_->addWidget(swatch);
  connect(swatch, &QPushButton::clicked, this, &BriefStation::swatchAsked);
  connect(needle_, &QComboBox::activated, this, [this](int i) {
    set(
        tr("needle size"), [](Brief& b, const QVariant& v) { b.needle_nm = v.toInt(); },
        needle_->itemData(i));
  });
  connect(thread_, &QComboBox::activated, this, [this](int i) {
    set(
        tr("thread weight"), [](Brief& b, const QVariant& v) { b.thread_weight = v.toInt(); },
        thread_->itemData(i));
  });
  column_->addWidget(zones_);
  column_->addWidget(
      caution(tr("Take pins out, or set them at least 15 mm from any stitch. Spray adhesive: aired "
                 "room, away from flame and machine.")));
  column_->addStretch();

  connect(title_, &QLineEdit::editingFinished, this, [this] {
    desk_.change(tr("name the job"), actions::titled(desk_.job(), title_->text().toStdString()));
  });
  connect(item_, &QLineEdit::editingFinished, this, [this] {
    set(
        tr("name the item"),
        [](Brief& b, const QVariant& v) { b.item = v.toString().toStdString(); }, item_->text());
  });
  connect(order_, &QPlainTextEdit::textChanged, this, [this] {
    if (order_->hasFocus())
      set(
          tr("order text"),
          [](Brief& b, const QVariant& v) { b.order_text = v.toString().toStdString(); },
          order_->toPlainText());
  });
  connect(width_, &LengthEdit::edited, this, [this](double mm) {
    if (mm > 0)
      set(
          tr("place width"), [](Brief& b, const QVariant& v) { b.place_width_mm = v.toDouble(); },
          mm);
  });
  connect(height_, &LengthEdit::edited, this, [this](double mm) {
    if (mm > 0)
      set(
          tr("place height"), [](Brief& b, const QVariant& v) { b.place_height_mm = v.toDouble(); },
          mm);
  });
  connect(angle_, &QLineEdit::editingFinished, this, [this] {
    set(
        tr("centre line"), [](Brief& b, const QVariant& v) { b.centre_line_deg = v.toDouble(); },
        angle_->text().toDouble());
  });
  connect(backing_, &QLineEdit::editingFinished, this, [this] {
    set(
        tr("backing"), [](Brief& b, const QVariant& v) { b.backing = v.toString().toStdString(); },
        backing_->text());
  });
  connect(topper_, &QCheckBox::clicked, this, [this](bool on) {
    set(
        tr("topper"), [](Brief& b, const QVariant& v) { b.topper = v.toBool(); }, on);
  });
  connect(holding_, &QComboBox::activated, this, [this](int i) {
    set(
        tr("how it is held"),
        [](Brief& b, const QVariant& v) {
          b.holding = v.toInt() == 1 ? Holding::Floated : Holding::Hooped;
        },
        i);
  });
  connect(fabric_, &QComboBox::activated, this, [this](int i) {
    const Fabric& fabric = desk_.bench().shop.fabrics[static_cast<size_t>(i)];
    desk_.change(tr("fabric %1").arg(QString::fromStdString(fabric.name)),
                 actions::onFabric(desk_.job(), fabric.id, desk_.bench()));
  });
}

void BriefStation::set(const QString& name, void (*edit)(Brief&, const QVariant&),
                       const QVariant& value) {
  guarded(desk_, [&] {
    Brief next = desk_.job().brief;
    edit(next, value);
    desk_.change(name, actions::briefed(desk_.job(), std::move(next)));
  });
}

void BriefStation::refresh() {
  zones_->refresh();
  const Job& job = desk_.job();
  const Brief& b = job.brief;
  title_->setText(QString::fromStdString(job.title));
  item_->setText(QString::fromStdString(b.item));
  if (!order_->hasFocus()) order_->setPlainText(QString::fromStdString(b.order_text));
  fabric_->setCurrentIndex(fabric_->findData(QString::fromStdString(b.fabric)));
  holding_->setCurrentIndex(b.holding == Holding::Floated ? 1 : 0);
  backing_->setText(QString::fromStdString(b.backing));
  topper_->setChecked(b.topper);
  needle_->setCurrentIndex(needle_->findData(b.needle_nm));
  thread_->setCurrentIndex(thread_->findData(b.thread_weight));
  width_->setValue_mm(b.place_width_mm, desk_.inches());
  height_->setValue_mm(b.place_height_mm, desk_.inches());
  angle_->setText(QString::number(b.centre_line_deg));
  const Fabric& f = desk_.fabric();
  limits_->setText(tr("Density: check %1, stop %2 mm/mm². Holes: check %3, stop %4 per mm². Pull "
                      "%5 mm, columns from %6 mm. Shop starting values.")
                       .arg(f.density_mm_per_mm2.check, 0, 'g', 3)
                       .arg(f.density_mm_per_mm2.stop, 0, 'g', 3)
                       .arg(f.holes_per_mm2.check, 0, 'g', 3)
                       .arg(f.holes_per_mm2.stop, 0, 'g', 3)
                       .arg(f.pull_compensation_mm)
                       .arg(f.least_column_mm));
}

}  // namespace rt
