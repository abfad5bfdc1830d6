#include "paper_station.h"

#include "cuts.h"
#include "page_view.h"
#include "paperwork.h"

namespace rt {

PaperStation::PaperStation(const StationContext& context)
    : StationPanel(Station::Paper, context.desk),
      asker_(context.asker),
      lens_(context.desk),
      paper_(new QComboBox),
      grid_(new QComboBox),
      printer_(new QComboBox),
      ruler_(new LengthEdit(tr("What the printed 100 mm measure"))),
      side_(new QComboBox),
      sheets_(paragraph({})),
      jobWords_(paragraph({})),
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
  template_ = templateTool();
  shelf_->add(tr("Template"), QStringLiteral("Template"), template_);
  shelf_->add(tr("Job"), QStringLiteral("JobSheet"), jobTool());
  shelf_->add(tr("Cuts"), QStringLiteral("Cuts"), cutsTool());
  shelf_->add(tr("Tags"), QStringLiteral("Tags"), tags_);
  shelf_->add(tr("Price"), QStringLiteral("Price"), price_);
  shelf_->open(template_);
  column_->addWidget(shelf_);
  printerFold_ = printerFold();
  column_->addWidget(printerFold_);
  column_->addStretch();
  connect(side_, &QComboBox::activated, this, &PaperStation::refresh);
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
  side_->addItems({tr("To lie on the outside"), tr("Mirrored, to tape inside the garment"),
                   tr("Both, in one file")});
  side_->setAccessibleName(tr("Side of the cloth"));
  side_->setObjectName(QStringLiteral("paperSide"));
  write_->setObjectName(QStringLiteral("writePdf"));
  column->addWidget(labelled(tr("Grid"), grid_));
  column->addWidget(labelled(tr("Side"), side_));
  column->addWidget(sheets_);
  auto* look = PageView::button(desk_, asker_, [this] {
    return PaperToLookAt{tr("Template"), QStringLiteral("template.pdf"),
                         [this](const QString& path) {
                           writeTemplate(desk_.layout(), options(), path.toStdString());
                         }};
  });
  look->setObjectName(QStringLiteral("previewTemplate"));
  column->addWidget(pair(write_, look));
  column->addWidget(paragraph(
      tr("Each sheet says which way is up and carries the stitches and their outline, zones, the "
         "item's cross and the middle of the piece with rings for the pin, a 100 mm and "
         "a 4 in check ruler and the thread list. Sheets overlap by 10 mm and join at "
         "their register marks."),
      true));
  return tool;
}

QWidget* PaperStation::jobTool() {
  auto* tool = new QWidget;
  auto* column = new QVBoxLayout(tool);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  auto* write = button(tr("Write job sheet …"),
                       tr("Threads in order with needle, minutes and metres, as PDF"), true);
  write->setObjectName(QStringLiteral("writeJobSheet"));
  auto* look = PageView::button(desk_, asker_, [this] {
    return PaperToLookAt{tr("Job sheet"), QStringLiteral("job.pdf"), [this](const QString& path) {
                           writeJobSheet(jobSheet(), path.toStdString());
                         }};
  });
  look->setObjectName(QStringLiteral("previewJobSheet"));
  column->addWidget(jobWords_);
  column->addWidget(pair(write, look));
  connect(write, &QPushButton::clicked, this, [this] {
    const QString path = asker_.toSave(this, tr("Write the job sheet"), QStringLiteral("job.pdf"),
                                       tr("PDF (*.pdf)"));
    if (!path.isEmpty()) writeJob(path);
  });
  return tool;
}

JobSheetOptions PaperStation::jobSheet() const {
  JobSheetOptions o = jobSheetOf(desk_.job(), desk_.layout(),
                                 desk_.planCurrent() ? desk_.plan() : nullptr, desk_.bench());
  o.paper = options().paper;
  return o;
}

void PaperStation::writeJob(const QString& path) {
  guarded(desk_, [&] {
    const JobSheet r = writeJobSheet(jobSheet(), path.toStdString());
    desk_.say(tr("%1 written to %2.")
                  .arg(counted(static_cast<size_t>(r.pages), tr("sheet"), tr("sheets")), path));
  });
}

QWidget* PaperStation::printerFold() {
  auto* content = new QWidget;
  auto* column = new QVBoxLayout(content);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  printer_->setEditable(true);
  printer_->setInsertPolicy(QComboBox::NoInsert);
  printer_->setObjectName(QStringLiteral("printerName"));
  ruler_->line()->setObjectName(QStringLiteral("printerRuler"));
  for (const std::string& name : desk_.printers()) printer_->addItem(QString::fromStdString(name));
  column->addWidget(
      pair(labelled(tr("Printer"), printer_), labelled(tr("Its 100 mm measure"), ruler_)));
  column->addWidget(paragraph(tr("Print a template, measure the check ruler and type what it is: "
                                 "templates and tags come out true from then on, on this paper."),
                              true));
  connect(printer_, &QComboBox::currentTextChanged, this, &PaperStation::refresh);
  connect(ruler_, &LengthEdit::edited, this, [this](double mm) {
    guarded(desk_, [&] {
      const QString name = printer_->currentText().trimmed();
      desk_.setPrinterRuler(name.toStdString(), paper_->currentText().toStdString(), mm);
      if (printer_->findText(name) < 0) printer_->addItem(name);
      refresh();
    });
  });
  return new Fold(tr("A printer that is not true"), QStringLiteral("Printer"), content);
}

PrinterScale PaperStation::printer() const {
  return {desk_.printerRuler_mm(printer_->currentText().trimmed().toStdString(),
                                paper_->currentText().toStdString())};
}

QWidget* PaperStation::cutsTool() {
  auto* tool = new QWidget;
  auto* column = new QVBoxLayout(tool);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  trims_->setObjectName(QStringLiteral("writeTrims"));
  byHand_->setObjectName(QStringLiteral("trimsByHand"));
  column->addWidget(cuts_);
  auto* look = PageView::button(desk_, asker_, [this] {
    return PaperToLookAt{tr("Trim sheet"), QStringLiteral("trims.pdf"),
                         [this](const QString& path) {
                           writeTrimSheet(desk_.layout(), trimOptions(), path.toStdString());
                         }};
  });
  look->setObjectName(QStringLiteral("previewTrims"));
  column->addWidget(byHand_);
  column->addWidget(pair(trims_, look));
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
  o.side = static_cast<TemplateSide>(side_->currentIndex());
  o.shelf = desk_.bench().shop.threads;
  for (const Zone& z : desk_.job().zones) o.edges.push_back({z.name, z.polygon_mm, true});
  o.printer = printer();
  o.title = desk_.job().title;
  return o;
}

void PaperStation::refresh() {
  write_->setEnabled(!desk_.layout().stitches.empty());
  tags_->setPaper(options().paper, printer());
  ruler_->setValue_mm(printer().ruler_mm, desk_.inches());
  ruler_->setEnabled(!printer_->currentText().trimmed().isEmpty());
  jobWords_->setText(
      desk_.planCurrent()
          ? tr("A table of threads for each hooping of the plan, with its picture.")
          : tr("The layout as one piece: plan the hoopings (4) for a table of each."));
  // pages at true size are what a printer can make wrong
  printerFold_->setVisible(shelf_->opened() == template_ || shelf_->opened() == tags_);
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
  lens_.show({});
  if (desk_.layout().stitches.empty()) return sheets_->setText({});
  try {
    const TemplateResult plan = planTemplate(desk_.layout(), options());
    // the two sides lie one on the other: one of them is shown
    std::vector<TemplateTile> tiles = plan.tiles;
    const bool mirrored = tiles.front().mirrored;
    std::erase_if(tiles, [&](const TemplateTile& t) { return t.mirrored != mirrored; });
    lens_.show(tiles);
    QString words = tiles.size() == 1 ? tr("One sheet of %1 holds it.").arg(paper_->currentText())
                                      : tr("%1 sheets of %2, %3 across and %4 down.")
                                            .arg(tiles.size())
                                            .arg(paper_->currentText())
                                            .arg(tiles.back().column)
                                            .arg(tiles.back().row);
    if (tiles.size() < plan.tiles.size()) words += QChar(' ') + tr("As many are mirrored.");
    if (plan.cross_off)
      words += QChar(' ') + QString::fromStdString(plan.warnings.back()) + QChar('.');
    sheets_->setText(words);
  } catch (const std::exception& problem) {
    sheets_->setText(QString::fromUtf8(problem.what()));
  }
  emit lookChanged();
}

TrimSheetOptions PaperStation::trimOptions() const {
  TrimSheetOptions o;
  o.paper = options().paper;
  o.title = desk_.job().title;
  o.only_by_hand = byHand_->isChecked();
  return o;
}

void PaperStation::writeTrims(const QString& path) {
  guarded(desk_, [&] {
    const TrimSheetResult r = writeTrimSheet(desk_.layout(), trimOptions(), path.toStdString());
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
