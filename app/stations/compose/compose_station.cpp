#include "compose_station.h"

#include <QDoubleValidator>

#include "actions.h"
#include "error.h"

namespace rt {

ComposeStation::ComposeStation(const StationContext& context)
    : StationPanel(Station::Compose, context.desk),
      asker_(context.asker),
      gestures_(context.gestures),
      line_(context.desk),
      compare_(context.desk, line_),
      hand_(context.desk, line_),
      list_(new PieceList(context.desk)),
      placing_(new QWidget),
      x_(new LengthEdit(tr("Centre from the cross, right"))),
      y_(new LengthEdit(tr("Centre from the cross, down"))),
      width_(new LengthEdit(tr("Width"))),
      height_(new LengthEdit(tr("Height"))),
      turn_(new QLineEdit),
      locked_(new QCheckBox(tr("Keep proportions"))),
      mirrored_(new QCheckBox(tr("Mirror"))),
      lettering_(new TextTools(context.desk, context.gestures)),
      proof_(new ProofTools(context.desk)),
      groups_(new GroupTools(context.desk)),
      draw_(new DrawTools(context.desk, context.gestures)),
      blocks_(new BlockTools(context.desk)),
      tools_(new PieceTools(context.desk)),
      sewing_(new SewingTools(context.desk)),
      order_(new OrderTools(context.desk)),
      shelf_(new ToolShelf),
      hint_(paragraph({}, true)) {
  Desk& desk = context.desk;
  auto* addFile =
      button(tr("Add file …"), tr("Add a stitch list, a stitch drawing or artwork (Ctrl+I)"), true);
  auto* addText = button(tr("Add lettering"), tr("Add a line of lettering (Ctrl+T)"));
  addFile->setObjectName(QStringLiteral("addFile"));
  addText->setObjectName(QStringLiteral("addLettering"));
  column_->addWidget(pair(addFile, addText));
  column_->addWidget(heading(tr("Pieces, first sewn first")));
  column_->addWidget(list_, 1);
  column_->addWidget(hint_);
  buildPlacing();
  buildShelf();
  connect(addFile, &QPushButton::clicked, this, [this] {
    const QString path =
        asker_.toOpen(this, tr("Add to the cloth"), tr("Stitches and artwork (*.csv *.svg)"));
    if (!path.isEmpty()) this->addFile(path);
  });
  connect(addText, &QPushButton::clicked, this, &ComposeStation::addLettering);
  connect(list_, &PieceList::dragged, this, &ComposeStation::sewAt, Qt::QueuedConnection);
  desk.on(Part::Selection, this, &ComposeStation::refresh);
  desk.on(Part::Weighing, list_, &PieceList::refresh);
}

/// One tool at a time; the list of pieces gives way to it.
void ComposeStation::buildShelf() {
  auto* size = stacked({placing_, sewing_, tools_->sizing(), groups_, blocks_});
  shelf_->add(tr("Letters"), QStringLiteral("Letters"), lettering_);
  shelf_->add(tr("Size"), QStringLiteral("Size"), size);
  shelf_->add(tr("Repeat"), QStringLiteral("Repeat"), tools_);
  shelf_->add(tr("Draw"), QStringLiteral("Draw"), draw_);
  shelf_->add(tr("Order"), QStringLiteral("Order"), order_);
  shelf_->add(tr("Proof"), QStringLiteral("Proof"), proof_);
  size_ = size;
  column_->addWidget(shelf_);
  connect(shelf_, &ToolShelf::openedTool, this, [this](QWidget* tool) {
    if (tool == order_) order_->refresh();  // its figures are asked for when they are looked at
  });
}

QWidget* ComposeStation::stacked(std::initializer_list<QWidget*> widgets) {
  auto* box = new QWidget;
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  for (QWidget* w : widgets) column->addWidget(w);
  return box;
}

void ComposeStation::buildPlacing() {
  auto* box = new QVBoxLayout(placing_);
  box->setContentsMargins(0, 0, 0, 0);
  box->setSpacing(8);
  box->addWidget(pair(labelled(tr("Width"), width_), labelled(tr("Height"), height_)));
  box->addWidget(pair(locked_, mirrored_));
  box->addWidget(pair(labelled(tr("Right of cross"), x_), labelled(tr("Below cross"), y_)));
  auto* earlier =
      button(tr("Sew earlier"), tr("Sew this piece before the one above it in the list (Ctrl+Up)"));
  auto* later =
      button(tr("Sew later"), tr("Sew this piece after the one below it in the list (Ctrl+Down)"));
  auto* remove = button(tr("Remove"), tr("Take the piece off the cloth (Delete)"));
  remove->setObjectName(QStringLiteral("removePiece"));
  box->addWidget(pair(labelled(tr("Turned, degrees clockwise"), turn_),
                      labelled(QStringLiteral(" "), remove)));
  box->addWidget(pair(earlier, later));
  locked_->setChecked(true);
  turn_->setObjectName(QStringLiteral("turnField"));
  width_->line()->setObjectName(QStringLiteral("widthField"));
  x_->line()->setObjectName(QStringLiteral("xField"));
  y_->line()->setObjectName(QStringLiteral("yField"));
  mirrored_->setObjectName(QStringLiteral("mirrorBox"));
  mirrored_->setToolTip(tr("Exchange left and right (Ctrl+M)"));
  turn_->setValidator(new QDoubleValidator(-360, 360, 3, turn_));
  connect(x_, &LengthEdit::edited, this, [this](double mm) {
    edit(tr("move %1"), [mm](Job job, int id) {
      const Point at = boundsOf(actions::pieceOf(job, id)).centre();
      return actions::centredAt(std::move(job), id, {mm, at.y});
    });
  });
  connect(y_, &LengthEdit::edited, this, [this](double mm) {
    edit(tr("move %1"), [mm](Job job, int id) {
      const Point at = boundsOf(actions::pieceOf(job, id)).centre();
      return actions::centredAt(std::move(job), id, {at.x, mm});
    });
  });
  auto size = [this](double mm, bool wide) {
    if (!(mm >= 1)) return refresh();
    const bool lock = locked_->isChecked();
    edit(tr("size %1"), [this, mm, wide, lock](Job job, int id) {
      return actions::sized(std::move(job), id, wide ? mm : 0, wide ? 0 : mm, lock, desk_.bench());
    });
  };
  connect(width_, &LengthEdit::edited, this, [size](double mm) { size(mm, true); });
  connect(height_, &LengthEdit::edited, this, [size](double mm) { size(mm, false); });
  connect(turn_, &QLineEdit::editingFinished, this, [this] {
    const double deg = turn_->text().toDouble();
    edit(tr("turn %1"), [this, deg](Job job, int id) {
      return actions::turned(std::move(job), id, deg, desk_.bench());
    });
  });
  connect(mirrored_, &QCheckBox::clicked, this, &ComposeStation::mirror);
  connect(remove, &QPushButton::clicked, this, &ComposeStation::removeSelected);
  connect(earlier, &QPushButton::clicked, this, [this] { reorder(-1); });
  connect(later, &QPushButton::clicked, this, [this] { reorder(1); });
}

std::vector<StationAction> ComposeStation::actions() {
  auto when = [this](auto run) { return [this, run] { run(*this); }; };
  using Here = ComposeStation;
  return {{tr("Add a file to the cloth …"), QKeySequence(tr("Ctrl+I")), when([](Here& h) {
             const QString path = h.asker_.toOpen(&h, tr("Add to the cloth"),
                                                  tr("Stitches and artwork (*.csv *.svg)"));
             if (!path.isEmpty()) h.addFile(path);
           }),
           true},
          {tr("Add lettering"), QKeySequence(tr("Ctrl+T")), when([](Here& h) { h.addLettering(); }),
           true},
          {tr("Remove the chosen piece"), QKeySequence(Qt::Key_Delete),
           when([](Here& h) { h.removeSelected(); })},
          {tr("Mirror the chosen piece"), QKeySequence(tr("Ctrl+M")),
           when([](Here& h) { h.mirror(); })},
          {tr("Sew the chosen piece earlier"), QKeySequence(tr("Ctrl+Up")),
           when([](Here& h) { h.reorder(-1); })},
          {tr("Sew the chosen piece later"), QKeySequence(tr("Ctrl+Down")),
           when([](Here& h) { h.reorder(1); })},
          {tr("Sew it earlier, whatever it covers"), QKeySequence(tr("Ctrl+Shift+Up")),
           when([](Here& h) { h.reorder(-1, true); })},
          {tr("Sew it later, whatever covers it"), QKeySequence(tr("Ctrl+Shift+Down")),
           when([](Here& h) { h.reorder(1, true); })},
          {tr("Group the chosen pieces"), QKeySequence(tr("Ctrl+G")),
           when([](Here& h) { h.groups_->group(); })},
          {tr("Ungroup the chosen pieces"), QKeySequence(tr("Ctrl+Shift+G")),
           when([](Here& h) { h.groups_->ungroup(); })},
          {tr("Choose every piece"), QKeySequence(tr("Ctrl+A")), when([](Here& h) {
             for (const Piece& p : h.desk_.job().pieces)
               if (!h.desk_.isChosen(p.id)) h.desk_.selectAlso(p.id);
           }),
           true},
          {tr("Draw a detail on the cloth"), QKeySequence(tr("Ctrl+D")), when([](Here& h) {
             h.gestures_.askForStroke(tr("Draw the detail with one drag"),
                                      [&h](const std::vector<Point>& line) { h.draw_->add(line); });
           }),
           true},
          {tr("Accept the proof"), QKeySequence(tr("Ctrl+Shift+P")),
           when([](Here& h) { h.proof_->accept(); })}};
}

void ComposeStation::edit(const QString& name, const std::function<Job(Job, int)>& action) {
  const Piece* piece = desk_.selectedPiece();
  if (!piece) return;
  guarded(desk_, [&] {
    desk_.change(name.arg(QString::fromStdString(piece->name)), action(desk_.job(), piece->id));
  });
  refresh();
}

void ComposeStation::addFile(const QString& path) {
  guarded(desk_, [&] {
    Made made = pieceFromFile(path.toStdString(), desk_.fabric(), desk_.bench());
    const QString name = QString::fromStdString(made.piece.name);
    int id = 0;
    desk_.change(tr("add %1").arg(name), actions::added(desk_.job(), std::move(made.piece), &id));
    desk_.select(id);
    if (!made.warnings.empty())
      desk_.say(tr("%1: %2").arg(name, QString::fromStdString(made.warnings[0])));
  });
}

void ComposeStation::addLettering() {
  guarded(desk_, [&] {
    TextSource source;
    source.text = desk_.job().brief.order_text.empty() ? "Lettering" : desk_.job().brief.order_text;
    std::replace(source.text.begin(), source.text.end(), '\n', ' ');
    Made made = pieceFromText(source, desk_.fabric(), desk_.bench());
    int id = 0;
    desk_.change(tr("add lettering"), actions::added(desk_.job(), std::move(made.piece), &id));
    desk_.select(id);
    shelf_->open(lettering_);
    lettering_->focusText();
  });
}

void ComposeStation::removeSelected() {
  edit(tr("remove %1"), [](Job job, int id) { return actions::removed(std::move(job), id); });
}

void ComposeStation::reorder(int by, bool on_purpose) {
  for (size_t i = 0; i < desk_.job().pieces.size(); ++i)
    if (desk_.job().pieces[i].id == desk_.selected())
      return sewAt(desk_.selected(), static_cast<int>(i) + by, on_purpose);
}

void ComposeStation::sewAt(int piece_id, int row, bool on_purpose) {
  if (row < 0 || row >= static_cast<int>(desk_.job().pieces.size())) return;
  try {
    desk_.change(tr("sewing order"),
                 actions::sewnAt(desk_.job(), piece_id, static_cast<size_t>(row), on_purpose));
  } catch (const Error& why) {
    list_->refresh();
    desk_.say(tr("Not moved. %1. Hold Shift to do it all the same.")
                  .arg(QString::fromStdString(why.problem())));
  }
}

void ComposeStation::mirror() {
  edit(tr("mirror %1"),
       [this](Job job, int id) { return actions::mirrored(std::move(job), id, desk_.bench()); });
}

void ComposeStation::refresh() {
  list_->refresh();
  const Piece* piece = desk_.selectedPiece();
  const bool inches = desk_.inches();
  placing_->setVisible(piece != nullptr);
  tools_->refresh();
  sewing_->refresh();
  order_->refresh();
  lettering_->refresh();
  proof_->refresh();
  groups_->refresh();
  draw_->refresh();
  blocks_->refresh();
  shelf_->setAvailable(lettering_, piece && std::holds_alternative<TextSource>(piece->source));
  shelf_->setAvailable(size_, piece != nullptr);
  shelf_->setAvailable(tools_, piece != nullptr);
  if (piece)
    shelf_->suggest(std::holds_alternative<TextSource>(piece->source) ? lettering_ : size_);
  hint_->setText(piece ? QString()
                       : tr("Click a piece on the cloth or in the list. Drag to move, corners size "
                            "(Shift: free), the round handle turns. Arrows move by 1 mm, with "
                            "Shift 10 mm, with Alt 0.1 mm. Shift and a click chooses more."));
  hint_->setVisible(!piece);
  if (!piece) return;
  const Box box = boundsOf(*piece);
  x_->setValue_mm(box.centre().x, inches);
  y_->setValue_mm(box.centre().y, inches);
  width_->setValue_mm(box.width(), inches);
  height_->setValue_mm(box.height(), inches);
  turn_->setText(QString::number(piece->place.turn_deg, 'g', 6));
  mirrored_->setChecked(piece->place.mirrored);
}

}  // namespace rt
