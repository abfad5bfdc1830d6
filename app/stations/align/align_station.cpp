#include "align_station.h"

#include <QGridLayout>

#include "hooping_place.h"

namespace rt {

AlignStation::AlignStation(const StationContext& context)
    : StationPanel(Station::Align, context.desk),
      lens_(context.desk),
      hand_(context.desk),
      hooping_(new QComboBox),
      intro_(paragraph({}, true)),
      rows_(new QVBoxLayout),
      tolerance_(new LengthEdit(tr("Tolerance"))),
      facts_(paragraph({})),
      record_(button(tr("Keep in the ledger"), tr("Write this alignment down (Ctrl+R)"), true)),
      clear_(button(tr("Clear"), tr("Forget the needle points of this hooping"))) {
  Desk& desk = context.desk;
  record_->setObjectName(QStringLiteral("recordAlignment"));
  hooping_->setObjectName(QStringLiteral("alignHooping"));
  facts_->setObjectName(QStringLiteral("alignFacts"));
  column_->addWidget(
      pair(labelled(tr("Hooping"), hooping_), labelled(tr("Tolerance, 95 %"), tolerance_)));
  column_->addWidget(intro_);
  rows_->setSpacing(6);
  column_->addLayout(rows_);
  column_->addWidget(facts_);
  column_->addWidget(pair(record_, clear_));
  column_->addWidget(caution(
      tr("Keep hands clear: the frame moves by itself. Change needles with the machine off.")));
  column_->addStretch();
  connect(hooping_, &QComboBox::activated, this, [this](int i) { desk_.setHooping(i + 1); });
  connect(tolerance_, &LengthEdit::edited, this, [this](double mm) {
    Job next = desk_.job();
    next.tolerance_mm = std::clamp(mm, 0.05, 10.0);
    desk_.change(tr("tolerance"), std::move(next));
  });
  connect(record_, &QPushButton::clicked, this, &AlignStation::record);
  connect(clear_, &QPushButton::clicked, this, &AlignStation::clearMarks);
  connect(&desk, &Desk::hoopingChanged, this, &AlignStation::refresh);
  connect(&desk, &Desk::recorded, this, &AlignStation::refresh);
}

void AlignStation::clearMarks() {
  desk_.clearMarks(desk_.hooping());
}

void AlignStation::setPoint(const std::string& id, Point hoop) {
  const Hooping* h = desk_.currentHooping();
  if (!h) return;
  for (Mark m : expectedMarks(*h)) {
    if (m.id != id) continue;
    m.hoop = hoop;
    return desk_.addMark(h->index, std::move(m));
  }
}

void AlignStation::record() {
  const std::optional<Alignment> a = desk_.alignmentOf(desk_.hooping());
  if (!a) return desk_.say(tr("Needle two marks or more first."));
  desk_.note(entryFor(*a, desk_.hooping()));
  desk_.say(tr("Kept: %1.").arg(QString::fromStdString(a->headline)));
}

/// A mark: where it is meant to lie, and where the needle found it.
void AlignStation::addRow(const Mark& m, const Mark* typed, const QString& residual,
                          const QString& focus) {
  auto* row = new QWidget;
  auto* grid = new QGridLayout(row);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setHorizontalSpacing(8);
  const QString id = QString::fromStdString(m.id);
  auto* name = new QLabel(QString("<b>%1</b>").arg(id));
  name->setMinimumWidth(52);
  grid->addWidget(name, 0, 0);
  const QString meant = tr("meant %1, %2").arg(m.hoop.x, 0, 'f', 1).arg(m.hoop.y, 0, 'f', 1);
  auto field = [&](const QString& axis, double found, double wanted, int column) {
    auto* f = new QLineEdit(typed ? QString::number(found, 'f', 2) : QString());
    f->setPlaceholderText(QString::number(wanted, 'f', 1));
    f->setObjectName(axis + id);
    f->setToolTip(meant);
    grid->addWidget(f, 0, column);
    return f;
  };
  auto* x = field(QStringLiteral("needleX"), typed ? typed->hoop.x : 0, m.hoop.x, 1);
  auto* y = field(QStringLiteral("needleY"), typed ? typed->hoop.y : 0, m.hoop.y, 2);
  x->setAccessibleName(tr("Mark %1, right").arg(id));
  y->setAccessibleName(tr("Mark %1, down").arg(id));
  auto* off = new QLabel(residual);
  off->setFont(look::figures(9));
  off->setMinimumWidth(48);
  grid->addWidget(off, 0, 3);
  auto read = [this, x, y, mark = m.id] {
    if (!x->isModified() && !y->isModified()) return;
    try {
      if (x->text().isEmpty() || y->text().isEmpty()) return;
      setPoint(mark,
               {parseLength_mm(x->text().toStdString()), parseLength_mm(y->text().toStdString())});
    } catch (const std::exception&) {
      desk_.say(tr("That is not a length."));
    }
  };
  connect(x, &QLineEdit::editingFinished, this, read, Qt::QueuedConnection);
  connect(y, &QLineEdit::editingFinished, this, read, Qt::QueuedConnection);
  rows_->addWidget(row);
  for (QLineEdit* f : {x, y})  // rows are made anew: the focus goes where it was
    if (f->objectName() == focus) f->setFocus();
}

void AlignStation::refresh() {
  const HoopingPlan* plan = desk_.plan();
  const Hooping* h = desk_.currentHooping();
  const bool inches = desk_.inches();
  const QString focus = focusWidget() ? focusWidget()->objectName() : QString();
  hooping_->clear();
  for (int i = 1; plan && i <= static_cast<int>(plan->hoopings.size()); ++i)
    hooping_->addItem(tr("%1 of %2").arg(i).arg(plan->hoopings.size()));
  hooping_->setCurrentIndex(desk_.hooping() - 1);
  clear(*rows_);
  for (QWidget* w : {static_cast<QWidget*>(record_), static_cast<QWidget*>(clear_),
                     static_cast<QWidget*>(tolerance_)})
    w->setEnabled(h != nullptr);
  if (!h) {
    intro_->setText(tr("Plan the hoopings first (4)."));
    return facts_->setText({});
  }
  intro_->setText(
      tr("Bring the needle over each cross and type the place that the machine shows, from the "
         "middle of the hoop: right and down."));
  const std::vector<Mark> have = desk_.marksOf(h->index);
  tolerance_->setValue_mm(desk_.job().tolerance_mm, inches);
  const std::optional<Alignment> a = desk_.alignmentOf(h->index);
  for (const Mark& m : expectedMarks(*h)) {
    const Mark* typed = nullptr;
    for (const Mark& t : have)
      if (t.id == m.id) typed = &t;
    QString residual;
    if (a)
      for (size_t i = 0; i < a->marks.size(); ++i)
        if (a->marks[i].id == m.id) residual = tr("%1 off").arg(a->fit.residual_mm[i], 0, 'f', 2);
    addRow(m, typed, residual, focus);
  }
  if (!a) return facts_->setText({});
  QStringList facts;
  facts << tr("Root mean square %1 mm · centre %2 mm · worst corner %3 mm")
               .arg(a->fit.rms_mm, 0, 'f', 2)
               .arg(a->error_centre_mm, 0, 'f', 2)
               .arg(a->error_worst_mm, 0, 'f', 2);
  facts << tr("Stretch %1 % · out of square %2°")
               .arg(a->stretch * 100, 0, 'f', 2)
               .arg(a->out_of_square_deg, 0, 'f', 2);
  for (const std::string& s : a->advice) facts << QStringLiteral("• ") + QString::fromStdString(s);
  facts_->setText(facts.join('\n'));
}

}  // namespace rt
