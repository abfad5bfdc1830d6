#include "align_station.h"

#include "actions.h"
#include "alignment_words.h"

namespace rt {

AlignStation::AlignStation(const StationContext& context)
    : StationPanel(Station::Align, context.desk),
      lens_(context.desk),
      hand_(context.desk),
      hooping_(new QComboBox),
      tolerance_(new LengthEdit(tr("Tolerance"))),
      shelf_(new ToolShelf),
      scan_(new ScanTool(context.desk, context.asker, hand_)),
      needle_(new NeedleTool(context.desk)),
      tag_(new OneTagTool(context.desk)),
      eye_(new EyeTool(context.desk, context.gestures, hand_)),
      gauge_(new GaugeTool(context.desk, context.gestures)),
      practice_(new PracticeTool(context.desk)),
      facts_(paragraph({})),
      record_(button(tr("Keep in the ledger"), tr("Write this alignment down (Ctrl+R)"), true)),
      clear_(
          button(tr("Hooped again"), tr("Forget what was found: the cloth lies otherwise now"))) {
  Desk& desk = context.desk;
  record_->setObjectName(QStringLiteral("recordAlignment"));
  clear_->setObjectName(QStringLiteral("clearMarks"));
  hooping_->setObjectName(QStringLiteral("alignHooping"));
  facts_->setObjectName(QStringLiteral("alignFacts"));
  column_->addWidget(
      pair(labelled(tr("Hooping"), hooping_), labelled(tr("Tolerance, 95 %"), tolerance_)));
  shelf_->add(tr("Photo"), QStringLiteral("Photo"), scan_);
  shelf_->add(tr("Needle"), QStringLiteral("Needle"), needle_);
  shelf_->add(tr("One tag"), QStringLiteral("OneTag"), tag_);
  shelf_->add(tr("By eye"), QStringLiteral("Eye"), eye_);
  shelf_->add(tr("Measure"), QStringLiteral("Gauge"), gauge_);
  shelf_->add(tr("Practice"), QStringLiteral("Practice"), practice_);
  shelf_->open(scan_);
  column_->addWidget(shelf_);
  column_->addWidget(facts_);
  column_->addWidget(pair(record_, clear_));
  column_->addStretch();
  hand_.done = [this] {
    refresh();
    emit lookChanged();
  };
  connect(shelf_, &ToolShelf::openedTool, this, [this] {
    if (hand_.nudging()) hand_.setNudging(false);
    refresh();
  });
  connect(hooping_, &QComboBox::activated, this, [this](int i) { desk_.setHooping(i + 1); });
  connect(tolerance_, &LengthEdit::edited, this, [this](double mm) {
    desk_.change(tr("tolerance"), actions::toleratedAt(desk_.job(), mm));
  });
  connect(record_, &QPushButton::clicked, this, &AlignStation::record);
  connect(clear_, &QPushButton::clicked, this, [this] { desk_.clearMarks(desk_.hooping()); });
  desk.on(Part::Hooping, this, &AlignStation::refresh);
  desk.on(Part::Record, this, &AlignStation::refresh);
  desk.on(Part::Scan, this, &AlignStation::refresh);
  connect(&desk.run().machine(), &MachineLink::phaseChanged, this, &AlignStation::refresh);
}

std::vector<StationAction> AlignStation::actions() {
  return {
      {tr("Keep the alignment in the ledger"), QKeySequence(tr("Ctrl+R")), [this] { record(); }},
      {tr("Take a scan of the hooping"), QKeySequence(tr("Ctrl+Shift+C")),
       [this] { desk_.camera().shoot(); }, true},
      {tr("Open a photo of the hooping …"), QKeySequence(tr("Ctrl+Shift+O")),
       [this] { scan_->openPhoto(); }, true},
      {tr("Open the demo scan of the hooping"), QKeySequence(tr("Ctrl+Shift+D")),
       [this] {
         if (!scan_->openDemoScan()) desk_.say(tr("No demo scan ships for this hooping."));
       },
       true},
      {tr("Paste a photo of the hooping"), QKeySequence(tr("Ctrl+Shift+V")),
       [this] { scan_->paste(); }, true}};
}

void AlignStation::record() {
  const std::optional<Alignment> a = desk_.alignmentOf(desk_.hooping());
  if (!a) return desk_.say(tr("Find two marks or more first."));
  desk_.note(entryFor(*a, desk_.hooping()));
  desk_.say(tr("Kept: %1.").arg(QString::fromStdString(headlineOf(*a))));
}

void AlignStation::showResult(const Hooping& h) {
  const std::optional<Alignment> a = desk_.alignmentOf(h.index);
  record_->setEnabled(a.has_value());
  if (!a) return facts_->setText({});
  QStringList facts;
  facts << tr("95 % within %1 mm at the centre, %2 mm at the worst corner; marks %3 mm off "
              "(root mean square)")
               .arg(a->error_centre_mm, 0, 'f', 2)
               .arg(a->error_worst_mm, 0, 'f', 2)
               .arg(a->fit.rms_mm, 0, 'f', 2);
  if (a->stretch > 0 || a->out_of_square_deg > 0)
    facts << tr("Stretch %1 % · out of square %2°")
                 .arg(a->stretch * 100, 0, 'f', 2)
                 .arg(a->out_of_square_deg, 0, 'f', 2);
  for (const std::string& s : adviceOf(*a))
    facts << QStringLiteral("• ") + QString::fromStdString(s);
  facts_->setText(facts.join('\n'));
}

void AlignStation::refresh() {
  const HoopingPlan* plan = desk_.plan();
  const Hooping* h = desk_.currentHooping();
  const QSignalBlocker block(hooping_);
  hooping_->clear();
  for (int i = 1; plan && i <= static_cast<int>(plan->hoopings.size()); ++i)
    hooping_->addItem(tr("%1 of %2").arg(i).arg(plan->hoopings.size()));
  hooping_->setCurrentIndex(desk_.hooping() - 1);
  for (QWidget* w : {static_cast<QWidget*>(record_), static_cast<QWidget*>(clear_),
                     static_cast<QWidget*>(tolerance_)})
    w->setEnabled(h != nullptr);
  QWidget* open = shelf_->opened();
  if (open == scan_) scan_->refresh();
  if (open == needle_) needle_->refresh();
  if (open == tag_) tag_->refresh();
  if (open == eye_) eye_->refresh();
  if (open == gauge_) gauge_->refresh();
  if (open == practice_) practice_->refresh();
  if (!h) return facts_->setText(tr("Plan the hoopings first (4)."));
  tolerance_->setValue_mm(desk_.job().tolerance_mm, desk_.inches());
  showResult(*h);
}

}  // namespace rt
