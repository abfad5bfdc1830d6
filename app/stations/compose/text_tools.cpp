#include "text_tools.h"

#include "compose_actions.h"
#include "error.h"
#include "faces.h"
#include "letter.h"
#include "measured_curve.h"
#include "tool_shelf.h"

namespace rt {
namespace {

/// "12.5,3  60,18  110,2" in the person's unit, as mm.
std::vector<Point> pointsFrom(const QString& typed, bool inches) {
  const Unit unit = inches ? Unit::Inch : Unit::Millimetre;
  std::vector<Point> out;
  for (const QString& word : typed.split(' ', Qt::SkipEmptyParts)) {
    const QStringList parts = word.split(',');
    try {
      if (parts.size() != 2) throw Error("no point", "", "");
      out.push_back({parseLength_mm(parts[0].toStdString(), unit),
                     parseLength_mm(parts[1].toStdString(), unit)});
    } catch (const Error&) {
      throw Error("\"" + word.toStdString() + "\" is not a point", "points of a curve",
                  "type three points or more like 12.5,-3 with spaces between");
    }
  }
  return out;
}

QString typedPoints(const std::vector<Point>& points, bool inches) {
  QStringList out;
  for (Point p : points)
    out << (inches ? QStringLiteral("%1,%2")
                         .arg(p.x / kInch_mm, 0, 'f', 3)
                         .arg(p.y / kInch_mm, 0, 'f', 3)
                   : QStringLiteral("%1,%2").arg(p.x, 0, 'f', 2).arg(p.y, 0, 'f', 2));
  return out.join(' ');
}

}  // namespace

TextTools::TextTools(Desk& desk, Gestures& gestures)
    : desk_(desk),
      gestures_(gestures),
      text_(new QLineEdit),
      face_(new QComboBox),
      curve_(new QComboBox),
      measured_(new QComboBox),
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
  const std::array<std::tuple<QString, const char*, void (TextTools::*)(QVBoxLayout&)>, 2> parts{
      {{tr("Gaps, lines, width"), "Gaps", &TextTools::buildGaps},
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
  measured_->addItems({tr("Radius"), tr("Chord, sagitta"), tr("Points by ruler")});
  column.addWidget(pair(labelled(tr("Baseline"), curve_), labelled(tr("Measured by"), measured_)));
  auto* pick = button(tr("Pick on the cloth …"),
                      tr("Click three points of the neckline or hem: the lettering goes along it, "
                         "its middle on the centre line"));
  auto* large = button(tr("As tall as fits"), tr("The largest capitals over the flat part"));
  radiusRow_ = pair(labelled(tr("Radius"), radius_), new QWidget);
  chordRow_ = pair(labelled(tr("Chord"), chord_), labelled(tr("Sagitta"), sagitta_));
  pointsRow_ = new QWidget;
  auto* points = new QVBoxLayout(pointsRow_);
  points->setContentsMargins(0, 0, 0, 0);
  points->addWidget(labelled(tr("Points of the curve: x,y x,y x,y …"), points_));
  points->addWidget(pair(pick, large));
  awayRow_ = labelled(tr("Letters off the curve by; 0: on it"), away_);
  for (QWidget* row : {radiusRow_, chordRow_, pointsRow_, awayRow_}) column.addWidget(row);
  column.addWidget(curveFacts_);
  curve_->setObjectName(QStringLiteral("letterCurve"));
  measured_->setObjectName(QStringLiteral("letterMeasured"));
  radius_->line()->setObjectName(QStringLiteral("letterRadius"));
  chord_->line()->setObjectName(QStringLiteral("letterChord"));
  sagitta_->line()->setObjectName(QStringLiteral("letterSagitta"));
  away_->line()->setObjectName(QStringLiteral("letterAway"));
  points_->setObjectName(QStringLiteral("letterPoints"));
  points_->setPlaceholderText(QStringLiteral("-60,-40 0,-22 60,-40"));
  pick->setObjectName(QStringLiteral("followCurve"));
  large->setObjectName(QStringLiteral("fitToCurve"));
  connect(pick, &QPushButton::clicked, this, [this] {
    gestures_.askForPoints(3, tr("Click three points along the curve"),
                           [this](const std::vector<Point>& p) { followCurve(p); });
  });
  connect(large, &QPushButton::clicked, this, &TextTools::fitToCurve);
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
  connect(curve_, &QComboBox::activated, this, [this](int i) {
    edit(tr("baseline"), [this, i](TextSource& t) {
      t.arc_side = i == 2 ? ArcSide::Inside : ArcSide::Outside;
      if (i == 0)
        bendTo(t, 0);
      else if (t.arc_radius_mm <= 0)
        bendTo(t, usualRadius(t));
    });
  });
  connect(measured_, &QComboBox::activated, this,
          [this](int i) { measureBy(static_cast<MeasuredCurve::Given>(i)); });
  connect(radius_, &LengthEdit::edited, this, [this](double mm) {
    measure(tr("radius"), [mm](MeasuredCurve& c) { c.radius_mm = mm; });
  });
  connect(chord_, &LengthEdit::edited, this,
          [this](double mm) { measure(tr("chord"), [mm](MeasuredCurve& c) { c.chord_mm = mm; }); });
  connect(sagitta_, &LengthEdit::edited, this, [this](double mm) {
    measure(tr("sagitta"), [mm](MeasuredCurve& c) { c.sagitta_mm = mm; });
  });
  connect(away_, &LengthEdit::edited, this, [this](double mm) {
    measure(tr("letters off the curve"), [mm](MeasuredCurve& c) {
      const bool stand = mm == 0 && c.given != MeasuredCurve::Given::Points;
      c.clear_mm = stand ? std::nullopt : std::optional(mm);
    });
  });
  connectPoints();
}

void TextTools::connectPoints() {
  connect(points_, &QLineEdit::editingFinished, this, [this] {
    if (!points_->isModified()) return;  // what was typed is not left standing over another piece
    points_->setModified(false);
    guarded(desk_, [this] { followCurve(pointsFrom(points_->text(), desk_.inches())); });
  });
}

/// Another figure of the curve as it was measured; all else of it stays.
void TextTools::measure(const QString& name, const std::function<void(MeasuredCurve&)>& by) {
  edit(name, [&](TextSource& t) {
    MeasuredCurve curve = t.curve;
    by(curve);
    follow(t, curve);  // says at once what is no circle
  });
}

/// Of a text that was straight.
double TextTools::usualRadius(const TextSource& text) const {
  return std::max(4 * text.height_mm, desk_.job().brief.place_width_mm);
}

/// The same curve, told in other figures.
void TextTools::measureBy(MeasuredCurve::Given given) {
  const TextSource* t = source();
  if (!t) return;
  wantsPoints_ = 0;
  if (given == MeasuredCurve::Given::Points && t->curve.points_mm.size() < 3) {
    wantsPoints_ = desk_.selected();
    return refresh();
  }
  const auto letters = desk_.lettering(*desk_.selectedPiece());
  const double usual = usualRadius(*t);
  measure(tr("how the curve is measured"), [&](MeasuredCurve& c) {
    const double now = fitted(c).radius_mm, radius = now > 0 ? now : usual;
    c.given = given;
    if (given == MeasuredCurve::Given::Radius) c.radius_mm = radius;
    if (given != MeasuredCurve::Given::Chord || !letters) return;
    const ChordOf chord = chordOf(radius, letters->advance_mm);
    c.chord_mm = chord.chord_mm;
    c.sagitta_mm = chord.sagitta_mm;
  });
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

void TextTools::followCurve(const std::vector<Point>& points, bool as_large) {
  guarded(desk_, [&] {
    if (!source()) return;
    NecklineFit fit;
    // how far off stays as it was told; of a first curve it is what is usual
    const MeasuredCurve& was = source()->curve;
    const bool first = was.given != MeasuredCurve::Given::Points;
    const double away = was.clear_mm.value_or(first ? NecklineOptions{}.away_mm : 0);
    desk_.change(as_large ? tr("as tall as fits the curve") : tr("follow a curve"),
                 actions::letteredAlong(desk_.job(), desk_.selected(), points, away, as_large,
                                        desk_.bench(), &fit));
    wantsPoints_ = 0;
    refresh();
    tellFit(fit);
  });
}

void TextTools::fitToCurve() {
  if (const TextSource* t = source()) followCurve(t->curve.points_mm, true);
}

void TextTools::tellFit(const NecklineFit& fit) {
  curveFacts_->setText(
      tr("Curve of radius %1 over %2°: the word takes %3 of %4; capitals up to %5 fit. %6")
          .arg(oneUnit(desk_, fit.curve.radius_mm))
          .arg(fit.curve.span_deg, 0, 'f', 0)
          .arg(oneUnit(desk_, fit.text_mm), oneUnit(desk_, fit.room_mm),
               oneUnit(desk_, fit.most_mm),
               fit.on_centre_line ? tr("Middle on the centre line.")
                                  : tr("The centre line does not cross it: middle of the curve.")));
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

/// The figures that were given, and what follows from them.
void TextTools::showCurve(const TextSource& t) {
  using Given = MeasuredCurve::Given;
  const bool inches = desk_.inches(), arc = t.arc_radius_mm > 0;
  const MeasuredCurve& c = t.curve;
  const Given given = wantsPoints_ == desk_.selected() ? Given::Points : c.given;
  const bool points = given == Given::Points;
  for (const auto& [row, shown] : {std::pair{radiusRow_, arc && given == Given::Radius},
                                   {chordRow_, given == Given::Chord},
                                   {pointsRow_, points},
                                   {awayRow_, arc}})
    row->setVisible(shown);
  curveFacts_->setVisible(arc);
  measured_->setCurrentIndex(static_cast<int>(given));
  radius_->setValue_mm(c.radius_mm, inches);
  chord_->setValue_mm(c.chord_mm, inches);
  sagitta_->setValue_mm(c.sagitta_mm, inches);
  away_->setValue_mm(c.clear_mm.value_or(0), inches);
  if (!points_->isModified()) points_->setText(typedPoints(c.points_mm, inches));
  if (!arc) return;
  guarded(desk_, [&] {
    const FittedCurve circle = fitted(c);
    QString words = tr("Radius of the curve %1, of the baseline %2.")
                        .arg(bothUnits(desk_, circle.radius_mm), oneUnit(desk_, t.arc_radius_mm));
    if (c.given == Given::Points)
      words += ' ' + tr("The points lie %1 off it.").arg(oneUnit(desk_, circle.rms_mm));
    curveFacts_->setText(words);
  });
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
  showCurve(*t);
  tracking_->setValue_mm(t->gap_mm, inches);
  lines_->setValue_mm(t->line_spacing * t->height_mm, inches);
  if (fit_->value_mm() <= 0) fit_->setValue_mm(desk_.job().brief.place_width_mm - 20, inches);
  QStringList gaps;
  for (double g : t->gaps_mm) gaps << QString::number(g);
  if (!gaps_->hasFocus()) gaps_->setText(gaps.join(' '));
  showFlatPart(*desk_.selectedPiece(), *t);
}

}  // namespace rt
