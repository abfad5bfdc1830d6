#include "spool_row.h"

#include <QHelpEvent>
#include <QPainter>
#include <QToolTip>

#include "look.h"
#include "verdicts.h"

namespace rt {
namespace {

constexpr int kWide = 48, kHigh = 58;

}  // namespace

SpoolRow::SpoolRow(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("spools"));
  setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
}

int SpoolRow::columns() const {
  return std::max(1, (width() > 0 ? width() : look::kPanelWidth - 40) / kWide);
}

QRect SpoolRow::boxOf(size_t i) const {
  const int k = static_cast<int>(i), n = columns();
  return {k % n * kWide, k / n * kHigh, kWide, kHigh};
}

QSize SpoolRow::sizeHint() const {
  constexpr int kColumns = (look::kPanelWidth - 40) / kWide;
  const int rows = (static_cast<int>(spools_.size()) + kColumns - 1) / kColumns;
  return {kColumns * kWide, rows * kHigh};
}

void SpoolRow::setSpools(std::vector<Spool> spools) {
  spools_ = std::move(spools);
  QStringList names;
  for (const Spool& s : spools_) names << s.name;
  setAccessibleName(tr("Threads: %1").arg(names.join(QStringLiteral(", "))));
  updateGeometry();
  update();
}

void SpoolRow::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  for (size_t i = 0; i < spools_.size(); ++i) {
    const Spool& s = spools_[i];
    const QRectF box = boxOf(i);
    const QColor thread(QRgb(0xff000000u | s.colour.rgb));
    const QRectF body(box.left() + 12, box.top() + 8, 24, 24);
    p.setPen(Qt::NoPen);
    p.setBrush(look::colours().line);
    p.drawRoundedRect(QRectF(body.left() - 4, body.top() - 5, 32, 5), 2, 2);
    p.drawRoundedRect(QRectF(body.left() - 4, body.bottom(), 32, 5), 2, 2);
    p.setBrush(thread);
    p.drawRect(body);
    p.setPen(QPen(thread.darker(125), 1));
    for (int y = 3; y < 24; y += 4)
      p.drawLine(QPointF(body.left(), body.top() + y + 2),
                 QPointF(body.right(), body.top() + y - 1));
    if (s.at_work) {
      p.setPen(QPen(look::colours().accent, 2));
      p.setBrush(Qt::NoBrush);
      p.drawRoundedRect(box.adjusted(3, 0, -3, -1), 6, 6);
    }
    if (s.needle >= 0) {
      p.setFont(look::figures(8.5, true));
      p.setPen(thread.lightnessF() > 0.55 ? QColor(Qt::black) : QColor(Qt::white));
      p.drawText(body, Qt::AlignCenter, QString::number(s.needle + 1));
    }
    p.setFont(look::figures(8));
    p.setPen(look::colours().quiet);
    p.drawText(QRectF(box.left(), body.bottom() + 5, box.width(), 16), Qt::AlignCenter,
               s.seconds < 1 ? tr("done") : duration(s.seconds));
  }
}

void SpoolRow::mouseReleaseEvent(QMouseEvent* event) {
  for (size_t i = 0; i < spools_.size(); ++i)
    if (boxOf(i).contains(event->position().toPoint())) {
      const Colour colour = spools_[i].colour;  // the spools may be others by the answer
      return emit chosen(colour);
    }
}

bool SpoolRow::event(QEvent* event) {
  if (event->type() != QEvent::ToolTip) return QWidget::event(event);
  auto* help = static_cast<QHelpEvent*>(event);
  for (size_t i = 0; i < spools_.size(); ++i)
    if (boxOf(i).contains(help->pos())) {
      QToolTip::showText(help->globalPos(), spools_[i].name + '\n' + spools_[i].details, this);
      return true;
    }
  QToolTip::hideText();
  return true;
}

}  // namespace rt
