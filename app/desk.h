// The desk: the job in hand, its undo steps, and all that follows from it. No widgets.
#pragma once

#include <QFutureWatcher>
#include <QObject>
#include <QTimer>
#include <QUndoStack>

#include "cures.h"
#include "error.h"
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
  /// The faces that ship, without their letters.
  const std::vector<Face>& faces() const { return faces_; }
  /// The letters of a text piece in its own frame; null where they cannot be set. The last few are
  /// kept.
  std::shared_ptr<const Lettering> lettering(const Piece& piece) const;
  QUndoStack& undo() { return undo_; }
  const std::filesystem::path& path() const { return path_; }
  /// The job's fabric, its limits with needle, thread, backing and topper taken in.
  const Fabric& fabric() const { return fabric_; }
  /// The shop's limits on this fabric before those, and what they were to begin with.
  const Fabric& shopFabric() const;
  const Fabric& startingFabric() const;
  const LimitFactors& limitFactors() const { return factors_; }
  /// The shop's own limits for the job's fabric; unset: the starting values.
  std::optional<ShopLimits> shopLimits() const;
  void setShopLimits(const std::optional<ShopLimits>& limits);
  /// The shop's threads: a list of its own, or the sample that ships.
  void setShelf(std::vector<ShelfThread> threads);
  /// What sewn runs made of the time model; 1 without enough of them.
  double timeFactor() const { return timeFactor_; }
  void addRun(int hooping, double predicted_s, double taken_s);
  /// Keeps how a sewing or a step of a swatch went: the heaviest place, a width or a height.
  void addOutcome(OutcomeOf of, double value, Outcome outcome, const std::string& why);
  /// What the recorded outcomes propose for this fabric.
  struct Learned {
    LearnedLimit density;
    LearnedLeast column, letter;
    bool any() const { return density.enough || column.enough || letter.enough; }
  };
  Learned learned() const;
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
  /// Another state of the job to be held against this one on the cloth; weighed in the background.
  struct Comparison {
    Job job;
    QString now, name;                        ///< What is said of this state, and of the other.
    std::shared_ptr<const Weighing> weighed;  ///< Null until it is done.
  };
  void compareWith(Job other, const QString& now, const QString& name);
  void endComparison();
  const std::optional<Comparison>& comparison() const { return comparison_; }
  /// Waits for all that is being computed.
  void settle();

  int selected() const { return selected_; }
  /// Chooses a piece and its group, and no other.
  void select(int piece_id);
  /// Adds a piece and its group to what is chosen, or takes them out.
  void selectAlso(int piece_id);
  /// All that are chosen, in sewing order; `selected()` is one of them.
  const std::vector<int>& chosen() const { return chosen_; }
  bool isChosen(int piece_id) const;
  /// Makes one of those that are chosen the leading one.
  void lead(int piece_id);
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
  void compared();
  void hoopingChanged();
  void ledgerChanged();
  void said(const QString& text);
  void failed(const QString& text);

 private:
  friend class JobStep;
  void put(Job next);
  void refresh();
  void sequenceLater();
  void weighLater();
  size_t weighKey() const;

  Bench bench_;
  std::vector<Face> faces_;
  struct Lettered {
    std::shared_ptr<const Pattern> stitches;
    std::shared_ptr<const Lettering> letters;
  };
  mutable std::vector<Lettered> lettered_;
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
  std::optional<Comparison> comparison_;
  QFutureWatcher<std::shared_ptr<const Weighing>> compareWatch_;
  struct PlanOutcome {
    std::shared_ptr<const HoopingPlan> plan;
    QString problem;
    size_t print = 0;
  };
  QFutureWatcher<PlanOutcome> planWatch_;
  void readShop();
  void failLater(const QString& words, const Error& problem);
  std::vector<int> groupOf(int piece_id) const;
  int selected_ = 0, hooping_ = 0;
  std::vector<int> chosen_;
  Fabric fabric_;
  LimitFactors factors_;
  std::vector<Fabric> starting_;
  TimeModel startingTime_;
  double timeFactor_ = 1;
  std::filesystem::path limitsPath_, shelfPath_;
  ShopLimitTable limits_;
};

}  // namespace rt
