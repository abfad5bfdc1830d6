#include "machine_lens.h"

#include "cloth_drawing.h"
#include "look.h"

namespace rt {

void MachineLens::paint(QPainter& p, const Eye& eye) {
  const PlanSetting* s = desk_.currentSetting();
  if (!s) return;
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(look::colours().accent, 2));
  p.setBrush(Qt::NoBrush);
  p.drawRoundedRect(eye.px(s->field.box), 10, 10);
  p.setPen(QPen(look::colours().quiet, 1, Qt::DashLine));
  p.drawRect(eye.px(threadBounds(s->pattern)));
  p.setRenderHint(QPainter::Antialiasing, false);
}

}  // namespace rt
