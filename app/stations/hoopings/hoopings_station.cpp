#include "hoopings_station.h"

#include <QMenu>

#include "actions.h"
#include "hooping_sheets.h"
#include "plan_folder.h"
#include "plan_words.h"

namespace rt {
namespace {

constexpr int kPlayStep_ms = 1100;
constexpr double kEnlarged = 10;

QString schoolName(MarkSchool school) {
  switch (school) {
    case MarkSchool::DrawnLines:
      return QObject::tr("Drawn cross lines");
    case MarkSchool::Tags:
      return QObject::tr("Tags that stay on the cloth");
    case MarkSchool::SewnLine:
      return QObject::tr("A sewn line with its knot");
    case MarkSchool::SewnCrosses:
      return QObject::tr("Sewn crosses");
    case MarkSchool::Basted:
      return QObject::tr("Basted, taken out later");
  }
  return {};
}

QLabel* figure(const QString& words, bool strong = false) {
  auto* label = new QLabel(words);
  label->setFont(strong ? look::text(10, true) : look::figures(10));
  return label;
}

QString moveWords(Point by) {
  const QString mm = QString::number(std::abs(by.x != 0 ? by.x : by.y), 'f', 0);
  return by.x < 0   ? QObject::tr("%1 mm left").arg(mm)
         : by.x > 0 ? QObject::tr("%1 mm right").arg(mm)
         : by.y < 0 ? QObject::tr("%1 mm up").arg(mm)
                    : QObject::tr("%1 mm down").arg(mm);
}

QString adviceWords(const PlanAdvice& a) {
  const QString name = QString::fromStdString(a.name);
  switch (a.what) {
    case PlanAdvice::What::TurnFrames:
      return QObject::tr("Let the frame be turned");
    case PlanAdvice::What::OtherFrame:
      return QObject::tr("Take %1").arg(name);
    case PlanAdvice::What::MovePiece:
      return QObject::tr("Move %1 %2").arg(name, moveWords(a.by));
    case PlanAdvice::What::LessOverlap:
      return QObject::tr("Overlap fields by %1 mm only").arg(a.mm, 0, 'f', 0);
  }
  return {};
}

}  // namespace

HoopingsStation::HoopingsStation(const StationContext& context)
    : StationPanel(Station::Hoopings, context.desk),
      asker_(context.asker),
      lens_(context.desk),
      hand_(context.desk, lens_),
      hoop_(new QComboBox),
      mix_(new QToolButton),
      overlap_(new LengthEdit(tr("Overlap of neighbouring fields"))),
      turn_(new QCheckBox(tr("Frame may be turned"))),
      style_(new QComboBox),
      order_(new QComboBox),
      school_(new QComboBox),
      plan_(button(tr("Plan"), tr("Seek the fewest hoopings (Ctrl+P)"), true)),
      sheets_(button(tr("Sheets …"), tr("A sheet for every hooping, as PDF"))),
      write_(button(tr("Files …"),
                    tr("One stitch list a hooping and setting, and the plan, into a folder"))),
      play_(button(tr("Play"), tr("Show the hoopings one after another, as they are sewn"))),
      enlarge_(button(tr("Errors × 10"), tr("Draw seam errors ten times their size"))),
      pin_(button(tr("Hold this field"),
                  tr("Keep the field where it is; the plan does the rest around it. A field can "
                     "also be dragged by its edge"))),
      seek_(button(tr("Seek small changes"),
                   tr("Try what would save a hooping or a cut, each with the planner"))),
      figures_(new QWidget),
      figureGrid_(new QGridLayout(figures_)),
      list_(new QListWidget),
      better_(new QVBoxLayout),
      doubts_(paragraph({}, true)),
      schoolWords_(paragraph({}, true)),
      shelf_(new ToolShelf),
      measure_(new MeasureTool(context.desk, context.asker)) {
  plan_->setObjectName(QStringLiteral("planButton"));
  write_->setObjectName(QStringLiteral("writeButton"));
  sheets_->setObjectName(QStringLiteral("sheetsButton"));
  pin_->setObjectName(QStringLiteral("pinField"));
  seek_->setObjectName(QStringLiteral("seekAdvice"));
  enlarge_->setCheckable(true);
  play_->setCheckable(true);
  figureGrid_->setContentsMargins(0, 0, 0, 0);
  figureGrid_->setVerticalSpacing(2);
  frameTool_ = frameTool();
  planTool_ = planTool();
  betterTool_ = betterTool();
  shelf_->add(tr("Frames"), QStringLiteral("framesTool"), frameTool_);
  shelf_->add(tr("Plan"), QStringLiteral("planTool"), planTool_);
  shelf_->add(tr("Better"), QStringLiteral("betterTool"), betterTool_);
  shelf_->add(tr("Measure"), QStringLiteral("measureTool"), measure_);
  connect(shelf_, &ToolShelf::openedTool, this, &HoopingsStation::refresh);
  column_->addWidget(plan_);
  column_->addWidget(figures_);
  column_->addWidget(shelf_, 1);
  column_->addWidget(pair(sheets_, write_));
  column_->addWidget(caution(tr("Magnetic hoops pinch, and stay away from pacemakers.")));
  Desk& desk = context.desk;
  connect(plan_, &QPushButton::clicked, this, [this] {
    if (desk_.planning())
      desk_.stopPlanning();
    else
      desk_.makePlan();
  });
  connect(sheets_, &QPushButton::clicked, this, &HoopingsStation::askAndWriteSheets);
  connect(write_, &QPushButton::clicked, this, [this] {
    const QString folder = asker_.folder(this, tr("Folder for the hoopings"));
    if (!folder.isEmpty()) writeFiles(folder);
  });
  connect(&hand_, &FramesHand::dropped, this, &HoopingsStation::pinCurrent);
  connect(&desk, &Desk::planned, this, [this] {
    if (!desk_.planning() && desk_.planCurrent()) shelf_->suggest(planTool_);
    refresh();
  });
  connect(&desk, &Desk::advised, this, &HoopingsStation::showBetter);
  connect(&desk, &Desk::hoopingChanged, this, &HoopingsStation::refresh);
  playTimer_.setInterval(kPlayStep_ms);
  connect(&playTimer_, &QTimer::timeout, this, &HoopingsStation::play);
}

QWidget* HoopingsStation::frameTool() {
  auto* tool = new QWidget;
  auto* column = new QVBoxLayout(tool);
  column->setContentsMargins(0, 0, 0, 0);
  hoop_->setEditable(true);
  hoop_->setInsertPolicy(QComboBox::NoInsert);
  hoop_->setObjectName(QStringLiteral("hoopBox"));
  hoop_->setAccessibleName(tr("Frame, or field in mm"));
  hoop_->setToolTip(tr("A measured frame, or a field like 200x140"));
  mix_->setText(tr("Mix in …"));
  mix_->setToolTip(tr("Other frames that the plan may use too"));
  mix_->setPopupMode(QToolButton::InstantPopup);
  mix_->setObjectName(QStringLiteral("mixFrames"));
  mix_->setMenu(new QMenu(mix_));
  style_->addItems({tr("Star: all to the cross"), tr("Chain: each to the last")});
  style_->setToolTip(tr("In a chain the errors of the hoopings add up; in a star they do not"));
  order_->addItems({tr("From the middle"), tr("From one end")});
  order_->setToolTip(tr("From the middle outward slack cloth is pushed out"));
  school_->setObjectName(QStringLiteral("markSchool"));
  for (MarkSchool s : kMarkSchools) school_->addItem(schoolName(s), static_cast<int>(s));
  column->addWidget(labelled(tr("Frame, or field in mm"), pair(hoop_, mix_)));
  column->addWidget(
      pair(labelled(tr("Least overlap"), overlap_), labelled(QStringLiteral(" "), turn_)));
  column->addWidget(pair(labelled(tr("Tied as"), style_), labelled(tr("Sewn"), order_)));
  column->addWidget(labelled(tr("Marks"), school_));
  column->addWidget(schoolWords_);
  column->addStretch();
  connect(hoop_, &QComboBox::activated, this, [this](int i) {
    set(tr("frame"), [&](PlanSettings& s) {
      s.hoop = hoop_->itemData(i).toString().toStdString();
      s.pinned.clear();
    });
  });
  connect(hoop_->lineEdit(), &QLineEdit::editingFinished, this, [this] {
    const QString typed = hoop_->currentText().trimmed();
    if (hoop_->findText(typed) < 0)
      set(tr("frame"), [&](PlanSettings& s) {
        s.hoop = QString(typed).remove(' ').replace(QChar(0xD7), 'x').toStdString();
        s.pinned.clear();
      });
  });
  connect(mix_->menu(), &QMenu::aboutToShow, this, &HoopingsStation::mixMenu);
  connect(overlap_, &LengthEdit::edited, this, [this](double mm) {
    set(tr("overlap"), [&](PlanSettings& s) { s.overlap_mm = std::clamp(mm, 0.0, 200.0); });
  });
  connect(turn_, &QCheckBox::clicked, this,
          [this](bool on) { set(tr("turned frames"), [&](PlanSettings& s) { s.turn = on; }); });
  connect(style_, &QComboBox::activated, this, [this](int i) {
    set(tr("star or chain"),
        [&](PlanSettings& s) { s.style = i == 1 ? TieStyle::Chain : TieStyle::Star; });
  });
  connect(order_, &QComboBox::activated, this, [this](int i) {
    set(tr("order of hoopings"), [&](PlanSettings& s) {
      s.order = i == 1 ? SewingOrder::FromEnd : SewingOrder::FromMiddle;
    });
  });
  connect(school_, &QComboBox::activated, this, [this](int i) {
    set(tr("kind of marks"),
        [&](PlanSettings& s) { s.school = static_cast<MarkSchool>(school_->itemData(i).toInt()); });
  });
  return tool;
}

QWidget* HoopingsStation::planTool() {
  auto* tool = new QWidget;
  auto* column = new QVBoxLayout(tool);
  column->setContentsMargins(0, 0, 0, 0);
  list_->setObjectName(QStringLiteral("hoopingList"));
  list_->setAccessibleName(tr("Hoopings in sewing order"));
  list_->setMinimumHeight(72);
  column->addWidget(list_, 1);
  column->addWidget(pair(play_, enlarge_));
  column->addWidget(pin_);
  connect(list_, &QListWidget::currentRowChanged, this, [this](int row) {
    if (row < 0) return;
    const QPoint step = list_->item(row)->data(Qt::UserRole).toPoint();
    if (step.x() != desk_.hooping() || step.y() != desk_.setting())
      desk_.setHooping(step.x(), step.y());
  });
  connect(play_, &QPushButton::toggled, this, [this](bool on) {
    if (on)
      desk_.setHooping(1), playTimer_.start();
    else
      playTimer_.stop();
  });
  connect(enlarge_, &QPushButton::toggled, this, [this](bool on) {
    lens_.setEnlarged(on ? kEnlarged : 1);
    emit lookChanged();
  });
  connect(pin_, &QPushButton::clicked, this, [this] {
    if (pin_->property("held").toBool())
      letGo();
    else
      pinCurrent({});
  });
  return tool;
}

QWidget* HoopingsStation::betterTool() {
  auto* tool = new QWidget;
  auto* column = new QVBoxLayout(tool);
  column->setContentsMargins(0, 0, 0, 0);
  column->addWidget(doubts_);
  better_->setSpacing(4);
  column->addLayout(better_);
  column->addWidget(seek_);
  column->addStretch();
  connect(seek_, &QPushButton::clicked, this, [this] {
    desk_.seekAdvice();
    showBetter();
  });
  return tool;
}

std::vector<StationAction> HoopingsStation::actions() {
  return {{tr("Plan the hoopings"), QKeySequence(tr("Ctrl+P")), [this] { desk_.makePlan(); }, true},
          {tr("Write a sheet for every hooping …"), {}, [this] { askAndWriteSheets(); }, true}};
}

void HoopingsStation::set(const QString& name, const std::function<void(PlanSettings&)>& edit) {
  guarded(desk_, [&] {
    PlanSettings next = desk_.job().plan_settings;
    edit(next);
    desk_.change(name, actions::plannedWith(desk_.job(), std::move(next)));
  });
}

void HoopingsStation::mixMenu() {
  mix_->menu()->clear();
  const PlanSettings& s = desk_.job().plan_settings;
  for (const Hoop& h : desk_.bench().shop.hoops) {
    if (h.id == s.hoop) continue;
    QAction* a = mix_->menu()->addAction(QString::fromStdString(h.name));
    a->setCheckable(true);
    a->setChecked(std::find(s.more_hoops.begin(), s.more_hoops.end(), h.id) != s.more_hoops.end());
    connect(a, &QAction::triggered, this, [this, id = h.id](bool on) {
      set(tr("frames that are mixed"), [&](PlanSettings& next) {
        std::erase(next.more_hoops, id);
        if (on) next.more_hoops.push_back(id);
      });
    });
  }
}

/// Holds the current hooping's frame so far from where it lies, and plans the rest around it.
void HoopingsStation::pinCurrent(Point by) {
  const Hooping* h = desk_.currentHooping();
  if (!h || !desk_.planCurrent()) return;
  const PinnedFrame pin{h->hoop_id, h->turn_deg, h->origin + by};
  set(tr("field held in place"), [&](PlanSettings& s) {
    std::erase_if(s.pinned,
                  [&](const PinnedFrame& p) { return distance(p.origin, h->origin) < 0.01; });
    s.pinned.push_back(pin);
  });
  desk_.makePlan();
}

void HoopingsStation::letGo() {
  const Hooping* h = desk_.currentHooping();
  if (!h) return;
  set(tr("field let go"), [&](PlanSettings& s) {
    std::erase_if(s.pinned,
                  [&](const PinnedFrame& p) { return distance(p.origin, h->origin) < 0.01; });
  });
  desk_.makePlan();
}

void HoopingsStation::play() {
  const Hooping* h = desk_.currentHooping();
  if (!h) return play_->setChecked(false);
  if (desk_.setting() < static_cast<int>(h->settings.size()))
    desk_.setHooping(desk_.hooping(), desk_.setting() + 1);
  else if (desk_.hoopingAt(desk_.hooping() + 1))
    desk_.setHooping(desk_.hooping() + 1);
  else
    play_->setChecked(false);
}

void HoopingsStation::writeFiles(const QString& folder) {
  guarded(desk_, [&] {
    const HoopingPlan& plan = *desk_.plan();
    const std::string to = folder.toStdString();
    writePlanFolder(to, plan);
    const size_t files = plan.settings();
    LedgerEntry e;
    e.event = "export";
    e.note = std::to_string(files) + " stitch lists written to " + to;
    desk_.note(std::move(e));
    desk_.say(
        tr("%1 written to %2.").arg(counted(files, tr("stitch list"), tr("stitch lists")), folder));
  });
}

void HoopingsStation::askAndWriteSheets() {
  const QString path = asker_.toSave(this, tr("Write the hooping sheets"),
                                     QStringLiteral("hoopings.pdf"), tr("PDF (*.pdf)"));
  if (!path.isEmpty()) writeSheets(path);
}

void HoopingsStation::writeSheets(const QString& path) {
  guarded(desk_, [&] {
    if (!desk_.planCurrent())
      throw Error("there is no current plan", "sheets", "plan the hoopings first (Ctrl+P)");
    HoopingSheetOptions o;
    o.title = desk_.job().title;
    o.shelf = desk_.bench().shop.threads;
    o.time = desk_.bench().shop.time;
    const Brief& brief = desk_.job().brief;
    o.materials = {desk_.fabric().name, brief.backing};
    if (brief.topper) o.materials.push_back("topper");
    o.materials.push_back("needle " + std::to_string(brief.needle_nm) + ", thread " +
                          std::to_string(brief.thread_weight));
    for (const Hooping& h : desk_.plan()->hoopings)
      if (desk_.sewnThrough(h.index)) o.done.push_back(h.index);
    const HoopingSheets sheets = writeHoopingSheets(*desk_.plan(), o, path.toStdString());
    desk_.say(
        tr("%1 written to %2.")
            .arg(counted(static_cast<size_t>(sheets.pages), tr("sheet"), tr("sheets")), path));
  });
}

/// The shelf changes when a frame is measured.
void HoopingsStation::fillFrames() {
  const std::vector<Hoop>& hoops = desk_.bench().shop.hoops;
  const bool same = hoop_->count() == static_cast<int>(hoops.size()) &&
                    std::all_of(hoops.begin(), hoops.end(), [&](const Hoop& h) {
                      return hoop_->findData(QString::fromStdString(h.id)) >= 0;
                    });
  if (same) return;
  const QSignalBlocker quiet(hoop_);
  hoop_->clear();
  for (const Hoop& h : hoops)
    hoop_->addItem(QString::fromStdString(h.name), QString::fromStdString(h.id));
}

void HoopingsStation::refresh() {
  const PlanSettings& s = desk_.job().plan_settings;
  fillFrames();
  const int i = hoop_->findData(QString::fromStdString(s.hoop));
  hoop_->setCurrentIndex(i);
  if (i < 0) hoop_->setEditText(QString::fromStdString(s.hoop));
  mix_->setText(s.more_hoops.empty() ? tr("Mix in …") : tr("+ %1 more").arg(s.more_hoops.size()));
  overlap_->setValue_mm(s.overlap_mm, desk_.inches());
  turn_->setChecked(s.turn);
  style_->setCurrentIndex(s.style == TieStyle::Chain ? 1 : 0);
  order_->setCurrentIndex(s.order == SewingOrder::FromEnd ? 1 : 0);
  school_->setCurrentIndex(school_->findData(static_cast<int>(s.school)));
  schoolWords_->setText(
      tr("Each is found within ± %1 mm (one sigma). The seam errors below rest on it.")
          .arg(markError_mm(s.school, desk_.bench().shop.practice.marks), 0, 'f', 2));
  plan_->setEnabled(desk_.planning() || !desk_.job().pieces.empty());
  plan_->setText(desk_.planning()      ? tr("Stop planning")
                 : desk_.planCurrent() ? tr("Plan again")
                                       : tr("Plan"));
  write_->setEnabled(desk_.planCurrent());
  sheets_->setEnabled(desk_.planCurrent());
  shelf_->setAvailable(planTool_, desk_.plan() != nullptr);
  shelf_->setAvailable(betterTool_, desk_.planCurrent());
  showFigures();
  showHoopings();
  showBetter();
  const bool measuring = shelf_->opened() == measure_;  // it takes the whole panel
  for (QWidget* w : {static_cast<QWidget*>(plan_), figures_, static_cast<QWidget*>(sheets_),
                     static_cast<QWidget*>(write_)})
    w->setVisible(!measuring);
  if (measuring) measure_->refresh();
}

/// The plan beside a plain grid of the same frame.
void HoopingsStation::showFigures() {
  clear(*figureGrid_);
  const HoopingPlan* plan = desk_.plan();
  figures_->setVisible(plan != nullptr);
  if (!plan) return;
  int row = 0;
  const auto add = [&](const QString& what, const QString& here, const QString& grid, bool strong) {
    auto* name = new QLabel(what);
    name->setFont(look::text(9.5));
    figureGrid_->addWidget(name, row, 0);
    figureGrid_->addWidget(figure(here, strong), row, 1, Qt::AlignRight);
    figureGrid_->addWidget(figure(grid), row++, 2, Qt::AlignRight);
  };
  const PlainGrid& g = plan->plain_grid;
  const auto number = [](size_t n) { return QString::number(n); };
  add({}, tr("this plan"), tr("plain grid"), false);
  add(tr("Hoopings"), number(plan->hoopings.size()), QString::number(g.hoopings), true);
  if (plan->settings() > plan->hoopings.size())
    add(tr("Settings"), number(plan->settings()), QStringLiteral("–"), false);
  add(tr("Pieces cut"), number(plan->crossings.size()), QString::number(g.crossings), true);
  if (plan->hoopings.size() > 1 || !plan->seams.empty())
    add(tr("Worst seam"), tr("± %1 mm").arg(plan->worst_seam_error_mm, 0, 'f', 2),
        QStringLiteral("–"), true);
  const double each_s = desk_.bench().shop.practice.hooping_s;
  add(tr("To hoop and align"), duration(each_s * static_cast<double>(plan->hoopings.size())),
      duration(each_s * g.hoopings), false);
  figureGrid_->setColumnStretch(0, 1);
}

void HoopingsStation::showHoopings() {
  const QSignalBlocker block(list_);
  list_->clear();
  const HoopingPlan* plan = desk_.plan();
  if (!plan) return;
  for (const Hooping& h : plan->hoopings)
    for (const PlanSetting& s : h.settings) {
      const QString name = h.settings.size() > 1 ? QString("%1.%2").arg(h.index).arg(s.index)
                                                 : QString::number(h.index);
      QString words = tr("%1   %2 st · ± %3 mm")
                          .arg(name, grouped(s.stitches))
                          .arg(h.predicted_error_mm, 0, 'f', 2);
      if (plan->hoopings.front().hoop_id != h.hoop_id ||
          !desk_.job().plan_settings.more_hoops.empty())
        words += QStringLiteral(" · ") + QString::fromStdString(h.hoop_id);
      if (s.field.turn_deg != 0) words += tr(" · %1°").arg(s.field.turn_deg);
      if (desk_.planCurrent() && desk_.sewn(h.index, s.index).done) words += tr(" · sewn");
      auto* item = new QListWidgetItem(words, list_);
      item->setData(Qt::UserRole, QPoint(h.index, s.index));
      item->setFont(look::figures(10));
      if (h.index == desk_.hooping() && s.index == desk_.setting()) list_->setCurrentItem(item);
    }
  const Hooping* here = desk_.currentHooping();
  const auto& pinned = desk_.job().plan_settings.pinned;
  const bool held = here && std::any_of(pinned.begin(), pinned.end(), [&](const PinnedFrame& p) {
                      return distance(p.origin, here->origin) < 0.01;
                    });
  pin_->setProperty("held", held);
  pin_->setText(held ? tr("Let this field go") : tr("Hold this field"));
  pin_->setEnabled(desk_.planCurrent() && !desk_.planning());
}

/// What was cut, what is doubted, and what would be better.
void HoopingsStation::showBetter() {
  clear(*better_);
  const HoopingPlan* plan = desk_.planCurrent() ? desk_.plan() : nullptr;
  seek_->setEnabled(plan && !desk_.advising());
  seek_->setText(desk_.advising() ? tr("Trying …") : tr("Seek small changes"));
  if (!plan) return;
  QStringList words;
  for (const PlanDoubt& d : plan->doubts) words << QString::fromStdString(inWords(d)) + ".";
  if (words.size() > 4) {
    const auto more = words.size() - 3;
    words = words.mid(0, 3);
    words << tr("And %1 more.").arg(more);
  }
  if (words.isEmpty())
    words << tr("Nothing is doubted: marks lie on bare cloth, no overlap is turned over.");
  doubts_->setText(words.join('\n'));
  size_t shown = 0;
  for (const std::string& name : plan->crossings) {
    if (++shown > 3) break;
    QString how;
    for (const Cutting& c : plan->cuts)
      if (c.what == name)
        how += (how.isEmpty() ? "" : ", ") +
               tr("%1|%2: %3 st").arg(c.first).arg(c.second).arg(c.stitches);
    better_->addWidget(paragraph(tr("Cut: %1 (%2)").arg(QString::fromStdString(name), how), true));
    if (std::none_of(desk_.job().pieces.begin(), desk_.job().pieces.end(),
                     [&](const Piece& p) { return p.name == name; }))
      continue;
    auto* keep = button(tr("Keep %1 whole").arg(QString::fromStdString(name)),
                        tr("Never cut it; the plan says what that costs"));
    connect(keep, &QPushButton::clicked, this, [this, name] {
      set(tr("piece kept whole"), [&](PlanSettings& s) { s.keep.push_back(name); });
      desk_.makePlan();
    });
    better_->addWidget(keep);
  }
  const auto advice = desk_.advice();
  if (!advice) return;
  if (advice->empty())
    better_->addWidget(paragraph(tr("No small change saves a hooping or a cut."), true));
  for (const PlanAdvice& a : *advice) {
    auto* take = button(tr("%1: %2, %3 cut")
                            .arg(adviceWords(a), counted(static_cast<size_t>(a.hoopings),
                                                         tr("hooping"), tr("hoopings")))
                            .arg(a.cut),
                        tr("Make this change and plan again; it can be undone"));
    connect(take, &QPushButton::clicked, this, [this, job = a.job, name = adviceWords(a)] {
      desk_.change(name, job);
      desk_.makePlan();
    });
    better_->addWidget(take);
  }
}

}  // namespace rt
