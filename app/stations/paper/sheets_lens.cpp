#include "sheets_lens.h"

#include "cloth_drawing.h"
#include "look.h"

namespace rt {

void SheetsLens::show(const std::vector<TemplateTile>& tiles) {
  tiles_ = tiles;
}

void SheetsLens::paint(QPainter& p, const Eye& eye) {
  if (desk_.layout().stitches.empty()) return;
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  for (const TemplateTile& t : tiles_) {
    Box window = t.window;
    if (t.mirrored) window = {-window.right, window.top, -window.left, window.bottom};
    p.setBrush(QColor(255, 255, 255, 70));
    p.setPen(linePen(look::colours().accent, 1.4, Qt::DashLine));
    p.drawRect(eye.px(window));
    drawLabel(p, eye.px(window).topLeft() + QPointF(8, 8),
              QObject::tr("Sheet %1.%2").arg(t.column).arg(t.row), look::colours().accent);
  }
  drawCross(p, eye.px(Point{0, 0}), 14, look::colours().ink);
  p.restore();
}

}  // namespace rt
