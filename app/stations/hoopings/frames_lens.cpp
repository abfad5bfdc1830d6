#include "frames_lens.h"

#include "cloth_drawing.h"
#include "fields.h"
#include "look.h"
#include "verdicts.h"

namespace rt {

void FramesLens::paint(QPainter& p, const Eye& eye) {
  const HoopingPlan* plan = desk_.plan();
  if (!plan) return;
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  if (!desk_.planCurrent()) p.setOpacity(0.45);
  for (const Hooping& h : plan->hoopings) {
    const bool here = h.index == desk_.hooping();
    QColor soft = look::colours().accent;
    soft.setAlpha(here ? 34 : 12);
    p.setBrush(soft);
    p.setPen(
        linePen(look::colours().accent, here ? 2.4 : 1.3, here ? Qt::SolidLine : Qt::DashLine));
    p.drawRoundedRect(eye.px(h.field), 10, 10);
  }
  for (const Seam& s : plan->seams)
    drawLabel(p, eye.px(s.at) + QPointF(-26, -10), QString("± %1 mm").arg(s.error_mm, 0, 'f', 2),
              look::colours().ink, false);
  for (const Hooping& h : plan->hoopings) {
    const QRectF box = eye.px(h.field);
    // in the outer corner, where the fewest other fields lie
    const QString words = QObject::tr("Hooping %1 · %2 st").arg(h.index).arg(grouped(h.stitches));
    p.setFont(look::text(9, true));
    const double wide = p.fontMetrics().horizontalAdvance(words) + 14;
    const QPointF at(h.field.centre().x > 0.5 ? box.right() - wide - 8 : box.left() + 8,
                     h.field.centre().y > 0.5 ? box.bottom() - 32 : box.top() + 8);
    drawLabel(p, at, words,
              h.index == desk_.hooping() ? look::colours().accent : look::colours().quiet);
  }
  for (const Hooping& h : plan->hoopings)
    for (const PlanMark& m : h.marks) {
      drawCross(p, eye.px(m.at), std::max(6.0, 4 * eye.px_per_mm), look::colours().stop);
      p.setFont(look::text(8.5, true));
      p.setPen(look::colours().stop);
      p.drawText(eye.px(m.at) + QPointF(8, 16), QString::fromStdString(m.id));
    }
  p.restore();
}

}  // namespace rt
