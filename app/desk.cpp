#include "desk.h"

#include <QCoreApplication>
#include <QEventLoop>
#include <QStandardPaths>
#include <QUndoCommand>
#include <QUuid>
#include <QtConcurrent/QtConcurrentRun>

#include "error.h"
#include "faces.h"
#include "file_io.h"
#include "job_file.h"
#include "length.h"
#include "thread_list.h"

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
      recovery_(folders.state / "recovery"),
      starting_(bench_.shop.fabrics),
      startingTime_(bench_.shop.time),
      limitsPath_(folders.state / "shop-limits.json"),
      shelfPath_(folders.state / "threads.csv") {
  readShop();
  faces_ = listFaces(bench_.data);
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
  connect(&compareWatch_, &QFutureWatcherBase::finished, this, [this] {
    if (comparison_) comparison_->weighed = compareWatch_.result();
    emit compared();
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
  compareWatch_.waitForFinished();
  planWatch_.waitForFinished();
}

/// The shop's own limits, and what its runs say of the time model.
void Desk::readShop() {
  try {
    limits_ = readShopLimits(limitsPath_);
  } catch (const Error& problem) {
    // the starting values are safe to work with; the file stays for its owner to mend
    failLater(tr("The shop's own limits could not be read: %1"), problem);
  }
  try {
    if (std::filesystem::exists(shelfPath_)) bench_.shop.threads = readThreads(shelfPath_);
  } catch (const Error& problem) {
    // a list that was damaged since: the sample that ships serves, and it can be read in again
    failLater(tr("The shop's own thread list could not be read: %1"), problem);
  }
  bench_.shop.fabrics = withShopLimits(starting_, limits_);
  std::vector<SewnRun> runs;
  for (const RunEntry& r : ledger_.runs()) runs.push_back({r.predicted_s, r.taken_s});
  timeFactor_ = rt::timeFactor(runs, bench_.shop.practice.least_runs);
  bench_.shop.time = slowed(startingTime_, timeFactor_);
}

/// While the desk is made nobody listens yet.
void Desk::failLater(const QString& words, const Error& problem) {
  QTimer::singleShot(
      0, this, [this, said = words.arg(QString::fromUtf8(problem.what()))] { emit failed(said); });
}

const Fabric& Desk::shopFabric() const {
  return fabricById(bench_.shop.fabrics, job_.brief.fabric);
}

const Fabric& Desk::startingFabric() const {
  return fabricById(starting_, job_.brief.fabric);
}

std::optional<ShopLimits> Desk::shopLimits() const {
  const auto own = limits_.find(job_.brief.fabric);
  return own == limits_.end() ? std::nullopt : std::optional(own->second);
}

void Desk::setShopLimits(const std::optional<ShopLimits>& limits) {
  ShopLimitTable next = limits_;
  if (limits)
    next[job_.brief.fabric] = *limits;
  else
    next.erase(job_.brief.fabric);
  writeShopLimits(limitsPath_, next);
  limits_ = std::move(next);
  bench_.shop.fabrics = withShopLimits(starting_, limits_);
  LedgerEntry e;
  e.event = "limits";
  const Limit& l = shopFabric().density_mm_per_mm2;
  e.note = shopFabric().name + ": check " + formatNumber(l.check, 2) + ", stop " +
           formatNumber(l.stop, 2) + (limits ? "; " + limits->note : "; starting values");
  note(std::move(e));
  refresh();
}

void Desk::setShelf(std::vector<ShelfThread> threads) {
  writeFile(shelfPath_, threadsCsv(threads));
  bench_.shop.threads = std::move(threads);
  emit changed();
}

void Desk::addRun(int hooping, double predicted_s, double taken_s) {
  // predictions are compared with the model as it was shipped, so that learning does not chase
  // itself
  ledger_.addRun({job_.id, hooping, predicted_s / timeFactor_, taken_s});
  readShop();
  refresh();
}

void Desk::addOutcome(OutcomeOf of, double value, Outcome outcome, const std::string& why) {
  const bool density = of == OutcomeOf::Density;
  ledger_.addOutcome(
      {job_.id, job_.brief.fabric, value, density ? factors_.density : 1, outcome, why, of});
  LedgerEntry e;
  e.event = "outcome";
  e.status = std::string(name(outcome));
  e.note = shopFabric().name + ", " + formatNumber(value, 1) + (density ? " mm/mm²" : " mm") +
           (why.empty() ? std::string() : "; " + why);
  note(std::move(e));
}

Desk::Learned Desk::learned() const {
  auto recorded = [this](OutcomeOf of) {
    std::vector<SewnOutcome> out;
    for (const OutcomeEntry& e : ledger_.outcomes(job_.brief.fabric, of))
      out.push_back({e.value / std::max(0.1, e.factor), e.outcome});
    return out;
  };
  const Fabric& now = shopFabric();
  const LearningRule& rule = bench_.shop.practice.learning;
  return {learnedLimit(recorded(OutcomeOf::Density), now.density_mm_per_mm2, rule),
          learnedLeast(recorded(OutcomeOf::Column), now.least_column_mm, rule),
          learnedLeast(recorded(OutcomeOf::Letter), now.least_letter_mm, rule)};
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

/// Finding hidden stitches takes longer than a frame: meanwhile the layout keeps them.
void Desk::sequenceLater() {
  const size_t key = sequencePrint(job_);
  if (sequenced_ && sequenced_->key == key) {
    layout_ = sequenced_->layout;
    sequencing_ = false;
    return;
  }
  Job plain = job_;
  plain.sequence.hidden_margin_mm = 0;
  plain.sequence.shortest_travel = false;
  plain.sequence.thin_under_letters = 0;
  layout_ = sewnLayout(plain);
  sequencing_ = true;
  if (sequenceWatch_.isRunning()) return;  // its end starts the next one
  sequenceWatch_.setFuture(QtConcurrent::run([job = job_, key] {
    return std::make_shared<const Sequenced>(Sequenced{sewnLayout(job), key});
  }));
}

void Desk::refresh() {
  fabric_ = clothOf(job_.brief, bench_);
  factors_ = limitFactorsOf(job_.brief, bench_);
  sequencing_ = false;
  if (job_.sequence.hidden_margin_mm > 0 || job_.sequence.shortest_travel ||
      job_.sequence.thin_under_letters > 0)
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
  std::erase_if(chosen_, [&](int id) {
    return std::none_of(job_.pieces.begin(), job_.pieces.end(),
                        [id](const Piece& p) { return p.id == id; });
  });
  if (!selectedPiece()) selected_ = chosen_.empty() ? 0 : chosen_.back();
  if (!weighingCurrent()) {
    endComparison();
    cures_.clear();
    cureFinding_ = -1;
    weighLater();
  }
  emit changed();
}

size_t Desk::weighKey() const {
  size_t key = print_ ^ std::hash<std::string>()(job_.brief.fabric);
  for (double v : {fabric_.density_mm_per_mm2.check, fabric_.density_mm_per_mm2.stop,
                   fabric_.holes_per_mm2.check, fabric_.holes_per_mm2.stop})
    key = key * 31 + std::hash<double>()(v);
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

void Desk::compareWith(Job other, const QString& now, const QString& name) {
  comparison_ = Comparison{std::move(other), now, name, nullptr};
  compareWatch_.setFuture(QtConcurrent::run([job = comparison_->job, fabric = fabric_] {
    return std::make_shared<const Weighing>(weigh(sewnLayout(job), fabric, job.zones));
  }));
  emit compared();
}

void Desk::endComparison() {
  if (!comparison_) return;
  comparison_.reset();
  emit compared();
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
         planWatch_.isRunning() || compareWatch_.isRunning() || !weighingCurrent())
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
  chosen_.clear();
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

std::vector<int> Desk::groupOf(int piece_id) const {
  int group = 0;
  for (const Piece& p : job_.pieces)
    if (p.id == piece_id) group = p.group;
  std::vector<int> out;
  for (const Piece& p : job_.pieces)
    if (p.id == piece_id || (group > 0 && p.group == group)) out.push_back(p.id);
  return out;
}

void Desk::select(int piece_id) {
  std::vector<int> next = groupOf(piece_id);
  if (piece_id == selected_ && next == chosen_) return;
  selected_ = piece_id;
  chosen_ = std::move(next);
  emit selectionChanged();
}

void Desk::selectAlso(int piece_id) {
  const std::vector<int> more = groupOf(piece_id);
  if (more.empty()) return;
  const bool out = isChosen(piece_id);
  for (int id : more) {
    std::erase(chosen_, id);
    if (!out) chosen_.push_back(id);
  }
  std::vector<int> inOrder;
  for (const Piece& p : job_.pieces)
    if (isChosen(p.id)) inOrder.push_back(p.id);
  chosen_ = std::move(inOrder);
  selected_ = !out ? piece_id : chosen_.empty() ? 0 : chosen_.back();
  emit selectionChanged();
}

std::shared_ptr<const Lettering> Desk::lettering(const Piece& piece) const {
  constexpr size_t kKept = 4;
  const auto* source = std::get_if<TextSource>(&piece.source);
  if (!source) return nullptr;
  for (const Lettered& l : lettered_)
    if (l.stitches == piece.stitches) return l.letters;
  std::shared_ptr<const Lettering> letters;
  try {
    letters = std::make_shared<const Lettering>(letteringOf(*source, fabric_, bench_));
  } catch (const std::exception&) {
    // letters that cannot be set again keep their stitches and have no marks
  }
  if (lettered_.size() >= kKept) lettered_.erase(lettered_.begin());
  lettered_.push_back({piece.stitches, letters});
  return letters;
}

void Desk::lead(int piece_id) {
  if (!isChosen(piece_id) || piece_id == selected_) return;
  selected_ = piece_id;
  emit selectionChanged();
}

bool Desk::isChosen(int piece_id) const {
  return std::find(chosen_.begin(), chosen_.end(), piece_id) != chosen_.end();
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
