#include "gauge_tool.h"

#include "compose_actions.h"

namespace rt {
namespace {

constexpr int kArcPoints = 5;
constexpr int kRemembered = 4;

int pointsFor(int what) {
  return what == 0 ? 2 : what == 3 ? kArcPoints : 3;
}

}  // namespace

GaugeTool::GaugeTool(Desk& desk, Gestures& gestures)
    : desk_(desk),
      gestures_(gestures),
      what_(new QComboBox),
      zone_(new QComboBox),
      pick_(button(tr("Click the points"), tr("On the cloth or its scan"), true)),
      letter_(button(tr("Letter along this arc"),
                     tr("The chosen lettering, or the first one, follows it 8 mm away"))),
      trace_(button(tr("Trace an edge …"),
                    tr("Draw roughly along an edge, seam or zip: the scan shows where it lies"))),
      read_(paragraph({})),
      note_(paragraph({}, true)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  what_->addItems({tr("Distance: two points"), tr("Off a line: its two points, then one"),
                   tr("Angle: arm, corner, arm"), tr("Arc: five points along it")});
  what_->setObjectName(QStringLiteral("gaugeWhat"));
  what_->setAccessibleName(tr("What is measured"));
  pick_->setObjectName(QStringLiteral("gaugePick"));
  letter_->setObjectName(QStringLiteral("gaugeLetter"));
  trace_->setObjectName(QStringLiteral("gaugeTrace"));
  read_->setObjectName(QStringLiteral("gaugeRead"));
  zone_->addItems({tr("keep out"), tr("thick seam")});
  zone_->setObjectName(QStringLiteral("gaugeZone"));
  zone_->setAccessibleName(tr("What the traced edge becomes"));
  column->addWidget(what_);
  column->addWidget(pick_);
  column->addWidget(read_);
  column->addWidget(letter_);
  column->addWidget(pair(trace_, zone_));
  column->addWidget(note_);
  connect(pick_, &QPushButton::clicked, this, &GaugeTool::ask);
  connect(letter_, &QPushButton::clicked, this, &GaugeTool::letterAlong);
  connect(trace_, &QPushButton::clicked, this, [this] {
    gestures_.askForStroke(tr("Draw along the edge"),
                           [this](const std::vector<Point>& p) { trace(p); });
  });
}

void GaugeTool::ask() {
  gestures_.askForPoints(pointsFor(what_->currentIndex()),
                         tr("Click %1 points").arg(pointsFor(what_->currentIndex())),
                         [this](const std::vector<Point>& p) { measure(p); });
}

void GaugeTool::measure(const std::vector<Point>& p) {
  const auto what = static_cast<What>(what_->currentIndex());
  if (static_cast<int>(p.size()) < (what == ArcOf ? 3 : pointsFor(what))) return;
  if (what == Distance) {
    tell(tr("%1 apart: %2 across, %3 down")
             .arg(oneUnit(desk_, distance(p[0], p[1])), oneUnit(desk_, std::abs(p[1].x - p[0].x)),
                  oneUnit(desk_, std::abs(p[1].y - p[0].y))));
  } else if (what == OffLine) {
    tell(tr("%1 off the line").arg(oneUnit(desk_, offLine_mm(p[2], p[0], p[1]))));
  } else if (what == Angle) {
    tell(tr("%1°").arg(angleBetween_deg(p[0], p[1], p[2]), 0, 'f', 1));
  } else if ((arc_ = arcThrough(p))) {
    tell(tr("radius %1, chord %2, sagitta %3; points %4 mm off it")
             .arg(oneUnit(desk_, arc_->radius_mm), oneUnit(desk_, arc_->chord_mm),
                  oneUnit(desk_, arc_->sagitta_mm))
             .arg(arc_->rms_mm, 0, 'f', 2));
  } else {
    tell(tr("a straight line: there is no arc through these"));
  }
}

void GaugeTool::tell(const QString& words) {
  told_.prepend(words);
  while (told_.size() > kRemembered) told_.removeLast();
  refresh();
}

void GaugeTool::letterAlong() {
  guarded(desk_, [&] {
    if (!arc_) return;
    const auto isText = [](const Piece& p) { return std::holds_alternative<TextSource>(p.source); };
    const auto& pieces = desk_.job().pieces;
    auto piece = std::find_if(pieces.begin(), pieces.end(), [&](const Piece& p) {
      return p.id == desk_.selected() && isText(p);
    });
    if (piece == pieces.end()) piece = std::find_if(pieces.begin(), pieces.end(), isText);
    if (piece == pieces.end())
      throw Error("there is no lettering yet", "lettering", "add some at Compose (2) first");
    desk_.change(
        tr("lettering along an arc"),
        actions::letteredAlong(desk_.job(), piece->id, {arc_->first, arc_->middle, arc_->last},
                               NecklineOptions{}.away_mm, true, desk_.bench()));
  });
}

void GaugeTool::trace(const std::vector<Point>& stroke) {
  guarded(desk_, [&] {
    const auto reading = desk_.scans().reading();
    Zone zone;
    zone.kind = zone_->currentIndex() == 0 ? ZoneKind::KeepOut : ZoneKind::Thick;
    zone.name = zone.kind == ZoneKind::KeepOut ? "traced edge" : "traced seam";
    zone.layers = zone.kind == ZoneKind::Thick ? 3 : 1;
    zone.polygon_mm = zoneAlong(tracedEdge(reading.get(), desk_.hoopToLayout(), stroke));
    desk_.change(tr("traced edge"), actions::withZone(desk_.job(), std::move(zone)));
    desk_.say(reading && reading->flat
                  ? tr("The edge was found in the scan; the zone stands at Brief (1).")
                  : tr("There is no flat scan: the stroke was taken as it is."));
  });
}

void GaugeTool::refresh() {
  read_->setText(told_.join('\n'));
  read_->setVisible(!told_.isEmpty());
  letter_->setVisible(arc_.has_value() && what_->currentIndex() == ArcOf);
  const auto reading = desk_.scans().reading();
  const std::optional<Alignment> a = desk_.alignmentOf(desk_.hooping());
  note_->setText(!reading || !reading->flat
                     ? tr("Measured on the layout: take or open a scan to measure the cloth.")
                 : a ? tr("Measured on the scan; places in it are within %1 mm of the layout's.")
                           .arg(a->error_worst_mm, 0, 'f', 2)
                     : tr("Measured on the scan, flattened by the frame's tags."));
}

}  // namespace rt
