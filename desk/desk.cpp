#include "desk.h"

#include <QCoreApplication>
#include <QEventLoop>
#include <QStandardPaths>
#include <fstream>

#include "alignment_words.h"
#include "error.h"
#include "file_io.h"
#include "hooping_place.h"
#include "length.h"
#include "printers.h"
#include "recent_jobs.h"
#include "release_words.h"
#include "server_url.h"
#include "worst_seam.h"

namespace rt {
namespace {

constexpr int kFrame_ms = 16;
constexpr const char *kRecentJobs = "recent-jobs.txt", *kPrinters = "printers.ini",
                     *kLensFile = "lenses.ini";

std::filesystem::path madeFolder(const std::filesystem::path& folder) {
  std::error_code ignored;
  std::filesystem::create_directories(folder, ignored);
  return folder;
}

constexpr const char* kStoreFile = "ledger-store";

/// An address may hold a password.
void onlyForOwner(const std::filesystem::path& file) {
  std::error_code ignored;
  using std::filesystem::perms;
  std::filesystem::permissions(file, perms::owner_read | perms::owner_write, ignored);
}

/// Where the shop's ledger is, as a person chose it; the own file where nobody did.
std::string chosenStore(const std::filesystem::path& state) {
  std::string store;
  try {
    store = readFile(state / kStoreFile);
    onlyForOwner(state / kStoreFile);  // an earlier program let others read it
  } catch (const Error&) {
    // nobody chose
  }
  while (!store.empty() && (store.back() == '\n' || store.back() == ' ')) store.pop_back();
  if (store.empty()) return (state / "ledger.sqlite").string();
  try {
    if (namesServer(store)) serverUrl(store);
    return store;
  } catch (const Error&) {  // no address any more: said where a person chooses
    return (state / "ledger.sqlite").string();
  }
}

/// Where entries wait while a server is away: by host, port and name, so that those of one never go
/// into another.
std::filesystem::path waitingPlace(const std::filesystem::path& state, const std::string& store) {
  if (!namesServer(store)) return store;
  const ServerUrl server = serverUrl(store);
  std::string name =
      "ledger-server-" + server.host + "-" + std::to_string(server.port) + "-" + server.database;
  for (char& c : name)
    if (!std::isalnum(static_cast<unsigned char>(c)) && c != '-' && c != '.') c = '_';
  return state / name;
}

/// Until there were several servers their entries waited in one file; they are for the one that is
/// chosen.
void renameWaiting(const std::filesystem::path& state, const std::string& store) {
  if (!namesServer(store)) return;
  const std::string old = "ledger-server.pending-";
  std::error_code ignored;
  std::vector<std::filesystem::path> found;
  for (const auto& entry : std::filesystem::directory_iterator(state, ignored))
    if (entry.path().filename().string().starts_with(old)) found.push_back(entry.path());
  for (const std::filesystem::path& file : found)
    std::filesystem::rename(file,
                            waitingPlace(state, store).string() + ".pending-" +
                                file.filename().string().substr(old.size()),
                            ignored);
}

}  // namespace

DeskFolders DeskFolders::usual() {
  return {QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation).toStdString() +
          "/rapt-thimble"};
}

Desk::Desk(Bench bench, DeskFolders folders, QObject* parent)
    : QObject(parent),
      state_(madeFolder(folders.state)),
      shop_(std::move(bench), state_),
      document_(state_ / "recovery"),
      studies_(shop_.bench()),
      ledger_((renameWaiting(state_, chosenStore(state_)), chosenStore(state_)),
              waitingPlace(state_, chosenStore(state_))),
      run_(document_, ledger_, state_),
      scans_(document_),
      camera_(run_.machine(), scans_),
      view_(readViewChoices(state_ / "view.ini")) {
  connectParts();
  refresh();
  // while the desk is made nobody listens yet
  QTimer::singleShot(0, this, [this] {
    for (const std::string& problem : shop_.problems())
      emit failed(QString::fromStdString(problem));
  });
}

Desk::~Desk() {
  // parts go down one by one: none of them tells a desk that is half gone
  for (QObject* part : {static_cast<QObject*>(&document_), static_cast<QObject*>(&selection_),
                        static_cast<QObject*>(&scans_), static_cast<QObject*>(&seams_),
                        static_cast<QObject*>(&studies_), static_cast<QObject*>(&ledger_),
                        static_cast<QObject*>(&run_), static_cast<QObject*>(&shop_)})
    part->disconnect(this);
}

void Desk::connectParts() {
  rows_.setSingleShot(true);
  rows_.setInterval(kFrame_ms);
  connect(&rows_, &QTimer::timeout, this, [this] { tell(Part::Rows); });
  connect(&document_, &JobDocument::jobChanged, this, &Desk::refresh);
  connect(&document_, &JobDocument::taken, this, &Desk::tookAnother);
  connect(&document_, &JobDocument::happened, this, [this] {
    rows_.stop();  // what was still to be told of rows is told with this
    follow();
    tell(Part::Record);
  });
  connect(&document_, &JobDocument::sewedOn, this, [this] {
    if (!rows_.isActive()) rows_.start();
  });
  connect(&document_, &JobDocument::failed, this, &Desk::failed);
  connect(&shop_, &Shop::changed, this, &Desk::refresh);
  connect(&selection_, &Selection::changed, this, [this] { tell(Part::Selection); });
  connect(&studies_, &Studies::layoutChanged, this, [this] {
    follow();
    tell(Part::Job);
  });
  connect(&studies_, &Studies::weighed, this, [this] { tell(Part::Weighing); });
  connect(&studies_, &Studies::cured, this, [this] { tell(Part::Cures); });
  connect(&studies_, &Studies::planned, this, &Desk::takePlan);
  connect(&studies_.plan(), &StudyBase::progressed, this, [this] { tell(Part::PlanProgress); });
  connect(&studies_, &Studies::advised, this, [this] { tell(Part::Advice); });
  connect(&studies_, &Studies::comparedTo, this, [this] {
    if (comparison_) comparison_->weighed = studies_.compared();
    tell(Part::Comparison);
  });
  connect(&ledger_, &LedgerKeeper::changed, this, [this] {
    shop_.setRuns(runsIn(ledger_.all()));
    tell(Part::Ledger);
  });
  connect(&ledger_, &LedgerKeeper::told, this, &Desk::said);
  connect(&run_, &SewingRun::finished, this, &Desk::finishedAt);
  connect(&run_, &SewingRun::failed, this, &Desk::failed);
  for (auto signal : {&MachineLink::stated, &MachineLink::phaseChanged})
    connect(&run_.machine(), signal, this, [this] { tell(Part::Machine); });
  connect(&scans_, &ScanTable::changed, this, [this] { tell(Part::Scan); });
  connect(&scans_, &ScanTable::failed, this, &Desk::failed);
  connect(&camera_, &ClothCamera::changed, this, [this] { tell(Part::Scan); });
  scans_.useLenses([this](const std::string& camera) { return lensOf(camera); });
  connect(&scans_, &ScanTable::lensSeen, this,
          [this](const std::string& camera, double k1, double sigma) {
            learnLens(state_ / kLensFile, camera, k1, sigma);
          });
  connect(&seams_, &SeamCheck::changed, this, [this] { tell(Part::Scan); });
  connect(&seams_, &SeamCheck::failed, this, &Desk::failed);
  connect(&seams_, &SeamCheck::measured, this, &Desk::keepSeams);
}

/// All that changed in one go is told in one go; what a listener changes is told when all have
/// heard.
void Desk::tell(Parts parts) {
  pending_ |= parts;
  if (telling_) return;
  telling_ = true;
  while (pending_) {
    const Parts now = std::exchange(pending_, Parts{});
    remake(now);
    emit moved(now);
  }
  telling_ = false;
}

/// Only what rests on what changed is worked out anew.
void Desk::remake(Parts parts) {
  const MadePlan* plan = moment_.shown;
  if (parts & (Part::Job | Part::Plan | Part::Record | Part::Rows)) {
    moment_.sewn.clear();
    for (size_t h = 0; plan && h < plan->plan.hoopings.size(); ++h) {
      moment_.sewn.emplace_back();
      for (const PlanSetting& s : plan->plan.hoopings[h].settings)
        moment_.sewn.back().push_back(record().sewn(rt::keyOf(*plan, s)));
    }
  }
  if (parts & (Part::Job | Part::Plan | Part::Record)) {
    moment_.measured.clear();
    for (size_t h = 0; plan && h < plan->plan.hoopings.size(); ++h)
      moment_.measured.push_back(measuredCloth(document_.work(), *plan, plan->plan.hoopings[h],
                                               fieldOf(plan->plan.hoopings[h]),
                                               bench().shop.practice.shape));
    moment_.gone = record().anythingSewn() ? sewnAndGone(document_.work(), layout()) : 0;
  }
  if (parts & (Part::Job | Part::Weighing | Part::Plan | Part::Hooping | Part::Record | Part::Scan |
               Part::Machine))
    moment_.clearance = clearanceOf(moment_.hooping, moment_.setting);
}

ReleaseFacts Desk::factsOf(int hooping, int setting) const {
  ReleaseFacts known{document_.work()};
  known.layout_print = layoutPrint();
  known.plan = planCurrent() ? moment_.shown : nullptr;
  known.planned = moment_.shown != nullptr;
  known.hooping = hooping;
  known.setting = setting;
  if (weighingCurrent() && weighing()) known.weighed = &weighing()->report;
  if (const Hooping* h = hoopingAt(hooping)) known.field = fieldOf(*h);
  known.limits = bench().shop.practice.shape;
  known.reading = hooping == moment_.hooping && scans_.measuring();
  known.gone = moment_.gone;
  if (const auto& state = run_.machine().state())
    known.machine = MachineSays{state->frame.toStdString(), state->locked, state->foot_up};
  return known;
}

Clearance Desk::clearanceOf(int hooping, int setting) const {
  return rt::clearanceOf(factsOf(hooping, setting));
}

void Desk::refresh() {
  Brief brief = job().brief;
  if (!shop_.knows(brief.fabric)) brief.fabric = shopFabric().id;  // a shop that has it no more
  fabric_ = sewnOn(clothOf(brief, bench()), job().sequence);
  factors_ = limitFactorsOf(brief, bench());
  studies_.refresh(job(), fabric_, bench().shop.time);
  selection_.keepTo(job());
  if (comparison_ && !studies_.weighingCurrent()) endComparison();
  follow();
  tell(Part::Job | Part::Weighing);
}

/// The plan that goes with the layout as it is now, and the hooping in it.
void Desk::follow() {
  choosePlan();
  holdScans();
}

void Desk::choosePlan() {
  const Work& work = document_.work();
  const MadePlan* current = planFor(work, layoutPrint());
  moment_.plan_current = current && !sequencing();
  const MadePlan* shown = current              ? current
                          : work.plans.empty() ? nullptr
                                               : work.plans.back().get();
  if (shown != moment_.shown) {
    moment_.shown = shown;
    pending_ |= Part::Plan;
  }
  const int hooping =
      !shown ? 0 : std::clamp(moment_.hooping, 1, static_cast<int>(shown->plan.hoopings.size()));
  const int setting = !settingAt(hooping, 1)                ? 0
                      : settingAt(hooping, moment_.setting) ? moment_.setting
                                                            : 1;
  if (hooping != moment_.hooping || setting != moment_.setting) pending_ |= Part::Hooping;
  moment_.hooping = hooping;
  moment_.setting = setting;
}

/// The first setting that is not sewn through: where a person goes on.
void Desk::goWhereItStopped() {
  if (!plan() || !planCurrent()) return;
  for (const Hooping& h : plan()->hoopings)
    for (const PlanSetting& s : h.settings) {
      const Record::Sewn far = record().sewn(rt::keyOf(*moment_.shown, s));
      if (far.begun && !far.done) return setHooping(h.index, s.index);
    }
  for (const Hooping& h : plan()->hoopings)
    for (const PlanSetting& s : h.settings)
      if (!record().sewn(rt::keyOf(*moment_.shown, s)).done) return setHooping(h.index, s.index);
}

/// Scans are of the hooping in hand, and are held against its marks and its frame.
void Desk::holdScans() {
  scans_.hold(scanHeld(moment_.hooping));
}

std::optional<ScanTable::Held> Desk::scanHeld(int hooping) const {
  const Hooping* h = hoopingAt(hooping);
  if (!h) return std::nullopt;
  Hoop frame{h->hoop_id, h->hoop_id, fieldOf(*h)};
  for (const Hoop& known : bench().shop.hoops)
    if (known.id == h->hoop_id) frame = known;
  ScanTable::Held held;
  held.key = keyOf(h->index);
  for (const PlanSetting& s : h->settings) held.settings.push_back(rt::keyOf(*moment_.shown, s));
  held.setup = scanSetup(*h, frame, moment_.shown->settings.school, job().tolerance_mm, oneTag_);
  held.area = scanArea(frame);
  held.meant = intendedPlace(h->settings.front());
  for (const Mark& m : expectedMarks(*h)) held.names[std::to_string(tagOfMark(m.id))] = m.id;
  if (oneTag_) held.names = {{std::to_string(oneTag_->id), "tag " + std::to_string(oneTag_->id)}};
  return held;
}

LensPrior Desk::lensOf(const std::string& camera) const {
  const auto lens = knownLens(state_ / kLensFile, camera);
  return lens ? lens->prior() : LensPrior{};
}

std::optional<LearnedLens> Desk::lens() const {
  const ScanTaken* scan = scans_.shown();
  return scan ? knownLens(state_ / kLensFile, scan->scan.camera) : std::nullopt;
}

void Desk::forgetLens() {
  if (const ScanTaken* scan = scans_.shown()) rt::forgetLens(state_ / kLensFile, scan->scan.camera);
  tell(Part::Scan);
}

std::optional<double> Desk::photoError_mm(const std::vector<Point>& layout) const {
  const Hooping* h = currentHooping();
  const auto reading = scans_.reading();
  const std::optional<Alignment> lies = alignmentOf(moment_.hooping);
  if (!h || !reading || !reading->flat || !lies) return std::nullopt;
  const Transform meant = intendedPlace(h->settings.front());
  double worst = 0;
  for (Point p : layout) worst = std::max(worst, lies->fit.error95_mm(meant(p)));
  return worst;
}

QVector<MachineFound> Desk::machinesFound() const {
  const QString set = qEnvironmentVariable("RAPT_THIMBLE_MACHINES");
  return machinesIn(set.isEmpty() ? QString::fromStdString((state_ / "machines").string()) : set);
}

bool Desk::seamsSewn() const {
  const HoopingPlan* made = planCurrent() ? plan() : nullptr;
  return made && std::any_of(made->seams.begin(), made->seams.end(), [&](const Seam& s) {
           return s.meets && (s.first == moment_.hooping || s.second == moment_.hooping) &&
                  sewn(s.first, s.first_setting).done && sewn(s.second, s.second_setting).done;
         });
}

void Desk::checkSeams() {
  const ScanTaken* scan = scans_.shown();
  if (!planCurrent() || !scan || !scans_.held()) return;
  SeamQuestion q;
  q.scan = std::make_shared<const ScanTaken>(*scan);
  q.setup = scans_.held()->setup;
  q.plan = moment_.shown->id;
  q.made = std::make_shared<const HoopingPlan>(moment_.shown->plan);
  q.hooping = moment_.hooping;
  for (const Hooping& h : moment_.shown->plan.hoopings)
    for (const PlanSetting& s : h.settings)
      if (sewn(h.index, s.index).done) q.sewn.emplace_back(h.index, s.index);
  seams_.ask(std::move(q));
}

void Desk::keepSeams(const SeamQuestion& question, const SeamAnswer& answer) {
  if (!moment_.shown || moment_.shown->id != question.plan)
    return;  // another job was taken meanwhile
  for (const SeamSeen& s : answer.seams) {
    LedgerEntry e;
    e.event = "seam";
    e.hooping = question.hooping;
    e.status = s.asPredicted() ? "as-predicted" : "worse";
    e.worst_mm = s.gap_mm;
    e.note = s.inWords();
    e.figures = {
        {"gap_mm", s.gap_mm}, {"certain_mm", s.certain_mm}, {"predicted_mm", s.planned.error_mm}};
    note(std::move(e));
  }
}

void Desk::setOneTag(const std::optional<OneTag>& tag) {
  if (tag == oneTag_) return;
  oneTag_ = tag;
  holdScans();
  scans_.readAgain();
}

void Desk::setNudge(const std::optional<Transform>& nudge) {
  if (nudge == nudge_) return;
  nudge_ = nudge;
  tell(Part::Scan);
}

void Desk::addSeen(int hooping, const std::vector<Mark>& marks) {
  const SettingKey key = keyOf(hooping);
  if (key.plan.empty()) return;
  const std::string look = newId();
  for (const Mark& m : marks) document_.add(MarkFound{key, nowUtc(), m, look});
}

void Desk::keepNudge() {
  const Hooping* h = currentHooping();
  if (!h || !nudge_) return;
  const Transform held = *nudge_;
  nudge_.reset();
  std::vector<Mark> marks = expectedMarks(*h);
  for (Mark& m : marks) {
    m.hoop = held(m.hoop);
    m.error_mm = bench().shop.practice.marks.pinned_mm;
  }
  addSeen(moment_.hooping, marks);
  tell(Part::Scan);
}

Transform Desk::hoopToLayout() const {
  const Hooping* h = currentHooping();
  if (!h) return {};
  const Transform back = intendedPlace(h->settings.front()).inverse().value_or(Transform{});
  if (nudge_) return back * nudge_->inverse().value_or(Transform{});
  const std::optional<Alignment> a = alignmentOf(moment_.hooping);
  return a ? back * a->fit.toHoop.inverse().value_or(Transform{}) : back;
}

void Desk::tookAnother() {
  moment_ = {};
  studies_.reset();
  comparison_.reset();
  selection_.clear();
  moment_.hooping = 0;
  pending_ |= Part::Selection | Part::Hooping | Part::Ledger | Part::Record | Part::Plan;
  refresh();
}

void Desk::take(Job job, const std::filesystem::path& path) {
  Work work;
  work.job = std::move(job);
  document_.take(std::move(work), path);
}

void Desk::save(std::filesystem::path path, JobDocument::Over over) {
  document_.save(path, over);
  noteRecentJob(state_ / kRecentJobs, path);
}

std::vector<std::string> Desk::printers() const {
  return knownPrinters(state_ / kPrinters);
}

double Desk::printerRuler_mm(const std::string& printer, const std::string& paper) const {
  return rt::printerRuler_mm(state_ / kPrinters, printer, paper);
}

void Desk::setPrinterRuler(const std::string& printer, const std::string& paper, double ruler_mm) {
  rt::setPrinterRuler(state_ / kPrinters, printer, paper, ruler_mm);
}

std::vector<std::filesystem::path> Desk::recentJobs() const {
  return rt::recentJobs(state_ / kRecentJobs);
}

void Desk::open(const std::filesystem::path& path) {
  take(document_.read(path));
}

bool Desk::recover() {
  return take(document_.read({}));
}

bool Desk::take(JobDocument::Read read) {
  if (!read.saved && !read.copy) return false;
  if (read.saved) noteRecentJob(state_ / kRecentJobs, read.path);
  const bool broughtBack = document_.take(std::move(read));
  takeJournals();
  goWhereItStopped();
  sayBroughtBack(broughtBack);
  return true;
}

/// Rows that the machine sewed after the file was written.
void Desk::takeJournals() {
  std::vector<RowsSewn> facts;
  for (const auto& plan : document_.work().plans)
    for (RowsSewn& fact : run_.journalOf(plan->id)) facts.push_back(std::move(fact));
  document_.addKept(std::move(facts));
}

void Desk::sayBroughtBack(bool any) {
  if (!any) return;
  emit said(
      document_.diverged()
          ? tr("Edits that were not saved have been brought back. The file was saved by others "
               "since: what it holds is one step of undo away, and saving asks which to keep.")
          : tr("Edits that were not saved have been brought back. Save to keep them."));
}

void Desk::setShopLimits(const std::optional<ShopLimits>& limits) {
  shop_.setLimits(job().brief.fabric, limits);
  LedgerEntry e;
  e.event = "limits";
  const Limit& l = shopFabric().density_mm_per_mm2;
  e.note = shopFabric().name + ": check " + formatNumber(l.check, 2) + ", stop " +
           formatNumber(l.stop, 2) + (limits ? "; " + limits->note : "; starting values");
  note(std::move(e));
}

void Desk::addOutcome(OutcomeOf of, double value, Outcome outcome, const std::string& why) {
  const bool density = of == OutcomeOf::Density;
  OutcomeEntry o{job().id, job().brief.fabric, value, density ? factors_.density : 1, outcome, {},
                 of};
  o.note = shopFabric().name + ", " + formatNumber(value, 1) + (density ? " mm/mm²" : " mm") +
           (why.empty() ? std::string() : "; " + why);
  if (keptAlready(o)) return emit said(tr("That is kept already."));
  note(entryFor(o));
}

/// Told again without anything sewn in between it is the same outcome, not one more.
bool Desk::keptAlready(const OutcomeEntry& outcome) const {
  const LedgerEntry asked = entryFor(outcome);
  for (const LedgerEntry& e : ledger_.entries(job().id)) {
    if (e.event == "done") return false;
    if (e.event == "outcome" && e.status == asked.status && e.figures == asked.figures &&
        e.words == asked.words && e.note == asked.note)
      return true;
  }
  return false;
}

void Desk::addRun(int hooping, double predicted_s, double taken_s) {
  keepRun(job().id, hooping, predicted_s, taken_s, true);
}

void Desk::keepRun(const std::string& job_id, int hooping, double predicted_s, double taken_s,
                   bool whole) {
  // predictions are compared with the model as it was shipped, so that learning does not chase
  // itself
  ledger_.add(entryFor(RunEntry{job_id, hooping, shop_.asShipped_s(predicted_s), taken_s, whole}));
}

std::shared_ptr<const Lettering> Desk::lettering(const Piece& piece) const {
  constexpr size_t kKept = 4;
  const auto* source = std::get_if<TextSource>(&piece.source);
  if (!source) return nullptr;
  for (const Lettered& l : lettered_)
    if (l.stitches == piece.stitches) return l.letters;
  std::shared_ptr<const Lettering> letters;
  try {
    letters = std::make_shared<const Lettering>(letteringOf(*source, fabric_, bench()));
  } catch (const std::exception&) {
    // letters that cannot be set again keep their stitches and have no marks
  }
  if (lettered_.size() >= kKept) lettered_.erase(lettered_.begin());
  lettered_.push_back({piece.stitches, letters});
  return letters;
}

void Desk::setView(const ViewChoices& view) {
  if (view == view_) return;
  view_ = view;
  writeViewChoices(state_ / "view.ini", view_);
  tell(Part::View);
}

void Desk::compareWith(Job other, const QString& now, const QString& name) {
  comparison_ = Comparison{other, now, name, nullptr};
  studies_.compare(std::move(other), fabric_);
  comparison_->weighed = studies_.compared();
  tell(Part::Comparison);
}

void Desk::endComparison() {
  if (!comparison_) return;
  comparison_.reset();
  studies_.endComparison();
  tell(Part::Comparison);
}

void Desk::makePlan() {
  if (planning() || sequencing()) return;
  PlanInput input;
  input.layout = studies_.layout();
  input.settings = job().plan_settings;
  input.document = document_.number();
  try {
    input.options = planOptionsOf(job(), bench());
  } catch (const Error& problem) {
    emit failed(QString::fromUtf8(problem.what()));
    return;
  }
  if (record().anythingSewn()) {
    input.sewn = std::make_shared<const Work>(document_.work());
    input.facts = record().all().size();
  }
  if (planCurrent() && endedEarly(moment_.shown->plan))
    studies_.plan().reset();  // asked again, it is sought to the end
  else if (studies_.plan().resultFor(input) && planCurrent())
    return goWhereItStopped();
  studies_.plan().ask(std::move(input));
}

std::vector<std::string> Desk::canBeWhole() const {
  return planCurrent() ? rt::canBeWhole(job(), *plan(), bench()) : std::vector<std::string>{};
}

void Desk::planSoFar() {
  studies_.plan().enough();
}

void Desk::seekAdvice() {
  if (!planCurrent()) return;
  studies_.advice().ask({job(), moment_.shown->id,
                         std::make_shared<const HoopingPlan>(moment_.shown->plan),
                         std::make_shared<const Bench>(bench())});
}

std::shared_ptr<const std::vector<PlanAdvice>> Desk::advice() const {
  const auto& study = studies_.advice();
  const auto& asked = study.lastInput();
  if (!moment_.shown || !asked || asked->plan != moment_.shown->id || !(asked->job == job()))
    return nullptr;
  return study.last();
}

/// A plan is taken for the job that it was asked for, and only while that one is in hand.
void Desk::takePlan() {
  auto& study = studies_.plan();
  if (study.state() == StudyState::Failed) {
    emit failed(QString::fromUtf8(study.error()->what()));
  } else if (study.state() == StudyState::Ready && study.last() &&
             study.lastInput()->document == document_.number()) {
    const NextPlan next = *study.last();
    const bool same = planCurrent() && !next.from.empty() && moment_.shown->plan == next.plan;
    if (!same) {
      document_.addPlan(next, printOf(*study.lastInput()->layout), study.lastInput()->settings);
      LedgerEntry e;
      e.event = "plan";
      if (const Seam* worst = worstSeam(next.plan)) e.worst_mm = worst->error_mm;
      e.note = std::to_string(next.plan.hoopings.size()) + " hoopings";
      note(std::move(e));
      sayPlan(next);
    }
    goWhereItStopped();
    pending_ |= Part::Job;
  }
  tell(Part::Plan);
}

/// What a plan makes of thread that lies on the cloth.
void Desk::sayPlan(const NextPlan& next) {
  if (next.from.empty()) return;
  QStringList words{tr("What is sewn stays as it lies on the cloth.")};
  QStringList names;
  for (const std::string& name : next.added) names << QString::fromStdString(name);
  if (!names.isEmpty())
    words << (next.added_to > 0
                  ? tr("%1 is a run of its own in hooping %2.")
                        .arg(names.join(QStringLiteral(", ")))
                        .arg(next.added_to)
                  : tr("%1 are runs of their own in clampings that are planned already.")
                        .arg(names.join(QStringLiteral(", "))));
  if (next.fresh_hoopings > 0)
    words << tr("The rest takes %1 more.")
                 .arg(next.fresh_hoopings == 1 ? tr("hooping")
                                               : tr("%1 hoopings").arg(next.fresh_hoopings));
  if (next.lost_stitches > 0)
    words << tr("%1 stitches lie on the cloth that the layout has no more: what takes their place "
                "would "
                "be sewn over them. Undo the change (Ctrl+Z), or look at the cloth before you sew.")
                 .arg(next.lost_stitches);
  emit said(words.join(QStringLiteral(" ")));
}

void Desk::setHooping(int index, int setting) {
  const int most = plan() ? static_cast<int>(plan()->hoopings.size()) : 0;
  moment_.hooping = most == 0 ? 0 : std::clamp(index, 1, most);
  moment_.setting = moment_.hooping == 0 ? 0 : settingAt(moment_.hooping, setting) ? setting : 1;
  nudge_.reset();
  holdScans();
  tell(Part::Hooping);
}

const PlanSetting* Desk::settingAt(int hooping, int setting) const {
  const Hooping* h = hoopingAt(hooping);
  if (!h || setting < 1 || setting > static_cast<int>(h->settings.size())) return nullptr;
  return &h->settings[static_cast<size_t>(setting - 1)];
}

bool Desk::sewnThrough(int hooping) const {
  const Hooping* h = hoopingAt(hooping);
  return h && std::all_of(h->settings.begin(), h->settings.end(),
                          [&](const PlanSetting& s) { return sewn(hooping, s.index).done; });
}

std::vector<int> Desk::hoopingsSewn() const {
  std::vector<int> out;
  for (int h = 1; hoopingAt(h); ++h)
    if (sewnThrough(h)) out.push_back(h);
  return out;
}

const Hooping* Desk::hoopingAt(int index) const {
  if (!plan() || index < 1 || index > static_cast<int>(plan()->hoopings.size())) return nullptr;
  return &plan()->hoopings[static_cast<size_t>(index - 1)];
}

SettingKey Desk::keyOf(int hooping, int setting) const {
  const PlanSetting* s = settingAt(hooping, setting);
  return s ? rt::keyOf(*moment_.shown, *s) : SettingKey{};
}

Field Desk::fieldOf(const Hooping& h) const {
  try {
    return hoopFor(bench().shop.hoops, h.hoop_id).field;
  } catch (const Error&) {
    const PlacedField& f = h.settings.front().field;
    return f.turn_deg % 180 == 0 ? Field{f.box.width(), f.box.height(), f.shape}
                                 : Field{f.box.height(), f.box.width(), f.shape};
  }
}

void Desk::addMark(int hooping, Mark mark) {
  const SettingKey key = keyOf(hooping);
  if (!key.plan.empty()) document_.add(MarkFound{key, nowUtc(), std::move(mark)});
}

void Desk::clearMarks(int hooping) {
  const SettingKey key = keyOf(hooping);
  if (!key.plan.empty() && (!record().marks(key).empty() || record().lastReading(key)))
    document_.add(MarksCleared{key, nowUtc()});
}

void Desk::overrule(const std::string& reason) {
  document_.add(Overruled{nowUtc(), "density", {}, layoutPrint(), reason});
  LedgerEntry e;
  e.event = "overrule";
  e.note = reason;
  note(std::move(e));
}

void Desk::overruleAlignment(int hooping, const std::string& reason) {
  document_.add(Overruled{nowUtc(), "alignment", keyOf(hooping), layoutPrint(), reason});
  LedgerEntry e;
  e.event = "overrule";
  e.hooping = hooping;
  e.note = "alignment: " + reason;
  note(std::move(e));
}

void Desk::overruleSewn(const std::string& reason) {
  document_.add(Overruled{nowUtc(), "sewn-already", clearance().of, layoutPrint(), reason});
  LedgerEntry e;
  e.event = "overrule";
  e.hooping = hooping();
  e.note = "sewn already: " + reason;
  note(std::move(e));
}

void Desk::replaceCloth() {
  document_.add(ClothReplaced{nowUtc()});
  LedgerEntry e;
  e.event = "cloth-replaced";
  note(std::move(e));
  setHooping(1);
}

/// The fit that a setting is sent by is kept by itself, once.
void Desk::noteFit(const Alignment& fit, int hooping) {
  LedgerEntry e = entryFor(fit, hooping);
  const std::vector<LedgerEntry> known = ledger_.entries(job().id);
  const auto last = std::find_if(known.begin(), known.end(), [&](const LedgerEntry& k) {
    return k.event == "align" && k.hooping == hooping;
  });
  const bool same = last != known.end() && last->status == e.status && last->dx_mm == e.dx_mm &&
                    last->dy_mm == e.dy_mm && last->rotation_deg == e.rotation_deg &&
                    last->worst_mm == e.worst_mm;
  if (!same) note(std::move(e));
}

void Desk::sendHooping(int hooping, int setting) {
  const Clearance clearance = clearanceOf(hooping, setting);
  if (const ClearanceLine* against = clearance.against(true))
    throw Error(inWords(*against, clearance), "hooping " + std::to_string(hooping),
                "what stands in the way is listed at Sew (7)");
  const Hooping* h = hoopingAt(hooping);
  const PlanSetting* s = settingAt(hooping, setting);
  const Alignment& a = *clearance.cloth.alignment;
  const Field field = fieldOf(*h);
  run_.send(
      {keyOf(hooping, setting), hooping, setting, job().id, job().title,
       inMachine(*h, static_cast<size_t>(setting - 1), a.fit, field),
       sewingTime_s(s->pattern, bench().shop.time, Needles::Many), h->hoop_id,
       intendedPlace(h->settings.front()) * intendedPlace(*s).inverse().value_or(Transform{})},
      field, bench().shop.time.stitches_per_minute);
  noteFit(a, hooping);
}

void Desk::sewOn() {
  run_.start(bench().shop.practice.resume_overlap_stitches);
}

size_t Desk::resumeRow() const {
  return run_.resumeRow(bench().shop.practice.resume_overlap_stitches);
}

void Desk::finishedAt(const SettingKey& key, bool whole, double taken_s) {
  if (run_.sent() && taken_s > 0)
    keepRun(run_.sent()->job_id, run_.sent()->hooping, run_.sent()->predicted_s, taken_s, whole);
  if (!moment_.shown || key.plan != moment_.shown->id || !run_.sent()) return;
  const int index = run_.sent()->hooping, setting = run_.sent()->setting;
  if (settingAt(index, setting + 1)) {
    setHooping(index, setting + 1);
    const bool moves = !(settingAt(index, setting)->field == settingAt(index, setting + 1)->field);
    emit said(
        moves ? tr("Setting %1 of hooping %2 is done. Bring the frame to its next setting; the "
                   "cloth stays clamped.")
                    .arg(setting)
                    .arg(index)
              : tr("Setting %1 of hooping %2 is done. One more run follows in the same clamping.")
                    .arg(setting)
                    .arg(index));
  } else if (hoopingAt(index + 1)) {
    setHooping(index + 1);
    emit said(tr("Hooping %1 is done. Hoop the cloth for hooping %2 and align it (6).")
                  .arg(index)
                  .arg(index + 1));
  } else {
    emit said(tr("The last hooping is done."));
  }
}

void Desk::setLedgerStore(const std::string& store) {
  if (!store.empty() && serverUrl(store).openWire())
    emit said(
        tr("Nothing says that the wire to %1 is encrypted: who sits on it can read along. Add "
           "?sslmode=require to the address, or verify-full with the server's certificate.")
            .arg(QString::fromStdString(serverUrl(store).host)));
  if (!store.empty()) {
    // made for its owner before the address is in it
    std::ofstream(state_ / kStoreFile, std::ios::app).close();
    onlyForOwner(state_ / kStoreFile);
  }
  writeFile(state_ / kStoreFile, store + "\n");
  const std::string chosen = chosenStore(state_);
  ledger_.moveTo(chosen, waitingPlace(state_, chosen));
}

const Piece* Desk::selectedPiece() const {
  for (const Piece& p : job().pieces)
    if (p.id == selected()) return &p;
  return nullptr;
}

void Desk::note(LedgerEntry entry) {
  entry.job_id = job().id;
  entry.job_title = job().title;
  ledger_.add(std::move(entry));
}

void Desk::settle() {
  while (studies_.busy() || scans_.busy() || seams_.busy() || !ledger_.loaded() ||
         !weighingCurrent()) {
    if (!studies_.busy() && !ledger_.trouble().isEmpty()) break;
    waitForEvents();
  }
  QCoreApplication::processEvents();
}

}  // namespace rt
