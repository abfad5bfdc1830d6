#include "draw_tools.h"

#include "compose_actions.h"
#include "thread_shelf.h"

namespace rt {

DrawTools::DrawTools(Desk& desk, Gestures& gestures)
    : desk_(desk),
      gestures_(gestures),
      kind_(new QComboBox),
      colour_(new QComboBox),
      width_(new LengthEdit(tr("Width of a satin line"))),
      lasso_(button(tr("Lasso a part …"),
                    tr("Draw around a part of the chosen piece: it becomes a piece of its own"))) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  column->addWidget(heading(tr("Draw on the cloth")));
  kind_->addItems({tr("Run"), tr("Double run"), tr("Satin line"), tr("Filled outline")});
  kind_->setObjectName(QStringLiteral("drawKind"));
  for (const ShelfThread& t : desk.bench().shop.threads) {
    QPixmap chip(14, 14);
    chip.fill(QColor(QRgb(0xff000000u | t.colour.rgb)));
    colour_->addItem(QIcon(chip), QString::fromStdString(t.name), t.colour.rgb);
  }
  if (colour_->count() == 0) colour_->addItem(tr("Green"), 0x2f5d50u);
  colour_->setObjectName(QStringLiteral("drawColour"));
  width_->line()->setObjectName(QStringLiteral("drawWidth"));
  width_->setValue_mm(2, desk.inches());
  column->addWidget(pair(labelled(tr("As"), kind_), labelled(tr("Thread"), colour_)));
  auto* draw = button(tr("Draw …"), tr("One drag is one detail; the line is made smooth (Ctrl+D)"));
  draw->setObjectName(QStringLiteral("drawDetail"));
  lasso_->setObjectName(QStringLiteral("lassoPart"));
  column->addWidget(pair(labelled(tr("Satin width"), width_), labelled(QStringLiteral(" "), draw)));
  column->addWidget(lasso_);
  connect(draw, &QPushButton::clicked, this, [this] {
    gestures_.askForStroke(tr("Draw the detail with one drag"),
                           [this](const std::vector<Point>& line) { add(line); });
  });
  connect(lasso_, &QPushButton::clicked, this, [this] {
    gestures_.askForStroke(tr("Draw around the part"),
                           [this](const std::vector<Point>& ring) { lasso(ring); });
  });
}

void DrawTools::refresh() {
  lasso_->setEnabled(desk_.selectedPiece() != nullptr);
}

void DrawTools::add(const std::vector<Point>& drawn) {
  guarded(desk_, [&] {
    DetailOptions o;
    o.kind = static_cast<Detail>(kind_->currentIndex());
    o.width_mm = width_->value_mm();
    o.colour.rgb = colour_->currentData().toUInt();
    Made made = detailFromStroke(drawn, o, desk_.fabric(), desk_.bench());
    const QString name = QString::fromStdString(made.piece.name);
    int id = 0;
    desk_.change(name, actions::added(desk_.job(), std::move(made.piece), &id));
    desk_.select(id);
    const double limit = desk_.bench().shop.practice.photo_true_mm;
    if (const auto error = desk_.photoError_mm(drawn); error && *error > limit)
      desk_.say(tr("On this scan the line may be %1 mm off (%2 is aimed at): draw nearer to the "
                   "marks, or lay one more mark beside it and take another scan.")
                    .arg(*error, 0, 'f', 1)
                    .arg(limit, 0, 'f', 1));
  });
}

void DrawTools::lasso(const std::vector<Point>& ring) {
  guarded(desk_, [&] {
    const Piece* piece = desk_.selectedPiece();
    if (!piece || ring.size() < 3) return;
    int id = 0;
    Job next = actions::lassoed(desk_.job(), piece->id, Ring(ring), &id);
    if (id == 0)
      return desk_.say(tr("No whole run of sewing lies inside the line: nothing was changed."));
    desk_.change(tr("lasso a part"), std::move(next));
    desk_.select(id);
  });
}

}  // namespace rt
