// The desk: joins the job in hand, the shop, what is chosen, what follows, the ledger and the
// machine. No widgets; each part can be used and tested alone.
#pragma once

#include "cloth_camera.h"
#include "lenses.h"
#include "moment.h"
#include "scan_table.h"
#include "seam_check.h"
#include "selection.h"
#include "sewing_run.h"
#include "shop.h"
#include "studies.h"
#include "view_choices.h"

namespace rt {

/// Folders that the desk writes in; tests give their own.
struct DeskFolders {
  std::filesystem::path state;  ///< Ledger, recovery, journals and the shop's own values.
  static DeskFolders usual();
};

class Desk : public QObject {
  Q_OBJECT
 public:
  Desk(Bench bench, DeskFolders folders, QObject* parent = nullptr);
  ~Desk() override;

  JobDocument& document() { return document_; }
  const JobDocument& document() const { return document_; }
  Shop& shop() { return shop_; }
  const Shop& shop() const { return shop_; }
  Selection& selection() { return selection_; }
  const Selection& selection() const { return selection_; }
  Studies& studies() { return studies_; }
  const Studies& studies() const { return studies_; }
  LedgerKeeper& ledger() { return ledger_; }
  const LedgerKeeper& ledger() const { return ledger_; }
  SewingRun& run() { return run_; }
  const SewingRun& run() const { return run_; }
  ClothCamera& camera() { return camera_; }
  const ClothCamera& camera() const { return camera_; }
  ScanTable& scans() { return scans_; }
  const ScanTable& scans() const { return scans_; }
  /// What a scan of a hooping of the plan in hand is held against; unset: there is no such hooping.
  std::optional<ScanTable::Held> scanHeld(int hooping) const;
  /// What is known of a camera's lens.
  LensPrior lensOf(const std::string& camera) const;
  SeamCheck& seams() { return seams_; }
  const SeamCheck& seams() const { return seams_; }
  /// Of the camera of the scan that is looked at; unset: nothing was learned.
  std::optional<LearnedLens> lens() const;
  void forgetLens();
  /// 95 % bound of the worst of places taken from the scan that is looked at, mm; unset: there is
  /// no flat scan, or the cloth's place is not known.
  std::optional<double> photoError_mm(const std::vector<Point>& layout) const;
  /// Whether some seam of the hooping in hand is sewn on both sides.
  bool seamsSewn() const;
  /// Measures them in the scan that is looked at; they go into the ledger.
  void checkSeams();

  /// Where it keeps what is the program's own.
  const std::filesystem::path& stateFolder() const { return state_; }
  /// Machines that stay on, found in the folder of this desk's machines.
  QVector<MachineFound> machinesFound() const;

  // The job in hand, and what it rests on.
  const Bench& bench() const { return shop_.bench(); }
  const Job& job() const { return document_.job(); }
  const Record& record() const { return document_.work().record; }
  History& undo() { return document_.history(); }
  const std::filesystem::path& path() const { return document_.path(); }
  const std::vector<Face>& faces() const { return shop_.faces(); }
  /// Frames measured here, and what the shop pays. Throw Error where they cannot be kept.
  const std::vector<Hoop>& ownFrames() const { return shop_.ownFrames(); }
  void keepFrame(const Hoop& frame) { shop_.keepFrame(frame); }
  void dropFrame(const std::string& id) { shop_.dropFrame(id); }
  /// What printers make of 100 mm, kept for each with each paper.
  std::vector<std::string> printers() const;
  double printerRuler_mm(const std::string& printer, const std::string& paper) const;
  void setPrinterRuler(const std::string& printer, const std::string& paper, double ruler_mm);
  const Rates& rates() const { return shop_.rates(); }
  bool ratesAreOwn() const { return shop_.ratesAreOwn(); }
  void setRates(const std::optional<Rates>& rates) { shop_.setRates(rates); }
  /// The job's fabric, its limits with needle, thread, backing and topper taken in.
  const Fabric& fabric() const { return fabric_; }
  ThreadTake threadTake() const {
    return {fabric_.thickness_mm, bench().shop.practice.sewing.bobbin_share};
  }
  /// The shop's limits on this fabric before those, and what they were to begin with.
  const Fabric& shopFabric() const { return shop_.fabric(job().brief.fabric); }
  const Fabric& startingFabric() const { return shop_.startingFabric(job().brief.fabric); }
  const LimitFactors& limitFactors() const { return factors_; }
  std::optional<ShopLimits> shopLimits() const { return shop_.limits(job().brief.fabric); }
  void setShopLimits(const std::optional<ShopLimits>& limits);
  Shop::Learned learned() const { return shop_.learned(job().brief.fabric, ledger_.all()); }
  double timeFactor() const { return shop_.timeFactor(); }
  /// Keeps how a sewing or a step of a swatch went: the heaviest place, a width or a height.
  void addOutcome(OutcomeOf of, double value, Outcome outcome, const std::string& why);
  /// A hooping that was sewn through, by the model in force and by the machine's clock: it teaches
  /// the time model.
  void addRun(int hooping, double predicted_s, double taken_s);
  /// The letters of a text piece in its own frame; null where they cannot be set. The last few are
  /// kept.
  std::shared_ptr<const Lettering> lettering(const Piece& piece) const;
  const ViewChoices& view() const { return view_; }
  bool inches() const { return view_.inches; }
  void setView(const ViewChoices& view);

  /// One undoable step to a new value of the job; no step if nothing changes.
  /// `run`: steps of one run of typing are one.
  void change(const QString& name, Job next, const QString& run = {}) {
    document_.change(name, std::move(next), run);
  }
  /// A job that was made, not read. Throws Error where the edits in hand cannot be kept.
  void take(Job job, const std::filesystem::path& path);
  void open(const std::filesystem::path& path);  ///< Throws Error; the job in hand stays then.
  /// Throws Error; FileChanged where others saved the job's own file since it was read.
  void save(std::filesystem::path path, JobDocument::Over over = JobDocument::Over::Refuse);
  /// Job files opened or saved last, newest first.
  std::vector<std::filesystem::path> recentJobs() const;
  bool recover();
  /// What `document().read` found, with all that its machines sewed since. False: there was
  /// nothing.
  bool take(JobDocument::Read read);
  bool recovered() const { return document_.recovered(); }
  bool autosave() { return document_.autosave(); }

  // What follows from the job.
  const Pattern& layout() const { return *studies_.layout(); }
  size_t layoutPrint() const { return studies_.layoutPrint(); }
  const Statistics& statistics() const { return studies_.statistics(); }
  std::shared_ptr<const Weighing> weighing() const { return studies_.weighing(); }
  bool weighingCurrent() const { return studies_.weighingCurrent(); }
  bool sequencing() const { return studies_.sequencing(); }
  const std::vector<Cure>& cures() const { return studies_.cures(); }
  int cureFinding() const { return studies_.cureFinding(); }
  bool curing() const { return studies_.curing(); }
  void seekCures(int finding) { studies_.seekCures(job(), finding); }
  void stopCures() { studies_.stopCures(); }
  /// Another state of the job to be held against this one on the cloth; weighed in the background.
  struct Comparison {
    Job job;
    QString now, name;                        ///< What is said of this state, and of the other.
    std::shared_ptr<const Weighing> weighed;  ///< Null until it is done.
  };
  void compareWith(Job other, const QString& now, const QString& name);
  void endComparison();
  const std::optional<Comparison>& comparison() const { return comparison_; }

  // Hoopings. The plan that is shown: the one for the layout as it is, else the last that was made.
  const Moment& moment() const { return moment_; }
  const MadePlan* madePlan() const { return moment_.shown; }
  const HoopingPlan* plan() const { return moment_.shown ? &moment_.shown->plan : nullptr; }
  bool planCurrent() const { return moment_.plan_current; }
  bool planning() const { return studies_.plan().running(); }
  void makePlan();
  /// Seeks small changes that would better the plan in hand; `advised` says when.
  void seekAdvice();
  bool advising() const { return studies_.advice().running(); }
  /// For the plan in hand; null: not sought, or for another plan or job.
  std::shared_ptr<const std::vector<PlanAdvice>> advice() const;
  /// Pieces that the plan in hand cuts though a frame would hold them whole.
  std::vector<std::string> canBeWhole() const;
  /// The plan under way shall be made of the best fields found so far.
  void planSoFar();
  /// Hoopings of the best fields found so far by the plan under way; 0: none yet.
  int hoopingsSoFar() const { return studies_.plan().progress().best; }
  int hooping() const { return moment_.hooping; }  ///< 1-based; 0 without a plan.
  int setting() const { return moment_.setting; }  ///< Of the hooping, 1-based; 0 without a plan.
  void setHooping(int index, int setting = 1);
  const Hooping* currentHooping() const { return hoopingAt(moment_.hooping); }
  const Hooping* hoopingAt(int index) const;
  const PlanSetting* settingAt(int hooping, int setting) const;
  const PlanSetting* currentSetting() const { return settingAt(moment_.hooping, moment_.setting); }
  SettingKey keyOf(int hooping, int setting = 1) const;
  /// Field of a hooping, as it lies in the machine.
  Field fieldOf(const Hooping& hooping) const;
  Record::Sewn sewn(int hooping, int setting = 1) const { return moment_.sewnAt(hooping, setting); }
  /// Whether all settings of a hooping are sewn.
  bool sewnThrough(int hooping) const;
  /// Those of the plan in hand that are.
  std::vector<int> hoopingsSewn() const;
  std::vector<Mark> marksOf(int hooping) const { return record().marks(keyOf(hooping)); }
  void addMark(int hooping, Mark mark);
  void clearMarks(int hooping);
  /// Scans are read for this tag alone, which gives place and angle; unset: for the plan's marks.
  void setOneTag(const std::optional<OneTag>& tag);
  const std::optional<OneTag>& oneTag() const { return oneTag_; }
  /// From the hoop of the hooping in hand to the layout, as the cloth lies in it by what is known.
  Transform hoopToLayout() const;
  /// The alignment of a hooping from all that counts, against the place it was meant to have in its
  /// hoop: turn and offset are what is off. Unset where nothing says where the cloth lies.
  std::optional<Alignment> alignmentOf(int hooping) const {
    const Measured* m = moment_.measuredAt(hooping);
    return m ? m->alignment : std::nullopt;
  }
  /// What may be done with the setting in hand, and what stands in the way.
  const Clearance& clearance() const { return moment_.clearance; }
  /// The same of any setting, asked anew.
  Clearance clearanceOf(int hooping, int setting) const;
  /// While a person holds the scan under the layout by eye: from where the layout was meant to lie
  /// in the field to where it is held. Unset: nobody does.
  void setNudge(const std::optional<Transform>& nudge);
  const std::optional<Transform>& nudge() const { return nudge_; }
  /// Marks of one look at the scan: they take the place of all that was seen in scans before.
  void addSeen(int hooping, const std::vector<Mark>& marks);
  /// Takes the place that is held by eye: the expected marks lie there, as well as an eye can tell.
  void keepNudge();
  /// Why a person overruled a stop of this layout; empty: nobody did.
  std::string overruled() const {
    const Overruled* word = record().overruledDensity(layoutPrint());
    return word ? word->reason : std::string();
  }
  void overrule(const std::string& reason);
  void overruleAlignment(int hooping, const std::string& reason);
  /// A person wants the setting in hand sewn although thread of it lies on the cloth.
  void overruleSewn(const std::string& reason);
  /// Another cloth: nothing of the job is sewn on it, and nothing measured.
  void replaceCloth();
  /// Sends a hooping to the machine, placed by its own alignment. Throws Error with what stands in
  /// the way: its clearance is asked anew.
  void sendHooping(int hooping, int setting = 1);
  /// Sews it, or goes on where it stopped.
  void sewOn();
  size_t resumeRow() const;

  // What is chosen.
  int selected() const { return selection_.leading(); }
  const std::vector<int>& chosen() const { return selection_.chosen(); }
  bool isChosen(int piece_id) const { return selection_.isChosen(piece_id); }
  void select(int piece_id) { selection_.select(job(), piece_id); }
  void selectAlso(int piece_id) { selection_.selectAlso(job(), piece_id); }
  void lead(int piece_id) { selection_.lead(piece_id); }
  const Piece* selectedPiece() const;

  /// The ledger is kept there from now on: a server's address, or empty for the person's own file.
  /// Throws Error for what is no address.
  void setLedgerStore(const std::string& store);
  /// A line for the ledger about the job in hand.
  void note(LedgerEntry entry);
  void say(const QString& text) { emit said(text); }
  /// Waits for all that is being computed.
  void settle();

  /// Runs when any of these parts changed.
  template <class Context, class Run>
  void on(Parts parts, Context* context, Run&& run) {
    if constexpr (std::is_member_function_pointer_v<std::decay_t<Run>>)
      connect(this, &Desk::moved, context, [parts, context, run](Parts now) {
        if (now & parts) (context->*run)();
      });
    else
      connect(this, &Desk::moved, context, [parts, run = std::forward<Run>(run)](Parts now) {
        if (now & parts) run();
      });
  }

 signals:
  /// What changed, all at once, after the moment was made anew: whoever shows any of it hears it
  /// here, and nowhere else.
  void moved(rt::Parts parts);
  void said(const QString& text);
  void failed(const QString& text);

 private:
  void connectParts();
  void refresh();
  void follow();
  void tookAnother();
  void holdScans();
  void tell(Parts parts);
  void remake(Parts parts);
  void choosePlan();
  void goWhereItStopped();
  void takeJournals();
  void sayBroughtBack(bool any);
  ReleaseFacts factsOf(int hooping, int setting) const;
  void sayPlan(const NextPlan& next);
  void noteFit(const Alignment& fit, int hooping);
  bool keptAlready(const OutcomeEntry& outcome) const;
  void takePlan();
  void keepSeams(const SeamQuestion& question, const SeamAnswer& answer);
  void keepRun(const std::string& job_id, int hooping, double predicted_s, double taken_s,
               bool whole);
  void finishedAt(const SettingKey& key, bool whole, double taken_s);

  std::filesystem::path state_;
  Shop shop_;
  JobDocument document_;
  Selection selection_;
  Studies studies_;
  LedgerKeeper ledger_;
  SewingRun run_;
  ScanTable scans_;
  SeamCheck seams_;
  ClothCamera camera_;
  std::optional<OneTag> oneTag_;
  std::optional<Transform> nudge_;
  Moment moment_;
  Parts pending_;
  bool telling_ = false;
  QTimer rows_;  ///< Sewing that goes on is told once a frame.
  ViewChoices view_;
  Fabric fabric_;
  LimitFactors factors_;
  std::optional<Comparison> comparison_;
  struct Lettered {
    std::shared_ptr<const Pattern> stitches;
    std::shared_ptr<const Lettering> letters;
  };
  mutable std::vector<Lettered> lettered_;
};

}  // namespace rt
