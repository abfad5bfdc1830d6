#include "desk.h"

#include <QCoreApplication>
#include <QEventLoop>
#include <QStandardPaths>
#include <QUndoCommand>
#include <QUuid>
#include <QtConcurrent/QtConcurrentRun>

#include "error.h"
#include "job_file.h"

namespace rt {

/// One undo step: the job before and after.
class JobStep : public QUndoCommand {
 public:
  JobStep(Desk& desk, const QString& name, Job before, Job after)
      : QUndoCommand(name), desk_(desk), before_(std::move(before)), after_(std::move(after)) {}
  void undo() override { desk_.put(carryRecord(before_)); }
  void redo() override { desk_.put(carryRecord(after_)); }

 private:
  /// What was sewn stays sewn, whatever is undone.
  Job carryRecord(Job job) const {
    job.progress = first_ ? job.progress : desk_.job().progress;
    first_ = false;
    return job;
  }
  Desk& desk_;
  Job before_, after_;
  mutable bool first_ = true;
};

namespace {

constexpr int kAutosave_ms = 1500;

std::filesystem::path madeFolder(const std::filesystem::path& folder) {
  std::error_code ignored;
  std::filesystem::create_directories(folder, ignored);
  return folder;
}

}  // namespace

QString nameOf(Station station) {
  static const char* const kNames[kStations] = {"Brief", "Compose", "Density", "Hoopings",
                                                "Paper", "Align",   "Sew",     "Ledger"};
  return QString::fromLatin1(kNames[static_cast<int>(station)]);
}

DeskFolders DeskFolders::usual() {
  return {QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation).toStdString() +
          "/rapt-thimble"};
}

Desk::Desk(Bench bench, DeskFolders folders, QObject* parent)
    : QObject(parent),
      bench_(std::move(bench)),
      ledger_(madeFolder(folders.state) / "ledger.sqlite"),
      recovery_(folders.state / "recovery") {
  job_.id = QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString();
  job_.title = "New job";
  autosaveTimer_.setSingleShot(true);
  autosaveTimer_.setInterval(kAutosave_ms);
  connect(&autosaveTimer_, &QTimer::timeout, this, &Desk::autosave);
  connect(&weighWatch_, &QFutureWatcherBase::finished, this, [this] {
    weighing_ = weighWatch_.result();
    weighedPrint_ = weighingPrint_;
    emit weighed();
    if (!weighingCurrent()) weighLater();  // the job went on meanwhile
  });
  connect(&sequenceWatch_, &QFutureWatcherBase::finished, this, [this] {
    sequenced_ = sequenceWatch_.result();
    refresh();
  });
  connect(&cureWatch_, &QFutureWatcherBase::finished, this, [this] {
    if (curePrint_ == weighKey()) cures_ = cureWatch_.result();
    emit cured();
  });
  connect(&planWatch_, &QFutureWatcherBase::finished, this, [this] {
    const PlanOutcome outcome = planWatch_.result();
    if (!outcome.plan) {
      emit failed(outcome.problem);
    } else {
      Job next = job_;
      next.made = {outcome.plan, outcome.print};
      next.alignments.clear();
      next.progress.clear();
      change(tr("plan hoopings"), std::move(next));
      record([&] {
        Job j = job_;
        j.progress.clear();
        return j;
      }());
      setHooping(1);
      note({0, "", "", "", "plan", 0, "", 0, 0, 0, 0, outcome.plan->worst_seam_error_mm, 0,
            std::to_string(outcome.plan->hoopings.size()) + " hoopings"});
    }
    emit planned();
  });
  refresh();
}

Desk::~Desk() {
  sequenceWatch_.waitForFinished();
  weighWatch_.waitForFinished();
  cureWatch_.waitForFinished();
  planWatch_.waitForFinished();
}

const Fabric& Desk::fabric() const {
  return fabricById(bench_.shop.fabrics, job_.brief.fabric);
}

void Desk::change(const QString& name, Job next) {
  if (next == job_) return;
  undo_.push(new JobStep(*this, name, job_, std::move(next)));
}

void Desk::record(Job next) {
  put(std::move(next));
}

void Desk::put(Job next) {
  job_ = std::move(next);
  autosaveDue_ = true;
  autosaveTimer_.start();
  refresh();
}

size_t Desk::sequenceKey() const {
  size_t key = printOf(laidOut(job_.pieces)) * 4 + job_.sequence.fewest_colours;
  key = key * 31 + std::hash<double>()(job_.sequence.hidden_margin_mm);
  for (const OperatorStop& s : job_.sequence.stops) key = key * 31 + static_cast<size_t>(s.piece);
  return key;
}

/// Finding hidden stitches takes longer than a frame: meanwhile the layout keeps them.
void Desk::sequenceLater() {
  const size_t key = sequenceKey();
  if (sequenced_ && sequenced_->key == key) {
    layout_ = sequenced_->layout;
    sequencing_ = false;
    return;
  }
  Job plain = job_;
  plain.sequence.hidden_margin_mm = 0;
  layout_ = sewnLayout(plain);
  sequencing_ = true;
  if (sequenceWatch_.isRunning()) return;  // its end starts the next one
  sequenceWatch_.setFuture(QtConcurrent::run([job = job_, key] {
    return std::make_shared<const Sequenced>(Sequenced{sewnLayout(job), key});
  }));
}

void Desk::refresh() {
  sequencing_ = false;
  if (job_.sequence.hidden_margin_mm > 0)
    sequenceLater();
  else
    layout_ = sewnLayout(job_);
  layout_.title = job_.title;
  const size_t before = print_;
  print_ = printOf(layout_);
  if (print_ != before || statistics_.stitches == 0)
    statistics_ = statisticsOf(layout_, bench_.shop.time);
  if (!job_.made.plan)
    hooping_ = 0;
  else
    hooping_ = std::clamp(hooping_, 1, static_cast<int>(job_.made.plan->hoopings.size()));
  if (!selectedPiece()) selected_ = 0;
  if (!weighingCurrent()) {
    cures_.clear();
    cureFinding_ = -1;
    weighLater();
  }
  emit changed();
}

size_t Desk::weighKey() const {
  size_t key = print_ ^ std::hash<std::string>()(job_.brief.fabric);
  for (const Zone& z : job_.zones) {
    key = key * 31 + static_cast<size_t>(z.layers) * 2 + (z.kind == ZoneKind::KeepOut);
    for (Point p : z.polygon_mm)
      key = key * 31 + std::hash<double>()(p.x) + 17 * std::hash<double>()(p.y);
  }
  return key;
}

void Desk::weighLater() {
  if (sequencing_ || weighWatch_.isRunning()) return;  // its end starts the next one
  weighingPrint_ = weighKey();
  weighWatch_.setFuture(
      QtConcurrent::run([pattern = layout_, fabric = fabric(), zones = job_.zones] {
        return std::make_shared<const Weighing>(weigh(pattern, fabric, zones));
      }));
}

void Desk::seekCures(int finding) {
  if (!weighing_ || !weighingCurrent() || finding < 0 ||
      finding >= static_cast<int>(weighing_->report.findings.size()))
    return;
  if (cureFinding_ == finding && curePrint_ == weighKey()) return;
  cureFinding_ = finding;
  curePrint_ = weighKey();
  cures_.clear();
  cureWatch_.setFuture(
      QtConcurrent::run([job = job_, f = weighing_->report.findings[static_cast<size_t>(finding)],
                         bench = bench_] { return curesFor(job, f, bench); }));
}

void Desk::makePlan() {
  if (planWatch_.isRunning() || sequencing_) return;
  PlanOptions options;
  try {
    options.hoops = {hoopFor(bench_.shop.hoops, job_.plan_settings.hoop)};
  } catch (const Error& problem) {
    emit failed(QString::fromUtf8(problem.what()));
    return;
  }
  options.overlap_mm = job_.plan_settings.overlap_mm;
  options.turn = job_.plan_settings.turn;
  options.style = job_.plan_settings.style;
  planWatch_.setFuture(
      QtConcurrent::run([pattern = layout_, options, print = print_]() -> PlanOutcome {
        try {
          return {std::make_shared<const HoopingPlan>(planHoopings(pattern, options)), {}, print};
        } catch (const Error& problem) {
          return {nullptr, QString::fromUtf8(problem.what()), print};
        }
      }));
}

void Desk::settle() {
  while (sequenceWatch_.isRunning() || weighWatch_.isRunning() || cureWatch_.isRunning() ||
         planWatch_.isRunning() || !weighingCurrent())
    QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents | QEventLoop::AllEvents, 20);
  QCoreApplication::processEvents();
}

void Desk::take(Job job, const std::filesystem::path& path) {
  undo_.clear();
  path_ = path;
  recovered_ = false;
  job_ = std::move(job);
  autosaveDue_ = false;
  hooping_ = job_.made.plan ? 1 : 0;
  selected_ = 0;
  weighing_.reset();
  refresh();
  emit selectionChanged();
  emit hoopingChanged();
  emit ledgerChanged();
}

void Desk::open(const std::filesystem::path& path) {
  Job job = loadJob(path);
  autosave();
  const std::optional<Recovery::Found> copy = recovery_.find(job.id);
  if (!copy || copy->job == job) return take(std::move(job), path);
  take(copy->job, path);
  recovered_ = true;
  undo_.resetClean();
  emit said(tr("Edits that were not saved have been brought back. Save to keep them."));
}

void Desk::save(const std::filesystem::path& path) {
  saveJob(job_, path);
  path_ = path;
  undo_.setClean();
  autosaveDue_ = false;
  recovered_ = false;
  recovery_.forget(job_);
  emit changed();
}

void Desk::autosave() {
  if (!autosaveDue_) return;
  try {
    recovery_.keep(job_, path_);
    autosaveDue_ = false;
  } catch (const Error& problem) {
    emit failed(tr("Autosave failed: %1").arg(QString::fromUtf8(problem.what())));
  }
}

bool Desk::recover() {
  std::optional<Recovery::Found> copy = recovery_.newest();
  if (!copy) return false;
  take(std::move(copy->job), copy->saved_as);
  recovered_ = true;
  emit said(tr("Edits that were not saved have been brought back. Save to keep them."));
  return true;
}

void Desk::select(int piece_id) {
  if (piece_id == selected_) return;
  selected_ = piece_id;
  emit selectionChanged();
}

const Piece* Desk::selectedPiece() const {
  for (const Piece& p : job_.pieces)
    if (p.id == selected_) return &p;
  return nullptr;
}

void Desk::setHooping(int index) {
  const int most = job_.made.plan ? static_cast<int>(job_.made.plan->hoopings.size()) : 0;
  hooping_ = most == 0 ? 0 : std::clamp(index, 1, most);
  emit hoopingChanged();
}

const Hooping* Desk::currentHooping() const {
  if (!job_.made.plan || hooping_ < 1) return nullptr;
  return &job_.made.plan->hoopings[static_cast<size_t>(hooping_ - 1)];
}

Field Desk::fieldOf(const Hooping& h) const {
  try {
    return hoopFor(bench_.shop.hoops, h.hoop_id).field;
  } catch (const Error&) {
    return h.turn_deg == 0 ? Field{h.field.width(), h.field.height(), HoopShape::Rectangle}
                           : Field{h.field.height(), h.field.width(), HoopShape::Rectangle};
  }
}

std::optional<Alignment> Desk::alignmentOf(int hooping) const {
  const HoopingMarks* marks = marksFor(job_, hooping);
  if (!marks || !job_.made.plan || hooping < 1 ||
      hooping > static_cast<int>(job_.made.plan->hoopings.size()))
    return std::nullopt;
  AlignmentSetup setup;
  setup.field = fieldOf(job_.made.plan->hoopings[static_cast<size_t>(hooping - 1)]);
  setup.tolerance_mm = marks->tolerance_mm;
  try {
    std::vector<Mark> meant = marks->marks;
    const Transform to = intendedPlace(job_.made.plan->hoopings[static_cast<size_t>(hooping - 1)]);
    for (Mark& m : meant) m.layout = to(m.layout);
    return align(meant, setup);
  } catch (const Error&) {
    return std::nullopt;
  }
}

void Desk::note(LedgerEntry entry) {
  entry.job_id = job_.id;
  entry.job_title = job_.title;
  try {
    ledger_.add(std::move(entry));
  } catch (const Error& problem) {
    emit failed(QString::fromUtf8(problem.what()));
  }
  emit ledgerChanged();
}

}  // namespace rt
