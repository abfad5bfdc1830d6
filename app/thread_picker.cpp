#include "thread_picker.h"

#include <QCursor>
#include <QScreen>

#include "actions.h"
#include "desk.h"
#include "fields.h"
#include "look.h"
#include "machine_now.h"
#include "station.h"
#include "thread_shelf.h"

namespace rt {
namespace {

constexpr int kWide = 320, kRow = 32, kRowsSeen = 8;
constexpr double kHardlySeen = 1;  // CIEDE2000

}  // namespace

QIcon threadChip(Colour colour) {
  QPixmap chip(22, 14);
  chip.fill(Qt::transparent);
  QPainter p(&chip);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(look::colours().line.darker(115), 1));
  p.setBrush(QColor(QRgb(0xff000000u | colour.rgb)));
  p.drawRoundedRect(QRectF(0.5, 0.5, 21, 13), 5, 5);
  p.end();
  QIcon icon(chip);
  icon.addPixmap(chip, QIcon::Selected);  // a chosen thread keeps its colour
  return icon;
}

ThreadPicker* ThreadPicker::open(QWidget* by, Desk& desk, Colour colour, std::optional<int> piece) {
  auto* picker = new ThreadPicker(by->window(), desk, colour, piece);
  picker->adjustSize();
  const QRect around(by->mapToGlobal(QPoint(0, 0)), by->size());
  QPoint at = around.contains(QCursor::pos()) ? QCursor::pos() + QPoint(8, 8) : around.bottomLeft();
  const QRect room = by->screen()->availableGeometry();
  at.setX(std::clamp(at.x(), room.left(), std::max(room.left(), room.right() - picker->width())));
  at.setY(std::clamp(at.y(), room.top(), std::max(room.top(), room.bottom() - picker->height())));
  picker->move(at);
  picker->show();
  picker->sought_->setFocus();
  return picker;
}

ThreadPicker::ThreadPicker(QWidget* by, Desk& desk, Colour colour, std::optional<int> piece)
    : QFrame(by, Qt::Popup),
      desk_(desk),
      colour_(colour),
      piece_(piece),
      sought_(new QLineEdit),
      list_(new QListWidget),
      alone_(new QCheckBox) {
  setAttribute(Qt::WA_DeleteOnClose);
  setObjectName(QStringLiteral("threadPicker"));
  setFrameShape(QFrame::StyledPanel);
  setAutoFillBackground(true);
  setFixedWidth(kWide);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(12, 12, 12, 12);
  column->setSpacing(8);
  column->addWidget(heading(tr("Another thread for %1").arg(threadName(desk_, colour_))));
  sought_->setObjectName(QStringLiteral("threadSought"));
  sought_->setPlaceholderText(tr("Name, code or #2f5d50"));
  sought_->setAccessibleName(tr("Name or code of a thread"));
  list_->setObjectName(QStringLiteral("threadChoices"));
  list_->setAccessibleName(tr("Threads of the shop"));
  list_->setIconSize({22, 14});
  list_->setFixedHeight(kRowsSeen * kRow + 4);
  list_->setFrameShape(QFrame::NoFrame);
  alone_->setObjectName(QStringLiteral("threadAlone"));
  alone_->setText(scopeWords());
  column->addWidget(sought_);
  column->addWidget(list_);
  column->addWidget(alone_);
  if (!piece_) alone_->hide();
  sought_->installEventFilter(this);
  connect(sought_, &QLineEdit::textChanged, this, &ThreadPicker::list);
  connect(list_, &QListWidget::itemClicked, this, &ThreadPicker::take);
  connect(list_, &QListWidget::itemActivated, this, &ThreadPicker::take);
  list();
}

QString ThreadPicker::scopeWords() const {
  for (const Piece& p : desk_.job().pieces)
    if (piece_ && p.id == *piece_)
      return tr("In %1 alone; else all that is sewn in it")
          .arg(QString::fromStdString(p.name).left(30));
  return {};
}

/// Threads whose name or code has what is typed, the nearest first; a colour stands for itself.
void ThreadPicker::list() {
  list_->clear();
  const QString sought = sought_->text().trimmed();
  const auto add = [&](Colour colour, const QString& words) {
    auto* item = new QListWidgetItem(threadChip(colour), words, list_);
    item->setData(Qt::UserRole, colour.rgb);
    item->setSizeHint({100, kRow});
  };
  if (const auto typed = Colour::parsed(sought.toLower().toStdString())) {
    add(*typed, tr("%1, as it is").arg(sought.toLower()));
  } else {
    for (const ShelfMatch& m : byNearness(desk_.bench().shop.threads, colour_)) {
      const QString code = QString::fromStdString(m.thread->code),
                    name = QString::fromStdString(m.thread->name);
      if (!name.contains(sought, Qt::CaseInsensitive) &&
          !code.contains(sought, Qt::CaseInsensitive))
        continue;
      add(m.thread->colour,
          m.difference < kHardlySeen
              ? tr("%1 %2 · the same to the eye").arg(code, name)
              : tr("%1 %2 · differs by %3").arg(code, name).arg(m.difference, 0, 'f', 0));
    }
  }
  if (list_->count() == 0) new QListWidgetItem(tr("No thread of the shop is called so."), list_);
  list_->setCurrentRow(0);
}

void ThreadPicker::take(QListWidgetItem* item) {
  if (!item || !item->data(Qt::UserRole).isValid()) return;
  const Colour to{item->data(Qt::UserRole).toUInt()};
  const auto piece = alone_->isChecked() ? piece_ : std::nullopt;
  close();
  if (to == colour_) return;
  guarded(desk_, [&] {
    desk_.change(tr("%1 for %2").arg(threadName(desk_, to), threadName(desk_, colour_)),
                 actions::threadedAs(desk_.job(), colour_, to, piece));
  });
}

bool ThreadPicker::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() != QEvent::KeyPress) return QFrame::eventFilter(watched, event);
  const int key = static_cast<QKeyEvent*>(event)->key();
  if (key == Qt::Key_Return || key == Qt::Key_Enter) {
    take(list_->currentItem());
    return true;
  }
  const int by = key == Qt::Key_Down ? 1 : key == Qt::Key_Up ? -1 : 0;
  if (by == 0) return QFrame::eventFilter(watched, event);
  list_->setCurrentRow(std::clamp(list_->currentRow() + by, 0, list_->count() - 1));
  return true;
}

}  // namespace rt
