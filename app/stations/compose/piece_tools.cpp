#include "piece_tools.h"

#include <QMenu>

#include "compose_actions.h"
#include "outlines.h"
#include "station.h"
#include "tool_shelf.h"

namespace rt {
namespace {

QSpinBox* counter(const QString& name, int value) {
  auto* box = new QSpinBox;
  box->setRange(1, 200);
  box->setValue(value);
  box->setAccessibleName(name);
  box->setMinimumHeight(32);
  box->setButtonSymbols(QAbstractSpinBox::NoButtons);
  return box;
}

QString line(const QString& what, size_t stitches, double thread_mm, double spacing_mm, double peak,
             double holes, double minutes) {
  return QObject::tr("%1: %2 stitches, %3 m, spacing %4 mm, peak %5 mm/mm², %6 holes/mm², %7 min")
      .arg(what, grouped(stitches))
      .arg(thread_mm / 1000, 0, 'f', 1)
      .arg(spacing_mm, 0, 'f', 2)
      .arg(peak, 0, 'f', 1)
      .arg(holes, 0, 'f', 1)
      .arg(minutes, 0, 'f', 1);
}

}  // namespace

PieceTools::PieceTools(Desk& desk)
    : desk_(desk),
      sizing_(new QWidget),
      kept_(paragraph({})),
      again_(paragraph({})),
      advice_(paragraph({}, true)),
      keep_(button(tr("Keep stitches"), tr("Stretch the stitches as they were read"))),
      respace_(button(tr("Re-space"), tr("Sew the piece again at its own spacing for this size"))),
      hold_(button(tr("Both on the cloth"),
                   tr("Weigh both ways side by side: drag the line across the cloth"))),
      columns_(counter(tr("Pieces in a row"), 2)),
      rows_(counter(tr("Rows"), 1)),
      gapX_(new LengthEdit(tr("Gap across"))),
      gapY_(new LengthEdit(tr("Gap down"))),
      band_(new LengthEdit(tr("Band of the border"))),
      borderWidth_(new LengthEdit(tr("Border width"))),
      borderHeight_(new LengthEdit(tr("Border height"))),
      alternate_(new QCheckBox(tr("Mirror every second"))),
      along_(new QComboBox),
      corner_(new QComboBox),
      count_(counter(tr("Copies in all"), 5)),
      alongX_(new LengthEdit(tr("Right"))),
      alongY_(new LengthEdit(tr("Down"))),
      span_(new QLineEdit(QStringLiteral("360"))),
      said_(paragraph({}, true)),
      choice_([](const SizingInput& in, const Watch& watch) {
        watched(watch, 0, "sizing");
        return sizingChoice(in.piece, in.fabric, *in.bench);
      }) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  buildSizing();
  const std::array<std::tuple<QString, const char*, void (PieceTools::*)(QVBoxLayout&)>, 5> parts{
      {{tr("In rows"), "Rows", &PieceTools::buildRepeat},
       {tr("Along a line or round a point"), "Along", &PieceTools::buildAlong},
       {tr("At a corner, an edge or the cross"), "Places", &PieceTools::buildPlaces},
       {tr("Border of whole repeats"), "Border", &PieceTools::buildBorder},
       {tr("Basting, outline, taking apart"), "Basting", &PieceTools::buildBasting}}};
  for (const auto& [title, key, build] : parts) {
    auto* content = new QWidget;
    auto* inner = new QVBoxLayout(content);
    inner->setContentsMargins(0, 0, 0, 0);
    inner->setSpacing(8);
    (this->*build)(*inner);
    auto* fold = new Fold(title, QString::fromLatin1(key), content);
    folds_.push_back(fold);
    column->addWidget(fold);
    // one at a time: the panel does not grow
    connect(fold->header(), &QPushButton::clicked, this, [this, fold] {
      for (Fold* other : folds_)
        if (other != fold) other->setOpen(false);
    });
  }
  folds_[0]->setOpen(true);
  column->addWidget(said_);
  connect(&choice_, &StudyBase::changed, this, &PieceTools::showChoice);
}

void PieceTools::buildSizing() {
  auto* box = new QVBoxLayout(sizing_);
  box->setContentsMargins(0, 0, 0, 0);
  box->setSpacing(6);
  box->addWidget(heading(tr("Stitches at this size")));
  for (QLabel* label : {kept_, again_}) label->setFont(look::figures(9.5));
  box->addWidget(kept_);
  box->addWidget(again_);
  box->addWidget(advice_);
  box->addWidget(pair(keep_, respace_));
  box->addWidget(hold_);
  hold_->setCheckable(true);
  hold_->setObjectName(QStringLiteral("holdBoth"));
  connect(hold_, &QPushButton::clicked, this, &PieceTools::holdSideBySide);
  desk_.on(Part::Comparison, this, [this] {
    if (!desk_.comparison()) hold_->setChecked(false);
  });
  keep_->setObjectName(QStringLiteral("keepStitches"));
  respace_->setObjectName(QStringLiteral("respacePiece"));
  connect(keep_, &QPushButton::clicked, this, &PieceTools::keepStitches);
  connect(respace_, &QPushButton::clicked, this, &PieceTools::respace);
}

void PieceTools::buildPlaces(QVBoxLayout& column) {
  auto* pad = new QGridLayout;
  pad->setSpacing(4);
  static const char* const kNames[9] = {"top left",    "top",       "top right",
                                        "left",        "the cross", "right",
                                        "bottom left", "bottom",    "bottom right"};
  static const char* const kSigns[9] = {"↖", "↑", "↗", "←", "✛", "→", "↙", "↓", "↘"};
  for (int i = 0; i < 9; ++i) {
    auto* b = button(QString::fromUtf8(kSigns[i]),
                     tr("Stand the piece at %1 of the place").arg(QString::fromLatin1(kNames[i])));
    b->setAccessibleName(tr("At %1").arg(QString::fromLatin1(kNames[i])));
    b->setObjectName(QStringLiteral("anchor%1").arg(i));
    connect(b, &QPushButton::clicked, this, [this, i] { anchor(i); });
    pad->addWidget(b, i / 3, i % 3);
  }
  column.addLayout(pad);
}

void PieceTools::buildRepeat(QVBoxLayout& column) {
  columns_->setObjectName(QStringLiteral("repeatColumns"));
  rows_->setObjectName(QStringLiteral("repeatRows"));
  column.addWidget(pair(labelled(tr("In a row"), columns_), labelled(tr("Rows"), rows_)));
  column.addWidget(pair(labelled(tr("Gap across"), gapX_), labelled(tr("Gap down"), gapY_)));
  auto* repeat = button(tr("Repeat"), tr("Lay copies beside and below, bounds apart by the gaps"));
  repeat->setObjectName(QStringLiteral("repeatPiece"));
  column.addWidget(pair(alternate_, repeat));
  connect(repeat, &QPushButton::clicked, this, &PieceTools::repeatGrid);
}

void PieceTools::buildAlong(QVBoxLayout& column) {
  along_->addItems({tr("Along a line to"), tr("Around a point at")});
  along_->setToolTip(
      tr("From the piece to a place, or on a circle about a place; both are told "
         "from the cross"));
  along_->setObjectName(QStringLiteral("alongWay"));
  count_->setObjectName(QStringLiteral("alongCount"));
  alongX_->line()->setObjectName(QStringLiteral("alongX"));
  alongY_->line()->setObjectName(QStringLiteral("alongY"));
  span_->setObjectName(QStringLiteral("alongSpan"));
  span_->setToolTip(tr("Degrees clockwise that the copies spread over; 360 goes all round"));
  column.addWidget(pair(labelled(tr("Repeat"), along_), labelled(tr("Copies in all"), count_)));
  column.addWidget(
      pair(labelled(tr("Right of cross"), alongX_), labelled(tr("Below cross"), alongY_)));
  auto* go = button(tr("Repeat along it"), tr("Copies evenly along the line or round the point"));
  go->setObjectName(QStringLiteral("repeatAlong"));
  column.addWidget(
      pair(labelled(tr("Over degrees, round a point"), span_), labelled(QStringLiteral(" "), go)));
  connect(go, &QPushButton::clicked, this, &PieceTools::repeatAlong);
}

void PieceTools::buildBorder(QVBoxLayout& column) {
  corner_->addItems({tr("Corners turned"), tr("Corners mitred")});
  corner_->setObjectName(QStringLiteral("borderCorner"));
  corner_->setToolTip(tr("One motif across each corner, or both sides cut on the diagonal"));
  column.addWidget(pair(labelled(tr("Border width"), borderWidth_),
                        labelled(tr("Border height"), borderHeight_)));
  auto* around =
      button(tr("Border of it"), tr("Whole repeats along four sides, stretched at most 5 %"));
  around->setObjectName(QStringLiteral("borderPiece"));
  column.addWidget(pair(labelled(tr("Band"), band_), labelled(tr("Corners"), corner_)));
  column.addWidget(around);
  connect(around, &QPushButton::clicked, this, &PieceTools::border);
}

void PieceTools::buildBasting(QVBoxLayout& column) {
  auto* basting = button(tr("Baste around"), tr("A basting outline 4 mm outside, sewn first"));
  basting->setObjectName(QStringLiteral("bastePiece"));
  auto* split = button(tr("Take apart"), tr("Make pieces of its colours, its cuts or its regions"));
  split->setObjectName(QStringLiteral("takeApart"));
  auto* ways = new QMenu(split);
  ways->addAction(tr("By colour"), this, [this] { apart(0); });
  ways->addAction(tr("At every trim"), this, [this] { apart(1); });
  ways->addAction(tr("By region"), this, [this] { apart(2); });
  split->setMenu(ways);
  auto* outline = button(tr("Sew its outline first"),
                         tr("A placement line, a wait to lay the cloth, a tack-down line, then the "
                            "piece; equal pieces have all their lines first"));
  outline->setObjectName(QStringLiteral("outlineFirst"));
  connect(outline, &QPushButton::clicked, this, &PieceTools::outlineFirst);
  auto* bastePlace =
      button(tr("Baste the place"), tr("A basting outline at the place's exact size, sewn first"));
  bastePlace->setObjectName(QStringLiteral("bastePlace"));
  connect(bastePlace, &QPushButton::clicked, this, [this] { baste(true); });
  column.addWidget(pair(basting, bastePlace));
  column.addWidget(pair(outline, split));
  connect(basting, &QPushButton::clicked, this, [this] { baste(); });
}

void PieceTools::refresh() {
  const Piece* piece = desk_.selectedPiece();
  if (!piece) return;
  const bool inches = desk_.inches();
  if (borderWidth_->value_mm() <= 0) {
    gapX_->setValue_mm(5, inches);
    gapY_->setValue_mm(5, inches);
    band_->setValue_mm(15, inches);
    alongX_->setValue_mm(desk_.job().brief.place_width_mm / 4, inches);
    alongY_->setValue_mm(0, inches);
    borderWidth_->setValue_mm(desk_.job().brief.place_width_mm - 20, inches);
    borderHeight_->setValue_mm(desk_.job().brief.place_height_mm - 20, inches);
  }
  const auto* source = std::get_if<StitchSource>(&piece->source);
  const bool sized = piece->place.scale_x != 1 || piece->place.scale_y != 1;
  sizing_->setVisible(source && (sized || source->bare));
  if (source && (sized || source->bare)) compare();
}

void PieceTools::compare() {
  if (const Piece* piece = desk_.selectedPiece())
    choice_.ask({*piece, desk_.fabric(), std::make_shared<const Bench>(desk_.bench())});
  showChoice();
}

void PieceTools::settle() {
  while (choice_.running()) waitForEvents();
  QCoreApplication::processEvents();
}

void PieceTools::showChoice() {
  const Piece* piece = desk_.selectedPiece();
  if (!piece || choice_.state() != StudyState::Ready) return;
  const SizingChoice c = *choice_.last();
  kept_->setText(line(tr("Kept"), c.stitches_kept, c.thread_kept_mm, c.spacing_kept_mm, c.peak_kept,
                      c.holes_kept, c.minutes_kept));
  again_->setText(line(tr("Re-spaced"), c.stitches_respaced, c.thread_respaced_mm,
                       c.spacing_respaced_mm, c.peak_respaced, c.holes_respaced,
                       c.minutes_respaced));
  const auto* source = piece ? std::get_if<StitchSource>(&piece->source) : nullptr;
  const bool done = source && source->bare;
  advice_->setText(
      tr("%1 % × %2 % of its size as read. %3 Where a machine sizes it itself, a density of %4 % "
         "gives the same.")
          .arg(c.scale_x * 100, 0, 'f', 0)
          .arg(c.scale_y * 100, 0, 'f', 0)
          .arg(c.respacing_advised
                   ? tr("Beyond ±10 % the spacing leaves the usual range: re-space.")
                   : tr("Within ±10 %: the stitches may stay."))
          .arg(c.machine_density_percent, 0, 'f', 0));
  keep_->setEnabled(done);
  respace_->setEnabled(!done || piece->place.scale_x != 1 || piece->place.scale_y != 1);
  respace_->setText(done && respace_->isEnabled() ? tr("Re-space anew") : tr("Re-space"));
}

void PieceTools::edit(const QString& name, const std::function<Job(Job, int)>& by) {
  const Piece* chosen = desk_.selectedPiece();
  if (!chosen) return;
  const QString done = name.arg(QString::fromStdString(chosen->name));
  guarded(desk_, [&] { desk_.change(done, by(desk_.job(), chosen->id)); });
}

void PieceTools::respace() {
  edit(tr("re-space %1"),
       [this](Job job, int id) { return actions::respaced(std::move(job), id, desk_.bench()); });
}

void PieceTools::holdSideBySide(bool on) {
  if (!on) return desk_.endComparison();
  guarded(desk_, [&] {
    const Piece* piece = desk_.selectedPiece();
    if (!piece) return;
    const auto* source = std::get_if<StitchSource>(&piece->source);
    const bool now = source && source->bare;  // whether this piece is re-spaced as it lies
    Job other = now ? actions::asRead(desk_.job(), piece->id)
                    : actions::respaced(desk_.job(), piece->id, desk_.bench());
    desk_.compareWith(std::move(other), now ? tr("re-spaced") : tr("stitches kept"),
                      now ? tr("stitches kept") : tr("re-spaced"));
  });
}

void PieceTools::keepStitches() {
  edit(tr("stitches of %1 as read"),
       [](Job job, int id) { return actions::asRead(std::move(job), id); });
}

void PieceTools::anchor(int place) {
  edit(tr("place %1"), [place](Job job, int id) {
    return actions::anchored(std::move(job), id, static_cast<Anchor>(place));
  });
}

void PieceTools::repeatGrid() {
  const RepeatOptions o{columns_->value(), rows_->value(), gapX_->value_mm(), gapY_->value_mm(),
                        alternate_->isChecked()};
  edit(tr("repeat %1"),
       [&](Job job, int id) { return actions::repeatedInGrid(std::move(job), id, o); });
}

void PieceTools::repeatAlong() {
  const Point to{alongX_->value_mm(), alongY_->value_mm()};
  const double span = span_->text().toDouble();
  edit(tr("repeat %1"), [&](Job job, int id) {
    return along_->currentIndex() == 0
               ? actions::repeatedToward(std::move(job), id, to, count_->value())
               : actions::repeatedAround(std::move(job), id, to, span, count_->value());
  });
}

void PieceTools::outlineFirst() {
  const Piece* chosen = desk_.selectedPiece();
  if (!chosen) return;
  guarded(desk_, [&] {
    Job next = outlinedFirst(desk_.job(), chosen->id, desk_.bench().shop.practice);
    desk_.change(tr("outline of %1 first").arg(QString::fromStdString(chosen->name)),
                 std::move(next));
  });
}

void PieceTools::border() {
  const BorderOptions o{borderWidth_->value_mm(),
                        borderHeight_->value_mm(),
                        band_->value_mm(),
                        {},
                        corner_->currentIndex() == 1 ? BorderCorner::Mitred : BorderCorner::Turned};
  edit(tr("border of %1"), [&](Job job, int id) {
    Border made;
    job = actions::bordered(std::move(job), id, o, &made);
    said_->setText(tr("%1 repeats across at %2 % of their length, %3 down at %4 %")
                       .arg(made.across)
                       .arg(made.stretch_across * 100, 0, 'f', 1)
                       .arg(made.down)
                       .arg(made.stretch_down * 100, 0, 'f', 1));
    return job;
  });
}

void PieceTools::baste(bool place) {
  const ShopPractice& practice = desk_.bench().shop.practice;
  edit(place ? tr("baste around the place") : tr("baste around %1"), [&](Job job, int id) {
    return place ? actions::bastedAroundPlace(std::move(job), practice)
                 : actions::bastedAround(std::move(job), id, practice);
  });
}

void PieceTools::apart(int way) {
  bool one = false;
  edit(tr("take %1 apart"), [&](Job job, int id) {
    Job next = actions::takenApart(job, id, static_cast<ApartBy>(way));
    one = next.pieces.size() == job.pieces.size();
    return next;
  });
  if (one) desk_.say(tr("There is only one such part: nothing was changed."));
}

}  // namespace rt
