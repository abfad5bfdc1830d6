#include "command_field.h"

#include <QKeyEvent>

#include "look.h"

namespace rt {

CommandField::CommandField(std::function<std::vector<Command>()> offers, QWidget* parent)
    : QLineEdit(parent),
      offers_(std::move(offers)),
      list_(new QListWidget(parent ? parent->window() : nullptr)) {
  setPlaceholderText(tr("Find a piece, a hooping, an action   Ctrl K"));
  setAccessibleName(tr("Find anything"));
  setObjectName(QStringLiteral("commandField"));
  setToolTip(tr("Type a few letters of what you want (Ctrl+K)"));
  setFocusPolicy(Qt::ClickFocus);
  list_->setObjectName(QStringLiteral("commandList"));
  list_->setFocusPolicy(Qt::NoFocus);
  list_->setStyleSheet(
      QStringLiteral("QListWidget{background:%1;border:1px solid "
                     "%2;border-radius:8px;padding:4px}QListWidget::item{padding:6px "
                     "8px;border-radius:6px}QListWidget::item:selected{background:%3;color:%4}")
          .arg(look::colours().raised.name(), look::colours().line.name(),
               look::colours().accentSoft.name(), look::colours().ink.name()));
  list_->hide();
  connect(this, &QLineEdit::textChanged, this, &CommandField::filter);
  connect(list_, &QListWidget::itemClicked, this, [this] { runCurrent(); });
}

void CommandField::open() {
  setFocus(Qt::ShortcutFocusReason);
  selectAll();
}

void CommandField::focusInEvent(QFocusEvent* event) {
  QLineEdit::focusInEvent(event);
  commands_ = offers_();
  filter();
}

void CommandField::focusOutEvent(QFocusEvent* event) {
  QLineEdit::focusOutEvent(event);
  list_->hide();
  clear();
}

void CommandField::filter() {
  if (!hasFocus()) return;
  list_->clear();
  const QStringList words = text().toLower().split(' ', Qt::SkipEmptyParts);
  for (size_t i = 0; i < commands_.size(); ++i) {
    const QString name = commands_[i].name.toLower();
    if (!std::all_of(words.begin(), words.end(),
                     [&](const QString& w) { return name.contains(w); }))
      continue;
    auto* item = new QListWidgetItem(commands_[i].hint.isEmpty()
                                         ? commands_[i].name
                                         : commands_[i].name + "   " + commands_[i].hint,
                                     list_);
    item->setData(Qt::UserRole, static_cast<int>(i));
  }
  list_->setCurrentRow(0);
  const QPoint at =
      mapTo(list_->parentWidget() ? list_->parentWidget() : this, QPoint(0, height() + 4));
  list_->setGeometry(at.x(), at.y(), std::max(width(), 360),
                     std::clamp(list_->count() * 34 + 12, 46, 420));
  list_->setVisible(list_->count() > 0);
  list_->raise();
}

void CommandField::runCurrent() {
  const QListWidgetItem* item = list_->currentItem();
  if (!item) return;
  const auto run = commands_[static_cast<size_t>(item->data(Qt::UserRole).toInt())].run;
  clearFocus();
  if (parentWidget()) parentWidget()->setFocus();
  run();
}

void CommandField::keyPressEvent(QKeyEvent* event) {
  const int row = list_->currentRow();
  switch (event->key()) {
    case Qt::Key_Down:
      list_->setCurrentRow(std::min(row + 1, list_->count() - 1));
      return;
    case Qt::Key_Up:
      list_->setCurrentRow(std::max(row - 1, 0));
      return;
    case Qt::Key_Return:
    case Qt::Key_Enter:
      runCurrent();
      return;
    case Qt::Key_Escape:
      clearFocus();
      return;
    default:
      QLineEdit::keyPressEvent(event);
  }
}

}  // namespace rt
