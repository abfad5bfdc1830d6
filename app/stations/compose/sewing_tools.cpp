#include "sewing_tools.h"

#include <QDoubleValidator>

#include "actions.h"
#include "station.h"
#include "tool_shelf.h"

namespace rt {
namespace {

/// A figure that was asked for, or what thread and fabric ask for.
std::optional<double> wished(const LengthEdit& field, std::optional<double> was, double usual) {
  const double now = field.value_mm();
  if (std::abs(now - was.value_or(usual)) < 1e-9) return was;
  return now;
}

}  // namespace

SewingTools::SewingTools(Desk& desk)
    : desk_(desk),
      rows_(new LengthEdit(tr("Between rows of a fill"))),
      satin_(new LengthEdit(tr("Satin, point to point on one edge"))),
      length_(new LengthEdit(tr("Stitch length along rows"))),
      pull_(new LengthEdit(tr("Wider against pull, in all"))),
      angle_(new QLineEdit),
      underlay_(new QComboBox),
      take_(button(tr("Sew it so"), tr("Sew the piece again with these figures"), true)),
      usual_(button(tr("As cloth and thread ask"),
                    tr("Back to the spacing and pull of this fabric and thread"))),
      figures_(paragraph({}, true)),
      preview_([](const Input& in, const Watch& watch) {
        watched(watch, 0, "sewing");
        return sewingPreview(in.piece, in.then, in.fabric, *in.bench);
      }) {
  build();
  connect(&preview_, &StudyBase::changed, this, &SewingTools::tell);
  for (LengthEdit* field : {rows_, satin_, length_, pull_})
    connect(field, &LengthEdit::edited, this, &SewingTools::weigh);
  connect(angle_, &QLineEdit::editingFinished, this, &SewingTools::weigh);
  connect(underlay_, &QComboBox::activated, this, &SewingTools::weigh);
  connect(take_, &QPushButton::clicked, this, &SewingTools::take);
  connect(usual_, &QPushButton::clicked, this, &SewingTools::asAsked);
}

void SewingTools::build() {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  column->addWidget(heading(tr("How it is sewn")));
  rowsField_ = labelled(tr("Rows apart"), rows_);
  column->addWidget(pair(rowsField_, labelled(tr("Satin spacing"), satin_)));
  lengthRow_ = labelled(tr("Stitch length"), length_);
  column->addWidget(pair(lengthRow_, labelled(tr("Wider against pull"), pull_)));
  underlay_->addItems({tr("No underlay"), tr("Light underlay"), tr("Full underlay")});
  underlayRow_ =
      pair(labelled(tr("Angle of rows, degrees"), angle_), labelled(tr("Underlay"), underlay_));
  column->addWidget(underlayRow_);
  column->addWidget(figures_);
  column->addWidget(pair(take_, usual_));
  angle_->setPlaceholderText(tr("along the shape"));
  angle_->setValidator(new QDoubleValidator(-360, 360, 1, angle_));
  rows_->line()->setObjectName(QStringLiteral("sewRows"));
  satin_->line()->setObjectName(QStringLiteral("sewSatin"));
  length_->line()->setObjectName(QStringLiteral("sewLength"));
  pull_->line()->setObjectName(QStringLiteral("sewPull"));
  angle_->setObjectName(QStringLiteral("sewAngle"));
  underlay_->setObjectName(QStringLiteral("sewUnderlay"));
  take_->setObjectName(QStringLiteral("sewSo"));
  usual_->setObjectName(QStringLiteral("sewAsAsked"));
  figures_->setObjectName(QStringLiteral("sewFigures"));
}

void SewingTools::refresh() {
  const Piece* piece = desk_.selectedPiece();
  setVisible(piece && !std::holds_alternative<StitchSource>(piece->source));
  if (!piece || !isVisibleTo(parentWidget())) return;
  if (shown_ && *shown_ == *piece && shownOn_ == desk_.fabric() && shownInches_ == desk_.inches())
    return;
  show(*piece);
}

void SewingTools::show(const Piece& piece) {
  shown_ = piece;
  shownOn_ = desk_.fabric();
  const bool inches = shownInches_ = desk_.inches();
  const auto* art = std::get_if<ArtworkSource>(&piece.source);
  const auto* text = std::get_if<TextSource>(&piece.source);
  for (QWidget* w : {rowsField_, lengthRow_, underlayRow_}) w->setVisible(art);
  const ThreadSpacing& usual = shownOn_.spacing;
  if (art) {
    rows_->setValue_mm(art->row_spacing_mm.value_or(usual.rows_mm), inches);
    length_->setValue_mm(art->stitch_length_mm, inches);
    angle_->setText(art->angle_deg ? QString::number(*art->angle_deg) : QString());
    underlay_->setCurrentIndex(static_cast<int>(art->underlay));
  }
  satin_->setValue_mm((art ? art->satin_spacing_mm : text->spacing_mm).value_or(usual.satin_mm),
                      inches);
  pull_->setValue_mm((art ? art->pull_mm : text->pull_mm).value_or(shownOn_.pull_compensation_mm),
                     inches);
  usual_->setEnabled(art ? art->row_spacing_mm || art->satin_spacing_mm || art->pull_mm
                         : text->spacing_mm || text->pull_mm);
  weigh();
}

PieceSource SewingTools::typed(const Piece& piece) const {
  const Fabric& cloth = desk_.fabric();
  if (auto* text = std::get_if<TextSource>(&piece.source)) {
    TextSource next = *text;
    next.spacing_mm = wished(*satin_, text->spacing_mm, cloth.spacing.satin_mm);
    next.pull_mm = wished(*pull_, text->pull_mm, cloth.pull_compensation_mm);
    return next;
  }
  ArtworkSource next = std::get<ArtworkSource>(piece.source);
  next.row_spacing_mm = wished(*rows_, next.row_spacing_mm, cloth.spacing.rows_mm);
  next.satin_spacing_mm = wished(*satin_, next.satin_spacing_mm, cloth.spacing.satin_mm);
  next.pull_mm = wished(*pull_, next.pull_mm, cloth.pull_compensation_mm);
  next.stitch_length_mm = length_->value_mm();
  next.underlay = static_cast<Underlay>(underlay_->currentIndex());
  bool good = false;
  const double angle = angle_->text().toDouble(&good);
  next.angle_deg = good ? std::optional(angle) : std::nullopt;
  return next;
}

void SewingTools::weigh() {
  const Piece* piece = desk_.selectedPiece();
  if (!piece || std::holds_alternative<StitchSource>(piece->source)) return;
  take_->setEnabled(false);  // until what was typed can be sewn
  guarded(desk_, [&] {
    const PieceSource then = typed(*piece);
    requireSewable(then);
    take_->setEnabled(!(then == piece->source));
    preview_.ask({*piece, then, desk_.fabric(), std::make_shared<const Bench>(desk_.bench())});
  });
  tell();
}

void SewingTools::tell() {
  if (preview_.state() == StudyState::Failed)
    return figures_->setText(QString::fromStdString(preview_.error()->what()));
  if (preview_.state() != StudyState::Ready) return figures_->setText(tr("Being sewn …"));
  const SewingPreview& p = *preview_.last();
  auto words = [](const SewnFigures& f) {
    return tr("%L1 stitches, %2 m, %3 min; %4 mm/mm² in the mean, %5 at the heaviest")
        .arg(f.stitches)
        .arg(f.thread_mm / 1000, 0, 'f', 1)
        .arg(f.minutes, 0, 'f', 1)
        .arg(f.mean_mm_per_mm2, 0, 'f', 1)
        .arg(f.peak_mm_per_mm2, 0, 'f', 1);
  };
  figures_->setText(take_->isEnabled() ? tr("Now %1.\nSo %2.").arg(words(p.now), words(p.then))
                                       : tr("%1.").arg(words(p.now)));
}

void SewingTools::settle() {
  while (preview_.running()) waitForEvents();
  QCoreApplication::processEvents();
}

void SewingTools::change(const PieceSource& source, const QString& name) {
  const Piece* chosen = desk_.selectedPiece();
  if (!chosen) return;
  Piece next = *chosen;
  next.source = source;
  const QString done = name.arg(QString::fromStdString(chosen->name));
  guarded(desk_, [&] {
    requireSewable(source);
    desk_.change(done, actions::remadeAs(desk_.job(), next, desk_.bench()));
  });
}

void SewingTools::take() {
  if (const Piece* piece = desk_.selectedPiece()) change(typed(*piece), tr("how %1 is sewn"));
}

void SewingTools::asAsked() {
  const Piece* piece = desk_.selectedPiece();
  if (!piece) return;
  PieceSource source = piece->source;
  if (auto* art = std::get_if<ArtworkSource>(&source))
    art->row_spacing_mm = art->satin_spacing_mm = art->pull_mm = std::nullopt;
  if (auto* text = std::get_if<TextSource>(&source))
    text->spacing_mm = text->pull_mm = std::nullopt;
  change(source, tr("sew %1 as cloth and thread ask"));
}

}  // namespace rt
