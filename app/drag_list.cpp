#include "drag_list.h"

#include <QDropEvent>
#include <QKeyEvent>

namespace rt {

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

void DragList::keyPressEvent(QKeyEvent* event) {
  const int by = event->key() == Qt::Key_Up ? -1 : event->key() == Qt::Key_Down ? 1 : 0;
  if (by == 0 || !(event->modifiers() & Qt::AltModifier)) return QListWidget::keyPressEvent(event);
  const int from = currentRow(), to = from + by;
  if (from >= 0 && to >= 0 && to < count())
    emit rowMoved(from, to, event->modifiers() & Qt::ShiftModifier);
}

}  // namespace rt
