// The job in hand: what it is, its steps, its file, and the copy that comes back after a crash.
#pragma once

#include <QObject>
#include <QThreadPool>
#include <QTimer>
#include <atomic>

#include "error.h"
#include "history.h"
#include "next_plan.h"
#include "recovery.h"
#include "work.h"

namespace rt {

/// The job's file is not what it was when it was read: somebody else saved it.
class FileChanged : public Error {
 public:
  explicit FileChanged(const std::filesystem::path& file)
      : Error("the file was saved by another window or program since it was read here",
              file.string(), "choose which state to keep; both are still there") {}
};

class JobDocument : public QObject {
  Q_OBJECT
 public:
  /// `recovery` is the folder for autosaved copies.
  explicit JobDocument(const std::filesystem::path& recovery, QObject* parent = nullptr);
  ~JobDocument() override;

  const Work& work() const { return work_; }
  const Job& job() const { return work_.job; }
  History& history() { return history_; }
  const std::filesystem::path& path() const { return path_; }
  /// Edits of an earlier run were brought back and are not saved yet.
  bool recovered() const { return recovered_; }
  /// … and the file holds what they do not know: it was saved by others meanwhile.
  bool diverged() const { return diverged_; }
  /// Whether something would be lost without the copy or the file.
  bool dirty() const { return !history_.isClean() || recovered_ || keptSince_ != work_.edits; }
  /// Another number for each job that was taken in hand: late results tell by it whose they are.
  size_t number() const { return number_; }

  /// One undoable step to a new value of the job; no step if nothing changes. A job that could not
  /// be saved and opened again is refused: `failed` says why, and the job stays. `run`: steps of
  /// one run of typing are one (see History::push).
  void change(const QString& name, Job next, const QString& run = {});
  /// What happened and what was planned is kept, never undone.
  void add(Happening happening);
  /// A fact that is safe elsewhere already: no copy is written for it.
  void addKept(Happening happening);
  void addKept(std::vector<RowsSewn> facts);
  /// A plan that was made for a layout, with what it takes over from those before it.
  void addPlan(NextPlan next, size_t layout_print, const PlanSettings& settings);

  void take(Work work, const std::filesystem::path& path);
  /// Throws Error; the job in hand stays then. Unsaved edits of an earlier run come back as one
  /// step over what the file holds. True if there were any.
  bool open(const std::filesystem::path& path);
  /// What a file and its autosaved copy hold; or, for an empty path, the newest copy alone.
  struct Read {
    std::filesystem::path path;
    std::optional<Work> saved;
    std::optional<Recovery::Found> copy;
  };
  /// May be called from another thread; the job in hand is not touched. Throws Error.
  Read read(const std::filesystem::path& path) const;
  /// Takes it in hand. True if unsaved edits of an earlier run came back with it.
  bool take(Read read);
  /// By value: the document's own path may be given. Throws Error; FileChanged where the document's
  /// own file was saved by others since it was read here, unless that is meant.
  enum class Over { Refuse, Replace };
  void save(std::filesystem::path path, Over over = Over::Refuse);
  /// What the document's file holds now, taken in hand; this window's edits lie behind it as a step
  /// that can be done again, and all that either side knows to have happened is kept. Throws Error.
  void takeTheirs();
  /// The newest copy of unsaved edits; true if one was taken.
  bool recover();
  /// Writes the copy now if one is due. False if it could not be written (`failed` says why).
  bool autosave();
  /// Milliseconds after an edit at which it is safe, whatever follows, but for the writing itself.
  static constexpr int kAutosave_ms = 1500;

 signals:
  void jobChanged();
  void happened();  ///< The record or the plans changed.
  void sewedOn();   ///< The machine went on; nothing else happened.
  void taken();     ///< Another job is in hand.
  void failed(const QString& words);

 private:
  void touched();
  void autosaveLater();
  void takeHappened(const Work& other);
  bool takeCopy(Recovery::Found copy);
  Work work_;
  std::filesystem::path path_;
  std::string stamp_;  ///< Of the file, as it was last read or written here.
  History history_;
  Recovery recovery_;
  bool recovered_ = false, diverged_ = false;
  size_t number_ = 0;
  uint64_t safe_ = 0;       ///< Edits that are in the copy or the file.
  uint64_t keptSince_ = 0;  ///< Edits that are in the file.
  QTimer timer_;
  QThreadPool writer_;
  std::atomic<bool> writing_{false};
};

}  // namespace rt
