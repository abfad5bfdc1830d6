#include "hoopings_station.h"

#include "plan_folder.h"

namespace rt {

HoopingsStation::HoopingsStation(const StationContext& context)
    : StationPanel(Station::Hoopings, context.desk),
      asker_(context.asker),
      lens_(context.desk),
      hand_(context.desk),
      hoop_(new QComboBox),
      overlap_(new LengthEdit(tr("Overlap of neighbouring fields"))),
      turn_(new QCheckBox(tr("Hoop may be turned"))),
      style_(new QComboBox),
      plan_(button(tr("Plan"), tr("Seek the fewest hoopings (Ctrl+P)"), true)),
      write_(button(tr("Write files …"),
                    tr("One stitch list per hooping, and the plan, into a folder"))),
      list_(new QVBoxLayout),
      facts_(paragraph({}, true)) {
  Desk& desk = context.desk;
  hoop_->setEditable(true);
  hoop_->setInsertPolicy(QComboBox::NoInsert);
  hoop_->setObjectName(QStringLiteral("hoopBox"));
  hoop_->setToolTip(tr("A measured hoop, or its field like 200x140"));
  plan_->setObjectName(QStringLiteral("planButton"));
  write_->setObjectName(QStringLiteral("writeButton"));
  for (const Hoop& h : desk.bench().shop.hoops)
    hoop_->addItem(QString::fromStdString(h.name), QString::fromStdString(h.id));
  style_->addItems({tr("Star: all tied to the cross"), tr("Chain: each to the one before")});
  style_->setToolTip(tr("In a chain the errors of the hoopings add up; in a star they do not"));
  column_->addWidget(labelled(tr("Hoop, or field in mm"), hoop_));
  column_->addWidget(
      pair(labelled(tr("Least overlap"), overlap_), labelled(QStringLiteral(" "), turn_)));
  column_->addWidget(labelled(tr("Hoopings are tied as"), style_));
  column_->addWidget(pair(plan_, write_));
  list_->setSpacing(4);
  column_->addLayout(list_);
  column_->addWidget(facts_);
  column_->addWidget(caution(tr("Magnetic hoops pinch, and stay away from pacemakers.")));
  column_->addStretch();
  connect(plan_, &QPushButton::clicked, &desk, &Desk::makePlan);
  connect(hoop_, &QComboBox::activated, this, [this](int i) {
    set(tr("hoop"), [&](PlanSettings& s) { s.hoop = hoop_->itemData(i).toString().toStdString(); });
  });
  connect(hoop_->lineEdit(), &QLineEdit::editingFinished, this, [this] {
    const QString typed = hoop_->currentText().trimmed();
    if (hoop_->findText(typed) < 0)
      set(tr("hoop"), [&](PlanSettings& s) {
        s.hoop = QString(typed).remove(' ').replace(QChar(0xD7), 'x').toStdString();
      });
  });
  connect(overlap_, &LengthEdit::edited, this, [this](double mm) {
    set(tr("overlap"), [&](PlanSettings& s) { s.overlap_mm = std::clamp(mm, 0.0, 200.0); });
  });
  connect(turn_, &QCheckBox::clicked, this,
          [this](bool on) { set(tr("turned hoops"), [&](PlanSettings& s) { s.turn = on; }); });
  connect(style_, &QComboBox::activated, this, [this](int i) {
    set(tr("star or chain"),
        [&](PlanSettings& s) { s.style = i == 1 ? TieStyle::Chain : TieStyle::Star; });
  });
  connect(write_, &QPushButton::clicked, this, [this] {
    const QString folder = asker_.folder(this, tr("Folder for the hoopings"));
    if (!folder.isEmpty()) writeFiles(folder);
  });
  connect(&desk, &Desk::planned, this, &HoopingsStation::refresh);
  connect(&desk, &Desk::hoopingChanged, this, &HoopingsStation::refresh);
}

void HoopingsStation::set(const QString& name, const std::function<void(PlanSettings&)>& edit) {
  Job next = desk_.job();
  edit(next.plan_settings);
  desk_.change(name, std::move(next));
}

void HoopingsStation::writeFiles(const QString& folder) {
  guarded(desk_, [&] {
    const HoopingPlan& plan = *desk_.plan();
    const std::string to = folder.toStdString();
    writePlanFolder(to, plan);
    const size_t files = plan.hoopings.size();
    LedgerEntry e;
    e.event = "export";
    e.note = std::to_string(files) + " hoopings written to " + to;
    desk_.note(std::move(e));
    desk_.say(tr("%1 written to %2.").arg(counted(files, tr("hooping"), tr("hoopings")), folder));
  });
}

void HoopingsStation::refresh() {
  const PlanSettings& s = desk_.job().plan_settings;
  const int i = hoop_->findData(QString::fromStdString(s.hoop));
  hoop_->setCurrentIndex(i);
  if (i < 0) hoop_->setEditText(QString::fromStdString(s.hoop));
  overlap_->setValue_mm(s.overlap_mm, desk_.inches());
  turn_->setChecked(s.turn);
  style_->setCurrentIndex(s.style == TieStyle::Chain ? 1 : 0);
  plan_->setEnabled(!desk_.planning() && !desk_.job().pieces.empty());
  plan_->setText(desk_.planning() ? tr("Planning …") : tr("Plan"));
  write_->setEnabled(desk_.planCurrent());
  clear(*list_);
  const HoopingPlan* plan = desk_.plan();
  if (!plan)
    return facts_->setText(
        tr("The plan shows its seam errors before a stitch is sewn. Pieces stay whole where they "
           "can."));
  for (const Hooping& h : plan->hoopings) {
    const bool here = h.index == desk_.hooping();
    auto* b = button(tr("%1   %2 stitches · %3 m · ±%4 mm")
                         .arg(h.index)
                         .arg(grouped(h.stitches))
                         .arg(h.thread_mm / 1000, 0, 'f', 1)
                         .arg(h.predicted_error_mm, 0, 'f', 2),
                     tr("Show hooping %1 on the cloth").arg(h.index), here);
    connect(b, &QPushButton::clicked, this, [this, index = h.index] { desk_.setHooping(index); });
    list_->addWidget(b);
  }
  QStringList facts;
  QStringList cut;
  for (const std::string& c : plan->crossings) cut << QString::fromStdString(c);
  facts << (cut.isEmpty()
                ? tr("No piece is cut.")
                : tr("Cut: %1, through %2 stitches.").arg(cut.join(", ")).arg(plan->cut_stitches));
  for (const std::string& w : plan->warnings) facts << QString::fromStdString(w) + ".";
  const double each_s = desk_.bench().shop.practice.hooping_s;
  facts << tr("To hoop and align takes about %1 each, %2 in all, beside the sewing.")
               .arg(duration(each_s),
                    duration(each_s * static_cast<double>(plan->hoopings.size())));
  facts << tr("± is the 95 % error at the worst corner, with needled marks.");
  facts_->setText(facts.join(' '));
}

}  // namespace rt
