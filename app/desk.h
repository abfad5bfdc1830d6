// The desk: the job in hand, its undo steps, and all that follows from it. No widgets.
#pragma once

#include <QFutureWatcher>
#include <QObject>
#include <QTimer>
#include <QUndoStack>

#include "cures.h"
#include "ledger.h"
#include "recovery.h"
#include "statistics.h"

namespace rt {

enum class Station { Brief, Compose, Density, Hoopings, Paper, Align, Sew, Ledger };
inline constexpr int kStations = 8;
QString nameOf(Station station);

/// Folders that the desk writes in; tests give their own.
struct DeskFolders {
  std::filesystem::path state;  ///< Ledger and recovery.
  static DeskFolders usual();
};

class Desk : public QObject {
  Q_OBJECT
 public:
  Desk(Bench bench, DeskFolders folders, QObject* parent = nullptr);
  ~Desk() override;

  const Bench& bench() const { return bench_; }
  const Job& job() const { return job_; }
  QUndoStack& undo() { return undo_; }
  const std::filesystem::path& path() const { return path_; }
  const Fabric& fabric() const;
  Ledger& ledger() { return ledger_; }

  /// One undoable step to a new value of the job; no step if nothing changes.
  void change(const QString& name, Job next);
  /// For what is recorded rather than edited (progress of sewing): kept, not undone.
  void record(Job next);

  void take(Job job, const std::filesystem::path& path);
  void open(const std::filesystem::path& path);  ///< Throws Error; the job in hand stays then.
  void save(const std::filesystem::path& path);  ///< Throws Error.
  /// The newest copy of unsaved edits; true if one was taken.
  bool recover();
  bool recovered() const { return recovered_; }
  /// Writes the autosave now if one is due.
  void autosave();

  // What follows from the job. The layout is always current; weighing and cures come later.
  const Pattern& layout() const { return layout_; }
  size_t layoutPrint() const { return print_; }
  const Statistics& statistics() const { return statistics_; }
  std::shared_ptr<const Weighing> weighing() const {
    return weighing_;
  }  ///< Null until first done.
  bool weighingCurrent() const { return weighing_ && !sequencing_ && weighedPrint_ == weighKey(); }
  /// Hidden stitches are being sought: the layout still holds them.
  bool sequencing() const { return sequencing_; }
  const std::vector<Cure>& cures() const { return cures_; }
  int cureFinding() const { return cureFinding_; }
  bool curing() const { return cureWatch_.isRunning(); }
  bool planCurrent() const { return job_.made.plan && job_.made.layout_print == print_; }
  bool planning() const { return planWatch_.isRunning(); }
  void makePlan();
  void seekCures(int finding);
  /// Waits for all that is being computed.
  void settle();

  int selected() const { return selected_; }
  void select(int piece_id);
  const Piece* selectedPiece() const;
  int hooping() const { return hooping_; }  ///< 1-based; 0 without a plan.
  void setHooping(int index);
  const Hooping* currentHooping() const;
  /// The alignment of a hooping from its needle points, against the place it was meant to have in
  /// its hoop: turn and offset are what is off. Unset if the points do not suffice.
  std::optional<Alignment> alignmentOf(int hooping) const;
  /// Field of a hooping, as it lies in the machine.
  Field fieldOf(const Hooping& hooping) const;

  void note(LedgerEntry entry);
  void say(const QString& text) { emit said(text); }

 signals:
  void changed();  ///< The job or what follows from it.
  void weighed();
  void cured();
  void planned();
  void selectionChanged();
  void hoopingChanged();
  void ledgerChanged();
  void said(const QString& text);
  void failed(const QString& text);

 private:
  friend class JobStep;
  void put(Job next);
  void refresh();
  void sequenceLater();
  size_t sequenceKey() const;
  void weighLater();
  size_t weighKey() const;

  Bench bench_;
  Job job_;
  std::filesystem::path path_;
  QUndoStack undo_;
  Ledger ledger_;
  Recovery recovery_;
  QTimer autosaveTimer_;
  bool autosaveDue_ = false, recovered_ = false;

  Pattern layout_;
  struct Sequenced {
    Pattern layout;
    size_t key = 0;
  };
  std::shared_ptr<const Sequenced> sequenced_;  ///< The last layout without hidden stitches.
  QFutureWatcher<std::shared_ptr<const Sequenced>> sequenceWatch_;
  bool sequencing_ = false;
  size_t print_ = 0;
  Statistics statistics_;
  std::shared_ptr<const Weighing> weighing_;
  size_t weighedPrint_ = 0, weighingPrint_ = 0;
  QFutureWatcher<std::shared_ptr<const Weighing>> weighWatch_;
  std::vector<Cure> cures_;
  int cureFinding_ = -1;
  size_t curePrint_ = 0;
  QFutureWatcher<std::vector<Cure>> cureWatch_;
  struct PlanOutcome {
    std::shared_ptr<const HoopingPlan> plan;
    QString problem;
    size_t print = 0;
  };
  QFutureWatcher<PlanOutcome> planWatch_;
  int selected_ = 0, hooping_ = 0;
};

}  // namespace rt
