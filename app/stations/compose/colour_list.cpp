#include "colour_list.h"

#include "actions.h"
#include "making_words.h"
#include "thread_picker.h"
#include "thread_shelf.h"

namespace rt {
namespace {

constexpr int kRow = 34, kRowsSeen = 6;

}  // namespace

ColourList::ColourList(Desk& desk)
    : desk_(desk),
      head_(heading({})),
      state_(paragraph({}, true)),
      list_(new DragList),
      back_(button(tr("As the pieces come"), tr("Take the order of colours by hand back"))) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(4);
  list_->setObjectName(QStringLiteral("colourList"));
  list_->setAccessibleName(tr("Colours in sewing order"));
  list_->setToolTip(
      tr("Drag a colour to sew it earlier or later, or Alt and an arrow; click its thread, or "
         "press Enter, for another thread"));
  list_->setIconSize({22, 14});
  const look::Palette& c = look::colours();
  list_->setStyleSheet(
      QStringLiteral("QListWidget{background:transparent}"
                     "QListWidget::item{border:1.5px solid transparent;border-radius:8px}"
                     "QListWidget::item:selected{background:%1;color:%2;border-color:%3}")
          .arg(c.cloth.name(), c.ink.name(), c.accent.name()));
  back_->setObjectName(QStringLiteral("coloursAsTheyCome"));
  column->addWidget(head_);
  column->addWidget(list_);
  column->addWidget(state_);
  column->addWidget(back_);
  connect(list_, &DragList::rowMoved, this, &ColourList::moveRun, Qt::QueuedConnection);
  connect(list_, &DragList::iconClicked, this, [this](int row) {
    if (row < static_cast<int>(runs_.size()))
      ThreadPicker::open(this, desk_, runs_[static_cast<size_t>(row)].colour, std::nullopt);
  });
  connect(back_, &QPushButton::clicked, this, &ColourList::asTheyCome);
}

void ColourList::moveRun(int from, int to) {
  const int n = static_cast<int>(runs_.size());
  if (from < 0 || from >= n || to < 0 || to >= n || from == to) return;
  std::vector<Colour> wish;
  for (const ColourRun& r : runs_) wish.push_back(r.colour);
  const Colour moved = wish[static_cast<size_t>(from)];
  wish.erase(wish.begin() + from);
  wish.insert(wish.begin() + to, moved);
  wish.erase(std::unique(wish.begin(), wish.end()), wish.end());  // neighbours become one
  guarded(desk_, [&] {
    const HandOrder tried = coloursTried(desk_.job(), wish);
    if (tried.why) {
      shown_ = 0;
      refresh();
      return desk_.say(tr("Not moved: %1.").arg(QString::fromStdString(inWords(*tried.why))));
    }
    desk_.change(tr("order of colours"), actions::colouredAs(desk_.job(), wish));
    list_->setCurrentRow(std::min(to, list_->count() - 1));
  });
}

void ColourList::asTheyCome() {
  desk_.change(tr("colours as the pieces come"), actions::colouredAs(desk_.job(), {}));
}

void ColourList::refresh() {
  const std::vector<Colour>& wish = desk_.job().sequence.colours_by_hand;
  back_->setVisible(!wish.empty());
  state_->setVisible(!wish.empty());
  if (shown_ == desk_.layoutPrint() && wished_ == wish && list_->count() > 0) return;
  shown_ = desk_.layoutPrint();
  wished_ = wish;
  runs_ = colourRuns(desk_.layout());
  if (!wish.empty()) {  // pieces may have been moved over one another since it was given
    const auto why = coloursTried(desk_.job(), wish).why;
    state_->setText(
        why ? tr("Not quite in the order you gave: %1.").arg(QString::fromStdString(inWords(*why)))
            : tr("In the order you gave."));
  }
  setVisible(runs_.size() > 1);
  head_->setText(tr("%1 colours one after another").arg(runs_.size()).toUpper());
  const int kept = list_->currentRow();
  list_->clear();
  for (const ColourRun& r : runs_) {
    const auto known = nearestThread(desk_.bench().shop.threads, r.colour);
    const QString name = known && known->difference < 1
                             ? QString::fromStdString(known->thread->name)
                             : QString::fromStdString(r.colour.hex());
    const QString piece = QString::fromStdString(r.piece);
    auto* item = new QListWidgetItem(
        threadChip(r.colour),
        piece.isEmpty() ? tr("%1 · %2 st").arg(name, grouped(r.stitches))
                        : tr("%1 · %2 st · %3").arg(name, grouped(r.stitches), piece),
        list_);
    item->setSizeHint({200, kRow});
  }
  if (kept < list_->count()) list_->setCurrentRow(kept);
  list_->setFixedHeight(std::min(kRowsSeen, std::max(1, list_->count())) * kRow + 4);
}

}  // namespace rt
