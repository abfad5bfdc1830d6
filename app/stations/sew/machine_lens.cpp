#include "machine_lens.h"

#include "cloth_drawing.h"
#include "look.h"

namespace rt {

void MachineLens::paint(QPainter& p, const Eye& eye) {
  const Hooping* h = desk_.currentHooping();
  if (!h) return;
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(look::colours().accent, 2));
  p.setBrush(Qt::NoBrush);
  p.drawRoundedRect(eye.px(h->field), 10, 10);
  p.setPen(QPen(look::colours().quiet, 1, Qt::DashLine));
  p.drawRect(eye.px(threadBounds(h->pattern)));
  p.setRenderHint(QPainter::Antialiasing, false);
}

}  // namespace rt
