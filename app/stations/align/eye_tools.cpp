#include "eye_tools.h"

#include <QGridLayout>

#include "practice_score.h"

namespace rt {

OneTagTool::OneTagTool(Desk& desk)
    : desk_(desk),
      id_(new QSpinBox),
      angle_(new QSpinBox),
      anchors_(new QButtonGroup(this)),
      use_(button(tr("Place by this tag"), tr("Read the scan for this tag alone"), true)),
      end_(button(tr("By the plan's marks"), tr("Read the scan for the plan's marks again"))),
      words_(paragraph({}, true)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  column->addWidget(paragraph(
      tr("One tag on the cloth gives place and angle. Which point of the layout goes there?"),
      true));
  id_->setObjectName(QStringLiteral("oneTagId"));
  angle_->setObjectName(QStringLiteral("oneTagAngle"));
  use_->setObjectName(QStringLiteral("useOneTag"));
  end_->setObjectName(QStringLiteral("endOneTag"));
  id_->setAccessibleName(tr("Number of the tag"));
  angle_->setAccessibleName(tr("Layout turned against the tag"));
  id_->setButtonSymbols(QAbstractSpinBox::NoButtons);
  id_->setRange(0, 586);
  angle_->setButtonSymbols(QAbstractSpinBox::NoButtons);
  angle_->setRange(-180, 180);
  angle_->setSuffix(QStringLiteral("°"));
  column->addWidget(pair(labelled(tr("Tag"), id_), labelled(tr("Layout turned by"), angle_)));
  auto* board = new QWidget;
  auto* grid = new QGridLayout(board);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setSpacing(4);
  static const char* const kNames[] = {"Top left",    "Top",    "Top right",
                                       "Left",        "Middle", "Right",
                                       "Bottom left", "Bottom", "Bottom right"};
  for (int i = 0; i < 9; ++i) {
    auto* b = button(tr(kNames[i]), tr("This point of the layout goes to the tag's middle"));
    b->setCheckable(true);
    b->setChecked(i == 4);
    b->setObjectName(QStringLiteral("anchor%1").arg(i));
    anchors_->addButton(b, i);
    grid->addWidget(b, i / 3, i % 3);
  }
  column->addWidget(board);
  column->addWidget(pair(use_, end_));
  column->addWidget(words_);
  connect(use_, &QPushButton::clicked, this, &OneTagTool::apply);
  connect(end_, &QPushButton::clicked, this, [this] { desk_.setOneTag(std::nullopt); });
}

void OneTagTool::apply() {
  const Hooping* h = desk_.currentHooping();
  if (!h) return;
  const Point at = anchorOf(desk_.statistics().bounds, anchors_->checkedId());
  desk_.setOneTag(OneTag{id_->value(), at, static_cast<double>(angle_->value())});
}

void OneTagTool::refresh() {
  const bool here = desk_.currentHooping() != nullptr;
  use_->setEnabled(here);
  end_->setEnabled(desk_.oneTag().has_value());
  words_->setText(
      !here                    ? tr("Plan the hoopings first (4).")
      : !desk_.scans().shown() ? tr("Take a scan first: the tag is looked for in it.")
      : desk_.oneTag()
          ? tr("The layout is placed by tag %1 alone: look twice, nobody vouches for it.")
                .arg(desk_.oneTag()->id)
          : QString());
}

EyeTool::EyeTool(Desk& desk, Gestures& gestures, AlignHand& hand)
    : desk_(desk),
      gestures_(gestures),
      hand_(hand),
      begin_(button(tr("Move the scan by keys"), tr("Arrows move, [ and ] turn it"), true)),
      keep_(button(tr("It lies like this"), tr("Keep the place (Return)"), true)),
      give_(button(tr("Give up"), tr("As it was (Escape)"))),
      match_(button(tr("Match two points"),
                    tr("A point of the layout, then the same on the scan; twice"))),
      words_(paragraph({}, true)) {
  begin_->setObjectName(QStringLiteral("nudgeScan"));
  keep_->setObjectName(QStringLiteral("keepNudge"));
  match_->setObjectName(QStringLiteral("matchPoints"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  column->addWidget(words_);
  column->addWidget(begin_);
  column->addWidget(pair(keep_, give_));
  column->addWidget(match_);
  connect(begin_, &QPushButton::clicked, this, [this] {
    hand_.setNudging(true);
    refresh();
    gestures_.focusCloth();
  });
  connect(keep_, &QPushButton::clicked, this, [this] {
    desk_.keepNudge();
    hand_.setNudging(false);
    refresh();
  });
  connect(give_, &QPushButton::clicked, this, [this] {
    hand_.setNudging(false);
    refresh();
  });
  connect(match_, &QPushButton::clicked, this, &EyeTool::matchTwo);
}

void EyeTool::matchTwo() {
  gestures_.askForPoints(4, tr("A point of the layout, then the same point on the scan; twice"),
                         [this](const std::vector<Point>& p) {
                           const Hooping* h = desk_.currentHooping();
                           if (!h || p.size() != 4) return;
                           const Transform toHoop =
                               desk_.hoopToLayout().inverse().value_or(Transform{});
                           const double error_mm = desk_.bench().shop.practice.marks.pinned_mm;
                           desk_.addSeen(h->index, {{"point 1", p[0], toHoop(p[1]), error_mm},
                                                    {"point 2", p[2], toHoop(p[3]), error_mm}});
                         });
}

void EyeTool::refresh() {
  const bool scan = desk_.scans().reading() != nullptr;
  begin_->setEnabled(scan && !desk_.nudge());
  match_->setEnabled(scan && !desk_.nudge());
  keep_->setEnabled(desk_.nudge().has_value());
  give_->setEnabled(desk_.nudge().has_value());
  if (!scan) return words_->setText(tr("Take or open a scan first."));
  if (!desk_.nudge())
    return words_->setText(
        tr("Move the scan under the layout until its drawn or sewn lines meet the marks."));
  const Transform& t = *desk_.nudge();
  words_->setText(
      tr("Turned %1°, %2 mm right, %3 mm down. Arrows 0.5 mm, Shift 5, Alt 0.1; [ and ] "
         "0.1°, Shift 1°.")
          .arg(degrees(std::atan2(t.yx, t.xx)), 0, 'f', 1)
          .arg(t.dx, 0, 'f', 1)
          .arg(t.dy, 0, 'f', 1));
}

PracticeTool::PracticeTool(Desk& desk)
    : desk_(desk),
      level_(new QComboBox),
      hoop_(button(tr("Hoop a practice cloth"), tr("An unseen hand clamps a virtual cloth"), true)),
      sew_(button(tr("I would sew"), tr("Decide, and see the truth"))),
      again_(button(tr("I would hoop again"), tr("Decide, and see the truth"))),
      words_(paragraph({})),
      trend_(paragraph({}, true)) {
  level_->addItems({tr("1  nearly straight"), tr("2  crooked"), tr("3  stretched or out of square"),
                    tr("4  a wrong or missing mark"), tr("5  mean: anything, in a bad photo")});
  level_->setAccessibleName(tr("How mean the practice is"));
  level_->setObjectName(QStringLiteral("practiceLevel"));
  hoop_->setObjectName(QStringLiteral("practiceHoop"));
  sew_->setObjectName(QStringLiteral("practiceSew"));
  again_->setObjectName(QStringLiteral("practiceAgain"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  column->addWidget(labelled(tr("How mean"), level_));
  column->addWidget(hoop_);
  column->addWidget(pair(sew_, again_));
  column->addWidget(words_);
  column->addWidget(trend_);
  connect(hoop_, &QPushButton::clicked, this, [this] {
    desk_.clearMarks(desk_.hooping());
    desk_.camera().practise(level_->currentIndex());
  });
  connect(sew_, &QPushButton::clicked, this, [this] { decide(true); });
  connect(again_, &QPushButton::clicked, this, [this] { decide(false); });
  connect(&desk.camera(), &ClothCamera::told, this, &PracticeTool::tellTruth);
}

void PracticeTool::decide(bool sew) {
  decidedToSew_ = sew;
  desk_.camera().askTruth();
}

void PracticeTool::tellTruth() {
  const Hooping* h = desk_.currentHooping();
  const auto truth = desk_.camera().truth();
  if (!h || !truth) return;
  const std::optional<Alignment> a = desk_.alignmentOf(h->index);
  const PracticeScore s =
      scoreOf(truth->lies, a ? std::optional(a->fit.toHoop) : std::nullopt, desk_.fieldOf(*h),
              desk_.job().tolerance_mm, decidedToSew_, desk_.bench().shop.practice.scoring);
  desk_.note(entryFor(s, h->index, desk_.camera().level(), truth->fault.toStdString()));
  QString words = s.measured ? tr("Truth: worst corner %1 mm off, tolerance %2. ")
                                   .arg(s.worst_mm, 0, 'f', 2)
                                   .arg(desk_.job().tolerance_mm, 0, 'f', 2)
                             : tr("Truth: nothing was measured. ");
  if (!truth->fault.isEmpty()) words += tr("The cloth: %1. ").arg(truth->fault);
  words += s.right ? tr("Well decided: %1 points.").arg(s.points)
           : decidedToSew_
               ? tr("Sewing would have ruined it: hoop again, or take the wrong mark out.")
               : tr("It could have been sewn: the measured place was good enough.");
  words_->setText(words);
  refresh();
}

void PracticeTool::refresh() {
  const bool here = desk_.currentHooping() != nullptr, busy = desk_.camera().busy();
  hoop_->setEnabled(here && !busy);
  const bool decide = desk_.camera().practising() && desk_.scans().reading() && !busy;
  sew_->setEnabled(decide);
  again_->setEnabled(decide);
  if (decide)
    words_->setText(tr("Read what the scan says, mend what can be mended, then decide."));
  else if (!desk_.camera().truth())
    words_->setText(tr("Five minutes: look at the scan, align, decide; then the truth is shown."));
  const std::vector<int> points = practicePoints(desk_.ledger().all());
  QStringList last;
  for (size_t i = points.size() > 8 ? points.size() - 8 : 0; i < points.size(); ++i)
    last << QString::number(points[i]);
  trend_->setText(points.empty()
                      ? QString()
                      : tr("Your last scores: %1.").arg(last.join(QStringLiteral(", "))));
}

}  // namespace rt
