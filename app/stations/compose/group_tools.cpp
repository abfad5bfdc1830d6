#include "group_tools.h"

#include "compose_actions.h"

namespace rt {

GroupTools::GroupTools(Desk& desk)
    : desk_(desk),
      several_(new QWidget),
      count_(heading({})),
      group_(button(tr("Group"), tr("Choose and move them as one (Ctrl+G)"))),
      ungroup_(button(tr("Ungroup"), tr("Choose and move each by itself (Ctrl+Shift+G)"))),
      evenX_(button(tr("Even gaps across"), tr("Equal gaps from left to right"))),
      evenY_(button(tr("Even gaps down"), tr("Equal gaps from top to bottom"))),
      match_(new QWidget),
      like_(new QComboBox) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  auto* box = new QVBoxLayout(several_);
  box->setContentsMargins(0, 0, 0, 0);
  box->setSpacing(6);
  box->addWidget(count_);
  box->addWidget(pair(group_, ungroup_));
  auto* row = new QHBoxLayout;
  row->setSpacing(4);
  static const char* const kSigns[6] = {"⇤", "↔", "⇥", "⤒", "↕", "⤓"};
  const std::array<QString, 6> names{tr("left edges"), tr("middles across"), tr("right edges"),
                                     tr("top edges"),  tr("middles down"),   tr("bottom edges")};
  for (int i = 0; i < 6; ++i) {
    auto* b = button(
        QString::fromUtf8(kSigns[i]),
        tr("Bring the others flush with the leading piece: %1").arg(names[static_cast<size_t>(i)]));
    b->setAccessibleName(tr("Flush %1").arg(names[static_cast<size_t>(i)]));
    b->setObjectName(QStringLiteral("flush%1").arg(i));
    connect(b, &QPushButton::clicked, this, [this, i] { flush(i); });
    row->addWidget(b);
  }
  box->addLayout(row);
  box->addWidget(pair(evenX_, evenY_));
  column->addWidget(several_);
  auto* same = new QVBoxLayout(match_);
  same->setContentsMargins(0, 0, 0, 0);
  same->setSpacing(6);
  auto* width = button(tr("Its width"), tr("Size this piece to the other one's width"));
  auto* height = button(tr("Its height"), tr("Size this piece to the other one's height"));
  same->addWidget(labelled(tr("As large as"), like_));
  same->addWidget(pair(width, height));
  column->addWidget(match_);
  like_->setObjectName(QStringLiteral("sizeLike"));
  width->setObjectName(QStringLiteral("matchWidth"));
  height->setObjectName(QStringLiteral("matchHeight"));
  group_->setObjectName(QStringLiteral("groupPieces"));
  ungroup_->setObjectName(QStringLiteral("ungroupPieces"));
  evenX_->setObjectName(QStringLiteral("evenAcross"));
  evenY_->setObjectName(QStringLiteral("evenDown"));
  connect(group_, &QPushButton::clicked, this, &GroupTools::group);
  connect(ungroup_, &QPushButton::clicked, this, &GroupTools::ungroup);
  connect(evenX_, &QPushButton::clicked, this, [this] { distribute(0); });
  connect(evenY_, &QPushButton::clicked, this, [this] { distribute(1); });
  connect(width, &QPushButton::clicked, this, [this] { matchSize(true); });
  connect(height, &QPushButton::clicked, this, [this] { matchSize(false); });
}

void GroupTools::changeChosen(const QString& name,
                              const std::function<Job(Job, const std::vector<int>&)>& by) {
  guarded(desk_, [&] { desk_.change(name, by(desk_.job(), desk_.chosen())); });
}

void GroupTools::group() {
  if (desk_.chosen().size() < 2)
    return desk_.say(tr("Choose two or more pieces: Shift and a click adds one."));
  changeChosen(tr("group"), actions::grouped);
}

void GroupTools::ungroup() {
  changeChosen(tr("ungroup"), actions::ungrouped);
}

void GroupTools::flush(int edge) {
  const Piece* lead = desk_.selectedPiece();
  if (!lead) return;
  changeChosen(tr("flush edges"), [&](Job job, const std::vector<int>& ids) {
    return actions::flush(std::move(job), ids, lead->id, static_cast<actions::Edge>(edge));
  });
}

void GroupTools::distribute(int axis) {
  changeChosen(tr("even gaps"), [axis](Job job, const std::vector<int>& ids) {
    return actions::evenlySpread(std::move(job), ids, axis == 0 ? Axis::X : Axis::Y);
  });
}

void GroupTools::matchSize(bool width) {
  const int like = like_->currentData().toInt();
  guarded(desk_, [&] {
    desk_.change(width ? tr("match a width") : tr("match a height"),
                 actions::asLargeAs(desk_.job(), desk_.selected(), like, width, desk_.bench()));
  });
}

void GroupTools::refresh() {
  const size_t n = desk_.chosen().size();
  bool grouped = false;
  for (const Piece& p : desk_.job().pieces) grouped |= desk_.isChosen(p.id) && p.group > 0;
  several_->setVisible(n > 1 || grouped);
  count_->setText(tr("%1 pieces chosen").arg(n).toUpper());
  group_->setEnabled(n > 1);
  ungroup_->setEnabled(grouped);
  evenX_->setEnabled(n > 2);
  evenY_->setEnabled(n > 2);
  const int kept = like_->currentData().toInt();
  like_->clear();
  for (const Piece& p : desk_.job().pieces)
    if (p.id != desk_.selected())
      like_->addItem(tr("%1, %2 × %3")
                         .arg(QString::fromStdString(p.name), oneUnit(desk_, boundsOf(p).width()),
                              oneUnit(desk_, boundsOf(p).height())),
                     p.id);
  if (const int i = like_->findData(kept); i >= 0) like_->setCurrentIndex(i);
  match_->setVisible(desk_.selectedPiece() && like_->count() > 0 && n == 1);
}

}  // namespace rt
