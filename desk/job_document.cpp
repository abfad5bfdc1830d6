#include "job_document.h"

#include "error.h"
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

void JobDocument::change(const QString& name, Job next) {
  if (next == work_.job) return;
  Job before = std::exchange(work_.job, next);
  touched();
  history_.push(name, std::move(before), std::move(next));
  emit jobChanged();
}

void JobDocument::add(Happening happening) {
  work_.record.add(std::move(happening));
  touched();
  emit happened();
}

void JobDocument::addKept(Happening happening) {
  work_.record.add(std::move(happening));
  emit happened();
}

void JobDocument::addPlan(std::shared_ptr<const MadePlan> plan) {
  rt::addPlan(work_, std::move(plan));
  touched();
  emit happened();
}

void JobDocument::take(Work work, const std::filesystem::path& path) {
  ++number_;
  timer_.stop();
  path_ = path;
  recovered_ = false;
  work_ = std::move(work);
  safe_ = keptSince_ = work_.edits;
  history_.clear();
  emit taken();
}

bool JobDocument::open(const std::filesystem::path& path) {
  Work saved = loadWork(path);
  removeStaleParts(path);
  std::optional<Recovery::Found> copy = recovery_.find(saved, path);
  take(std::move(saved), path);
  if (!copy) return false;
  // the record of the copy holds that of the file and more
  work_.record = copy->work.record;
  work_.plans = copy->work.plans;
  work_.edits = safe_ = copy->work.edits;
  if (copy->work.job == work_.job) {
    emit taken();
    return false;
  }
  recovered_ = true;
  Job before = std::exchange(work_.job, copy->work.job);
  history_.push(tr("edits brought back"), std::move(before), work_.job);
  emit taken();
  return true;
}

void JobDocument::save(const std::filesystem::path& path) {
  writer_.waitForDone();  // a copy under way must not come after the file
  saveWork(work_, path);
  const std::filesystem::path was = std::exchange(path_, path);
  safe_ = keptSince_ = work_.edits;
  recovered_ = false;
  timer_.stop();
  recovery_.forget(work_.job.id, path_);
  if (was != path_) recovery_.forget(work_.job.id, was);
  history_.setClean();
  emit jobChanged();
}

void JobDocument::autosaveLater() {
  if (safe_ == work_.edits) return;
  if (writing_) return timer_.start();  // the disk is slow: as soon as it is through
  writing_ = true;
  const size_t number = number_;
  writer_.start([this, work = work_, path = path_, number] {
    QString problem;
    try {
      recovery_.keep(work, path);
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
    recovery_.keep(work_, path_);
    safe_ = work_.edits;
    timer_.stop();
    return true;
  } catch (const std::exception& problem) {
    emit failed(tr("Autosave failed: %1").arg(QString::fromUtf8(problem.what())));
    return false;
  }
}

bool JobDocument::recover() {
  std::optional<Recovery::Found> copy = recovery_.newest();
  if (!copy) return false;
  take(std::move(copy->work), copy->saved_as);
  recovered_ = true;
  keptSince_ = 0;
  history_.resetClean();
  return true;
}

}  // namespace rt
