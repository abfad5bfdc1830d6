#include "job_document.h"

#include "error.h"
#include "file_lock.h"
#include "job_file.h"
#include "ledger_entry.h"
#include "part_file.h"

namespace rt {

JobDocument::JobDocument(const std::filesystem::path& recovery, QObject* parent)
    : QObject(parent),
      history_([this](const Job& job) {
        work_.job = job;
        touched();
        emit jobChanged();
      }),
      recovery_(recovery) {
  writer_.setMaxThreadCount(1);
  timer_.setSingleShot(true);
  timer_.setInterval(kAutosave_ms);
  connect(&timer_, &QTimer::timeout, this, &JobDocument::autosaveLater);
  work_.job.id = newId();
  work_.job.title = "New job";
}

JobDocument::~JobDocument() {
  writer_.waitForDone();
}

void JobDocument::touched() {
  ++work_.edits;
  if (!timer_.isActive()) timer_.start();  // never put off: steady work is kept too
}

void JobDocument::change(const QString& name, Job next, const QString& run) {
  if (next == work_.job) return;
  try {
    requireSound(next);
  } catch (const Error& problem) {
    return emit failed(
        tr("That is more than a job can hold: %1.").arg(QString::fromStdString(problem.problem())));
  }
  Job before = std::exchange(work_.job, next);
  touched();
  history_.push(name, std::move(before), std::move(next), run);
  emit jobChanged();
}

void JobDocument::add(Happening happening) {
  work_.record.add(std::move(happening));
  touched();
  emit happened();
}

void JobDocument::addKept(Happening happening) {
  const auto* rows = std::get_if<RowsSewn>(&happening);
  const bool going = rows && rows->event.empty() && work_.record.sewn(rows->of).begun;
  work_.record.add(std::move(happening));
  if (going) return emit sewedOn();
  emit happened();
}

void JobDocument::addKept(std::vector<RowsSewn> facts) {
  if (facts.empty()) return;
  for (RowsSewn& fact : facts) work_.record.add(std::move(fact));
  emit happened();
}

void JobDocument::addPlan(NextPlan next, size_t layout_print, const PlanSettings& settings) {
  keepPlan(work_, std::move(next), layout_print, settings, newId(), nowUtc());
  touched();
  emit happened();
}

void JobDocument::take(Work work, const std::filesystem::path& path) {
  ++number_;
  timer_.stop();
  path_ = path;
  stamp_ = path.empty() ? std::string() : savedStamp(path);
  recovered_ = diverged_ = false;
  work_ = std::move(work);
  safe_ = keptSince_ = work_.edits;
  history_.clear();
  emit taken();
}

JobDocument::Read JobDocument::read(const std::filesystem::path& path) const {
  Read out{path, std::nullopt, std::nullopt};
  if (path.empty()) {
    out.copy = recovery_.newest();
    return out;
  }
  out.saved = loadWork(path);
  removeStaleParts(path);
  out.copy = recovery_.find(*out.saved, path);
  return out;
}

bool JobDocument::open(const std::filesystem::path& path) {
  return take(read(path));
}

bool JobDocument::take(Read read) {
  std::optional<Recovery::Found>& copy = read.copy;
  if (!read.saved) return copy && takeCopy(std::move(*copy));
  take(std::move(*read.saved), read.path);
  if (!copy) return false;
  // the record of the copy holds that of the file and more
  if (copy->diverged)
    takeHappened(copy->work);
  else
    work_.record = copy->work.record, work_.plans = copy->work.plans;
  work_.edits = safe_ = std::max(work_.edits, copy->work.edits) + (copy->diverged ? 1 : 0);
  if (copy->work.job == work_.job) {
    emit taken();
    return false;
  }
  recovered_ = true;
  diverged_ = copy->diverged;
  Job before = std::exchange(work_.job, copy->work.job);
  history_.push(tr("edits brought back"), std::move(before), work_.job);
  emit taken();
  return true;
}

/// Plans and facts that the other state of this job knows and this one does not.
void JobDocument::takeHappened(const Work& other) {
  for (const auto& plan : other.plans)
    if (!planById(work_, plan->id)) work_.plans.push_back(plan);
  work_.record.take(other.record);
}

void JobDocument::save(std::filesystem::path path, Over over) {
  writer_.waitForDone();  // a copy under way must not come after the file
  const FileLock others(path);
  if (over == Over::Refuse && path == path_ && !stamp_.empty()) {
    const std::string now = savedStamp(path);
    if (!now.empty() && now != stamp_) throw FileChanged(path);
  }
  saveWork(work_, path, recovery_.newStamp());
  const std::filesystem::path was = std::exchange(path_, std::move(path));
  stamp_ = savedStamp(path_);
  safe_ = keptSince_ = work_.edits;
  recovered_ = diverged_ = false;
  timer_.stop();
  recovery_.forget(work_.job.id, path_);
  if (was != path_) recovery_.forget(work_.job.id, was);
  history_.setClean();
  emit jobChanged();
}

void JobDocument::takeTheirs() {
  Work theirs = loadWork(path_);
  const Work mine = work_;
  take(std::move(theirs), path_);
  takeHappened(mine);
  work_.edits = std::max(work_.edits, mine.edits) + 1;
  if (!(mine.job == work_.job)) {
    history_.push(tr("edits of this window"), work_.job, mine.job);
    history_.undo();
  }
  emit taken();
}

void JobDocument::autosaveLater() {
  if (safe_ == work_.edits) return;
  if (writing_) return timer_.start();  // the disk is slow: as soon as it is through
  writing_ = true;
  const size_t number = number_;
  writer_.start([this, work = work_, path = path_, stamp = stamp_, number] {
    QString problem;
    try {
      recovery_.keep(work, path, stamp);
    } catch (const std::exception& e) {
      problem = QString::fromUtf8(e.what());
    }
    writing_ = false;
    QMetaObject::invokeMethod(
        this,
        [this, number, edits = work.edits, problem] {
          if (!problem.isEmpty()) return emit failed(tr("Autosave failed: %1").arg(problem));
          if (number == number_) safe_ = std::max(safe_, edits);
        },
        Qt::QueuedConnection);
  });
}

bool JobDocument::autosave() {
  writer_.waitForDone();
  if (safe_ == work_.edits) return true;
  try {
    recovery_.keep(work_, path_, stamp_);
    safe_ = work_.edits;
    timer_.stop();
    return true;
  } catch (const std::exception& problem) {
    emit failed(tr("Autosave failed: %1").arg(QString::fromUtf8(problem.what())));
    return false;
  }
}

bool JobDocument::recover() {
  return take(read({}));
}

bool JobDocument::takeCopy(Recovery::Found copy) {
  take(std::move(copy.work), copy.saved_as);
  recovered_ = true;
  diverged_ = copy.diverged;
  if (diverged_) stamp_ = "of another saving";  // the file is not written over unasked
  keptSince_ = 0;
  history_.resetClean();
  return true;
}

}  // namespace rt
