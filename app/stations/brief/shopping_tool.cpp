#include "shopping_tool.h"

#include "file_io.h"

namespace rt {
namespace {

QString amountOf(const ShoppingLine& l) {
  const int digits = l.unit == "m²" ? 2 : 0;
  const QString amount =
      QStringLiteral("%1 %2")
          .arg(l.amount, 0, 'f', digits)
          .arg(QString::fromStdString(l.unit == "pieces" ? std::string() : l.unit));
  return amount.trimmed();
}

}  // namespace

ShoppingTool::ShoppingTool(Desk& desk, FileAsker& asker)
    : desk_(desk),
      asker_(asker),
      pieces_(new QSpinBox),
      table_(new QGridLayout),
      words_(paragraph({}, true)),
      write_(button(tr("Write the list …"), tr("As CSV, for the shelf or the shop"))) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  pieces_->setRange(1, 100'000);
  pieces_->setAccessibleName(tr("Pieces"));
  pieces_->setObjectName(QStringLiteral("shoppingPieces"));
  pieces_->setMinimumHeight(32);
  write_->setObjectName(QStringLiteral("writeShopping"));
  pieces_->setButtonSymbols(QAbstractSpinBox::NoButtons);
  column->addWidget(pair(labelled(tr("Pieces"), pieces_), labelled(tr("As CSV"), write_)));
  table_->setHorizontalSpacing(10);
  table_->setVerticalSpacing(2);
  table_->setColumnStretch(0, 1);
  column->addLayout(table_);
  column->addWidget(words_);
  connect(pieces_, &QSpinBox::valueChanged, this, &ShoppingTool::refresh);
  connect(write_, &QPushButton::clicked, this, &ShoppingTool::write);
}

std::vector<ShoppingLine> ShoppingTool::list() const {
  if (desk_.layout().stitches.empty()) return {};
  return shoppingFor(desk_.layout(), desk_.job().brief,
                     desk_.plan() && desk_.planCurrent() ? desk_.plan() : nullptr, pieces_->value(),
                     desk_.bench());
}

void ShoppingTool::refresh() {
  guarded(desk_, [&] {
    clear(*table_);
    const std::vector<ShoppingLine> lines = list();
    write_->setEnabled(!lines.empty());
    words_->setText(
        lines.empty()
            ? tr("Lay something on the cloth at Compose (2): the list follows from what is sewn.")
            : tr("A tenth more thread and backing than is sewn. Rest the pointer on a line for "
                 "what "
                 "it is for."));
    int row = 0;
    for (const ShoppingLine& l : lines) {
      auto* what = paragraph(QString::fromStdString(l.what));
      auto* amount = new QLabel(amountOf(l));
      auto* packs =
          new QLabel(l.packs > 0 && l.unit != "pieces" ? tr("%1 to buy").arg(l.packs) : QString());
      amount->setFont(look::figures(10));
      packs->setFont(look::figures(9));
      for (QLabel* label : {static_cast<QLabel*>(what), amount, packs})
        label->setToolTip(QString::fromStdString(l.why));
      table_->addWidget(what, row, 0);
      table_->addWidget(amount, row, 1, Qt::AlignRight | Qt::AlignTop);
      table_->addWidget(packs, row, 2, Qt::AlignRight | Qt::AlignTop);
      ++row;
    }
  });
}

void ShoppingTool::write() {
  const QString path =
      asker_.toSave(this, tr("Write the list"), QStringLiteral("shopping.csv"), tr("CSV (*.csv)"));
  if (path.isEmpty()) return;
  guarded(desk_, [&] {
    writeFile(path.toStdString(), csvOf(list()));
    desk_.say(tr("Written: %1.").arg(path));
  });
}

}  // namespace rt
