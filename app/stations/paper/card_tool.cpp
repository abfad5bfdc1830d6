#include "card_tool.h"

#include "actions.h"
#include "card_file.h"

namespace rt {
namespace {

constexpr int kLines = 3;

std::vector<std::string> linesIn(const QPlainTextEdit& field) {
  std::vector<std::string> out;
  for (const QString& line : field.toPlainText().split(QChar('\n'), Qt::SkipEmptyParts))
    out.push_back(line.trimmed().toStdString());
  return out;
}

void showLines(QPlainTextEdit& field, const std::vector<std::string>& lines) {
  QStringList words;
  for (const std::string& line : lines) words << QString::fromStdString(line);
  if (!field.hasFocus()) field.setPlainText(words.join(QChar('\n')));
}

}  // namespace

CardTool::CardTool(Desk& desk)
    : desk_(desk),
      customer_(lines(QStringLiteral("quoteCustomer"), tr("Who it is for"))),
      where_(lines(QStringLiteral("cardLines"), tr("Where the shop is"))),
      terms_(lines(QStringLiteral("cardTerms"), tr("Terms, a sentence each line"))),
      name_(new QLineEdit),
      tax_name_(new QLineEdit),
      tax_(new QDoubleSpinBox),
      days_(new QSpinBox) {
  name_->setObjectName(QStringLiteral("cardName"));
  name_->setAccessibleName(tr("Name of the shop"));
  tax_name_->setObjectName(QStringLiteral("cardTaxName"));
  tax_name_->setAccessibleName(tr("What the tax is called"));
  tax_->setObjectName(QStringLiteral("cardTax"));
  tax_->setAccessibleName(tr("Tax, percent of the price"));
  tax_->setRange(0, 999);
  days_->setObjectName(QStringLiteral("cardDays"));
  days_->setAccessibleName(tr("Days for which a quote is valid"));
  days_->setRange(1, kMostValidDays);
  for (QAbstractSpinBox* box : std::initializer_list<QAbstractSpinBox*>{tax_, days_})
    box->setButtonSymbols(QAbstractSpinBox::NoButtons);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  column->addWidget(labelled(tr("For (this job)"), customer_));
  column->addWidget(labelled(tr("The shop"), name_));
  column->addWidget(labelled(tr("Where it is"), where_));
  column->addWidget(pair(labelled(tr("Tax, %"), tax_), labelled(tr("It is called"), tax_name_)));
  column->addWidget(labelled(tr("Valid for days"), days_));
  column->addWidget(labelled(tr("Terms, one a line"), terms_));
  connect(customer_, &QPlainTextEdit::textChanged, this, &CardTool::keepCustomer);
  for (QPlainTextEdit* field : {where_, terms_}) field->installEventFilter(this);
  for (QLineEdit* field : {name_, tax_name_})
    connect(field, &QLineEdit::editingFinished, this, &CardTool::keepCard);
  for (QAbstractSpinBox* box : std::initializer_list<QAbstractSpinBox*>{tax_, days_})
    connect(box, &QAbstractSpinBox::editingFinished, this, &CardTool::keepCard);
  refresh();
}

QPlainTextEdit* CardTool::lines(const QString& object, const QString& name) {
  auto* field = new QPlainTextEdit;
  field->setObjectName(object);
  field->setAccessibleName(name);
  field->setTabChangesFocus(true);
  field->setFixedHeight(kLines * field->fontMetrics().lineSpacing() + 12);
  return field;
}

/// The shop's own lines are kept when their field is left, also by closing the window.
bool CardTool::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::FocusOut) keepCard();
  return QWidget::eventFilter(watched, event);
}

void CardTool::hideEvent(QHideEvent* event) {
  keepCard();
  QWidget::hideEvent(event);
}

/// As it is typed: another job may be opened, or this one saved, before the field is left.
void CardTool::keepCustomer() {
  guarded(desk_, [&] {
    Brief next = desk_.job().brief;
    next.customer = customer_->toPlainText().toStdString();
    if (next == desk_.job().brief) return;
    desk_.change(tr("name the customer"),
                 actions::briefed(desk_.job(), std::move(next), desk_.bench()),
                 QStringLiteral("customer"));
    emit changed();
  });
}

void CardTool::keepCard() {
  guarded(desk_, [&] {
    ShopCard next = desk_.shop().card();
    next.name = name_->text().trimmed().toStdString();
    next.lines = linesIn(*where_);
    next.tax_name = tax_name_->text().trimmed().toStdString();
    next.tax = tax_->value() / 100;
    next.valid_days = days_->value();
    next.terms = linesIn(*terms_);
    if (next == desk_.shop().card()) return;
    desk_.shop().setCard(next);
    emit changed();
  });
}

void CardTool::refresh() {
  const ShopCard& card = desk_.shop().card();
  // whoever has the focus: what is typed is the job's already, and an undo or another job shows
  if (const QString customer = QString::fromStdString(desk_.job().brief.customer);
      customer_->toPlainText() != customer) {
    const QSignalBlocker quiet(customer_);
    customer_->setPlainText(customer);
  }
  if (!name_->hasFocus()) name_->setText(QString::fromStdString(card.name));
  if (!tax_name_->hasFocus()) tax_name_->setText(QString::fromStdString(card.tax_name));
  showLines(*where_, card.lines);
  showLines(*terms_, card.terms);
  if (!tax_->hasFocus()) tax_->setValue(card.tax * 100);
  if (!days_->hasFocus()) days_->setValue(card.valid_days);
}

}  // namespace rt
