#include "ledger_station.h"

#include <QDateTime>
#include <QPainter>
#include <QStyledItemDelegate>

#include "file_io.h"

namespace rt {
namespace {

enum Role { kDetail = Qt::UserRole + 1, kTime, kState };

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
    p->drawText(QRectF(box.left() + 28, box.top() + 23, width, 20), Qt::AlignVCenter,
                p->fontMetrics().elidedText(index.data(kDetail).toString(), Qt::ElideRight, width));
    p->restore();
  }
};

QString eventWord(const LedgerEntry& e) {
  static const std::map<std::string, QString> kWords{
      {"plan", QObject::tr("Hoopings planned")},  {"align", QObject::tr("Aligned")},
      {"sew-start", QObject::tr("Sewing begun")}, {"colour", QObject::tr("Colour change")},
      {"break", QObject::tr("Thread broke")},     {"resume", QObject::tr("Went on")},
      {"done", QObject::tr("Hooping done")},      {"overrule", QObject::tr("Stop overruled")},
      {"export", QObject::tr("Files written")},   {"limits", QObject::tr("Shop limits set")},
      {"outcome", QObject::tr("Outcome")},        {"lost", QObject::tr("Machine lost")},
      {"run", QObject::tr("Time of a run")}};
  const auto it = kWords.find(e.event);
  const QString word = it == kWords.end() ? QString::fromStdString(e.event) : it->second;
  return e.hooping > 0 ? QObject::tr("%1 · hooping %2").arg(word).arg(e.hooping) : word;
}

look::State stateOf(const LedgerEntry& e) {
  if (e.event == "break" || e.status == "rehoop" || e.status == "broke") return look::State::Stop;
  if (e.event == "overrule" || e.status == "check" || e.status == "puckered")
    return look::State::Check;
  if (e.event == "done" || e.status == "ready" || e.status == "fine") return look::State::Ready;
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
      list_(new QListWidget),
      export_(button(tr("Export CSV …"), tr("Write these lines as CSV"), true)),
      outcomes_(new OutcomeTools(context.desk)) {
  Desk& desk = context.desk;
  which_->addItems({tr("This job"), tr("All jobs")});
  list_->setObjectName(QStringLiteral("ledgerList"));
  list_->setAccessibleName(tr("Ledger, newest first"));
  list_->setItemDelegate(new EntryDelegate(list_));
  list_->setFrameShape(QFrame::NoFrame);
  list_->setStyleSheet(QStringLiteral("background:transparent"));
  list_->setMinimumHeight(300);
  column_->addWidget(pair(labelled(tr("Show"), which_), labelled(QStringLiteral(" "), export_)));
  column_->addWidget(outcomes_);
  column_->addWidget(list_, 1);
  connect(which_, &QComboBox::activated, this, &LedgerStation::refresh);
  connect(&desk, &Desk::ledgerChanged, this, [this] {
    if (isVisible()) refresh();  // it is refreshed when it opens
  });
  connect(export_, &QPushButton::clicked, this, [this] {
    const QString path = asker_.toSave(this, tr("Export the ledger"), QStringLiteral("ledger.csv"),
                                       tr("CSV (*.csv)"));
    if (!path.isEmpty()) exportCsv(path);
  });
}

void LedgerStation::exportCsv(const QString& path) {
  guarded(desk_, [&] {
    writeFile(path.toStdString(),
              desk_.ledger().csv(which_->currentIndex() == 0 ? desk_.job().id : std::string()));
    desk_.say(tr("Ledger written to %1.").arg(path));
  });
}

void LedgerStation::refresh() {
  outcomes_->refresh();
  list_->clear();
  const auto entries =
      desk_.ledger().entries(which_->currentIndex() == 0 ? desk_.job().id : std::string());
  for (const LedgerEntry& e : entries) {
    auto* item = new QListWidgetItem(eventWord(e), list_);
    item->setData(kDetail, detailOf(e));
    item->setData(kTime, QDateTime::fromString(QString::fromStdString(e.time), Qt::ISODateWithMs)
                             .toLocalTime()
                             .toString(QStringLiteral("MM-dd HH:mm")));
    item->setData(kState, static_cast<int>(stateOf(e)));
  }
  export_->setEnabled(!entries.empty());
}

}  // namespace rt
