#include "text_tools.h"

#include "compose_actions.h"
#include "error.h"
#include "faces.h"
#include "letter.h"
#include "neckline.h"
#include "tool_shelf.h"

namespace rt {
namespace {

/// "12.5,3  60,18  110,2" in mm.
std::vector<Point> pointsFrom(const QString& typed) {
  std::vector<Point> out;
  for (const QString& word : typed.split(' ', Qt::SkipEmptyParts)) {
    const QStringList parts = word.split(',');
    bool x = false, y = false;
    if (parts.size() == 2) out.push_back({parts[0].toDouble(&x), parts[1].toDouble(&y)});
    if (!x || !y)
      throw Error("\"" + word.toStdString() + "\" is not a point", "three points",
                  "type three points like 12.5,-3 with spaces between");
  }
  if (out.size() != 3)
    throw Error(std::to_string(out.size()) + " points make no curve", "three points",
                "type three points like 12.5,-3 with spaces between");
  return out;
}

}  // namespace

TextTools::TextTools(Desk& desk, Gestures& gestures)
    : desk_(desk),
      gestures_(gestures),
      text_(new QLineEdit),
      face_(new QComboBox),
      curve_(new QComboBox),
      frame_(new QComboBox),
      capHeight_(new LengthEdit(tr("Cap height"))),
      radius_(new LengthEdit(tr("Radius"))),
      chord_(new LengthEdit(tr("Chord"))),
      sagitta_(new LengthEdit(tr("Sagitta"))),
      fit_(new LengthEdit(tr("Width to fit"))),
      away_(new LengthEdit(tr("Letters off the curve by"))),
      tracking_(new LengthEdit(tr("Added to every gap"))),
      lines_(new LengthEdit(tr("Baseline to baseline"))),
      gaps_(new QLineEdit),
      points_(new QLineEdit),
      facts_(paragraph({}, true)),
      curveFacts_(paragraph({}, true)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  buildWords(*column);
  const std::array<std::tuple<QString, const char*, void (TextTools::*)(QVBoxLayout&)>, 3> parts{
      {{tr("Gaps, lines, width"), "Gaps", &TextTools::buildGaps},
       {tr("Arc by chord, neckline or hem"), "Curve", &TextTools::buildFollow},
       {tr("Monogram"), "Monogram", &TextTools::buildMonogram}}};
  for (const auto& [title, key, build] : parts) {
    auto* content = new QWidget;
    auto* inner = new QVBoxLayout(content);
    inner->setContentsMargins(0, 0, 0, 0);
    inner->setSpacing(8);
    (this->*build)(*inner);
    column->addWidget(new Fold(title, QString::fromLatin1(key), content));
  }
  connectWords();
  connectCurve();
}

void TextTools::buildWords(QVBoxLayout& column) {
  column.addWidget(labelled(tr("Text: here, or on the cloth with F2"), text_));
  for (const Face& f : desk_.faces())
    face_->addItem(QString::fromStdString(f.name), QString::fromStdString(f.id));
  column.addWidget(pair(labelled(tr("Face"), face_), labelled(tr("Cap height"), capHeight_)));
  column.addWidget(facts_);
  buildCurve(column);
  text_->setToolTip(tr("A slash with spaces around it, \" / \", begins a new line"));
  text_->setObjectName(QStringLiteral("letterText"));
  gaps_->setObjectName(QStringLiteral("letterGaps"));
  fit_->line()->setObjectName(QStringLiteral("letterFit"));
  capHeight_->line()->setObjectName(QStringLiteral("letterHeight"));
  face_->setObjectName(QStringLiteral("letterFace"));
}

void TextTools::buildCurve(QVBoxLayout& column) {
  curve_->addItems({tr("Straight"), tr("Arc, heads out"), tr("Arc, heads in")});
  column.addWidget(pair(labelled(tr("Baseline"), curve_), labelled(tr("Radius"), radius_)));
  curve_->setObjectName(QStringLiteral("letterCurve"));
  radius_->line()->setObjectName(QStringLiteral("letterRadius"));
  chord_->line()->setObjectName(QStringLiteral("letterChord"));
  sagitta_->line()->setObjectName(QStringLiteral("letterSagitta"));
}

void TextTools::buildGaps(QVBoxLayout& column) {
  auto* fit = button(tr("Fit to width"), tr("The largest cap height whose letters stay within it"));
  fit->setObjectName(QStringLiteral("fitLettering"));
  column.addWidget(pair(labelled(tr("Width to fit"), fit_), labelled(QStringLiteral(" "), fit)));
  column.addWidget(
      pair(labelled(tr("Added to every gap"), tracking_), labelled(tr("Line to line"), lines_)));
  tracking_->line()->setObjectName(QStringLiteral("letterTracking"));
  lines_->line()->setObjectName(QStringLiteral("letterLines"));
  column.addWidget(labelled(tr("Single gaps, mm: one number after each letter"), gaps_));
  connect(fit, &QPushButton::clicked, this, &TextTools::fitWidth);
}

void TextTools::buildFollow(QVBoxLayout& column) {
  column.addWidget(pair(labelled(tr("Chord"), chord_), labelled(tr("and sagitta"), sagitta_)));
  auto* follow =
      button(tr("Follow a curve …"),
             tr("Click three points of the neckline or hem: the lettering goes along it, "
                "as large as fits, its middle on the centre line"));
  follow->setObjectName(QStringLiteral("followCurve"));
  column.addWidget(
      pair(labelled(tr("Letters off it by"), away_), labelled(QStringLiteral(" "), follow)));
  column.addWidget(labelled(tr("or type its three points, x,y in mm"), points_));
  column.addWidget(curveFacts_);
  away_->line()->setObjectName(QStringLiteral("letterAway"));
  points_->setObjectName(QStringLiteral("letterPoints"));
  points_->setPlaceholderText(QStringLiteral("-60,-40 0,-22 60,-40"));
  away_->setValue_mm(8, desk_.inches());
  connect(follow, &QPushButton::clicked, this, [this] {
    gestures_.askForPoints(3, tr("Click three points along the curve"),
                           [this](const std::vector<Point>& p) { followCurve(p); });
  });
}

void TextTools::buildMonogram(QVBoxLayout& column) {
  frame_->addItems({tr("Running text"), tr("Monogram, no frame"), tr("Monogram in a circle"),
                    tr("Monogram in a diamond"), tr("Monogram in a shield")});
  frame_->setObjectName(QStringLiteral("letterFrame"));
  column.addWidget(labelled(tr("Set as"), frame_));
  connect(frame_, &QComboBox::activated, this, [this](int i) {
    edit(tr("monogram"), [i](TextSource& t) {
      t.monogram = i > 0;
      if (i > 0) t.frame = static_cast<MonogramFrame>(i - 1);
    });
  });
}

void TextTools::connectWords() {
  connect(tracking_, &LengthEdit::edited, this,
          [this](double mm) { edit(tr("gaps"), [mm](TextSource& t) { t.gap_mm = mm; }); });
  connect(lines_, &LengthEdit::edited, this, [this](double mm) {
    edit(tr("line spacing"), [mm](TextSource& t) {
      if (mm > 0) t.line_spacing = mm / t.height_mm;
    });
  });
  connect(gaps_, &QLineEdit::editingFinished, this, &TextTools::readGaps);
  connect(text_, &QLineEdit::editingFinished, this, [this] {
    if (text_->isModified())
      edit(tr("text"), [this](TextSource& t) {
        t.text = text_->text().replace(QStringLiteral(" / "), QStringLiteral("\n")).toStdString();
      });
    text_->setModified(false);
  });
  connect(face_, &QComboBox::activated, this, [this] {
    edit(tr("face"),
         [this](TextSource& t) { t.face = face_->currentData().toString().toStdString(); });
  });
  connect(capHeight_, &LengthEdit::edited, this,
          [this](double mm) { edit(tr("cap height"), [mm](TextSource& t) { t.height_mm = mm; }); });
}

void TextTools::connectCurve() {
  connect(radius_, &LengthEdit::edited, this,
          [this](double mm) { edit(tr("radius"), [mm](TextSource& t) { t.arc_radius_mm = mm; }); });
  connect(curve_, &QComboBox::activated, this, [this](int i) {
    edit(tr("baseline"), [this, i](TextSource& t) {
      t.arc_side = i == 2 ? ArcSide::Inside : ArcSide::Outside;
      if (i == 0)
        t.arc_radius_mm = 0;
      else if (t.arc_radius_mm <= 0)
        t.arc_radius_mm = std::max(4 * t.height_mm, desk_.job().brief.place_width_mm);
    });
  });
  connect(chord_, &LengthEdit::edited, this, &TextTools::readArc);
  connect(sagitta_, &LengthEdit::edited, this, &TextTools::readArc);
  connect(points_, &QLineEdit::returnPressed, this,
          [this] { guarded(desk_, [this] { followCurve(pointsFrom(points_->text())); }); });
}

const TextSource* TextTools::source() const {
  const Piece* piece = desk_.selectedPiece();
  return piece ? std::get_if<TextSource>(&piece->source) : nullptr;
}

void TextTools::edit(const QString& name, const std::function<void(TextSource&)>& by) {
  guarded(desk_, [&] {
    const TextSource* was = source();
    if (!was) return;
    TextSource text = *was;
    by(text);
    std::vector<std::string> warnings;
    Job next = actions::relettered(desk_.job(), desk_.selected(), text, desk_.bench(), &warnings);
    desk_.change(name, std::move(next));
    if (!warnings.empty()) desk_.say(QString::fromStdString(warnings[0]));
  });
  refresh();
}

void TextTools::readGaps() {
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
  edit(tr("letter gaps"), [&](TextSource& t) { t.gaps_mm = gaps; });
}

void TextTools::readArc() {
  guarded(desk_, [this] {
    const Arc arc = arcFromChord(chord_->value_mm(), sagitta_->value_mm());
    edit(tr("radius"), [&](TextSource& t) { t.arc_radius_mm = arc.radius_mm; });
  });
}

void TextTools::fitWidth() {
  guarded(desk_, [this] {
    const TextSource* text = source();
    if (!text) return;
    const double h = heightThatFits(composed(text->text), loadFace(desk_.bench().data, text->face),
                                    actions::gapsOf(*text), fit_->value_mm());
    if (!(h > 0))
      throw Error("no height fits into " + std::to_string(fit_->value_mm()) + " mm", "lettering",
                  "give more width or a shorter text");
    edit(tr("fit lettering"), [h](TextSource& t) { t.height_mm = std::floor(h * 10) / 10; });
  });
}

void TextTools::followCurve(const std::vector<Point>& picked) {
  guarded(desk_, [&] {
    if (!source() || picked.size() != 3) return;
    NecklineFit fit;
    desk_.change(
        tr("follow a curve"),
        actions::letteredAlong(desk_.job(), desk_.selected(), {picked[0], picked[1], picked[2]},
                               away_->value_mm(), desk_.bench(), &fit));
    curveFacts_->setText(
        tr("Curve of radius %1 over %2°: caps of %3 fill %4 of %5. %6")
            .arg(oneUnit(desk_, fit.curve.radius_mm))
            .arg(fit.curve.span_deg, 0, 'f', 0)
            .arg(oneUnit(desk_, fit.height_mm), oneUnit(desk_, fit.text_mm),
                 oneUnit(desk_, fit.room_mm),
                 fit.on_centre_line
                     ? tr("Middle on the centre line.")
                     : tr("The centre line does not cross it: middle of the curve.")));
  });
}

/// What of the text goes past the place, as the part that lies flat.
void TextTools::showFlatPart(const Piece& piece, const TextSource& text) {
  const Box box = boundsOf(piece);
  const double room = desk_.job().brief.place_width_mm;
  const QString height = tr("Capitals %1 tall.").arg(bothUnits(desk_, text.height_mm));
  if (box.width() <= room || text.monogram) return facts_->setText(height);
  QStringList past;
  guarded(desk_, [&] {
    for (const std::string& letter :
         pastTheFlatPart(composed(text.text), loadFace(desk_.bench().data, text.face),
                         actions::gapsOf(text), room))
      past << QString::fromStdString(letter);
  });
  facts_->setText(past.isEmpty()
                      ? height
                      : tr("%1 Past the place: %2.").arg(height, past.join(QStringLiteral(", "))));
}

void TextTools::focusText() {
  text_->setFocus();
  text_->selectAll();
}

void TextTools::refresh() {
  const TextSource* t = source();
  if (!t) return;
  const bool inches = desk_.inches();
  text_->setText(
      QString::fromStdString(t->text).replace(QStringLiteral("\n"), QStringLiteral(" / ")));
  face_->setCurrentIndex(face_->findData(QString::fromStdString(t->face)));
  curve_->setCurrentIndex(t->arc_radius_mm <= 0 ? 0 : t->arc_side == ArcSide::Outside ? 1 : 2);
  frame_->setCurrentIndex(t->monogram ? 1 + static_cast<int>(t->frame) : 0);
  capHeight_->setValue_mm(t->height_mm, inches);
  const bool arc = t->arc_radius_mm > 0;
  for (QWidget* w : {static_cast<QWidget*>(radius_), static_cast<QWidget*>(chord_),
                     static_cast<QWidget*>(sagitta_)})
    w->setEnabled(arc);
  const auto letters = arc ? desk_.lettering(*desk_.selectedPiece()) : nullptr;
  if (letters) {  // of the baseline under the letters' advance, as the cloth shows it too
    const double r = t->arc_radius_mm, half = std::min(letters->advance_mm / 2 / r, kPi);
    radius_->setValue_mm(r, inches);
    chord_->setValue_mm(2 * r * std::sin(half), inches);
    sagitta_->setValue_mm(r * (1 - std::cos(half)), inches);
  }
  tracking_->setValue_mm(t->gap_mm, inches);
  lines_->setValue_mm(t->line_spacing * t->height_mm, inches);
  if (fit_->value_mm() <= 0) fit_->setValue_mm(desk_.job().brief.place_width_mm - 20, inches);
  QStringList gaps;
  for (double g : t->gaps_mm) gaps << QString::number(g);
  if (!gaps_->hasFocus()) gaps_->setText(gaps.join(' '));
  showFlatPart(*desk_.selectedPiece(), *t);
}

}  // namespace rt
