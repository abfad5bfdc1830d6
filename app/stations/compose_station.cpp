#include "compose_station.h"

#include <QDoubleValidator>

#include "error.h"
#include "faces.h"
#include "letter.h"
#include "sizing.h"

namespace rt {

ComposeStation::ComposeStation(Desk& desk, FileAsker& asker)
    : StationPanel(desk),
      asker_(asker),
      list_(new PieceList(desk)),
      placing_(new QWidget),
      x_(new LengthEdit(tr("Centre from the cross, right"))),
      y_(new LengthEdit(tr("Centre from the cross, down"))),
      width_(new LengthEdit(tr("Width"))),
      height_(new LengthEdit(tr("Height"))),
      turn_(new QLineEdit),
      locked_(new QCheckBox(tr("Keep proportions"))),
      mirrored_(new QCheckBox(tr("Mirror"))),
      lettering_(new QWidget),
      text_(new QLineEdit),
      face_(new QComboBox),
      curve_(new QComboBox),
      capHeight_(new LengthEdit(tr("Cap height"))),
      radius_(new LengthEdit(tr("Radius"))),
      chord_(new LengthEdit(tr("Chord"))),
      sagitta_(new LengthEdit(tr("Sagitta"))),
      fit_(new LengthEdit(tr("Width to fit"))),
      gaps_(new QLineEdit),
      tools_(new PieceTools(desk)),
      order_(new OrderTools(desk)),
      hint_(paragraph({}, true)) {
  auto* addFile =
      button(tr("Add file …"), tr("Add a stitch list, a stitch drawing or artwork (Ctrl+I)"), true);
  auto* addText = button(tr("Add lettering"), tr("Add a line of lettering (Ctrl+T)"));
  addFile->setObjectName(QStringLiteral("addFile"));
  addText->setObjectName(QStringLiteral("addLettering"));
  column_->addWidget(pair(addFile, addText));
  column_->addWidget(heading(tr("Pieces, first sewn first")));
  column_->addWidget(list_);
  buildLettering();
  buildPlacing();
  column_->addWidget(tools_);
  column_->addWidget(hint_);
  column_->addWidget(order_);
  column_->addStretch();
  connect(addFile, &QPushButton::clicked, this, [this] {
    const QString path =
        asker_.toOpen(this, tr("Add to the cloth"), tr("Stitches and artwork (*.csv *.svg)"));
    if (!path.isEmpty()) this->addFile(path);
  });
  connect(addText, &QPushButton::clicked, this, &ComposeStation::addLettering);
  connect(&desk, &Desk::selectionChanged, this, &ComposeStation::refresh);
  connect(&desk, &Desk::weighed, list_, &PieceList::refresh);
}

void ComposeStation::buildPlacing() {
  auto* box = new QVBoxLayout(placing_);
  box->setContentsMargins(0, 0, 0, 0);
  box->setSpacing(8);
  box->addWidget(heading(tr("Size and place")));
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
  column_->addWidget(placing_);
  locked_->setChecked(true);
  turn_->setObjectName(QStringLiteral("turnField"));
  width_->line()->setObjectName(QStringLiteral("widthField"));
  x_->line()->setObjectName(QStringLiteral("xField"));
  y_->line()->setObjectName(QStringLiteral("yField"));
  mirrored_->setObjectName(QStringLiteral("mirrorBox"));
  mirrored_->setToolTip(tr("Exchange left and right (Ctrl+M)"));
  turn_->setValidator(new QDoubleValidator(-360, 360, 3, turn_));
  connect(x_, &LengthEdit::edited, this, [this](double mm) {
    place(tr("move %1"), [mm](Placement& p, const Box& b) { p.at.x += mm - b.centre().x; });
  });
  connect(y_, &LengthEdit::edited, this, [this](double mm) {
    place(tr("move %1"), [mm](Placement& p, const Box& b) { p.at.y += mm - b.centre().y; });
  });
  auto size = [this](double mm, bool wide) {
    if (!(mm >= 1)) return refresh();
    const bool lock = locked_->isChecked();
    place(tr("size %1"), [mm, wide, lock](Placement& p, const Box& b) {
      const double f = mm / std::max(1e-6, wide ? b.width() : b.height());
      // of a turned piece the two sizes cannot be told apart: it is sized as a whole
      const bool whole = lock || std::abs(std::remainder(p.turn_deg, 180)) > 0.01;
      if (wide || whole) p.scale_x *= f;
      if (!wide || whole) p.scale_y *= f;
    });
  };
  connect(width_, &LengthEdit::edited, this, [size](double mm) { size(mm, true); });
  connect(height_, &LengthEdit::edited, this, [size](double mm) { size(mm, false); });
  connect(turn_, &QLineEdit::editingFinished, this, [this] {
    const double deg = turn_->text().toDouble();
    place(tr("turn %1"), [deg](Placement& p, const Box&) { p.turn_deg = wrapDegrees(deg); });
  });
  connect(mirrored_, &QCheckBox::clicked, this, &ComposeStation::mirror);
  connect(remove, &QPushButton::clicked, this, &ComposeStation::removeSelected);
  connect(earlier, &QPushButton::clicked, this, [this] { reorder(-1); });
  connect(later, &QPushButton::clicked, this, [this] { reorder(1); });
}

void ComposeStation::buildLettering() {
  auto* box = new QVBoxLayout(lettering_);
  box->setContentsMargins(0, 0, 0, 0);
  box->setSpacing(8);
  box->addWidget(heading(tr("Lettering")));
  box->addWidget(labelled(tr("Text"), text_));
  for (const Face& f : listFaces(desk_.bench().data))
    face_->addItem(QString::fromStdString(f.name), QString::fromStdString(f.id));
  curve_->addItems({tr("Straight"), tr("Arc, heads out"), tr("Arc, heads in")});
  box->addWidget(pair(labelled(tr("Face"), face_), labelled(tr("Baseline"), curve_)));
  box->addWidget(pair(labelled(tr("Cap height"), capHeight_), labelled(tr("Radius"), radius_)));
  box->addWidget(pair(labelled(tr("or chord"), chord_), labelled(tr("and sagitta"), sagitta_)));
  auto* fit = button(tr("Fit to width"), tr("The largest cap height whose letters stay within it"));
  fit->setObjectName(QStringLiteral("fitLettering"));
  box->addWidget(pair(labelled(tr("Width to fit"), fit_), labelled(QStringLiteral(" "), fit)));
  box->addWidget(labelled(tr("Single gaps, mm: one number after each letter"), gaps_));
  column_->addWidget(lettering_);
  text_->setToolTip(tr("A slash with spaces around it, \" / \", begins a new line"));
  gaps_->setObjectName(QStringLiteral("letterGaps"));
  fit_->line()->setObjectName(QStringLiteral("letterFit"));
  connect(fit, &QPushButton::clicked, this, &ComposeStation::fitLettering);
  connect(gaps_, &QLineEdit::editingFinished, this, [this] {
    if (!gaps_->isModified()) return;
    gaps_->setModified(false);
    std::vector<double> gaps;
    for (const QString& word : gaps_->text().split(' ', Qt::SkipEmptyParts)) {
      bool good = false;
      const double mm = word.toDouble(&good);
      if (!good || std::abs(mm) > 100)
        return desk_.say(tr("\"%1\" is no gap in mm; nothing was changed").arg(word));
      gaps.push_back(mm);
    }
    letter(tr("letter gaps"), [&](TextSource& t) { t.gaps_mm = gaps; });
  });
  text_->setObjectName(QStringLiteral("letterText"));
  capHeight_->line()->setObjectName(QStringLiteral("letterHeight"));
  radius_->line()->setObjectName(QStringLiteral("letterRadius"));
  curve_->setObjectName(QStringLiteral("letterCurve"));
  connect(text_, &QLineEdit::editingFinished, this, [this] {
    if (text_->isModified())
      letter(tr("text"), [this](TextSource& t) {
        t.text = text_->text().replace(QStringLiteral(" / "), QStringLiteral("\n")).toStdString();
      });
    text_->setModified(false);
  });
  connect(face_, &QComboBox::activated, this, [this] {
    letter(tr("face"),
           [this](TextSource& t) { t.face = face_->currentData().toString().toStdString(); });
  });
  connect(capHeight_, &LengthEdit::edited, this, [this](double mm) {
    letter(tr("cap height"), [mm](TextSource& t) { t.height_mm = mm; });
  });
  connect(radius_, &LengthEdit::edited, this, [this](double mm) {
    letter(tr("radius"), [mm](TextSource& t) { t.arc_radius_mm = mm; });
  });
  connect(curve_, &QComboBox::activated, this, [this](int i) {
    letter(tr("baseline"), [this, i](TextSource& t) {
      t.arc_side = i == 2 ? ArcSide::Inside : ArcSide::Outside;
      if (i == 0)
        t.arc_radius_mm = 0;
      else if (t.arc_radius_mm <= 0)
        t.arc_radius_mm = std::max(4 * t.height_mm, desk_.job().brief.place_width_mm);
    });
  });
  connect(chord_, &LengthEdit::edited, this, &ComposeStation::readArc);
  connect(sagitta_, &LengthEdit::edited, this, &ComposeStation::readArc);
}

void ComposeStation::readArc() {
  guarded(desk_, [this] {
    const Arc arc = arcFromChord(chord_->value_mm(), sagitta_->value_mm());
    letter(tr("radius"), [&](TextSource& t) { t.arc_radius_mm = arc.radius_mm; });
  });
}

void ComposeStation::fitLettering() {
  guarded(desk_, [this] {
    const Piece* piece = desk_.selectedPiece();
    const auto* source = piece ? std::get_if<TextSource>(&piece->source) : nullptr;
    if (!source) return;
    LetterOptions o;
    o.height_mm = source->height_mm;
    o.gap_mm = source->gap_mm;
    o.gaps_mm = source->gaps_mm;
    const double h = heightThatFits(
        composed(source->text), loadFace(desk_.bench().data, source->face), o, fit_->value_mm());
    if (!(h > 0))
      throw Error("no height fits into " + std::to_string(fit_->value_mm()) + " mm", "lettering",
                  "give more width or a shorter text");
    letter(tr("fit lettering"), [h](TextSource& t) { t.height_mm = std::floor(h * 10) / 10; });
  });
}

void ComposeStation::place(const QString& name,
                           const std::function<void(Placement&, const Box&)>& edit) {
  Job next = desk_.job();
  for (Piece& p : next.pieces)
    if (p.id == desk_.selected()) {
      const Box before = boundsOf(p);
      edit(p.place, before);
      p = settled(p, desk_.fabric(), desk_.bench());
      return desk_.change(name.arg(QString::fromStdString(p.name)), std::move(next));
    }
}

void ComposeStation::letter(const QString& name, const std::function<void(TextSource&)>& edit) {
  guarded(desk_, [&] {
    Job next = desk_.job();
    for (Piece& p : next.pieces) {
      auto* source = std::get_if<TextSource>(&p.source);
      if (p.id != desk_.selected() || !source) continue;
      const bool named = p.name == source->text;
      edit(*source);
      if (named) p.name = source->text;
      Made made = remade(p, desk_.fabric(), desk_.bench());
      p = made.piece;
      desk_.change(name, std::move(next));
      if (!made.warnings.empty()) desk_.say(QString::fromStdString(made.warnings[0]));
      return;
    }
  });
  refresh();
}

void ComposeStation::addFile(const QString& path) {
  guarded(desk_, [&] {
    Made made = pieceFromFile(path.toStdString(), desk_.fabric(), desk_.bench());
    Job next = desk_.job();
    made.piece.id = next.next_piece_id++;
    const int id = made.piece.id;
    const QString name = QString::fromStdString(made.piece.name);
    next.pieces.push_back(std::move(made.piece));
    desk_.change(tr("add %1").arg(name), std::move(next));
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
    Job next = desk_.job();
    made.piece.id = next.next_piece_id++;
    const int id = made.piece.id;
    next.pieces.push_back(std::move(made.piece));
    desk_.change(tr("add lettering"), std::move(next));
    desk_.select(id);
    text_->setFocus();
    text_->selectAll();
  });
}

void ComposeStation::removeSelected() {
  Job next = desk_.job();
  const Piece* piece = desk_.selectedPiece();
  if (!piece) return;
  const QString name = QString::fromStdString(piece->name);
  std::erase_if(next.pieces, [&](const Piece& p) { return p.id == desk_.selected(); });
  desk_.change(tr("remove %1").arg(name), std::move(next));
}

void ComposeStation::reorder(int by) {
  Job next = desk_.job();
  for (size_t i = 0; i < next.pieces.size(); ++i) {
    if (next.pieces[i].id != desk_.selected()) continue;
    const long to = static_cast<long>(i) + by;
    if (to < 0 || to >= static_cast<long>(next.pieces.size())) return;
    std::swap(next.pieces[i], next.pieces[static_cast<size_t>(to)]);
    return desk_.change(tr("sewing order"), std::move(next));
  }
}

void ComposeStation::mirror() {
  place(tr("mirror %1"), [](Placement& p, const Box&) {
    p.mirrored = !p.mirrored;
    p.turn_deg = wrapDegrees(-p.turn_deg);
  });
}

void ComposeStation::refresh() {
  list_->refresh();
  const Piece* piece = desk_.selectedPiece();
  const bool inches = desk_.job().brief.inches;
  placing_->setVisible(piece != nullptr);
  tools_->refresh();
  order_->refresh();
  const auto* text = piece ? std::get_if<TextSource>(&piece->source) : nullptr;
  lettering_->setVisible(text != nullptr);
  hint_->setText(piece ? QString()
                       : tr("Click a piece on the cloth or in the list. Drag to move, corners size "
                            "(Shift: free), the round handle turns. Arrows move by 1 mm, with "
                            "Shift 10 mm, with Alt 0.1 mm."));
  hint_->setVisible(!piece);
  if (!piece) return;
  const Box box = boundsOf(*piece);
  x_->setValue_mm(box.centre().x, inches);
  y_->setValue_mm(box.centre().y, inches);
  width_->setValue_mm(box.width(), inches);
  height_->setValue_mm(box.height(), inches);
  turn_->setText(QString::number(piece->place.turn_deg, 'g', 6));
  mirrored_->setChecked(piece->place.mirrored);
  if (!text) return;
  if (!text_->hasFocus() || !text_->isModified())
    text_->setText(QString::fromStdString(text->text).replace('\n', QStringLiteral(" / ")));
  QStringList gaps;
  for (double mm : text->gaps_mm) gaps << QString::number(mm, 'g', 3);
  if (!gaps_->hasFocus()) gaps_->setText(gaps.join(' '));
  if (fit_->value_mm() <= 0) fit_->setValue_mm(desk_.job().brief.place_width_mm - 20, inches);
  face_->setCurrentIndex(face_->findData(QString::fromStdString(text->face)));
  capHeight_->setValue_mm(text->height_mm, inches);
  const bool arc = text->arc_radius_mm > 0;
  curve_->setCurrentIndex(!arc ? 0 : text->arc_side == ArcSide::Outside ? 1 : 2);
  for (QWidget* w : {static_cast<QWidget*>(radius_), static_cast<QWidget*>(chord_),
                     static_cast<QWidget*>(sagitta_)})
    w->setEnabled(arc);
  if (arc) {
    radius_->setValue_mm(text->arc_radius_mm, inches);
    // the chord over the sewn width, and the bow that goes with it
    const double c = std::min(box.width(), 1.99 * text->arc_radius_mm), r = text->arc_radius_mm;
    chord_->setValue_mm(c, inches);
    sagitta_->setValue_mm(r - std::sqrt(r * r - c * c / 4), inches);
  }
}

}  // namespace rt
