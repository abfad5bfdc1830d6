#include "brief_station.h"

#include <QDoubleValidator>

#include "actions.h"

namespace rt {

BriefStation::BriefStation(const StationContext& context)
    : StationPanel(Station::Brief, context.desk),
      title_(new QLineEdit),
      item_(new QLineEdit),
      order_(new QPlainTextEdit),
      width_(new LengthEdit(tr("Place width"))),
      height_(new LengthEdit(tr("Place height"))),
      angle_(new QLineEdit),
      shelf_(new ToolShelf),
      kinds_(new ItemTool(context.desk)),
      cloth_(new ClothTool(context.desk)),
      pull_(new PullTool(context.desk, context.asker)),
      zones_(new ZoneTools(context.desk, context.gestures)),
      shopping_(new ShoppingTool(context.desk, context.asker)),
      repeat_(new RepeatTool(context.desk, context.asker)) {
  title_->setObjectName(QStringLiteral("briefTitle"));
  item_->setObjectName(QStringLiteral("briefItem"));
  order_->setObjectName(QStringLiteral("briefOrder"));
  width_->line()->setObjectName(QStringLiteral("briefWidth"));
  height_->line()->setObjectName(QStringLiteral("briefHeight"));
  order_->setAccessibleName(tr("Order text"));
  order_->setToolTip(tr("The text as the customer wrote it; the lettering is read against it"));
  order_->setMaximumHeight(44);
  order_->setTabChangesFocus(true);
  angle_->setValidator(new QDoubleValidator(-180, 180, 2, angle_));
  angle_->setAccessibleName(tr("Centre line turned by, degrees"));
  angle_->setToolTip(tr("Of the garment's centre line against the layout's, degrees"));
  column_->addWidget(pair(labelled(tr("Job"), title_), labelled(tr("Item"), item_)));
  column_->addWidget(labelled(tr("Order text, as the customer wrote it"), order_));
  column_->addWidget(pair(labelled(tr("Place, width"), width_), labelled(tr("Height"), height_)));
  auto* place = new QWidget;
  auto* box = new QVBoxLayout(place);
  box->setContentsMargins(0, 0, 0, 0);
  box->setSpacing(8);
  box->addWidget(labelled(tr("Centre line of the garment turned by, °"), angle_));
  box->addWidget(zones_);
  box->addWidget(
      caution(tr("Take pins out, or set them at least 15 mm from any stitch. Spray adhesive: aired "
                 "room, away from flame and machine.")));
  shelf_->add(tr("Cloth"), QStringLiteral("Cloth"), cloth_);
  shelf_->add(tr("Pull"), QStringLiteral("Pull"), pull_);
  shelf_->add(tr("Items"), QStringLiteral("Items"), kinds_);
  shelf_->add(tr("Zones"), QStringLiteral("Zones"), place);
  shelf_->add(tr("Shopping"), QStringLiteral("Shopping"), shopping_);
  shelf_->add(tr("Repeat"), QStringLiteral("Repeat"), repeat_);
  shelf_->open(cloth_);
  column_->addWidget(shelf_);
  column_->addStretch();
  connect(shelf_, &ToolShelf::openedTool, this, [this] {
    pull_->lens().look(shelf_->opened() == pull_);
    refresh();
    emit lookChanged();
  });
  connect(pull_, &PullTool::swatchAsked, this, &BriefStation::learningSwatchAsked);
  connect(pull_, &PullTool::lookChanged, this, &BriefStation::lookChanged);
  connect(cloth_, &ClothTool::swatchAsked, this, &BriefStation::swatchAsked);
  connect(repeat_, &RepeatTool::takeAsked, this, &BriefStation::takeAsked);
  connect(title_, &QLineEdit::editingFinished, this, [this] {
    const std::string title = title_->text().toStdString();
    if (title != desk_.job().title)
      desk_.change(tr("name the job"), actions::titled(desk_.job(), title));
  });
  connect(item_, &QLineEdit::editingFinished, this, [this] {
    set(tr("name the item"), [this](Brief& b) { b.item = item_->text().toStdString(); });
  });
  connect(order_, &QPlainTextEdit::textChanged, this, [this] {
    if (order_->hasFocus())
      set(
          tr("order text"),
          [this](Brief& b) { b.order_text = order_->toPlainText().toStdString(); },
          QStringLiteral("order text"));
  });
  connect(width_, &LengthEdit::edited, this, [this](double mm) {
    if (mm > 0) set(tr("place width"), [mm](Brief& b) { b.place_width_mm = mm; });
  });
  connect(height_, &LengthEdit::edited, this, [this](double mm) {
    if (mm > 0) set(tr("place height"), [mm](Brief& b) { b.place_height_mm = mm; });
  });
  connect(angle_, &QLineEdit::editingFinished, this, [this] {
    set(tr("centre line"), [this](Brief& b) { b.centre_line_deg = angle_->text().toDouble(); });
  });
}

void BriefStation::set(const QString& name, const std::function<void(Brief&)>& edit,
                       const QString& run) {
  guarded(desk_, [&] {
    Brief next = desk_.job().brief;
    edit(next);
    if (next == desk_.job().brief) return;  // a field that was only left
    desk_.change(name, actions::briefed(desk_.job(), std::move(next), desk_.bench()), run);
  });
}

Lens* BriefStation::lens() {
  return &pull_->lens();
}

void BriefStation::refresh() {
  const Job& job = desk_.job();
  const Brief& b = job.brief;
  title_->setText(QString::fromStdString(job.title));
  item_->setText(QString::fromStdString(b.item));
  item_->setCursorPosition(0);
  // whoever has the focus: what is typed is the job's already, and an undo or another job shows
  if (const QString order = QString::fromStdString(b.order_text); order_->toPlainText() != order) {
    const QSignalBlocker quiet(order_);
    order_->setPlainText(order);
  }
  width_->setValue_mm(b.place_width_mm, desk_.inches());
  height_->setValue_mm(b.place_height_mm, desk_.inches());
  angle_->setText(QString::number(b.centre_line_deg));
  const QWidget* open = shelf_->opened();
  if (open == cloth_) cloth_->refresh();
  if (open == pull_) pull_->refresh();
  if (open == kinds_) kinds_->refresh();
  if (open && open->isAncestorOf(zones_)) zones_->refresh();
  if (open == shopping_) shopping_->refresh();
  if (open == repeat_) repeat_->refresh();
}

}  // namespace rt
