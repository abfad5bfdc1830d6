#include "frames_lens.h"

#include <QPainterPath>

#include "cloth_drawing.h"
#include "fields.h"
#include "look.h"
#include "verdicts.h"
#include "worst_seam.h"

namespace rt {
namespace {

constexpr double kNear_px = 14;

QPainterPath outlineOf(const PlacedField& field, const Eye& eye) {
  QPainterPath path;
  if (field.shape == HoopShape::Oval)
    path.addEllipse(eye.px(field.box));
  else
    path.addRoundedRect(eye.px(field.box), 10, 10);
  return path;
}

}  // namespace

void FramesLens::paint(QPainter& p, const Eye& eye) {
  const HoopingPlan* plan = desk_.plan();
  if (!plan) return;
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  if (!desk_.planCurrent()) p.setOpacity(0.45);
  frames(p, eye, *plan);
  asked(p, eye);
  seams(p, eye, *plan);
  marks(p, eye, *plan);
  labels(p, eye, *plan);
  if (hovered_ >= 0 && hovered_ < static_cast<int>(plan->seams.size())) {
    const Seam& s = plan->seams[static_cast<size_t>(hovered_)];
    drawCard(p, eye, eye.px(s.at), wordsOf(s, *plan));
  }
  p.restore();
}

/// Settings of one clamping share an outline around them.
void FramesLens::frames(QPainter& p, const Eye& eye, const HoopingPlan& plan) const {
  for (const Hooping& h : plan.hoopings) {
    const bool here = h.index == desk_.hooping();
    QPainterPath together;
    for (const PlanSetting& s : h.settings) {
      PlacedField field = s.field;
      const bool held = here && s.index == desk_.setting();
      if (held && dragged_) field.box = *dragged_;
      QColor soft = look::colours().accent;
      soft.setAlpha(held ? 40 : here ? 24 : 10);
      p.setBrush(soft);
      p.setPen(
          linePen(look::colours().accent, held ? 2.4 : 1.2, here ? Qt::SolidLine : Qt::DashLine));
      const QPainterPath outline = outlineOf(field, eye);
      p.drawPath(outline);
      together = together.united(outline);
    }
    if (h.settings.size() > 1) {
      p.setBrush(Qt::NoBrush);
      p.setPen(linePen(look::colours().accent, here ? 3.2 : 2));
      p.drawPath(together);
    }
    const bool pinned = std::any_of(
        desk_.job().plan_settings.pinned.begin(), desk_.job().plan_settings.pinned.end(),
        [&](const PinnedFrame& f) { return distance(f.origin, h.origin) < 0.01; });
    if (pinned) {  // corners of a field that is held in place
      const QRectF box = eye.px(h.settings.front().field.box);
      p.setPen(linePen(look::colours().ink, 3));
      for (QPointF c : {box.topLeft(), box.topRight(), box.bottomLeft(), box.bottomRight()}) {
        const QPointF in((box.center().x() > c.x() ? 1 : -1) * 14.0,
                         (box.center().y() > c.y() ? 1 : -1) * 14.0);
        p.drawLine(c, c + QPointF(in.x(), 0));
        p.drawLine(c, c + QPointF(0, in.y()));
      }
    }
  }
}

/// Lines along which a person wants pieces parted.
void FramesLens::asked(QPainter& p, const Eye& eye) const {
  int number = 0;
  for (const AskedCut& c : desk_.job().plan_settings.cuts) {
    const QPointF from = eye.px(c.from), to = eye.px(c.to);
    p.setPen(linePen(look::colours().ground, 4));
    p.drawLine(from, to);
    p.setPen(linePen(look::colours().ink, 2, Qt::DashDotLine));
    p.drawLine(from, to);
    drawLabel(p, from + QPointF(6, -10), QObject::tr("cut %1").arg(++number), look::colours().ink,
              false);
  }
}

/// A disc of the error's size at the worst place of each seam where thread meets.
void FramesLens::seams(QPainter& p, const Eye& eye, const HoopingPlan& plan) const {
  const double tolerance = desk_.job().tolerance_mm;
  for (const Cutting& c : plan.cuts) {
    if (c.stitches == 0) continue;
    p.setPen(linePen(look::colours().ink, 1.4, Qt::DotLine));
    p.setBrush(Qt::NoBrush);
    const double r = std::max(5.0, c.length_mm / 2 * eye.px_per_mm);
    p.drawEllipse(eye.px(c.at), std::min(r, 60.0), std::min(r, 60.0));
  }
  for (const Seam& s : plan.seams) {
    if (!s.meets) continue;
    QColor colour = look::colourOf(s.error_mm <= tolerance       ? look::State::Ready
                                   : s.error_mm <= 2 * tolerance ? look::State::Check
                                                                 : look::State::Stop);
    const double r = std::max(3.0, s.error_mm * enlarged_ * eye.px_per_mm);
    p.setPen(linePen(colour, 1.6));
    QColor soft = colour;
    soft.setAlpha(70);
    p.setBrush(soft);
    p.drawEllipse(eye.px(s.at), r, r);
  }
  // the worst one says its figure; the others when the pointer is over them
  if (const Seam* worst = worstSeam(plan))
    drawLabel(p, eye.px(worst->at) + QPointF(8, -24),
              QObject::tr("worst seam ± %1 mm").arg(worst->error_mm, 0, 'f', 2),
              look::colours().ink, false);
}

void FramesLens::labels(QPainter& p, const Eye& eye, const HoopingPlan& plan) const {
  for (const Hooping& h : plan.hoopings)
    for (const PlanSetting& s : h.settings) {
      const QRectF box = eye.px(s.field.box);
      const bool here = h.index == desk_.hooping();
      const QString words = h.settings.size() > 1 ? QString("%1.%2").arg(h.index).arg(s.index)
                                                  : QString::number(h.index);
      p.setFont(look::text(9, true));
      const double wide = p.fontMetrics().horizontalAdvance(words) + 14;
      // in the outer corner, where the fewest other fields lie
      const Point c = s.field.box.centre();
      const QPointF at(c.x > 0.5 ? box.right() - wide - 8 : box.left() + 8,
                       c.y > 0.5 ? box.bottom() - 32 : box.top() + 8);
      drawLabel(p, at, words, here ? look::colours().accent : look::colours().quiet);
    }
}

/// Marks of the current hooping strong, the others small.
void FramesLens::marks(QPainter& p, const Eye& eye, const HoopingPlan& plan) const {
  for (const bool current : {false, true})
    for (const Hooping& h : plan.hoopings) {
      if ((h.index == desk_.hooping()) != current) continue;
      for (const PlanMark& m : h.marks) {
        const QColor colour = m.clear ? (current ? look::colours().ink : look::colours().quiet)
                                      : look::colours().stop;
        drawCross(p, eye.px(m.at), std::max(current ? 6.0 : 4.0, 4 * eye.px_per_mm), colour);
        if (!current) continue;
        p.setFont(look::text(8.5, true));
        p.setPen(colour);
        p.drawText(eye.px(m.at) + QPointF(8, 16), QString::fromStdString(m.id));
      }
    }
}

int FramesLens::seamAt(QPointF at, const Eye& eye) const {
  const HoopingPlan* plan = desk_.plan();
  int best = -1;
  double least = kNear_px;
  for (size_t i = 0; plan && i < plan->seams.size(); ++i) {
    if (!plan->seams[i].meets) continue;
    const QPointF d = eye.px(plan->seams[i].at) - at;
    const double r = plan->seams[i].error_mm * enlarged_ * eye.px_per_mm;
    const double away = std::max(0.0, std::hypot(d.x(), d.y()) - r);
    if (away < least) least = away, best = static_cast<int>(i);
  }
  return best;
}

QStringList FramesLens::wordsOf(const Seam& seam, const HoopingPlan& plan) const {
  QStringList lines;
  const auto side = [&](int hooping, int setting) {
    return plan.hoopings[static_cast<size_t>(hooping - 1)].settings.size() > 1
               ? QString("%1.%2").arg(hooping).arg(setting)
               : QString::number(hooping);
  };
  lines << QObject::tr("%1 meets %2: gap up to %3 mm")
               .arg(side(seam.first, seam.first_setting), side(seam.second, seam.second_setting))
               .arg(seam.error_mm, 0, 'f', 2);
  for (const Cutting& c : plan.cuts)
    if (c.first == seam.first && c.second == seam.second && c.first_setting == seam.first_setting &&
        c.second_setting == seam.second_setting)
      lines << (c.stitches > 0
                    ? QObject::tr("%1 is cut through %2, over %3 mm")
                          .arg(QString::fromStdString(c.what),
                               counted(c.stitches, QObject::tr("stitch"), QObject::tr("stitches")))
                          .arg(c.length_mm, 0, 'f', 0)
                    : QObject::tr("%1 is parted between its blocks")
                          .arg(QString::fromStdString(c.what)));
  return lines;
}

}  // namespace rt
