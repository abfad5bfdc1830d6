#include "fields.h"

#include "error.h"
#include "look.h"

namespace rt {

LengthEdit::LengthEdit(const QString& name, QWidget* parent)
    : QWidget(parent), line_(new QLineEdit), other_(new QLabel) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(1);
  layout->addWidget(line_);
  layout->addWidget(other_);
  line_->setAccessibleName(name);
  line_->setToolTip(
      tr("%1: type 104 mm, 4.1 in, 7 3/8 in or a sum like 7 3/8 in - 2 mm").arg(name));
  other_->setFont(look::figures(8.5));
  setFocusProxy(line_);
  connect(line_, &QLineEdit::editingFinished, this, &LengthEdit::read);
}

void LengthEdit::setValue_mm(double mm, bool inches) {
  value_ = mm;
  inches_ = inches;
  const QString metric = QString::fromStdString(formatMillimetres(mm, 2)),
                imperial = QString::fromStdString(formatInches(mm));
  shown_ = inches ? imperial : metric;
  line_->setText(shown_);
  line_->setModified(false);
  other_->setText(inches ? metric : imperial);
  QPalette p = other_->palette();
  p.setColor(QPalette::WindowText, look::colours().quiet);
  other_->setPalette(p);
}

/// A sum that goes on from what is shown goes on from the value itself, not from its rounded
/// picture.
double LengthEdit::understood_mm() const {
  const Unit unit = inches_ ? Unit::Inch : Unit::Millimetre;
  QString typed = line_->text().trimmed();
  const QString rest = typed.startsWith(shown_) ? typed.mid(shown_.size()).trimmed() : QString();
  if (!shown_.isEmpty() && typed == shown_) return value_;
  if (!rest.isEmpty() && QStringLiteral("+-−").contains(rest[0]))
    return value_ + parseLength_mm(rest.toStdString(), unit);
  typed.remove(QStringLiteral("≈"));
  return parseLength_mm(typed.toStdString(), unit);
}

void LengthEdit::read() {
  if (!line_->isModified()) return;
  line_->setModified(false);
  try {
    const double mm = understood_mm();
    if (std::abs(mm) > 100000) throw Error("too long", "", "");
    setValue_mm(mm, inches_);
    emit edited(mm);
  } catch (const Error&) {
    other_->setText(tr("not a length: try 7 3/8 in"));
    QPalette p = other_->palette();
    p.setColor(QPalette::WindowText, look::colours().stop);
    other_->setPalette(p);
  }
}

QLabel* heading(const QString& text) {
  auto* label = new QLabel(text.toUpper());
  QFont font = look::text(8.5, true);
  font.setLetterSpacing(QFont::PercentageSpacing, 106);
  label->setFont(font);
  label->setStyleSheet(QStringLiteral("color:%1").arg(look::colours().quiet.name()));
  return label;
}

QLabel* paragraph(const QString& text, bool quiet) {
  auto* label = new QLabel(text);
  label->setWordWrap(true);
  label->setFont(look::text(quiet ? 9 : 10));
  if (quiet) label->setStyleSheet(QStringLiteral("color:%1").arg(look::colours().quiet.name()));
  return label;
}

QLabel* caution(const QString& text) {
  auto* label = paragraph(text);
  label->setFont(look::text(9));
  label->setStyleSheet(QStringLiteral("border-left:4px solid %1;padding:4px 8px;background:%2")
                           .arg(look::colours().check.name(), look::colours().cloth.name()));
  label->setAccessibleName(QObject::tr("Caution"));
  return label;
}

QPushButton* button(const QString& text, const QString& tip, bool primary) {
  auto* b = new QPushButton(text);
  b->setToolTip(tip);
  b->setAccessibleName(text);
  b->setProperty("primary", primary);
  return b;
}

QWidget* labelled(const QString& text, QWidget* field) {
  auto* box = new QWidget;
  auto* layout = new QVBoxLayout(box);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(2);
  auto* label = new QLabel(text);
  label->setFont(look::text(9));
  label->setBuddy(field);
  if (auto* combo =
          qobject_cast<QComboBox*>(field)) {  // long entries must not push their neighbour out
    combo->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    combo->setMinimumContentsLength(6);
  }
  layout->addWidget(label);
  layout->addWidget(field);
  if (field->accessibleName().isEmpty()) field->setAccessibleName(text);
  return box;
}

void clear(QLayout& layout) {
  while (QLayoutItem* item = layout.takeAt(0)) {
    if (item->widget()) {
      item->widget()->hide();
      item->widget()->deleteLater();
    }
    delete item;
  }
}

QString counted(size_t n, const QString& one, const QString& many) {
  return QString("%1 %2").arg(n).arg(n == 1 ? one : many);
}

QWidget* pair(QWidget* left, QWidget* right) {
  auto* box = new QWidget;
  auto* layout = new QHBoxLayout(box);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(8);
  layout->addWidget(left, 1, Qt::AlignTop);
  layout->addWidget(right, 1, Qt::AlignTop);
  return box;
}

}  // namespace rt
