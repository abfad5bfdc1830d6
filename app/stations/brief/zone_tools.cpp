#include "zone_tools.h"

#include "actions.h"
#include "station.h"

namespace rt {

ZoneTools::ZoneTools(Desk& desk, Gestures& gestures)
    : desk_(desk),
      gestures_(gestures),
      list_(new QVBoxLayout),
      kind_(new QComboBox),
      name_(new QLineEdit),
      layers_(new QSpinBox),
      left_(new LengthEdit(tr("Zone's left edge from the cross"))),
      top_(new LengthEdit(tr("Zone's top edge from the cross"))),
      width_(new LengthEdit(tr("Zone's width"))),
      height_(new LengthEdit(tr("Zone's height"))) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  column->addWidget(heading(tr("Keep-out and thick zones")));
  column->addLayout(list_);
  kind_->addItems({tr("Keep out"), tr("Thick")});
  kind_->setObjectName(QStringLiteral("zoneKind"));
  name_->setObjectName(QStringLiteral("zoneName"));
  name_->setPlaceholderText(tr("seam, zip, hem, band"));
  layers_->setRange(2, 12);
  layers_->setMinimumHeight(32);
  layers_->setButtonSymbols(QAbstractSpinBox::NoButtons);
  layers_->setObjectName(QStringLiteral("zoneLayers"));
  layers_->setToolTip(tr("Layers of cloth in all; each extra one takes 15 % off the limits"));
  left_->line()->setObjectName(QStringLiteral("zoneLeft"));
  top_->line()->setObjectName(QStringLiteral("zoneTop"));
  width_->line()->setObjectName(QStringLiteral("zoneWidth"));
  height_->line()->setObjectName(QStringLiteral("zoneHeight"));
  column->addWidget(pair(labelled(tr("Kind"), kind_), labelled(tr("Name"), name_)));
  column->addWidget(pair(labelled(tr("Left edge"), left_), labelled(tr("Top edge"), top_)));
  column->addWidget(pair(labelled(tr("Width"), width_), labelled(tr("Height"), height_)));
  auto* put = button(tr("Add zone"), tr("A zone at the place typed above"));
  auto* draw = button(tr("Draw it"), tr("Draw the zone on the cloth with one drag"));
  put->setObjectName(QStringLiteral("addZone"));
  draw->setObjectName(QStringLiteral("drawZone"));
  column->addWidget(labelled(tr("Layers where it is thick"), layers_));
  column->addWidget(pair(put, draw));
  connect(put, &QPushButton::clicked, this, [this] {
    if (!(width_->value_mm() > 0) || !(height_->value_mm() > 0))
      return desk_.say(tr("Give the zone a width and a height over 0."));
    add({left_->value_mm(), top_->value_mm(), left_->value_mm() + width_->value_mm(),
         top_->value_mm() + height_->value_mm()});
  });
  connect(draw, &QPushButton::clicked, this, [this] {
    gestures_.askForBox(tr("Draw the zone with one drag; Escape gives up"),
                        [this](const std::vector<Point>& corners) { drawn(boundsOf(corners)); });
  });
}

void ZoneTools::drawn(const Box& box) {
  if (box.width() < 1 || box.height() < 1)
    return desk_.say(tr("That zone would be under 1 mm; draw it larger."));
  add(box);
}

void ZoneTools::add(const Box& box) {
  Zone zone;
  zone.kind = kind_->currentIndex() == 0 ? ZoneKind::KeepOut : ZoneKind::Thick;
  zone.name = name_->text().trimmed().toStdString();
  if (zone.name.empty()) zone.name = zone.kind == ZoneKind::KeepOut ? "keep-out" : "thick place";
  zone.layers = zone.kind == ZoneKind::Thick ? layers_->value() : 1;
  for (int i = 0; i < 4; ++i) zone.polygon_mm.push_back(box.corner(i));
  guarded(desk_,
          [&] { desk_.change(tr("add zone"), actions::withZone(desk_.job(), std::move(zone))); });
}

void ZoneTools::remove(size_t index) {
  guarded(desk_,
          [&] { desk_.change(tr("remove zone"), actions::withoutZone(desk_.job(), index)); });
}

void ZoneTools::refresh() {
  clear(*list_);
  for (size_t i = 0; i < desk_.job().zones.size(); ++i) {
    const Zone& z = desk_.job().zones[i];
    const Box box = boundsOf(z.polygon_mm);
    auto* words = paragraph(
        tr("%1, %2: %3 × %4, left edge %5, top edge %6")
            .arg(QString::fromStdString(z.name),
                 z.kind == ZoneKind::KeepOut ? tr("keep out") : tr("%1 layers").arg(z.layers),
                 oneUnit(desk_, box.width()), oneUnit(desk_, box.height()),
                 oneUnit(desk_, box.left), oneUnit(desk_, box.top)));
    words->setFont(look::figures(9));
    auto* gone = button(tr("Remove"), tr("Take this zone off the item"));
    gone->setObjectName(QStringLiteral("removeZone%1").arg(i));
    connect(gone, &QPushButton::clicked, this, [this, i] { remove(i); });
    list_->addWidget(pair(words, gone));
  }
  if (desk_.job().zones.empty())
    list_->addWidget(paragraph(
        tr("None yet: seams, zips, hems and bands to stay clear of, and places with more layers."),
        true));
}

}  // namespace rt
