#include "ledger_station.h"

#include <QDateTime>
#include <QPainter>
#include <QStyledItemDelegate>

#include "file_io.h"
#include "ledger_files.h"

namespace rt {
namespace {

enum LineRole { kLineDetail = Qt::UserRole + 1, kTime, kState };

class EntryDelegate : public QStyledItemDelegate {
 public:
  using QStyledItemDelegate::QStyledItemDelegate;
  QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override {
    return {200, 52};
  }
  void paint(QPainter* p, const QStyleOptionViewItem& option,
             const QModelIndex& index) const override {
    p->save();
    p->setRenderHint(QPainter::Antialiasing);
    const QRectF box = option.rect;
    p->setPen(QPen(look::colours().line, 1));
    p->drawLine(QPointF(box.left() + 9, box.top()), QPointF(box.left() + 9, box.bottom()));
    look::drawState(*p, QRectF(box.left() + 1, box.top() + 6, 16, 16),
                    static_cast<look::State>(index.data(kState).toInt()));
    p->setPen(look::colours().ink);
    p->setFont(look::text(10, true));
    const int width = static_cast<int>(box.width()) - 30;
    p->drawText(QRectF(box.left() + 28, box.top() + 3, width, 20), Qt::AlignVCenter,
                index.data().toString());
    p->setPen(look::colours().quiet);
    p->setFont(look::figures(8.5));
    p->drawText(QRectF(box.left() + 28, box.top() + 3, width, 20),
                Qt::AlignVCenter | Qt::AlignRight, index.data(kTime).toString());
    p->drawText(
        QRectF(box.left() + 28, box.top() + 23, width, 20), Qt::AlignVCenter,
        p->fontMetrics().elidedText(index.data(kLineDetail).toString(), Qt::ElideRight, width));
    p->restore();
  }
};

QString eventWord(const LedgerEntry& e) {
  static const std::map<std::string, QString> kWords{
      {"plan", QObject::tr("Hoopings planned")},
      {"align", QObject::tr("Aligned")},
      {"sew-start", QObject::tr("Sewing begun")},
      {"colour", QObject::tr("Colour change")},
      {"break", QObject::tr("Thread broke")},
      {"resume", QObject::tr("Went on")},
      {"done", QObject::tr("Hooping done")},
      {"overrule", QObject::tr("Stop overruled")},
      {"export", QObject::tr("Files written")},
      {"limits", QObject::tr("Shop limits set")},
      {"outcome", QObject::tr("Outcome")},
      {"lost", QObject::tr("Machine lost")},
      {"run", QObject::tr("Time of a run")},
      {"practice", QObject::tr("Practice")},
      {"skipped", QObject::tr("Passed by on purpose")},
      {"back", QObject::tr("Stepped back")},
      {"bobbin-missed", QObject::tr("Bobbin not caught")},
      {"bobbin-empty", QObject::tr("Bobbin empty")},
      {"fold", QObject::tr("Fold under the foot")},
      {"seam", QObject::tr("Seam measured")}};
  const auto it = kWords.find(e.event);
  const QString word = it == kWords.end() ? QString::fromStdString(e.event) : it->second;
  return e.hooping > 0 ? QObject::tr("%1 · hooping %2").arg(word).arg(e.hooping) : word;
}

look::State stateOf(const LedgerEntry& e) {
  if (e.event == "break" || e.event == "bobbin-missed" || e.event == "fold" ||
      e.status == "rehoop" || e.status == "broke")
    return look::State::Stop;
  if (e.event == "overrule" || e.status == "check" || e.status == "puckered")
    return look::State::Check;
  if (e.status == "worse") return look::State::Check;
  if (e.event == "done" || e.status == "as-predicted" || e.status == "ready" || e.status == "fine")
    return look::State::Ready;
  return look::State::UnderWay;
}

QString detailOf(const LedgerEntry& e) {
  QStringList parts;
  if (e.stitch > 0) parts << QObject::tr("stitch %1").arg(e.stitch);
  if (e.event == "align") parts << QObject::tr("rms %1 mm").arg(e.rms_mm, 0, 'f', 2);
  if (e.event == "plan" && e.worst_mm > 0)
    parts << QObject::tr("worst seam %1 mm").arg(e.worst_mm, 0, 'f', 2);
  if (e.event == "outcome" && !e.status.empty()) parts << QString::fromStdString(e.status);
  if (!e.note.empty()) parts << QString::fromStdString(e.note);
  return parts.join(QStringLiteral(" · "));
}

}  // namespace

LedgerStation::LedgerStation(const StationContext& context)
    : StationPanel(Station::Ledger, context.desk),
      asker_(context.asker),
      which_(new QComboBox),
      event_(new QComboBox),
      chartOf_(new QComboBox),
      search_(new QLineEdit),
      store_(new QLineEdit),
      list_(new QListWidget),
      export_(button(tr("Export CSV …"), tr("Write these lines as CSV"), true)),
      chart_(new ChartView),
      found_(paragraph({}, true)),
      place_(paragraph({}, true)),
      outcomes_(new OutcomeTools(context.desk)),
      compare_(new CompareTool(context.desk)),
      shelf_(new ToolShelf) {
  lines_ = linesTool();
  charts_ = chartTool();
  where_ = placeTool();
  shelf_->add(tr("Lines"), QStringLiteral("Lines"), lines_);
  shelf_->add(tr("Charts"), QStringLiteral("Charts"), charts_);
  shelf_->add(tr("Runs"), QStringLiteral("Runs"), compare_);
  shelf_->add(tr("Outcome"), QStringLiteral("Outcome"), outcomes_);
  shelf_->add(tr("Where"), QStringLiteral("Where"), where_);
  shelf_->open(lines_);
  column_->addWidget(pair(labelled(tr("Of"), which_), labelled(QStringLiteral(" "), export_)));
  column_->addWidget(shelf_, 1);
  connect(which_, &QComboBox::activated, this, &LedgerStation::refresh);
  connect(shelf_, &ToolShelf::openedTool, this, &LedgerStation::refresh);
  context.desk.on(Part::Ledger, this, [this] {
    if (isVisible()) refresh();  // it is refreshed when it opens
  });
  connect(export_, &QPushButton::clicked, this, [this] {
    const QString path = asker_.toSave(this, tr("Export the ledger"), QStringLiteral("ledger.csv"),
                                       tr("CSV (*.csv)"));
    if (!path.isEmpty()) exportCsv(path);
  });
}

QWidget* LedgerStation::linesTool() {
  auto* tool = new QWidget;
  auto* column = new QVBoxLayout(tool);
  column->setContentsMargins(0, 0, 0, 0);
  which_->addItems({tr("This job"), tr("All jobs")});
  which_->setAccessibleName(tr("Whose lines"));
  search_->setPlaceholderText(tr("Find in the lines"));
  search_->setObjectName(QStringLiteral("ledgerSearch"));
  search_->setAccessibleName(tr("Find in the lines"));
  search_->setClearButtonEnabled(true);
  event_->setObjectName(QStringLiteral("ledgerEvent"));
  event_->setAccessibleName(tr("What happened"));
  list_->setObjectName(QStringLiteral("ledgerList"));
  list_->setAccessibleName(tr("Ledger, newest first"));
  list_->setItemDelegate(new EntryDelegate(list_));
  list_->setFrameShape(QFrame::NoFrame);
  list_->setStyleSheet(QStringLiteral("background:transparent"));
  list_->setMinimumHeight(300);
  column->addWidget(pair(search_, event_));
  column->addWidget(found_);
  column->addWidget(list_, 1);
  connect(search_, &QLineEdit::textChanged, this, &LedgerStation::showLines);
  connect(event_, &QComboBox::activated, this, &LedgerStation::showLines);
  return tool;
}

QWidget* LedgerStation::chartTool() {
  auto* tool = new QWidget;
  auto* column = new QVBoxLayout(tool);
  column->setContentsMargins(0, 0, 0, 0);
  chartOf_->addItems({tr("Alignments, worst corner"), tr("Minutes, planned and real"),
                      tr("Density and how it went"), tr("Seams, predicted and measured"),
                      tr("Practice")});
  chartOf_->setObjectName(QStringLiteral("ledgerChart"));
  chartOf_->setAccessibleName(tr("Chart"));
  column->addWidget(chartOf_);
  column->addWidget(chart_);
  column->addStretch();
  connect(chartOf_, &QComboBox::activated, this, &LedgerStation::showChart);
  return tool;
}

QWidget* LedgerStation::placeTool() {
  auto* tool = new QWidget;
  auto* column = new QVBoxLayout(tool);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  store_->setPlaceholderText(QStringLiteral("postgresql://user@host:port/name"));
  store_->setObjectName(QStringLiteral("ledgerStore"));
  store_->setAccessibleName(tr("Address of the shop's ledger"));
  auto* use = button(tr("Use this ledger"), tr("All stations of the shop see one ledger"), true);
  auto* own = button(tr("My own file"), tr("The ledger of this computer alone"));
  use->setObjectName(QStringLiteral("useLedger"));
  own->setObjectName(QStringLiteral("ownLedger"));
  auto* in = button(tr("Take lines in …"), tr("From CSV or JSON as it was exported"));
  auto* copy = button(tr("Back up …"), tr("A whole copy, that can be opened again"));
  column->addWidget(place_);
  column->addWidget(labelled(tr("A ledger that the shop's stations share"), store_));
  column->addWidget(pair(use, own));
  column->addWidget(
      paragraph(tr("The password comes from PGPASSWORD or the password file."), true));
  column->addWidget(pair(in, copy));
  column->addStretch();
  connect(use, &QPushButton::clicked, this, [this] {
    guarded(desk_, [this] { desk_.setLedgerStore(store_->text().trimmed().toStdString()); });
  });
  connect(own, &QPushButton::clicked, this, [this] {
    store_->clear();
    guarded(desk_, [this] { desk_.setLedgerStore({}); });
  });
  connect(in, &QPushButton::clicked, this, &LedgerStation::importLines);
  connect(copy, &QPushButton::clicked, this, &LedgerStation::backUp);
  return tool;
}

void LedgerStation::importLines() {
  const QString path =
      asker_.toOpen(this, tr("Take lines in"), tr("Exported ledgers (*.csv *.json)"));
  if (path.isEmpty()) return;
  guarded(desk_, [&] {
    const size_t taken = desk_.ledger().takeIn(readExportedLedger(path.toStdString()));
    desk_.say(tr("%1 taken in; what was there already was passed over.")
                  .arg(counted(taken, tr("line"), tr("lines"))));
  });
}

void LedgerStation::backUp() {
  const QString path =
      asker_.toSave(this, tr("Back the ledger up"), QStringLiteral("ledger-copy.sqlite"),
                    tr("Ledgers (*.sqlite)"));
  if (path.isEmpty()) return;
  guarded(desk_, [&] {
    const size_t kept = backUpLedger(desk_.ledger().all(), path.toStdString());
    desk_.say(tr("%1 written to %2.").arg(counted(kept, tr("line"), tr("lines")), path));
  });
}

void LedgerStation::exportCsv(const QString& path) {
  guarded(desk_, [&] {
    writeFile(path.toStdString(),
              desk_.ledger().csv(which_->currentIndex() == 0 ? desk_.job().id : std::string()));
    desk_.say(tr("Ledger written to %1.").arg(path));
  });
}

void LedgerStation::showLines() {
  const auto mine =
      desk_.ledger().entries(which_->currentIndex() == 0 ? desk_.job().id : std::string());
  const QString kept = event_->currentData().toString();
  std::map<QString, QString> kinds;
  for (const LedgerEntry& e : mine) {
    LedgerEntry plain = e;
    plain.hooping = 0;
    kinds[QString::fromStdString(e.event)] = eventWord(plain);
  }
  {
    const QSignalBlocker block(event_);
    event_->clear();
    event_->addItem(tr("All events"));
    for (const auto& [event, word] : kinds) event_->addItem(word, event);
    event_->setCurrentIndex(std::max(0, event_->findData(kept.isEmpty() ? QVariant() : kept)));
  }
  const auto entries =
      searched(mine, search_->text().toStdString(), event_->currentData().toString().toStdString());
  list_->clear();
  for (const LedgerEntry& e : entries) {
    auto* item = new QListWidgetItem(eventWord(e), list_);
    item->setData(kLineDetail, detailOf(e));
    item->setData(kTime, QDateTime::fromString(QString::fromStdString(e.time), Qt::ISODateWithMs)
                             .toLocalTime()
                             .toString(QStringLiteral("MM-dd HH:mm")));
    item->setData(kState, static_cast<int>(stateOf(e)));
  }
  found_->setText(
      mine.empty() ? tr("Nothing yet: plans, alignments and sewing write themselves down.")
      : entries.size() == mine.size() ? counted(mine.size(), tr("line"), tr("lines"))
                                      : tr("%1 of %2").arg(entries.size()).arg(mine.size()));
  export_->setEnabled(!mine.empty());
}

void LedgerStation::showChart() {
  std::vector<LedgerEntry> entries =
      desk_.ledger().entries(which_->currentIndex() == 0 ? desk_.job().id : std::string());
  std::reverse(entries.begin(), entries.end());
  switch (chartOf_->currentIndex()) {
    case 0:
      return chart_->setChart(alignmentChart(entries, desk_.job().tolerance_mm),
                              tr("one after another"), tr("worst corner, mm, 95 %"),
                              tr("No alignment was kept yet."));
    case 1:
      return chart_->setChart(minutesChart(entries, desk_.bench().shop.practice.minutes_far_off),
                              tr("planned, min"), tr("real, min"),
                              tr("No hooping was sewn from end to end yet."));
    case 2:
      return chart_->setChart(
          densityChart(entries, desk_.job().brief.fabric,
                       desk_.shopFabric().density_mm_per_mm2.stop),
          tr("one after another, %1").arg(QString::fromStdString(desk_.shopFabric().name)),
          tr("heaviest place, mm/mm²"), tr("No outcome of this fabric was told yet."));
    case 3:
      return chart_->setChart(seamChart(entries), tr("predicted, mm, 95 %"), tr("measured, mm"),
                              tr("No seam was measured yet: take a scan at Align (6) when both "
                                 "sides are sewn."));
    default:
      return chart_->setChart(practiceChart(entries), tr("one after another"), tr("points"),
                              tr("No practice yet: hoop a practice cloth at Align (6)."));
  }
}

void LedgerStation::showPlace() {
  const LedgerKeeper& keeper = desk_.ledger();
  QString words = tr("Kept in %1.").arg(keeper.storeName());
  if (!keeper.trouble().isEmpty())
    words += ' ' + tr("It cannot be reached just now; %1 wait here.")
                       .arg(counted(keeper.waiting(), tr("line"), tr("lines")));
  place_->setText(words);
}

void LedgerStation::showRuns() {
  std::vector<LedgerEntry> entries =
      desk_.ledger().entries(which_->currentIndex() == 0 ? desk_.job().id : std::string());
  std::reverse(entries.begin(), entries.end());  // as they happened
  compare_->show(storiesIn(entries));
}

void LedgerStation::refresh() {
  QWidget* open = shelf_->opened();
  if (open == outcomes_) outcomes_->refresh();
  if (open == lines_) showLines();
  if (open == charts_) showChart();
  if (open == where_) showPlace();
  if (open == compare_) showRuns();
}

}  // namespace rt
