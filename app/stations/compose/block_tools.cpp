#include "block_tools.h"

#include "compose_actions.h"

namespace rt {
namespace {

constexpr size_t kMostStitches = 200'000;  // larger designs are not looked through at each step
constexpr size_t kMostShown = 12;          // the largest; a design may have hundreds

QString factsOf(const KnownBlock& b) {
  if (b.is.kind == Kind::Run) return QObject::tr("stitch %1 mm").arg(b.is.stitch_mm, 0, 'f', 1);
  return QObject::tr("spacing %1 mm, %2 %3 mm, %4°")
      .arg(b.is.spacing_mm, 0, 'f', 2)
      .arg(b.is.kind == Kind::Satin ? QObject::tr("width") : QObject::tr("stitch"))
      .arg(b.is.stitch_mm, 0, 'f', 1)
      .arg(b.is.angle_deg, 0, 'f', 0);
}

}  // namespace

BlockTools::BlockTools(Desk& desk) : desk_(desk), rows_(new QVBoxLayout), head_(heading({})) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  column->addWidget(head_);
  rows_->setSpacing(6);
  column->addLayout(rows_);
}

void BlockTools::refresh() {
  const Piece* piece = desk_.selectedPiece();
  const bool read = piece && std::holds_alternative<StitchSource>(piece->source) &&
                    piece->stitches->stitches.size() <= kMostStitches;
  setVisible(read);
  if (!read || (shown_ == piece->stitches && shownAt_ == piece->place)) return;
  shown_ = piece->stitches;
  shownAt_ = piece->place;
  clear(*rows_);
  const std::vector<KnownBlock> blocks = knownBlocks(*piece);
  std::vector<size_t> order(blocks.size());
  for (size_t i = 0; i < order.size(); ++i) order[i] = i;
  std::stable_sort(order.begin(), order.end(),
                   [&](size_t a, size_t b) { return blocks[a].stitches > blocks[b].stitches; });
  if (order.size() > kMostShown) order.resize(kMostShown);
  std::sort(order.begin(), order.end());
  head_->setText(
      (blocks.size() > kMostShown
           ? tr("Recognised, the %1 largest of %2 blocks").arg(kMostShown).arg(blocks.size())
           : tr("Recognised"))
          .toUpper());
  for (size_t i : order) show(i, blocks[i]);
}

void BlockTools::show(size_t index, const KnownBlock& block) {
  auto* kind = new QComboBox;
  kind->setObjectName(QStringLiteral("blockKind%1").arg(index));
  kind->setAccessibleName(tr("Kind of block %1").arg(index + 1));
  kind->setToolTip(tr("What this block really is, if it was recognised wrongly"));
  const bool bare = block.declared == Kind::Unknown;
  const std::array<std::pair<Kind, QString>, 3> kinds{
      {{Kind::Satin, tr("Satin")}, {Kind::Fill, tr("Fill")}, {Kind::Run, tr("Run")}}};
  for (const auto& [k, words] : kinds)
    kind->addItem(bare && k == block.is.kind ? tr("%1, as found").arg(words) : words,
                  static_cast<int>(k));
  kind->setCurrentIndex(kind->findData(static_cast<int>(bare ? block.is.kind : block.declared)));
  kind->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  auto* facts =
      paragraph(tr("%1: %2 st, %3").arg(index + 1).arg(grouped(block.stitches), factsOf(block)));
  facts->setFont(look::figures(9));
  rows_->addWidget(pair(facts, kind));
  connect(kind, &QComboBox::activated, this,
          [this, index, kind](int i) { set(index, static_cast<Kind>(kind->itemData(i).toInt())); });
}

void BlockTools::set(size_t index, Kind kind) {
  guarded(desk_, [&] {
    desk_.change(tr("kind of a block"),
                 actions::blockIs(desk_.job(), desk_.selected(), index, kind, desk_.bench()));
  });
}

}  // namespace rt
