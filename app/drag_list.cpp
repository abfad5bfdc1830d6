#include "drag_list.h"

#include <QDropEvent>
#include <QKeyEvent>
#include <QMouseEvent>

namespace rt {
namespace {

constexpr int kRoomAroundIcon = 12;

}  // namespace

DragList::DragList(QWidget* parent) : QListWidget(parent) {
  setFrameShape(QFrame::NoFrame);
  setStyleSheet(QStringLiteral("background:transparent"));
  setDragDropMode(QAbstractItemView::InternalMove);
  setDefaultDropAction(Qt::MoveAction);
  setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
}

void DragList::dropEvent(QDropEvent* event) {
  const QListWidgetItem* moved = currentItem();
  if (!moved || event->source() != this) return event->ignore();
  const QListWidgetItem* under = itemAt(event->position().toPoint());
  const int from = row(moved);
  int to = under ? row(under) : count() - 1;
  if (under && dropIndicatorPosition() == QAbstractItemView::BelowItem && to < from) ++to;
  if (under && dropIndicatorPosition() == QAbstractItemView::AboveItem && to > from) --to;
  event->setDropAction(Qt::IgnoreAction);
  event->accept();
  emit rowMoved(from, to, event->modifiers() & Qt::ShiftModifier);
}

/// The row whose picture lies there; -1: none.
int DragList::iconAt(QPoint at) const {
  const QListWidgetItem* under = itemAt(at);
  if (!under || under->icon().isNull()) return -1;
  const int left = visualItemRect(under).left();
  return at.x() >= left && at.x() < left + iconSize().width() + kRoomAroundIcon ? row(under) : -1;
}

void DragList::mousePressEvent(QMouseEvent* event) {
  pressed_ = event->button() == Qt::LeftButton ? iconAt(event->position().toPoint()) : -1;
  QListWidget::mousePressEvent(event);
}

void DragList::mouseReleaseEvent(QMouseEvent* event) {
  QListWidget::mouseReleaseEvent(event);
  const int pressed = std::exchange(pressed_, -1);
  if (pressed >= 0 && iconAt(event->position().toPoint()) == pressed) emit iconClicked(pressed);
}

void DragList::keyPressEvent(QKeyEvent* event) {
  if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) && currentRow() >= 0)
    return emit iconClicked(currentRow());
  const int by = event->key() == Qt::Key_Up ? -1 : event->key() == Qt::Key_Down ? 1 : 0;
  if (by == 0 || !(event->modifiers() & Qt::AltModifier)) return QListWidget::keyPressEvent(event);
  const int from = currentRow(), to = from + by;
  if (from >= 0 && to >= 0 && to < count())
    emit rowMoved(from, to, event->modifiers() & Qt::ShiftModifier);
}

}  // namespace rt
