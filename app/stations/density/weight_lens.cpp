#include "weight_lens.h"

#include <QPainterPath>

#include "cloth_drawing.h"
#include "density_words.h"
#include "fields.h"
#include "layers.h"
#include "look.h"

namespace rt {
namespace {

constexpr int kTop = 26;         // of the line: under the ruler
constexpr double kGrip_px = 14;  // from the line

void drawWeight(QPainter& p, const Eye& eye, const Desk& desk, const WeightPicture& picture,
                int finding) {
  if (picture.image.isNull()) return;
  p.save();
  p.setRenderHint(QPainter::SmoothPixmapTransform);
  const QRectF place(eye.px(Point{picture.place_mm.left(), picture.place_mm.top()}),
                     eye.px(Point{picture.place_mm.right(), picture.place_mm.bottom()}));
  p.setOpacity(0.93);
  p.drawImage(place, picture.image);
  p.setOpacity(1);
  p.setRenderHint(QPainter::Antialiasing);
  const QPainterPath check = eye.toPx().map(picture.check), stop = eye.toPx().map(picture.stop);
  p.setPen(linePen(QColor(0xe0, 0x9a, 0x1e), 1.4));
  p.drawPath(check);
  p.setPen(linePen(QColor(0xe2, 0x4a, 0x3b), 2));
  p.drawPath(stop);
  const auto weighing = desk.weighing();
  if (weighing && finding >= 0 && finding < static_cast<int>(weighing->report.findings.size())) {
    const Finding& f = weighing->report.findings[static_cast<size_t>(finding)];
    const QRectF around = eye.px(f.bounds.grown(2));
    if (f.severity == Verdict::Stop) {  // stop is hatched: it is told without colour
      p.save();
      p.setClipRect(around);
      p.setPen(Qt::NoPen);
      p.setBrush(QBrush(QColor(255, 240, 225, 150), Qt::BDiagPattern));
      const Limit limit = desk.fabric().density_mm_per_mm2;
      const Lattice& l = weighing->frame.lattice;
      const double cell = l.cell_mm;
      QPainterPath area;
      for (double y = f.bounds.top; y < f.bounds.bottom; y += cell) {
        double from = NAN;
        for (double x = f.bounds.left; x <= f.bounds.right + cell; x += cell) {
          const bool over = x < f.bounds.right &&
                            weighing->map.density(static_cast<int64_t>((x - l.origin.x) / cell),
                                                  static_cast<int64_t>((y - l.origin.y) / cell)) >
                                limit.stop * limitFactorAt(desk.job().zones, {x, y});
          if (over && std::isnan(from)) from = x;
          if (!over && !std::isnan(from))
            area.addRect(QRectF(eye.px(Point{from, y}), eye.px(Point{x, y + cell}))), from = NAN;
        }
      }
      p.setClipPath(area, Qt::IntersectClip);
      p.drawRect(around);
      p.restore();
    }
    p.setBrush(Qt::NoBrush);
    p.setPen(linePen(look::colours().ink, 1.2, Qt::DotLine));
    p.drawRoundedRect(around, 6, 6);
    QStringList lines{
        QString("%1 %2")
            .arg(f.value, 0, 'f', 1)
            .arg(f.kind == FindingKind::Holes     ? QObject::tr("holes/mm²")
                 : f.kind == FindingKind::Density ? QObject::tr("mm/mm²")
                                                  : QObject::tr("mm")) +
        QObject::tr("   %1 %2")
            .arg(f.severity == Verdict::Stop ? QObject::tr("stop") : QObject::tr("check"))
            .arg(f.limit, 0, 'f', 1)};
    if (const std::string words = inWords(f); !words.empty())
      lines << QString::fromStdString(words);
    if (f.area_mm2 > 0) lines << QObject::tr("%1 mm² over the limit").arg(f.area_mm2, 0, 'f', 0);
    drawCard(p, eye, eye.px(f.at), lines);
  }
  p.restore();
}

}  // namespace

void CompareLine::place(const Eye& eye, std::optional<Point> at) {
  line_ = at ? std::clamp(eye.px(*at).x() / std::max(1.0, eye.view.width()), 0.05, 0.95) : 0.5;
}

bool CompareLine::holds(QPointF at, const Eye& eye) const {
  return desk_.comparison() && std::abs(at.x() - x(eye)) < kGrip_px;
}

void CompareLine::drag(QPointF at, const Eye& eye) {
  line_ = std::clamp(at.x() / std::max(1.0, eye.view.width()), 0.05, 0.95);
}

void CompareLine::step(double by) {
  line_ = std::clamp(line_ + by, 0.05, 0.95);
}

WeightLens::WeightLens(const Desk& desk, CompareLine& line) : desk_(desk), line_(line) {}
WeightLens::~WeightLens() = default;

std::optional<Point> WeightLens::lookedAt() const {
  const auto w = desk_.weighing();
  if (w && finding_ >= 0 && finding_ < static_cast<int>(w->report.findings.size()))
    return w->report.findings[static_cast<size_t>(finding_)].bounds.centre();
  if (const Piece* piece = desk_.selectedPiece()) return boundsOf(*piece).centre();
  return std::nullopt;
}

/// Pictures of weighings that came since the last paint.
void WeightLens::freshen() {
  const Limit& limit = desk_.fabric().density_mm_per_mm2;
  if (const auto w = desk_.weighing(); w && weightOf_ != w) {
    weight_ = weightPicture(*w, limit, desk_.job().zones);
    weightOf_ = w;
  }
  const auto other = desk_.comparison() ? desk_.comparison()->weighed : nullptr;
  if (other && otherOf_ != other) {
    otherWeight_ = weightPicture(*other, limit, desk_.job().zones);
    otherOf_ = other;
  }
}

void WeightLens::paint(QPainter& p, const Eye& eye) {
  if (!desk_.weighing()) return;
  freshen();
  if (desk_.comparison() && desk_.comparison()->weighed) return paintCompared(p, eye);
  drawWeight(p, eye, desk_, weight_, desk_.weighingCurrent() ? finding_ : -1);
  paintProbe(p, eye);
}

/// To the left of the line the layout as it is, to the right as it would be.
void WeightLens::paintCompared(QPainter& p, const Eye& eye) {
  const double x = line_.x(eye);
  p.save();
  p.setClipRect(QRectF(0, 0, x, eye.view.height()));
  drawWeight(p, eye, desk_, weight_, -1);
  p.setClipRect(QRectF(x, 0, eye.view.width() - x, eye.view.height()));
  drawWeight(p, eye, desk_, otherWeight_, -1);
  p.restore();
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(look::colours().ink, 2));
  p.drawLine(QPointF(x, kTop), QPointF(x, eye.view.height() - 24));
  p.setBrush(look::colours().raised);
  p.drawRoundedRect(QRectF(x - 9, eye.view.height() / 2.0 - 18, 18, 36), 9, 9);
  p.drawLine(QPointF(x - 3, eye.view.height() / 2.0 - 6),
             QPointF(x - 3, eye.view.height() / 2.0 + 6));
  p.drawLine(QPointF(x + 3, eye.view.height() / 2.0 - 6),
             QPointF(x + 3, eye.view.height() / 2.0 + 6));
  p.setFont(look::text(10, true));
  auto label = [&](const QString& words, double at, bool left) {
    QRectF box = p.fontMetrics().boundingRect(words);
    box.adjust(-8, -4, 8, 4);
    box.moveTopLeft(QPointF(left ? at - 12 - box.width() : at + 12, kTop + 10));
    p.setPen(Qt::NoPen);
    p.setBrush(look::colours().raised);
    p.drawRoundedRect(box, 6, 6);
    p.setPen(look::colours().ink);
    p.drawText(box, Qt::AlignCenter, words);
  };
  label(desk_.comparison()->now, x, true);
  label(desk_.comparison()->name, x, false);
  p.restore();
}

/// Density, holes and who laid them, under the pointer.
void WeightLens::paintProbe(QPainter& p, const Eye& eye) {
  if (!probe_ || !desk_.weighing() || !desk_.weighingCurrent()) return;
  const Weighing& w = *desk_.weighing();
  const Lattice& l = w.frame.lattice;
  const auto column = static_cast<int64_t>(std::floor((probe_->x - l.origin.x) / l.cell_mm)),
             row = static_cast<int64_t>(std::floor((probe_->y - l.origin.y) / l.cell_mm));
  const double d = w.map.density(column, row);
  if (d < kCovered_mm_per_mm2) return;
  QStringList lines{QObject::tr("%1 mm/mm²").arg(d, 0, 'f', 1),
                    QObject::tr("%1 holes/mm²").arg(w.map.holes(column, row), 0, 'f', 1)};
  if (layersOf_ != desk_.layoutPrint()) {
    layersPattern_ = std::make_unique<Pattern>(desk_.layout());
    layers_ = std::make_unique<Layers>(*layersPattern_);
    layersOf_ = desk_.layoutPrint();
  }
  const std::vector<size_t> covers = layers_->at(*probe_);
  lines << counted(covers.size(), QObject::tr("layer"), QObject::tr("layers"));
  QStringList who;
  for (auto it = covers.rbegin(); it != covers.rend(); ++it) {
    const QString name =
        QString::fromStdString(layersPattern_->pieces[layers_->blocks()[*it].piece]);
    if (!name.isEmpty() && !who.contains(name)) who << name;
  }
  if (!who.isEmpty())
    lines << QObject::tr("top down: %1").arg(who.mid(0, 3).join(QStringLiteral(", ")));
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(look::colours().ink, 1));
  p.setBrush(Qt::NoBrush);
  p.drawEllipse(eye.px(*probe_), kDisc_mm * eye.px_per_mm, kDisc_mm * eye.px_per_mm);
  drawCard(p, eye, eye.px(*probe_), lines);
}

bool WeightHand::press(const Touch& touch, const Eye& eye) {
  if (line_.holds(touch.at, eye)) return true;
  if (!desk_.weighing()) return false;
  const auto& findings = desk_.weighing()->report.findings;
  for (size_t i = 0; i < findings.size(); ++i)
    if (findings[i].bounds.grown(3).contains(eye.mm(touch.at))) {
      picked_(static_cast<int>(i));
      return true;
    }
  return false;
}

void WeightHand::drag(const Touch& touch, const Eye& eye) {
  if (desk_.comparison()) line_.drag(touch.at, eye);
}

bool WeightHand::hover(const Touch& touch, const Eye& eye) {
  lens_.setProbe(eye.mm(touch.at));
  return true;
}

bool WeightHand::key(const QKeyEvent& event) {
  if (!desk_.comparison()) return false;
  if (event.key() != Qt::Key_Less && event.key() != Qt::Key_Greater) return false;
  line_.step(event.key() == Qt::Key_Less ? -0.05 : 0.05);
  return true;
}

}  // namespace rt
