#include "piece_list.h"

#include <QMouseEvent>
#include <QPainter>
#include <QStyledItemDelegate>

#include "density_words.h"
#include "look.h"
#include "thread_picker.h"
#include "thread_picture.h"
#include "verdicts.h"

namespace rt {
namespace {

constexpr int kRow = 54;
constexpr int kChip = 16, kChips = 4;  // threads of a piece that are shown as chips
constexpr int kSign = 30;              // room of its verdict's sign at the right
enum Role { kPicture = Qt::UserRole + 1, kDetail, kWorst, kId, kChosen, kThreads };

/// Where a piece's thread stands in its row, counted from the right.
QRect chipBox(const QRect& row, int from_right) {
  return {row.right() - kSign - (from_right + 1) * (kChip + 3), row.top() + 9, kChip, 13};
}

/// The first few threads that a piece is sewn in, in their order.
QVariantList threadsOf(const Piece& piece) {
  QVariantList out;
  for (const Stitch& s : piece.stitches->stitches) {
    const QVariant rgb = piece.stitches->colourOf(s).rgb;
    if (s.op == Op::Stitch && out.size() < kChips && !out.contains(rgb)) out.append(rgb);
  }
  return out;
}

class PieceDelegate : public QStyledItemDelegate {
 public:
  using QStyledItemDelegate::QStyledItemDelegate;
  QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override {
    return {200, kRow};
  }
  void paint(QPainter* p, const QStyleOptionViewItem& option,
             const QModelIndex& index) const override {
    p->save();
    p->setRenderHint(QPainter::Antialiasing);
    const QRectF box = QRectF(option.rect).adjusted(1, 2, -1, -2);
    const bool chosen = option.state & QStyle::State_Selected || index.data(kChosen).toBool();
    p->setPen(chosen ? QPen(look::colours().accent, 1.5) : Qt::NoPen);
    p->setBrush(chosen ? look::colours().cloth : look::colours().panel);
    p->drawRoundedRect(box, 8, 8);
    const QImage picture = index.data(kPicture).value<QImage>();
    p->drawImage(QPointF(box.left() + 6, box.top() + 3), picture);
    const double left = box.left() + 78, width = box.width() - 106;
    const QVariantList threads = index.data(kThreads).toList();
    const double named =
        chipBox(option.rect, static_cast<int>(threads.size()) - 1).left() - left - 6;
    p->setPen(look::colours().ink);
    p->setFont(look::text(10, true));
    p->drawText(QRectF(left, box.top() + 5, named, 18), Qt::AlignVCenter,
                p->fontMetrics().elidedText(index.data().toString(), Qt::ElideRight,
                                            static_cast<int>(named)));
    p->setPen(look::colours().quiet);
    p->setFont(look::figures(9));
    p->drawText(QRectF(left, box.top() + 25, width + 20, 18), Qt::AlignVCenter,
                p->fontMetrics().elidedText(index.data(kDetail).toString(), Qt::ElideRight,
                                            static_cast<int>(width + 20)));
    for (int i = 0; i < threads.size(); ++i) {
      const auto k = static_cast<int>(threads.size()) - 1 - i;
      p->setPen(QPen(look::colours().line.darker(115), 1));
      p->setBrush(QColor(QRgb(0xff000000u | threads[i].toUInt())));
      p->drawRoundedRect(QRectF(chipBox(option.rect, k)).adjusted(0.5, 0.5, -0.5, -0.5), 5, 5);
    }
    const int worst = index.data(kWorst).toInt();
    if (worst > 0)
      look::drawState(*p, QRectF(box.right() - 26, box.top() + 6, 18, 18),
                      worst == 2 ? look::State::Stop : look::State::Check);
    p->restore();
  }
};

}  // namespace

PieceList::PieceList(Desk& desk) : desk_(desk) {
  setObjectName(QStringLiteral("pieceList"));
  setAccessibleName(tr("Pieces in sewing order"));
  setItemDelegate(new PieceDelegate(this));
  setToolTip(
      tr("Drag a piece to sew it earlier or later; with Shift even where it then covers "
         "what lay on it. Shift and a click chooses more; a click on a thread gives another"));
  connect(this, &DragList::rowMoved, this, [this](int from, int to, bool on_purpose) {
    emit dragged(item(from)->data(kId).toInt(), to, on_purpose);
  });
  connect(this, &QListWidget::currentRowChanged, this, [this](int row) {
    if (row >= 0) desk_.select(item(row)->data(kId).toInt());
  });
}

void PieceList::mousePressEvent(QMouseEvent* event) {
  const QListWidgetItem* under = itemAt(event->position().toPoint());
  if (under && event->button() == Qt::LeftButton && event->modifiers() & Qt::ShiftModifier)
    return desk_.selectAlso(under->data(kId).toInt());
  DragList::mousePressEvent(event);
}

void PieceList::mouseReleaseEvent(QMouseEvent* event) {
  DragList::mouseReleaseEvent(event);
  const QListWidgetItem* under = itemAt(event->position().toPoint());
  if (!under || event->button() != Qt::LeftButton) return;
  const QVariantList threads = under->data(kThreads).toList();
  for (int i = 0; i < threads.size(); ++i)
    if (chipBox(visualItemRect(under), static_cast<int>(threads.size()) - 1 - i)
            .contains(event->position().toPoint()))
      ThreadPicker::open(this, desk_, Colour{threads[i].toUInt()}, under->data(kId).toInt());
}

QImage PieceList::pictureFor(const Piece& piece) {
  Kept& kept = pictures_[piece.id];
  if (kept.stitches != piece.stitches)
    kept = {piece.stitches, pictureOf(*piece.stitches, QSize(66, 44), devicePixelRatioF())};
  return kept.picture;
}

void PieceList::refresh() {
  const QSignalBlocker block(this);
  clear();
  for (const Piece& piece : desk_.job().pieces) {
    auto* item = new QListWidgetItem(QString::fromStdString(piece.name), this);
    const rt::Box box = boundsOf(piece);  // QFrame has a Box of its own
    size_t stitches = 0;
    for (const Stitch& s : piece.stitches->stitches) stitches += s.op == Op::Stitch;
    item->setData(kPicture, pictureFor(piece));
    item->setData(kDetail, tr("%1 × %2 · %3 st")
                               .arg(oneUnit(desk_, box.width()), oneUnit(desk_, box.height()),
                                    grouped(stitches)));
    item->setData(kThreads, threadsOf(piece));
    item->setData(kId, piece.id);
    item->setData(kChosen, desk_.isChosen(piece.id));
    int worst = 0;
    if (desk_.weighing() && desk_.weighingCurrent())
      for (const Finding& f : desk_.weighing()->report.findings)
        if (std::find(f.cause.pieces.begin(), f.cause.pieces.end(), piece.name) !=
            f.cause.pieces.end()) {
          if (static_cast<int>(f.severity) > worst)
            item->setToolTip(QString::fromStdString(inWords(f)));  // what is wrong with it
          worst = std::max(worst, static_cast<int>(f.severity));
        }
    item->setData(kWorst, worst);
    if (piece.id == desk_.selected()) setCurrentItem(item);
  }
  // it gives way to the tool under it, down to the row that is chosen
  setMinimumHeight(kRow + 4);
  setMaximumHeight(std::max(1, static_cast<int>(count())) * kRow + 4);
  if (currentItem()) scrollToItem(currentItem());
}

}  // namespace rt
