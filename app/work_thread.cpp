#include "work_thread.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include "verdicts.h"

namespace rt {

WorkThread::WorkThread(const VerdictBoard& board, QWidget* parent)
    : QWidget(parent), board_(board) {
  setFixedWidth(look::kThreadWidth);
  setFocusPolicy(Qt::TabFocus);
  setAccessibleName(tr("Stations"));
  setObjectName(QStringLiteral("workThread"));
  connect(&board, &VerdictBoard::changed, this, qOverload<>(&QWidget::update));
}

void WorkThread::setStation(Station station) {
  station_ = station;
  setAccessibleDescription(tr("%1 is open").arg(nameOf(station)));
  update();
}

QRect WorkThread::knotRect(Station station) const {
  const double step = std::min(84.0, (height() - 16) / static_cast<double>(kStations));
  const int i = static_cast<int>(station);
  return {6, 8 + static_cast<int>(i * step), width() - 12, static_cast<int>(step) - 6};
}

void WorkThread::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), look::colours().panel);
  p.setPen(QPen(look::colours().line, 1));
  p.drawLine(width() - 1, 0, width() - 1, height());
  const double x = width() / 2.0;
  // the thread: dashes like a running stitch
  p.setPen(QPen(look::isDark() ? QColor(0x5f, 0x9a, 0x9c) : QColor(0x83, 0xb5, 0xb7), 3,
                Qt::CustomDashLine, Qt::RoundCap));
  QPen thread = p.pen();
  thread.setDashPattern({2.4, 2.2});
  p.setPen(thread);
  for (int i = 0; i + 1 < kStations; ++i) {
    const QRect a = knotRect(static_cast<Station>(i)), b = knotRect(static_cast<Station>(i + 1));
    p.drawLine(QPointF(x, a.bottom() - 1), QPointF(x, b.top() + 6));
  }
  for (int i = 0; i < kStations; ++i) {
    const auto station = static_cast<Station>(i);
    const QRect box = knotRect(station);
    const bool here = station == station_;
    if (here) {
      p.setPen(QPen(look::colours().accent, hasFocus() ? 2.5 : 1.4));
      p.setBrush(look::colours().cloth);
      p.drawRoundedRect(box, 12, 12);
    }
    const double knot = std::min(24.0, box.height() * 0.36);
    look::drawState(p, QRectF(x - knot / 2, box.top() + 7, knot, knot), board_.of(station).state);
    p.setPen(look::colours().ink);
    p.setFont(look::text(9.5, here));
    p.drawText(QRectF(box.left(), box.top() + 8 + knot, box.width(), box.height() - knot - 9),
               Qt::AlignHCenter | Qt::AlignVCenter, nameOf(station));
    p.setPen(look::colours().quiet);
    p.setFont(look::text(8));
    p.drawText(QRectF(box.right() - 16, box.top() + 3, 12, 14), Qt::AlignRight,
               QString::number(i + 1));
  }
}

void WorkThread::mousePressEvent(QMouseEvent* event) {
  for (int i = 0; i < kStations; ++i)
    if (knotRect(static_cast<Station>(i)).contains(event->pos()))
      emit chosen(static_cast<Station>(i));
}

void WorkThread::keyPressEvent(QKeyEvent* event) {
  const int by = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
  if (by == 0) return QWidget::keyPressEvent(event);
  emit chosen(static_cast<Station>(std::clamp(static_cast<int>(station_) + by, 0, kStations - 1)));
}

bool WorkThread::event(QEvent* event) {
  if (event->type() != QEvent::ToolTip) return QWidget::event(event);
  const auto* help = static_cast<QHelpEvent*>(event);
  for (int i = 0; i < kStations; ++i) {
    const auto station = static_cast<Station>(i);
    if (!knotRect(station).contains(help->pos())) continue;
    const StationVerdict& v = board_.of(station);
    QToolTip::showText(
        help->globalPos(),
        tr("%1 (%2): %3. %4").arg(nameOf(station)).arg(i + 1).arg(look::nameOf(v.state), v.word),
        this);
  }
  return true;
}

}  // namespace rt
