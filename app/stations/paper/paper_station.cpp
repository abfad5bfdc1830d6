#include "paper_station.h"

#include "cuts.h"
#include "trim_sheet.h"

namespace rt {

PaperStation::PaperStation(const StationContext& context)
    : StationPanel(Station::Paper, context.desk),
      asker_(context.asker),
      lens_(context.desk),
      paper_(new QComboBox),
      grid_(new QComboBox),
      mirror_(new QCheckBox(tr("Mirrored, to tape inside the garment"))),
      sheets_(paragraph({})),
      write_(button(tr("Write PDF …"), tr("Write the template at true size (Ctrl+E)"), true)),
      trims_(button(tr("Write trim sheet …"),
                    tr("A picture of every cut, in the order of sewing, as PDF"))),
      byHand_(new QCheckBox(tr("Only cuts for the scissors"))),
      cuts_(paragraph({})),
      shelf_(new ToolShelf),
      tags_(new TagsTool(context.desk, context.asker)),
      price_(new PriceTool(context.desk, context.asker)) {
  paper_->addItems({QStringLiteral("A4"), QStringLiteral("Letter"), QStringLiteral("A3")});
  paper_->setAccessibleName(tr("Paper"));
  column_->addWidget(labelled(tr("Paper"), paper_));
  QWidget* first = templateTool();
  shelf_->add(tr("Template"), QStringLiteral("Template"), first);
  shelf_->add(tr("Cuts"), QStringLiteral("Cuts"), cutsTool());
  shelf_->add(tr("Tags"), QStringLiteral("Tags"), tags_);
  shelf_->add(tr("Price"), QStringLiteral("Price"), price_);
  shelf_->open(first);
  column_->addWidget(shelf_);
  column_->addStretch();
  connect(mirror_, &QCheckBox::toggled, this, &PaperStation::refresh);
  connect(paper_, &QComboBox::activated, this, &PaperStation::refresh);
  connect(shelf_, &ToolShelf::openedTool, this, &PaperStation::refresh);
  connect(write_, &QPushButton::clicked, this, &PaperStation::askAndWrite);
}

QWidget* PaperStation::templateTool() {
  auto* tool = new QWidget;
  auto* column = new QVBoxLayout(tool);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  grid_->addItems({tr("No grid"), tr("10 mm"), tr("1 in")});
  grid_->setAccessibleName(tr("Grid"));
  mirror_->setObjectName(QStringLiteral("mirrorPaper"));
  write_->setObjectName(QStringLiteral("writePdf"));
  column->addWidget(labelled(tr("Grid"), grid_));
  column->addWidget(mirror_);
  column->addWidget(sheets_);
  column->addWidget(write_);
  column->addWidget(
      paragraph(tr("Each sheet carries the centre cross with a ring for the pin, the outline, the "
                   "stitches, a 100 mm and a 4 in check ruler and the thread list. Sheets overlap "
                   "by 10 mm and join at their register marks."),
                true));
  return tool;
}

QWidget* PaperStation::cutsTool() {
  auto* tool = new QWidget;
  auto* column = new QVBoxLayout(tool);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  trims_->setObjectName(QStringLiteral("writeTrims"));
  byHand_->setObjectName(QStringLiteral("trimsByHand"));
  column->addWidget(cuts_);
  column->addWidget(byHand_);
  column->addWidget(trims_);
  connect(trims_, &QPushButton::clicked, this, [this] {
    const QString path = asker_.toSave(this, tr("Write the trim sheet"),
                                       QStringLiteral("trims.pdf"), tr("PDF (*.pdf)"));
    if (!path.isEmpty()) writeTrims(path);
  });
  return tool;
}

void PaperStation::askAndWrite() {
  const QString path = asker_.toSave(this, tr("Write the template"), QStringLiteral("template.pdf"),
                                     tr("PDF (*.pdf)"));
  if (!path.isEmpty()) write(path);
}

std::vector<StationAction> PaperStation::actions() {
  return {{tr("Write the template as PDF …"), QKeySequence(tr("Ctrl+E")), [this] { askAndWrite(); },
           true}};
}

TemplateOptions PaperStation::options() const {
  TemplateOptions o;
  o.paper = paper_->currentIndex() == 2   ? Paper::A3
            : paper_->currentIndex() == 1 ? Paper::Letter
                                          : Paper::A4;
  o.grid_mm = grid_->currentIndex() == 1 ? 10 : grid_->currentIndex() == 2 ? 25.4 : 0;
  o.mirror = mirror_->isChecked();
  o.title = desk_.job().title;
  return o;
}

void PaperStation::refresh() {
  write_->setEnabled(!desk_.layout().stitches.empty());
  tags_->setPaper(options().paper);
  if (shelf_->opened() == tags_) tags_->refresh();
  if (shelf_->opened() == price_) price_->refresh();
  const std::vector<CutSpot> cuts = cutSpots(desk_.layout());
  const auto hand = static_cast<size_t>(
      std::count_if(cuts.begin(), cuts.end(), [](const CutSpot& c) { return !c.machine; }));
  cuts_->setText(tr("%1: the machine trims %2, %3 are left for the scissors.")
                     .arg(counted(cuts.size(), tr("cut"), tr("cuts")))
                     .arg(cuts.size() - hand)
                     .arg(hand));
  trims_->setEnabled(!cuts.empty());
  lens_.show({}, mirror_->isChecked());
  if (desk_.layout().stitches.empty()) return sheets_->setText({});
  try {
    const TemplateResult plan = planTemplate(desk_.layout(), options());
    lens_.show(plan.tiles, mirror_->isChecked());
    int columns = 1, rows = 1;
    for (const TemplateTile& t : plan.tiles)
      columns = std::max(columns, t.column), rows = std::max(rows, t.row);
    sheets_->setText(plan.tiles.size() == 1
                         ? tr("One sheet of %1 holds it.").arg(paper_->currentText())
                         : tr("%1 sheets of %2, %3 across and %4 down.")
                               .arg(plan.tiles.size())
                               .arg(paper_->currentText())
                               .arg(columns)
                               .arg(rows));
  } catch (const std::exception& problem) {
    sheets_->setText(QString::fromUtf8(problem.what()));
  }
  emit lookChanged();
}

void PaperStation::writeTrims(const QString& path) {
  guarded(desk_, [&] {
    TrimSheetOptions o;
    o.paper = options().paper;
    o.title = desk_.job().title;
    o.only_by_hand = byHand_->isChecked();
    const TrimSheetResult r = writeTrimSheet(desk_.layout(), o, path.toStdString());
    desk_.say(tr("%1 with %2 written to %3.")
                  .arg(counted(static_cast<size_t>(r.pages), tr("sheet"), tr("sheets")),
                       counted(r.cuts, tr("cut"), tr("cuts")), path));
  });
}

void PaperStation::write(const QString& path) {
  guarded(desk_, [&] {
    const TemplateResult r = writeTemplate(desk_.layout(), options(), path.toStdString());
    desk_.say(tr("%1 written to %2. Print at 100 %.")
                  .arg(counted(r.tiles.size(), tr("sheet"), tr("sheets")), path));
  });
}

}  // namespace rt
