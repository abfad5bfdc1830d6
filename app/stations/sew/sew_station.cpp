#include "sew_station.h"

#include <QPainter>

#include "file_io.h"
#include "needles.h"
#include "statistics.h"
#include "thread_list.h"
#include "thread_shelf.h"

namespace rt {
namespace {

/// Speed-ups on an even slider: 1, 2, 5, 10, … 1000.
constexpr std::array<int, 10> kSpeeds{1, 2, 5, 10, 20, 50, 100, 200, 500, 1000};

/// One thread of the hooping: its colour, the nearest on the shelf, and what is needed of it.
QWidget* threadRow(const ThreadNeed& need, const std::vector<ShelfThread>& shelf, int needle) {
  auto* row = new QLabel;
  const auto match = nearestThread(shelf, need.colour);
  QPixmap chip(14, 14);
  chip.fill(QColor(QRgb(0xff000000u | need.colour.rgb)));
  const QString known =
      match ? QObject::tr("%1 %2%3").arg(
                  QString::fromStdString(match->thread->code),
                  QString::fromStdString(match->thread->name),
                  match->difference < 0.5
                      ? QString()
                      : QObject::tr(" (differs by %1)").arg(match->difference, 0, 'f', 1))
            : QString::fromStdString(need.colour.hex());
  auto* box = new QWidget;
  auto* line = new QHBoxLayout(box);
  line->setContentsMargins(0, 0, 0, 0);
  line->setSpacing(8);
  auto* colour = new QLabel;
  colour->setPixmap(chip);
  QString spools;
  if (match && match->thread->metres > 0) {
    const auto n = static_cast<size_t>(std::ceil(need.top_mm / 1000 / match->thread->metres));
    spools = QObject::tr(", %1 of %2 m")
                 .arg(counted(n, QObject::tr("spool"), QObject::tr("spools")))
                 .arg(match->thread->metres, 0, 'f', 0);
  }
  row->setText(QObject::tr("%1%2 · %3 m top, %4 m bobbin%5")
                   .arg(needle >= 0 ? QObject::tr("%1: ").arg(needle + 1) : QString(), known)
                   .arg(need.top_mm / 1000, 0, 'f', 1)
                   .arg(need.bobbin_mm / 1000, 0, 'f', 1)
                   .arg(spools));
  row->setFont(look::figures(9));
  row->setWordWrap(true);
  line->addWidget(colour);
  line->addWidget(row, 1);
  return box;
}

}  // namespace

void SewStation::showThreads(const Pattern& pattern) {
  const double cloth = desk_.fabric().thickness_mm;
  const std::vector<ThreadNeed> needs = threadNeeds(pattern, cloth);
  const int needles = desk_.job().sequence.needles;
  const NeedlePlan plan = planNeedles(pattern, needles);
  facts_->addWidget(heading(needles > 1 ? tr("Threads on their needles") : tr("Threads")));
  for (const ThreadNeed& need : needs) {
    int needle = -1;
    for (const NeedleStep& step : plan.steps)
      if (needles > 1 && needle < 0 &&
          pattern.threads[static_cast<size_t>(step.thread)] == need.colour)
        needle = step.needle;
    facts_->addWidget(threadRow(need, desk_.bench().shop.threads, needle));
  }
  auto* read = button(tr("Read threads …"), tr("Read the shop's own thread list, CSV"));
  auto* write = button(tr("Write threads …"), tr("Write the thread list as CSV"));
  read->setObjectName(QStringLiteral("readThreads"));
  write->setObjectName(QStringLiteral("writeThreads"));
  connect(read, &QPushButton::clicked, this, [this] {
    const QString path = asker_.toOpen(this, tr("Read a thread list"), tr("CSV (*.csv)"));
    if (!path.isEmpty())
      guarded(desk_, [&] { desk_.shop().setThreads(readThreads(path.toStdString())); });
  });
  connect(write, &QPushButton::clicked, this, [this] {
    const QString path = asker_.toSave(this, tr("Write the thread list"),
                                       QStringLiteral("threads.csv"), tr("CSV (*.csv)"));
    if (!path.isEmpty())
      guarded(desk_, [&] {
        writeFile(path.toStdString(), threadsCsv(desk_.bench().shop.threads));
        desk_.say(tr("Thread list written to %1.").arg(path));
      });
  });
  facts_->addWidget(pair(read, write));
  if (desk_.timeFactor() != 1)
    facts_->addWidget(paragraph(
        tr("Times × %1, learned from the runs in the ledger.").arg(desk_.timeFactor(), 0, 'f', 2),
        true));
  if (const auto row = bobbinRunsOutAt(pattern, cloth, desk_.bench().shop.bobbin_mm))
    facts_->addWidget(
        paragraph(tr("A bobbin of %1 m runs out near stitch %2: have another wound.")
                      .arg(desk_.bench().shop.bobbin_mm / 1000, 0, 'f', 0)
                      .arg(std::count_if(pattern.stitches.begin(),
                                         pattern.stitches.begin() + static_cast<long>(*row),
                                         [](const Stitch& s) { return s.op == Op::Stitch; })),
                  true));
}

SewStation::SewStation(const StationContext& context)
    : StationPanel(Station::Sew, context.desk),
      asker_(context.asker),
      lens_(context.desk),
      hand_(context.desk),
      link_(context.desk.run().machine()),
      hooping_(new QComboBox),
      facts_(new QVBoxLayout),
      connect_(button(tr("Connect"), tr("Start the practice machine and connect to it"), true)),
      send_(
          button(tr("Send hooping"), tr("Hand this hooping to the machine, turned for its hoop"))),
      trace_(button(tr("Trace"), tr("Drive the frame around the sewing without the needle"))),
      sew_(button(tr("Sew"), tr("Sew, or go on where it stopped (Space)"), true)),
      pause_(button(tr("Pause"), tr("Stop the machine after this stitch"))),
      break_(button(tr("Practise a break"), tr("Let the thread break after 200 more stitches"))),
      speed_(new QSlider(Qt::Horizontal)),
      speedWords_(paragraph({}, true)),
      state_(paragraph({})),
      progress_(new QProgressBar),
      proof_(new ProofTools(context.desk)) {
  Desk& desk = context.desk;
  connect_->setObjectName(QStringLiteral("connectMachine"));
  send_->setObjectName(QStringLiteral("sendHooping"));
  trace_->setObjectName(QStringLiteral("traceHooping"));
  sew_->setObjectName(QStringLiteral("sewButton"));
  break_->setObjectName(QStringLiteral("breakButton"));
  hooping_->setObjectName(QStringLiteral("sewHooping"));
  speed_->setObjectName(QStringLiteral("speedSlider"));
  state_->setObjectName(QStringLiteral("machineState"));
  speed_->setRange(0, static_cast<int>(kSpeeds.size()) - 1);
  speed_->setValue(5);
  speed_->setAccessibleName(tr("Speed-up of the practice machine"));
  buildList();
  connect(connect_, &QPushButton::clicked, &link_, &MachineLink::connectMachine);
  connect(send_, &QPushButton::clicked, this, [this] {
    guarded(desk_, [this] {
      desk_.sendHooping(desk_.hooping(), desk_.setting());
      link_.setSpeedUp(kSpeeds[static_cast<size_t>(speed_->value())]);
    });
  });
  connect(trace_, &QPushButton::clicked, &link_, &MachineLink::trace);
  connect(sew_, &QPushButton::clicked, this, [this] { desk_.sewOn(); });
  connect(pause_, &QPushButton::clicked, &link_, &MachineLink::pause);
  connect(break_, &QPushButton::clicked, this,
          [this] { link_.strike(QStringLiteral("break"), 200); });
  connect(speed_, &QSlider::valueChanged, this, [this](int i) {
    link_.setSpeedUp(kSpeeds[static_cast<size_t>(i)]);
    speedWords_->setText(tr("Practice speed × %1").arg(kSpeeds[static_cast<size_t>(i)]));
  });
  connect(hooping_, &QComboBox::activated, this, [this](int i) {
    const QPoint step = hooping_->itemData(i).toPoint();
    desk_.setHooping(step.x(), step.y());
  });
  connect(&desk.run(), &SewingRun::phaseChanged, this, &SewStation::onPhase);
  connect(&desk.run(), &SewingRun::moved, this, [this] {
    progress_->setMaximum(std::max(1, link_.stitches()));
    progress_->setValue(link_.stitch());
    const auto& sent = desk_.run().sent();
    if (sent && desk_.madePlan() && sent->key.plan == desk_.madePlan()->id)
      emit machineMoved(sent->hooping, sent->setting, link_.row(),
                        link_.phase() == MachineLink::Phase::Sewing);
  });
  connect(&desk.run(), &SewingRun::finished, this, [this] {
    for (QCheckBox* t : ticks_) t->setChecked(false);
    refresh();
  });
  connect(&link_, &MachineLink::traced, this, [this](const QVector<QPointF>& way) {
    const Hooping* h = desk_.currentHooping();
    if (!h) return;
    const Field field = desk_.fieldOf(*h);
    double room = INFINITY;
    for (QPointF p : way)
      room = std::min(
          {room, field.width_mm / 2 - std::abs(p.x()), field.height_mm / 2 - std::abs(p.y())});
    state_->setText(
        tr("Traced: the sewing keeps %1 mm from the field's edge.").arg(room, 0, 'f', 1));
    emit traced(way);
  });
  connect(&desk, &Desk::hoopingChanged, this, &SewStation::refresh);
  connect(&desk, &Desk::recorded, this, &SewStation::onPhase);
  connect(&desk, &Desk::weighed, this, &SewStation::onPhase);
  speedWords_->setText(
      tr("Practice speed × %1").arg(kSpeeds[static_cast<size_t>(speed_->value())]));
}

void SewStation::buildList() {
  column_->addWidget(labelled(tr("Hooping"), hooping_));
  column_->addWidget(heading(tr("Before you start")));
  facts_->setSpacing(3);
  column_->addLayout(facts_);
  const std::array<QString, 4> words{
      tr("This hoop mounted, frame locked"), tr("Foot down, bobbin full and caught"),
      tr("Pins out, or 15 mm clear"), tr("Hands clear: the frame moves itself")};
  for (size_t i = 0; i < words.size(); ++i) {
    ticks_[i] = new QCheckBox(words[i]);
    ticks_[i]->setObjectName(QStringLiteral("tick%1").arg(i));
    column_->addWidget(ticks_[i]);
    connect(ticks_[i], &QCheckBox::toggled, this, &SewStation::onPhase);
  }
  column_->addWidget(proof_);
  column_->addWidget(heading(tr("Machine")));
  column_->addWidget(pair(connect_, send_));
  column_->addWidget(pair(trace_, pause_));
  column_->addWidget(sew_);
  column_->addWidget(progress_);
  column_->addWidget(state_);
  column_->addWidget(pair(speedWords_, speed_));
  column_->addWidget(break_);
  column_->addStretch();
  progress_->setFormat(tr("%v of %m stitches"));
  progress_->setAccessibleName(tr("Sewn stitches"));
}

bool SewStation::listComplete() const {
  return std::all_of(ticks_.begin(), ticks_.end(),
                     [](const QCheckBox* t) { return t->isChecked(); });
}

QString SewStation::hindrance() const {
  const Hooping* h = desk_.currentHooping();
  if (!h) return {};
  if (!desk_.weighingCurrent()) return tr("The layout is being weighed.");
  if (verdictOf(desk_, Station::Density).state == look::State::Stop)
    return tr("Density says stop: cure or overrule it at station 3.");
  if (!proofAccepted(desk_.job()))
    return tr("The proof is not accepted: read it at Compose (2) and accept it.");
  const std::optional<Alignment> a = desk_.alignmentOf(h->index);
  if (!a) return tr("This hooping is not aligned: needle its marks at Align (6).");
  if (a->status != Readiness::Ready &&
      desk_.record().overruledAlignment(desk_.keyOf(h->index)).empty())
    return tr("The alignment is not ready: see Align (6).");
  return {};
}

void SewStation::onPhase() {
  using Phase = MachineLink::Phase;
  const Phase phase = link_.phase();
  const Hooping* h = desk_.currentHooping();
  const bool here = phase != Phase::Away && phase != Phase::Connecting;
  const bool loaded = here && h && desk_.run().isSent(desk_.keyOf(h->index, desk_.setting())) &&
                      phase != Phase::Idle;
  const QString against = hindrance();
  connect_->setEnabled(phase == Phase::Away);
  connect_->setText(phase == Phase::Connecting ? tr("Connecting …")
                    : here                     ? tr("Connected")
                                               : tr("Connect"));
  send_->setEnabled(here && h && desk_.planCurrent() && phase != Phase::Sewing &&
                    phase != Phase::ColourWait);
  trace_->setEnabled(loaded && phase != Phase::Sewing);
  pause_->setEnabled(phase == Phase::Sewing);
  break_->setEnabled(loaded && phase != Phase::Done);
  sew_->setEnabled(loaded && phase != Phase::Sewing && phase != Phase::Done && listComplete() &&
                   desk_.planCurrent() && against.isEmpty());
  const size_t row = loaded && phase != Phase::Sewing ? desk_.resumeRow() : 0;
  sew_->setText(phase == Phase::ColourWait ? tr("Threaded %1: go on").arg(link_.thread())
                : phase == Phase::Paused   ? tr("Go on")
                : row > 0                  ? tr("Go on from row %1").arg(row)
                                           : tr("Sew"));
  state_->setText(!against.isEmpty() && phase != Phase::Sewing && phase != Phase::Done
                      ? against
                      : phaseWords());
}

QString SewStation::phaseWords() const {
  using Phase = MachineLink::Phase;
  switch (link_.phase()) {
    case Phase::Away:
      return tr("No machine. The practice machine sews on this computer only.");
    case Phase::Connecting:
      return tr("Starting …");
    case Phase::Idle:
      return tr("Connected. Send the hooping.");
    case Phase::Sending:
      return tr("Writing the hooping, and reading it back …");
    case Phase::Loaded:
      return listComplete() ? tr("Loaded. Trace it, then sew.")
                            : tr("Loaded. Trace it, and tick the list.");
    case Phase::Sewing:
      return tr("Sewing %1 …").arg(link_.thread());
    case Phase::Paused:
      return tr("Paused at stitch %1.").arg(link_.stitch());
    case Phase::ColourWait:
      return tr("Stopped for thread %1.").arg(link_.thread());
    case Phase::Broken:
      return tr("Thread broke at stitch %1. Re-thread; it goes on %2 stitches back.")
          .arg(link_.stitch())
          .arg(desk_.bench().shop.practice.resume_overlap_stitches);
    case Phase::Done:
      break;
  }
  return desk_.run().sent() ? tr("Hooping %1 is done.").arg(desk_.run().sent()->hooping)
                            : QString();
}

void SewStation::refresh() {
  const HoopingPlan* plan = desk_.planCurrent() ? desk_.plan() : nullptr;
  const QSignalBlocker block(hooping_);
  hooping_->clear();
  for (size_t i = 0; plan && i < plan->hoopings.size(); ++i)
    for (const PlanSetting& s : plan->hoopings[i].settings) {
      const int index = static_cast<int>(i) + 1;
      QString words = tr("%1 of %2").arg(index).arg(plan->hoopings.size());
      if (plan->hoopings[i].settings.size() > 1) words += tr(", setting %1").arg(s.index);
      if (desk_.sewn(index, s.index).done) words += tr(", sewn");
      hooping_->addItem(words, QPoint(index, s.index));
    }
  hooping_->setCurrentIndex(hooping_->findData(QPoint(desk_.hooping(), desk_.setting())));
  clear(*facts_);
  const Hooping* h = plan ? desk_.currentHooping() : nullptr;
  const PlanSetting* setting = plan ? desk_.currentSetting() : nullptr;
  if (h && setting) {
    const Statistics s = statisticsOf(setting->pattern, desk_.bench().shop.time);
    const Box box = threadBounds(setting->pattern), field = setting->field.box;
    const double left = box.left - field.left, right = field.right - box.right,
                 top = box.top - field.top, bottom = field.bottom - box.bottom;
    const std::optional<Alignment> a = desk_.alignmentOf(h->index);
    facts_->addWidget(paragraph(
        tr("Hoop %1%2. Sewing keeps %3 mm from the edge.")
            .arg(QString::fromStdString(h->hoop_id),
                 setting->field.turn_deg != 0 ? tr(", turned by %1°").arg(setting->field.turn_deg)
                                              : QString())
            .arg(std::min({left, right, top, bottom}), 0, 'f', 1),
        true));
    facts_->addWidget(paragraph(
        tr("%1 stitches, %2, %3, %4 m of top thread.")
            .arg(grouped(s.stitches), counted(s.colours.size(), tr("colour"), tr("colours")),
                 duration(s.sewing_time_s))
            .arg(topThread_mm(s, desk_.fabric().thickness_mm) / 1000, 0, 'f', 1),
        true));
    facts_->addWidget(paragraph(a ? tr("Alignment: %1.").arg(QString::fromStdString(a->headline))
                                  : tr("Not aligned yet: do so at station 6."),
                                true));
    for (const OperatorStop& o : desk_.job().sequence.stops)
      facts_->addWidget(
          paragraph(tr("It waits once: %1.").arg(QString::fromStdString(o.note)), true));
    showThreads(setting->pattern);
  } else {
    facts_->addWidget(paragraph(tr("Plan the hoopings first (4)."), true));
  }
  proof_->refresh();
  onPhase();
}

}  // namespace rt
