#include "sew_station.h"

#include <QApplication>
#include <QPainter>

#include "file_io.h"
#include "hooping_place.h"
#include "machine_now.h"
#include "needles.h"
#include "thread_list.h"
#include "thread_picker.h"
#include "thread_shelf.h"

namespace rt {
namespace {

/// A line of the list of checks: its sign, its words, and where it is mended.
QWidget* checkRow(const PreflightLine& line, const std::function<void(Station)>& go) {
  auto* box = new QWidget;
  auto* row = new QHBoxLayout(box);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(8);
  auto* sign = new QLabel;
  QPixmap picture(16, 16);
  picture.fill(Qt::transparent);
  QPainter p(&picture);
  look::drawState(p, QRectF(1, 1, 14, 14), line.state);
  p.end();
  sign->setPixmap(picture);
  auto* words = paragraph(line.words, line.state == look::State::Ready);
  row->addWidget(sign, 0, Qt::AlignTop);
  row->addWidget(words, 1);
  if (line.mends && line.state == look::State::Stop) {
    auto* mend = button(QObject::tr("Go there"), QObject::tr("Open %1").arg(nameOf(*line.mends)));
    mend->setProperty("flat", true);
    row->addWidget(mend, 0, Qt::AlignTop);
    QObject::connect(mend, &QPushButton::clicked, mend, [go, to = *line.mends] { go(to); });
  }
  return box;
}

}  // namespace

SewStation::SewStation(const StationContext& context)
    : StationPanel(Station::Sew, context.desk),
      asker_(context.asker),
      lens_(context.desk),
      hand_(context.desk),
      link_(context.desk.run().machine()),
      hooping_(new QComboBox),
      machines_(new QComboBox),
      checks_(new QVBoxLayout),
      connect_(button(tr("Connect"), tr("Connect to the machine that is named"), true)),
      send_(button(tr("Send"), tr("Write this hooping into the machine and read it back"), true)),
      trace_(button(tr("Trace"), tr("Drive the frame around the sewing without the needle"))),
      sew_(button(tr("Sew"), tr("Sew, or go on where it stopped (Space)"), true)),
      pause_(button(tr("Pause"), tr("Stop the machine after this stitch"))),
      mounted_(
          button(tr("It is mounted and locked"), tr("The wanted frame is in the machine now"))),
      allTheSame_(
          button(tr("Sew all the same"), tr("The reason is kept with the job and the ledger"))),
      reason_(new QLineEdit),
      state_(paragraph({})),
      next_(new QLabel),
      facts_(paragraph({}, true)),
      progress_(new QProgressBar),
      spools_(new SpoolRow),
      proof_(new ProofTools(context.desk)),
      step_(new StepTool(context.desk)),
      files_(new FilesTool(context.desk)),
      faults_(new FaultTool(context.desk)) {
  connect_->setObjectName(QStringLiteral("connectMachine"));
  send_->setObjectName(QStringLiteral("sendHooping"));
  trace_->setObjectName(QStringLiteral("traceHooping"));
  sew_->setObjectName(QStringLiteral("sewButton"));
  pause_->setObjectName(QStringLiteral("pauseButton"));
  mounted_->setObjectName(QStringLiteral("frameMounted"));
  allTheSame_->setObjectName(QStringLiteral("sewAllTheSame"));
  reason_->setObjectName(QStringLiteral("sewReason"));
  reason_->setPlaceholderText(tr("Why it is sewn all the same"));
  reason_->setAccessibleName(tr("Why it is sewn all the same"));
  hooping_->setObjectName(QStringLiteral("sewHooping"));
  state_->setObjectName(QStringLiteral("machineState"));
  next_->setObjectName(QStringLiteral("nextCall"));
  buildRun();
  buildTools();
  connectAll();
}

/// What is done in its order, from the choice of the hooping to the needle.
void SewStation::buildRun() {
  column_->setSpacing(7);
  hooping_->setAccessibleName(tr("Hooping at the machine"));
  column_->addWidget(hooping_);
  checks_->setSpacing(3);
  column_->addLayout(checks_);
  column_->addWidget(reason_);
  column_->addWidget(allTheSame_);
  machines_->setObjectName(QStringLiteral("machineChoice"));
  machines_->setAccessibleName(tr("Machine"));
  column_->addWidget(machines_);
  column_->addWidget(connect_);
  column_->addWidget(send_);
  column_->addWidget(mounted_);
  const std::array<QString, 3> words{tr("Pins out, or 15 mm clear"),
                                     tr("No fold of cloth under the foot; bobbin full and caught"),
                                     tr("Hands clear: the frame moves itself")};
  for (size_t i = 0; i < words.size(); ++i) {
    ticks_[i] = new QCheckBox(words[i]);
    ticks_[i]->setObjectName(QStringLiteral("tick%1").arg(i));
    column_->addWidget(ticks_[i]);
    connect(ticks_[i], &QCheckBox::toggled, this, &SewStation::onPhase);
  }
  next_->setFont(look::text(12.5, true));
  next_->setWordWrap(true);
  column_->addWidget(next_);
  column_->addWidget(sew_);
  column_->addWidget(pair(trace_, pause_));
  column_->addWidget(progress_);
  column_->addWidget(state_);
  column_->addWidget(spools_);
  column_->addWidget(facts_);
  progress_->setFormat(tr("%v of %m stitches"));
  progress_->setAccessibleName(tr("Sewn stitches"));
}

void SewStation::buildTools() {
  auto* threads = new QWidget;
  auto* column = new QVBoxLayout(threads);
  column->setContentsMargins(0, 0, 0, 0);
  auto* read = button(tr("Read threads …"), tr("Read the shop's own thread list, CSV"));
  auto* write = button(tr("Write threads …"), tr("Write the thread list as CSV"));
  read->setObjectName(QStringLiteral("readThreads"));
  write->setObjectName(QStringLiteral("writeThreads"));
  column->addWidget(pair(read, write));
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
  auto* tools = new ToolShelf;
  tools->add(tr("By hand"), QStringLiteral("ByHand"), step_);
  tools->add(tr("Files"), QStringLiteral("Files"), files_);
  tools->add(tr("Threads"), QStringLiteral("Threads"), threads);
  tools->add(tr("Proof"), QStringLiteral("Proof"), proof_);
  tools->add(tr("Practice"), QStringLiteral("Faults"), faults_);
  auto* fold = new Fold(tr("More at the machine"), QStringLiteral("foldMachine"), tools);
  column_->addWidget(fold);
  column_->addStretch();
  connect(
      fold->header(), &QPushButton::clicked, tools, [tools, this] { tools->open(step_); },
      Qt::SingleShotConnection);
}

void SewStation::connectAll() {
  Desk& desk = desk_;
  connect(connect_, &QPushButton::clicked, this, &SewStation::connectChosen);
  connect(machines_, &QComboBox::activated, this, &SewStation::onPhase);
  connect(send_, &QPushButton::clicked, this, &SewStation::sendOn);
  connect(mounted_, &QPushButton::clicked, this, [this] {
    if (const Hooping* h = desk_.currentHooping())
      link_.mount(QString::fromStdString(h->hoop_id), false, true);
  });
  connect(allTheSame_, &QPushButton::clicked, this, &SewStation::overrule);
  connect(reason_, &QLineEdit::textChanged, this,
          [this](const QString& text) { allTheSame_->setEnabled(!text.trimmed().isEmpty()); });
  connect(spools_, &SpoolRow::chosen, this,
          [this](Colour colour) { ThreadPicker::open(spools_, desk_, colour, std::nullopt); });
  connect(trace_, &QPushButton::clicked, &link_, &MachineLink::trace);
  connect(sew_, &QPushButton::clicked, this, [this] {
    // the thread that it waited for is on its needle now
    if (link_.phase() == MachineLink::Phase::ColourWait)
      link_.threadNeedle(desk_.run().needleFor(link_.thread()), link_.thread());
    desk_.sewOn();
  });
  connect(pause_, &QPushButton::clicked, &link_, &MachineLink::pause);
  connect(hooping_, &QComboBox::activated, this, [this](int i) {
    const QPoint step = hooping_->itemData(i).toPoint();
    desk_.setHooping(step.x(), step.y());
  });
  connect(&desk.run(), &SewingRun::phaseChanged, this, &SewStation::onPhase);
  connect(&desk.run(), &SewingRun::finished, this, &SewStation::refresh);
  connect(&link_, &MachineLink::traced, this, &SewStation::onTrace);
  desk.on(Part::Hooping | Part::Record, this, &SewStation::refresh);
  desk.on(Part::Weighing | Part::Scan | Part::Machine | Part::Plan, this, &SewStation::onPhase);
  desk.on(Part::Rows, this, &SewStation::onMoved);
}

void SewStation::sendOn() {
  guarded(desk_, [this] {
    desk_.sendHooping(desk_.hooping(), desk_.setting());
    link_.setSpeedUp(faults_->speed());
  });
}

void SewStation::showProgress() {
  progress_->setMaximum(std::max(1, link_.stitches()));
  progress_->setValue(link_.stitch());
}

void SewStation::onMoved() {
  showProgress();
  const auto& sent = desk_.run().sent();
  if (!sent || !desk_.madePlan() || sent->key.plan != desk_.madePlan()->id) return;
  emit machineMoved(sent->hooping, sent->setting, link_.row(),
                    link_.phase() == MachineLink::Phase::Sewing);
  if (!isVisible()) return;
  showNext();
  showSpools();
}

void SewStation::onTrace(const QVector<QPointF>& way) {
  const Hooping* h = desk_.currentHooping();
  if (!h) return;
  const Field field = desk_.fieldOf(*h);
  std::vector<Point> places;
  for (QPointF p : way) places.push_back({p.x(), p.y()});
  const double room = roomIn(field, places);
  state_->setText(tr("Traced: the sewing keeps %1 mm from the field's edge.").arg(room, 0, 'f', 1));
  emit traced(way);
}

bool SewStation::looked() const {
  return std::all_of(ticks_.begin(), ticks_.end(),
                     [](const QCheckBox* t) { return t->isChecked(); });
}

void SewStation::showChecks() {
  clear(*checks_);
  const auto go = [this](Station to) { emit goAsked(to); };
  QStringList fine;
  for (const PreflightLine& line : preflight(desk_.clearance())) {
    if (line.state == look::State::Ready)
      fine << line.words;
    else
      checks_->addWidget(checkRow(line, go));
  }
  if (fine.isEmpty()) return;
  // what is in order needs no more than a line; its facts are there to be read
  auto* row = checkRow(
      {look::State::Ready, tr("In order: %1").arg(fine.join(QStringLiteral(" · "))), {}}, go);
  checks_->addWidget(row);
}

void SewStation::showNext() {
  using Phase = MachineLink::Phase;
  const auto& sent = desk_.run().sent();
  const Phase phase = link_.phase();
  const bool shown = sent && (phase == Phase::Sewing || phase == Phase::Loaded);
  next_->setVisible(shown);
  if (!shown) return;
  const MachineCall call =
      callAhead(desk_, phase == Phase::Sewing ? link_.row() : desk_.resumeRow());
  next_->setText(tr("Needs you at %1: %2")
                     .arg(call.at.toString(QStringLiteral("hh:mm")), callWords(desk_, call)));
}

void SewStation::showSpools() {
  const PlanSetting* setting = desk_.planCurrent() ? desk_.currentSetting() : nullptr;
  spools_->setVisible(setting != nullptr);
  if (!setting) return spools_->setSpools({});
  const auto& sent = desk_.run().sent();
  const bool here = sent && desk_.run().isSent(desk_.keyOf(desk_.hooping(), desk_.setting()));
  const bool sewing = here && link_.phase() >= MachineLink::Phase::Sewing;
  const Pattern& pattern = setting->pattern;
  const int needles = std::max(desk_.job().sequence.needles, 1);
  const TimeModel& time = desk_.bench().shop.time;  // what was learned is in it
  const auto runs = threadRuns(pattern, sewing ? link_.row() : 0, time,
                               needles > 1 ? Needles::Many : Needles::One);
  const NeedlePlan plan = planNeedles(pattern, needles);
  std::vector<SpoolRow::Spool> spools;
  for (const ThreadNeed& need : threadNeeds(pattern, desk_.threadTake())) {
    SpoolRow::Spool s;
    s.colour = need.colour;
    const auto match = nearestThread(desk_.bench().shop.threads, need.colour);
    s.name = match ? tr("%1 %2").arg(QString::fromStdString(match->thread->code),
                                     QString::fromStdString(match->thread->name))
                   : QString::fromStdString(need.colour.hex());
    s.details = tr("%1 m top, %2 m bobbin")
                    .arg(need.top_mm / 1000, 0, 'f', 1)
                    .arg(need.bobbin_mm / 1000, 0, 'f', 1);
    if (match && match->difference >= 0.5)
      s.details += tr(", differs by %1").arg(match->difference, 0, 'f', 1);
    for (const NeedleStep& step : plan.steps)
      if (needles > 1 && s.needle < 0 &&
          pattern.threads[static_cast<size_t>(step.thread)] == need.colour)
        s.needle = step.needle;
    for (const ThreadRun& run : runs)
      if (run.thread == need.colour) s.seconds += run.left_s;
    s.at_work = sewing && link_.thread().toStdString() == need.colour.hex();
    spools.push_back(std::move(s));
  }
  if (needles > 1)
    std::stable_sort(spools.begin(), spools.end(),
                     [](const auto& a, const auto& b) { return a.needle < b.needle; });
  spools_->setSpools(std::move(spools));
}

/// The practice machine of this window, and those that stay on somewhere beside it.
void SewStation::listMachines() {
  if (link_.phase() != MachineLink::Phase::Away) return;
  const QVector<MachineFound> now = desk_.machinesFound();
  if (now == found_ && machines_->count() > 0) return;
  const QString chosen = machines_->currentData().toString();
  found_ = now;
  const QSignalBlocker block(machines_);
  machines_->clear();
  machines_->addItem(tr("the practice machine"));
  for (const MachineFound& m : found_) machines_->addItem(m.name, m.id);
  machines_->setCurrentIndex(std::max(0, machines_->findData(chosen)));
}

void SewStation::connectChosen() {
  const QString id = machines_->currentData().toString();
  for (const MachineFound& m : found_)
    if (m.id == id) return link_.connectTo(m);
  link_.connectMachine();
}

void SewStation::onPhase() {
  using Phase = MachineLink::Phase;
  const Phase phase = link_.phase();
  const Hooping* h = desk_.currentHooping();
  const bool here = phase != Phase::Away && phase != Phase::Connecting;
  const bool current = h && desk_.run().isSent(desk_.keyOf(h->index, desk_.setting()));
  const bool loaded = here && current && phase != Phase::Idle && phase != Phase::Sending;
  forgetTicks(loaded);
  const std::vector<PreflightLine> lines = preflight(desk_.clearance());
  const auto against = hindranceIn(lines);
  const bool running = phase == Phase::Sewing || phase == Phase::ColourWait;
  if (isVisible() && !running) showChecks();
  showOverrule(running ? std::nullopt : against);
  connect_->setVisible(!here);
  connect_->setEnabled(phase == Phase::Away);
  listMachines();
  machines_->setVisible(phase == Phase::Away && !found_.isEmpty());
  connect_->setText(phase == Phase::Connecting ? tr("Connecting …")
                    : found_.isEmpty()         ? tr("Connect")
                                               : tr("Connect to %1").arg(machines_->currentText()));
  send_->setVisible(here && !(loaded && phase != Phase::Done));
  send_->setEnabled(here && h && !running && phase != Phase::Sending &&
                    !desk_.clearance().against(true));
  send_->setText(h ? tr("Send hooping %1 to %2").arg(h->index).arg(link_.machineName())
                   : tr("Send"));
  mounted_->setVisible(loaded && std::any_of(lines.begin(), lines.end(), [](const auto& l) {
                         return l.state == look::State::Stop && atMachine(l.what);
                       }));
  for (QCheckBox* t : ticks_) t->setVisible(loaded && !running && phase != Phase::Done);
  trace_->setEnabled(loaded && phase != Phase::Sewing);
  pause_->setEnabled(phase == Phase::Sewing);
  sew_->setVisible(loaded && phase != Phase::Done);
  sew_->setEnabled(loaded && phase != Phase::Sewing && phase != Phase::Done &&
                   (looked() || phase == Phase::ColourWait) && desk_.planCurrent() && !against);
  const size_t row = loaded && phase != Phase::Sewing ? desk_.resumeRow() : 0;
  sew_->setText(phase == Phase::ColourWait
                    ? tr("Threaded %1: go on").arg(threadName(desk_, link_.thread()))
                : phase == Phase::Paused ? tr("Go on")
                : phase == Phase::Sewing ? tr("Sewing …")
                : row > 0                ? tr("Go on from row %1").arg(row)
                                         : tr("Sew"));
  progress_->setVisible(loaded);
  showProgress();
  pause_->parentWidget()->setVisible(loaded && phase != Phase::Done);
  state_->setText(phaseWords());
  showNext();
  if (isVisible()) showSpools();
  step_->refresh();
  files_->refresh();
  if (phase != lastPhase_ && (phase == Phase::ColourWait || phase == Phase::Broken ||
                              phase == Phase::Done || (phase == Phase::Away && current)))
    emit called(phaseWords());
  lastPhase_ = phase;
}

/// What a person may go on in spite of from here; density is overruled where its findings stand.
void SewStation::showOverrule(const std::optional<PreflightLine>& against) {
  using Line = ClearanceLine::What;
  const bool may =
      against && (against->what == Line::ClothNotReady || against->what == Line::SewnAlready ||
                  against->what == Line::SewnThrough);
  reason_->setVisible(may);
  allTheSame_->setVisible(may);
  allTheSame_->setEnabled(!reason_->text().trimmed().isEmpty());
}

void SewStation::overrule() {
  const auto against = hindranceIn(preflight(desk_.clearance()));
  const std::string reason = reason_->text().trimmed().toStdString();
  if (!against || reason.empty()) return;
  reason_->clear();
  if (against->what == ClearanceLine::What::ClothNotReady)
    desk_.overruleAlignment(desk_.hooping(), reason);
  else
    desk_.overruleSewn(reason);
}

/// What eyes saw holds for one load of one machine: when that ended, another is there, or another
/// setting is to be sewn, they look anew.
void SewStation::forgetTicks(bool loaded) {
  using Phase = MachineLink::Phase;
  const Phase phase = link_.phase();
  const QString of =
      loaded && phase != Phase::Done
          ? link_.machineId() + QString::fromStdString(desk_.run().sent()->key.plan +
                                                       desk_.run().sent()->key.setting)
          : QString();
  if (of == ticksOf_ && phase != Phase::Sending) return;
  ticksOf_ = of;
  for (QCheckBox* t : ticks_) {
    const QSignalBlocker block(t);
    t->setChecked(false);
  }
}

QString SewStation::phaseWords() const {
  using Phase = MachineLink::Phase;
  switch (link_.phase()) {
    case Phase::Away:
      return tr("No machine. The practice machine sews on this computer only.");
    case Phase::Connecting:
      return tr("Starting …");
    case Phase::Idle:
      return tr("Connected to %1. Send the hooping.").arg(link_.machineName());
    case Phase::Sending:
      return tr("Writing the hooping, and reading it back …");
    case Phase::Loaded:
      return looked() ? tr("Sent, and read back the same. Trace it, then sew.")
                      : tr("Sent, and read back the same. Look, tick, then sew.");
    case Phase::Sewing:
      return tr("Sewing %1 …").arg(threadName(desk_, link_.thread()));
    case Phase::Paused:
      return tr("Paused at stitch %1.").arg(link_.stitch());
    case Phase::ColourWait:
      return tr("Stopped for thread %1. Raise the foot before threading.")
          .arg(threadName(desk_, link_.thread()));
    case Phase::Broken: {
      const size_t back = desk_.bench().shop.practice.resume_overlap_stitches;
      switch (link_.last().kind) {
        case MachineEvent::Kind::BobbinMissed:
          return tr("The bobbin was not caught: nothing since row %1 holds. Draw it up; it sews "
                    "from "
                    "there again.")
              .arg(link_.last().from_row);
        case MachineEvent::Kind::BobbinEmpty:
          return tr("Bobbin empty at stitch %1. Change it; it goes on %2 stitches back.")
              .arg(link_.stitch())
              .arg(back);
        case MachineEvent::Kind::Fold:
          return tr("Cloth lies under the foot at stitch %1. Free it; it goes on %2 stitches back.")
              .arg(link_.stitch())
              .arg(back);
        default:
          return tr("Thread broke at stitch %1. Re-thread; it goes on %2 stitches back.")
              .arg(link_.stitch())
              .arg(back);
      }
    }
    case Phase::Done:
      break;
  }
  return desk_.run().sent() ? tr("Hooping %1 is done.").arg(desk_.run().sent()->hooping)
                            : QString();
}

void SewStation::listHoopings() {
  const HoopingPlan* plan = desk_.planCurrent() ? desk_.plan() : nullptr;
  const QSignalBlocker block(hooping_);
  hooping_->clear();
  for (size_t i = 0; plan && i < plan->hoopings.size(); ++i)
    for (const PlanSetting& s : plan->hoopings[i].settings) {
      const int index = static_cast<int>(i) + 1;
      QString words = tr("Hooping %1 of %2").arg(index).arg(plan->hoopings.size());
      if (plan->hoopings[i].settings.size() > 1) words += tr(", setting %1").arg(s.index);
      if (desk_.sewn(index, s.index).done) words += tr(", sewn");
      hooping_->addItem(words, QPoint(index, s.index));
    }
  hooping_->setCurrentIndex(hooping_->findData(QPoint(desk_.hooping(), desk_.setting())));
}

void SewStation::refresh() {
  listHoopings();
  showChecks();
  const PlanSetting* setting = desk_.planCurrent() ? desk_.currentSetting() : nullptr;
  QStringList facts;
  if (setting) {
    const Statistics s = statisticsOf(setting->pattern, desk_.bench().shop.time);
    facts << tr("%1 stitches, %2, %3 m of top thread.")
                 .arg(grouped(s.stitches), duration(s.sewing_time_s))
                 .arg(topThread_mm(s, desk_.fabric().thickness_mm) / 1000, 0, 'f', 1);
    for (const OperatorStop& o : desk_.job().sequence.stops)
      facts << tr("It waits once: %1.").arg(QString::fromStdString(o.note));
    if (desk_.timeFactor() != 1)
      facts << tr("Times × %1, learned from the runs in the ledger.")
                   .arg(desk_.timeFactor(), 0, 'f', 2);
  }
  facts_->setText(facts.join(' '));
  showSpools();
  proof_->refresh();
  onPhase();
}

}  // namespace rt
