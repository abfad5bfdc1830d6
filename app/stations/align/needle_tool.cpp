#include "needle_tool.h"

#include <QGridLayout>

#include "hooping_place.h"

namespace rt {

NeedleTool::NeedleTool(Desk& desk)
    : desk_(desk), intro_(paragraph({}, true)), rows_(new QVBoxLayout) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  column->addWidget(intro_);
  column->addLayout(rows_);
  column->addWidget(caution(
      tr("Keep hands clear: the frame moves by itself. Change needles with the machine off.")));
  rows_->setSpacing(6);
  connect(&desk.run().machine(), &MachineLink::at, this, &NeedleTool::takeHere);
}

void NeedleTool::takeHere(QPointF at) {
  if (awaited_.empty()) return;
  setPoint(awaited_, {at.x(), at.y()});
  awaited_.clear();
}

void NeedleTool::setPoint(const std::string& id, Point hoop) {
  const Hooping* h = desk_.currentHooping();
  if (!h) return;
  for (Mark m : expectedMarks(*h, desk_.bench().shop.practice.marks.needle_mm)) {
    if (m.id != id) continue;
    m.hoop = hoop;
    return desk_.addMark(h->index, std::move(m));
  }
}

/// A mark: where it is meant to lie, and where the needle found it.
void NeedleTool::addRow(const Mark& m, const Mark* typed, const QString& residual,
                        const QString& focus) {
  auto* row = new QWidget;
  auto* grid = new QGridLayout(row);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setHorizontalSpacing(6);
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
  if (desk_.run().machine().phase() >= MachineLink::Phase::Loaded) {
    auto* here = button(tr("Here"), tr("The machine's needle stands over this mark"));
    here->setObjectName(QStringLiteral("here") + id);
    grid->addWidget(here, 0, 3);
    connect(here, &QPushButton::clicked, this, [this, mark = m.id] {
      awaited_ = mark;
      desk_.run().machine().askHere();
    });
  }
  auto* off = new QLabel(residual);
  off->setFont(look::figures(9));
  off->setMinimumWidth(48);
  grid->addWidget(off, 0, 4);
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

void NeedleTool::refresh() {
  const Hooping* h = desk_.currentHooping();
  const QString focus = focusWidget() ? focusWidget()->objectName() : QString();
  clear(*rows_);
  if (!h) return intro_->setText(tr("Plan the hoopings first (4)."));
  intro_->setText(
      tr("Bring the needle over each cross and type the place that the machine shows, from the "
         "middle of the hoop: right and down."));
  const std::vector<Mark> have = desk_.marksOf(h->index);
  const std::optional<Alignment> a = desk_.alignmentOf(h->index);
  for (const Mark& m : expectedMarks(*h)) {
    const Mark* typed = nullptr;
    for (const Mark& t : have)
      if (t.id == m.id) typed = &t;
    QString residual;
    for (size_t i = 0; a && i < a->marks.size(); ++i)
      if (a->marks[i].id == m.id) residual = tr("%1 off").arg(a->fit.residual_mm[i], 0, 'f', 2);
    addRow(m, typed, residual, focus);
  }
}

}  // namespace rt
