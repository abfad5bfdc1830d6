#include "hoopings_station.h"

#include <QMenu>
#include <numeric>
#include <span>

#include "actions.h"
#include "page_view.h"
#include "paperwork.h"
#include "plan_folder.h"
#include "plan_words.h"
#include "square_check.h"
#include "worst_seam.h"

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

}  // namespace

HoopingsStation::HoopingsStation(const StationContext& context)
    : StationPanel(Station::Hoopings, context.desk),
      asker_(context.asker),
      gestures_(context.gestures),
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
      cut_(button(tr("Ask for a cut"),
                  tr("Click a line across a piece: if it is parted at all, then there"))),
      figures_(new QWidget),
      figureGrid_(new QGridLayout(figures_)),
      list_(new QListWidget),
      sooner_(button(tr("Sooner"), tr("Sew this hooping before the one above it"))),
      later_(button(tr("Later"), tr("Sew this hooping after the one below it"))),
      asPlanned_(button(tr("As planned"), tr("Back to the order of the plan"))),
      better_(new QVBoxLayout),
      doubts_(paragraph({}, true)),
      schoolWords_(paragraph({}, true)),
      square_(paragraph({}, true)),
      shelf_(new ToolShelf),
      batch_(new BatchTool(context.desk, context.asker)),
      measure_(new MeasureTool(context.desk, context.asker)),
      look_(PageView::button(context.desk, context.asker,
                             [this] {
                               return PaperToLookAt{tr("Hooping sheets"),
                                                    QStringLiteral("hoopings.pdf"),
                                                    [this](const QString& to) { makeSheets(to); }};
                             })),
      papers_(pair(pair(sheets_, look_), write_)) {
  nameParts();
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
  shelf_->add(tr("Batch"), QStringLiteral("batchTool"), batch_);
  shelf_->add(tr("Measure"), QStringLiteral("measureTool"), measure_);
  column_->addWidget(plan_);
  column_->addWidget(figures_);
  column_->addWidget(shelf_, 1);
  column_->addWidget(papers_);
  column_->addWidget(caution(tr("Magnetic hoops pinch, and stay away from pacemakers.")));
  connectAll();
}

void HoopingsStation::nameParts() {
  look_->setObjectName(QStringLiteral("previewSheets"));
  plan_->setObjectName(QStringLiteral("planButton"));
  write_->setObjectName(QStringLiteral("writeButton"));
  sheets_->setObjectName(QStringLiteral("sheetsButton"));
  pin_->setObjectName(QStringLiteral("pinField"));
  seek_->setObjectName(QStringLiteral("seekAdvice"));
  cut_->setObjectName(QStringLiteral("askForCut"));
  play_->setObjectName(QStringLiteral("playHoopings"));
}

void HoopingsStation::connectAll() {
  connect(batch_, &BatchTool::takeAsked, this, [this](const Job& job) {
    shelf_->open(frameTool_);  // what comes next is the plan
    emit takeAsked(job);
  });
  connect(shelf_, &ToolShelf::openedTool, this, &HoopingsStation::refresh);
  connect(plan_, &QPushButton::clicked, this, [this] {
    if (desk_.planning())
      desk_.planSoFar();
    else
      desk_.makePlan();
  });
  connect(sheets_, &QPushButton::clicked, this, &HoopingsStation::askAndWriteSheets);
  connect(write_, &QPushButton::clicked, this, [this] {
    const QString folder = asker_.folder(this, tr("Folder for the hoopings"));
    if (!folder.isEmpty()) writeFiles(folder);
  });
  connect(&hand_, &FramesHand::dropped, this, &HoopingsStation::pinCurrent);
  desk_.on(Part::Plan, this, [this] {
    sayHeld();
    if (!desk_.planning() && desk_.planCurrent()) shelf_->suggest(planTool_);
    refresh();
  });
  desk_.on(Part::PlanProgress, this, &HoopingsStation::namePlan);
  desk_.on(Part::Advice, this, &HoopingsStation::showBetter);
  desk_.on(Part::Hooping, this, &HoopingsStation::refresh);
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
  column->addWidget(square_);
  column->addStretch();
  connectFrames();
  return tool;
}

void HoopingsStation::connectFrames() {
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
}

QWidget* HoopingsStation::planTool() {
  auto* tool = new QWidget;
  auto* column = new QVBoxLayout(tool);
  column->setContentsMargins(0, 0, 0, 0);
  list_->setObjectName(QStringLiteral("hoopingList"));
  list_->setAccessibleName(tr("Hoopings in sewing order"));
  list_->setMinimumHeight(72);
  list_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Ignored);  // what room there is
  column->addWidget(list_, 1);
  auto* more = button(tr("Add a field"), tr("Hold one more field, in the middle of what is seen "
                                            "of the layout; drag it where it shall be"));
  more->setObjectName(QStringLiteral("addField"));
  sooner_->setObjectName(QStringLiteral("hoopSooner"));
  later_->setObjectName(QStringLiteral("hoopLater"));
  asPlanned_->setObjectName(QStringLiteral("hoopAsPlanned"));
  column->addWidget(pair(pair(sooner_, later_), asPlanned_));
  column->addWidget(pair(pin_, more));
  column->addWidget(pair(play_, enlarge_));
  connect(sooner_, &QPushButton::clicked, this, [this] { exchange(-1); });
  connect(later_, &QPushButton::clicked, this, [this] { exchange(1); });
  connect(more, &QPushButton::clicked, this, &HoopingsStation::addField);
  connect(asPlanned_, &QPushButton::clicked, this, [this] {
    guarded(desk_, [&] {
      desk_.change(tr("order as planned"), actions::hoopedInOrder(desk_.job(), *desk_.plan(), {}));
    });
    desk_.makePlan();
  });
  connect(list_, &QListWidget::currentRowChanged, this, [this](int row) {
    if (row < 0) return;
    const QPoint step = list_->item(row)->data(Qt::UserRole).toPoint();
    if (step.x() != desk_.hooping() || step.y() != desk_.setting())
      desk_.setHooping(step.x(), step.y());
  });
  connect(play_, &QPushButton::toggled, this, [this](bool on) {
    if (on)
      desk_.setHooping(1), playTimer_.start(), followFrame();
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
  column->addWidget(pair(seek_, cut_));
  column->addStretch();
  connect(cut_, &QPushButton::clicked, this, &HoopingsStation::askForCut);
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
  guarded(desk_, [&] {
    held_ = Held{h->origin + by, h->index, desk_.plan()->hoopings.size()};
    desk_.change(tr("field held in place"), actions::heldAt(desk_.job(), *h, by));
  });
  desk_.makePlan();
}

/// What holding a field changed beside it is said, not left to be found.
void HoopingsStation::sayHeld() {
  if (!held_ || !desk_.planCurrent() || desk_.planning()) return;
  const Held before = *std::exchange(held_, std::nullopt);
  const size_t now = desk_.plan()->hoopings.size();
  QStringList words;
  if (now != before.hoopings)
    words << tr("With this field held there it takes %1 (%2 before).")
                 .arg(counted(now, tr("hooping"), tr("hoopings")))
                 .arg(before.hoopings);
  for (const Hooping& h : desk_.plan()->hoopings)
    if (distance(h.origin, before.origin) < 0.01 && h.index != before.index)
      words << tr("It is sewn as number %1 now (%2 before).").arg(h.index).arg(before.index);
  if (!words.isEmpty()) desk_.say(words.join(QStringLiteral(" ")));
}

void HoopingsStation::askForCut() {
  gestures_.askForPoints(
      2, tr("Click both ends of a line across the piece that is to be parted; Escape gives up"),
      [this](const std::vector<Point>& ends) {
        guarded(desk_, [&] {
          desk_.change(tr("cut asked for"),
                       actions::cutAlong(desk_.job(), {ends.front(), ends.back()}));
        });
        desk_.makePlan();
      });
}

void HoopingsStation::letGo() {
  const Hooping* h = desk_.currentHooping();
  if (!h) return;
  guarded(desk_, [&] { desk_.change(tr("field let go"), actions::letGo(desk_.job(), *h)); });
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
    return play_->setChecked(false);
  followFrame();
}

/// The frame stays in the machine and the cloth is moved under it, as at the table.
void HoopingsStation::followFrame() {
  if (const PlanSetting* s = desk_.settingAt(desk_.hooping(), desk_.setting()))
    gestures_.lookAt(s->field.box.centre());
}

void HoopingsStation::exchange(int by) {
  const HoopingPlan* plan = desk_.plan();
  const int here = desk_.hooping(), there = here + by;
  if (!plan || !desk_.planCurrent() || !desk_.hoopingAt(here) || !desk_.hoopingAt(there)) return;
  std::vector<int> order(plan->hoopings.size());
  std::iota(order.begin(), order.end(), 1);
  std::swap(order[static_cast<size_t>(here) - 1], order[static_cast<size_t>(there) - 1]);
  guarded(desk_, [&] {
    desk_.change(tr("order of hoopings"), actions::hoopedInOrder(desk_.job(), *plan, order));
  });
  desk_.makePlan();
}

void HoopingsStation::addField() {
  const HoopingPlan* plan = desk_.plan();
  if (!plan || plan->hoopings.empty()) return;
  const Hooping& like = plan->hoopings.front();
  const PinnedFrame more{like.hoop_id, 0, gestures_.seenMiddle()};
  set(tr("field added"), [&](PlanSettings& s) { s.pinned.push_back(more); });
  desk_.makePlan();
}

void HoopingsStation::showOrder() {
  const bool may = desk_.planCurrent() && !desk_.planning();
  const int last = desk_.plan() ? static_cast<int>(desk_.plan()->hoopings.size()) : 0;
  sooner_->setEnabled(may && desk_.hooping() > 1);
  later_->setEnabled(may && desk_.hooping() > 0 && desk_.hooping() < last);
  asPlanned_->setEnabled(may && !desk_.job().plan_settings.order_by_hand.empty());
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

HoopingSheets HoopingsStation::makeSheets(const QString& path) const {
  if (!desk_.planCurrent())
    throw Error("there is no current plan", "sheets", "plan the hoopings first (Ctrl+P)");
  return writeHoopingSheets(*desk_.plan(),
                            hoopingSheetsOf(desk_.job(), desk_.bench(), desk_.hoopingsSewn()),
                            path.toStdString());
}

void HoopingsStation::writeSheets(const QString& path) {
  guarded(desk_, [&] {
    const HoopingSheets sheets = makeSheets(path);
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

void HoopingsStation::namePlan() {
  const int best = desk_.hoopingsSoFar();
  plan_->setText(desk_.planning() && best > 0
                     ? tr("Enough: take the %1 so far")
                           .arg(counted(static_cast<size_t>(best), tr("hooping"), tr("hoopings")))
                 : desk_.planning()    ? tr("Enough: take what there is")
                 : desk_.planCurrent() ? tr("Plan again")
                                       : tr("Plan"));
}

/// For lines drawn by hand: three lengths, and what half a degree costs here.
void HoopingsStation::showSquare() {
  const SquareCheck c = squareCheckFor(threadBounds(desk_.layout()));
  square_->setVisible(desk_.job().plan_settings.school == MarkSchool::DrawnLines &&
                      c.diagonal_mm > 0);
  square_->setText(
      tr("Are the lines square? From the cross %1 along and %2 up: the ends must be %3 apart. %4 "
         "mm "
         "more or less is half a degree, and costs %5 mm at the layout's end.")
          .arg(oneUnit(desk_, c.along_mm), oneUnit(desk_, c.up_mm), oneUnit(desk_, c.diagonal_mm))
          .arg(c.per_half_degree_mm, 0, 'f', 1)
          .arg(c.costs_mm, 0, 'f', 1));
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
  showSquare();
  plan_->setEnabled(desk_.planning() || !desk_.job().pieces.empty());
  namePlan();
  write_->setEnabled(desk_.planCurrent());
  sheets_->setEnabled(desk_.planCurrent());
  look_->setEnabled(desk_.planCurrent());
  shelf_->setAvailable(planTool_, desk_.plan() != nullptr);
  shelf_->setAvailable(betterTool_, desk_.planCurrent());
  showFigures();
  showHoopings();
  showBetter();
  // they take the whole panel
  const bool measuring = shelf_->opened() == measure_ || shelf_->opened() == batch_;
  for (QWidget* w : {static_cast<QWidget*>(plan_), figures_, papers_}) w->setVisible(!measuring);
  if (shelf_->opened() == measure_) measure_->refresh();
  if (shelf_->opened() == batch_) batch_->refresh();
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
  const Seam* worst = worstSeam(*plan);
  if (plan->hoopings.size() > 1 || !plan->seams.empty())
    add(tr("Worst seam"), worst ? tr("± %1 mm").arg(worst->error_mm, 0, 'f', 2) : tr("none"),
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
                          .arg(name, grouped(countRows(s.pattern.stitches, Op::Stitch)))
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
  showOrder();
  const Hooping* here = desk_.currentHooping();
  const auto& pinned = desk_.job().plan_settings.pinned;
  const bool held = here && std::any_of(pinned.begin(), pinned.end(), [&](const PinnedFrame& p) {
                      return distance(p.origin, here->origin) < 0.01;
                    });
  pin_->setProperty("held", held);
  pin_->setText(held ? tr("Let this field go") : tr("Hold this field"));
  pin_->setEnabled(desk_.planCurrent() && !desk_.planning());
}

/// What was cut, what could be whole, and what is kept whole now.
void HoopingsStation::showCuts(const HoopingPlan& plan) {
  constexpr size_t kMostNamed = 3;
  for (const std::string& name :
       std::span(plan.crossings).first(std::min(kMostNamed, plan.crossings.size()))) {
    QString how;
    for (const Cutting& c : plan.cuts)
      if (c.what == name)
        how += (how.isEmpty() ? "" : ", ") +
               tr("%1|%2: %3 st").arg(c.first).arg(c.second).arg(c.stitches);
    better_->addWidget(paragraph(tr("Cut: %1 (%2)").arg(QString::fromStdString(name), how), true));
  }
  for (const std::string& name : desk_.canBeWhole()) {
    auto* keep = button(tr("Keep %1 whole").arg(QString::fromStdString(name)),
                        tr("Never cut it; the plan says what that costs"));
    connect(keep, &QPushButton::clicked, this, [this, name] {
      set(tr("piece kept whole"), [&](PlanSettings& s) { s.keep.push_back(name); });
      desk_.makePlan();
    });
    better_->addWidget(keep);
  }
  for (size_t i = 0; i < desk_.job().plan_settings.cuts.size(); ++i) {
    const int number = static_cast<int>(i) + 1;
    auto* away = button(tr("Take cut %1 away").arg(number),
                        tr("The plan parts pieces where it finds best again"));
    connect(away, &QPushButton::clicked, this, [this, number] {
      guarded(desk_, [&] {
        desk_.change(tr("cut taken away"), actions::withoutCut(desk_.job(), number));
      });
      desk_.makePlan();
    });
    better_->addWidget(away);
  }
  for (const std::string& name : desk_.job().plan_settings.keep) {
    auto* free = button(tr("Let %1 be cut").arg(QString::fromStdString(name)),
                        tr("It is kept whole now; the plan may part it again"));
    connect(free, &QPushButton::clicked, this, [this, name] {
      set(tr("piece may be cut"), [&](PlanSettings& s) { std::erase(s.keep, name); });
      desk_.makePlan();
    });
    better_->addWidget(free);
  }
}

/// What is doubted, what was cut, and what would be better.
void HoopingsStation::showBetter() {
  clear(*better_);
  const HoopingPlan* plan = desk_.planCurrent() ? desk_.plan() : nullptr;
  seek_->setEnabled(plan && !desk_.advising());
  seek_->setText(desk_.advising() ? tr("Trying …") : tr("Seek small changes"));
  if (!plan) return;
  QStringList words;
  for (const PlanDoubt& d : plan->doubts) {
    const QString doubt = QString::fromStdString(inWords(d));
    words << doubt.left(1).toUpper() + doubt.mid(1) + ".";
  }
  if (words.size() > 4) {
    const auto more = words.size() - 3;
    words = words.mid(0, 3);
    words << tr("And %1 more.").arg(more);
  }
  if (words.isEmpty())
    words << tr("Nothing is doubted: marks lie on bare cloth, no overlap is turned over.");
  doubts_->setText(words.join('\n'));
  showCuts(*plan);
  const auto advice = desk_.advice();
  if (!advice) return;
  if (advice->empty())
    better_->addWidget(paragraph(tr("No small change saves a hooping or a cut."), true));
  for (const PlanAdvice& a : *advice) {
    auto* take =
        button(tr("%1: %2, %3 cut")
                   .arg(QString::fromStdString(inWords(a)),
                        counted(static_cast<size_t>(a.hoopings), tr("hooping"), tr("hoopings")))
                   .arg(a.cut),
               tr("Make this change and plan again; it can be undone"));
    connect(take, &QPushButton::clicked, this,
            [this, job = a.job, name = QString::fromStdString(inWords(a))] {
              desk_.change(name, job);
              desk_.makePlan();
            });
    better_->addWidget(take);
  }
}

}  // namespace rt
