#include "desk.h"

#include <QCoreApplication>
#include <QEventLoop>
#include <QStandardPaths>

#include "alignment_words.h"
#include "error.h"
#include "file_io.h"
#include "hooping_place.h"
#include "length.h"
#include "printers.h"
#include "recent_jobs.h"
#include "server_url.h"

namespace rt {
namespace {

constexpr const char *kRecentJobs = "recent-jobs.txt", *kPrinters = "printers.ini",
                     *kLensFile = "lenses.ini";

std::filesystem::path madeFolder(const std::filesystem::path& folder) {
  std::error_code ignored;
  std::filesystem::create_directories(folder, ignored);
  return folder;
}

constexpr const char* kStoreFile = "ledger-store";

/// Where the shop's ledger is, as a person chose it; the own file where nobody did.
std::string chosenStore(const std::filesystem::path& state) {
  std::string store;
  try {
    store = readFile(state / kStoreFile);
  } catch (const Error&) {
    // nobody chose
  }
  while (!store.empty() && (store.back() == '\n' || store.back() == ' ')) store.pop_back();
  return store.empty() ? (state / "ledger.sqlite").string() : store;
}

/// Where entries wait while a server is away.
std::filesystem::path waitingPlace(const std::filesystem::path& state, const std::string& store) {
  return namesServer(store) ? state / "ledger-server" : std::filesystem::path(store);
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
      ledger_(chosenStore(state_), waitingPlace(state_, chosenStore(state_))),
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
  connect(&document_, &JobDocument::jobChanged, this, &Desk::refresh);
  connect(&document_, &JobDocument::taken, this, &Desk::tookAnother);
  connect(&document_, &JobDocument::happened, this, [this] {
    follow();
    emit recorded();
  });
  connect(&document_, &JobDocument::failed, this, &Desk::failed);
  connect(&shop_, &Shop::changed, this, &Desk::refresh);
  connect(&selection_, &Selection::changed, this, &Desk::selectionChanged);
  connect(&studies_, &Studies::layoutChanged, this, [this] {
    follow();
    emit changed();
  });
  connect(&studies_, &Studies::weighed, this, &Desk::weighed);
  connect(&studies_, &Studies::cured, this, &Desk::cured);
  connect(&studies_, &Studies::planned, this, &Desk::takePlan);
  connect(&studies_.plan(), &StudyBase::progressed, this, &Desk::planProgressed);
  connect(&studies_, &Studies::advised, this, &Desk::advised);
  connect(&studies_, &Studies::comparedTo, this, [this] {
    if (comparison_) comparison_->weighed = studies_.compared();
    emit compared();
  });
  connect(&ledger_, &LedgerKeeper::changed, this, [this] {
    shop_.setRuns(runsIn(ledger_.all()));
    emit ledgerChanged();
  });
  connect(&ledger_, &LedgerKeeper::told, this, &Desk::said);
  connect(&run_, &SewingRun::finished, this, &Desk::finishedAt);
  connect(&run_, &SewingRun::failed, this, &Desk::failed);
  connect(&scans_, &ScanTable::changed, this, [this] {
    measure();
    emit scanned();
  });
  connect(&scans_, &ScanTable::failed, this, &Desk::failed);
  connect(&camera_, &ClothCamera::changed, this, &Desk::scanned);
  scans_.useLenses([this](const std::string& camera) {
    const auto lens = knownLens(state_ / kLensFile, camera);
    return lens ? lens->prior() : LensPrior{};
  });
  connect(&scans_, &ScanTable::lensSeen, this,
          [this](const std::string& camera, double k1, double sigma) {
            learnLens(state_ / kLensFile, camera, k1, sigma);
          });
  connect(&seams_, &SeamCheck::changed, this, &Desk::scanned);
  connect(&seams_, &SeamCheck::failed, this, &Desk::failed);
  connect(&seams_, &SeamCheck::measured, this, &Desk::keepSeams);
}

void Desk::refresh() {
  Brief brief = job().brief;
  if (!shop_.knows(brief.fabric)) brief.fabric = shopFabric().id;  // a shop that has it no more
  fabric_ = clothOf(brief, bench());
  factors_ = limitFactorsOf(brief, bench());
  studies_.refresh(job(), fabric_, bench().shop.time);
  selection_.keepTo(job());
  if (comparison_ && !studies_.weighingCurrent()) endComparison();
  follow();
  emit changed();
}

/// The plan that goes with the layout as it is now, and the hooping in it.
void Desk::follow() {
  const Work& work = document_.work();
  const MadePlan* current = planFor(work, layoutPrint());
  planIsCurrent_ = current && !sequencing();
  shown_ = current ? current : work.plans.empty() ? nullptr : work.plans.back().get();
  hooping_ = !shown_ ? 0 : std::clamp(hooping_, 1, static_cast<int>(shown_->plan.hoopings.size()));
  setting_ = !settingAt(hooping_, 1) ? 0 : settingAt(hooping_, setting_) ? setting_ : 1;
  holdScans();
  measure();
}

/// Scans are of the hooping in hand, and are held against its marks and its frame.
void Desk::holdScans() {
  const Hooping* h = currentHooping();
  if (!h) return scans_.hold(std::nullopt);
  Hoop frame{h->hoop_id, h->hoop_id, fieldOf(*h)};
  for (const Hoop& known : bench().shop.hoops)
    if (known.id == h->hoop_id) frame = known;
  ScanTable::Held held;
  held.key = keyOf(h->index);
  for (const PlanSetting& s : h->settings) held.settings.push_back(rt::keyOf(*shown_, s));
  held.setup = scanSetup(*h, frame, shown_->settings.school, job().tolerance_mm, oneTag_);
  held.area = scanArea(frame);
  held.meant = intendedPlace(h->settings.front());
  for (const Mark& m : expectedMarks(*h)) held.names[std::to_string(tagOfMark(m.id))] = m.id;
  if (oneTag_) held.names = {{std::to_string(oneTag_->id), "tag " + std::to_string(oneTag_->id)}};
  scans_.hold(std::move(held));
}

std::optional<LearnedLens> Desk::lens() const {
  const ScanTaken* scan = scans_.shown();
  return scan ? knownLens(state_ / kLensFile, scan->scan.camera) : std::nullopt;
}

void Desk::forgetLens() {
  if (const ScanTaken* scan = scans_.shown()) rt::forgetLens(state_ / kLensFile, scan->scan.camera);
  emit scanned();
}

std::optional<double> Desk::photoError_mm(const std::vector<Point>& layout) const {
  const Hooping* h = currentHooping();
  const auto reading = scans_.reading();
  if (!h || !reading || !reading->flat || !alignment_) return std::nullopt;
  const Transform meant = intendedPlace(h->settings.front());
  double worst = 0;
  for (Point p : layout) worst = std::max(worst, alignment_->fit.error95_mm(meant(p)));
  return worst;
}

QVector<MachineFound> Desk::machinesFound() const {
  const QString set = qEnvironmentVariable("RAPT_THIMBLE_MACHINES");
  return machinesIn(set.isEmpty() ? QString::fromStdString((state_ / "machines").string()) : set);
}

bool Desk::seamsSewn() const {
  const HoopingPlan* made = planCurrent() ? plan() : nullptr;
  return made && std::any_of(made->seams.begin(), made->seams.end(), [&](const Seam& s) {
           return s.meets && (s.first == hooping_ || s.second == hooping_) &&
                  sewn(s.first, s.first_setting).done && sewn(s.second, s.second_setting).done;
         });
}

void Desk::checkSeams() {
  const ScanTaken* scan = scans_.shown();
  if (!planCurrent() || !scan || !scans_.held()) return;
  SeamQuestion q;
  q.scan = std::make_shared<const ScanTaken>(*scan);
  q.setup = scans_.held()->setup;
  q.plan = shown_->id;
  q.made = std::make_shared<const HoopingPlan>(shown_->plan);
  q.hooping = hooping_;
  for (const Hooping& h : shown_->plan.hoopings)
    for (const PlanSetting& s : h.settings)
      if (sewn(h.index, s.index).done) q.sewn.emplace_back(h.index, s.index);
  seams_.ask(std::move(q));
}

void Desk::keepSeams(const SeamQuestion& question, const SeamAnswer& answer) {
  if (!shown_ || shown_->id != question.plan) return;  // another job was taken meanwhile
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
  emit scanned();
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
  addSeen(hooping_, marks);
  emit scanned();
}

Transform Desk::hoopToLayout() const {
  const Hooping* h = currentHooping();
  if (!h) return {};
  const Transform back = intendedPlace(h->settings.front()).inverse().value_or(Transform{});
  if (nudge_) return back * nudge_->inverse().value_or(Transform{});
  const std::optional<Alignment>& a = alignment_;
  return a ? back * a->fit.toHoop.inverse().value_or(Transform{}) : back;
}

void Desk::tookAnother() {
  studies_.reset();
  comparison_.reset();
  selection_.clear();
  hooping_ = 0;
  refresh();
  emit selectionChanged();
  emit hoopingChanged();
  emit ledgerChanged();
}

void Desk::take(Job job, const std::filesystem::path& path) {
  Work work;
  work.job = std::move(job);
  document_.take(std::move(work), path);
}

void Desk::save(const std::filesystem::path& path) {
  document_.save(path);
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
  const bool broughtBack = document_.open(path);
  noteRecentJob(state_ / kRecentJobs, path);
  for (const auto& plan : document_.work().plans)
    for (const RowsSewn& fact : run_.journalOf(plan->id)) document_.addKept(fact);
  if (broughtBack)
    emit said(tr("Edits that were not saved have been brought back. Save to keep them."));
}

bool Desk::recover() {
  if (!document_.recover()) return false;
  for (const auto& plan : document_.work().plans)
    for (const RowsSewn& fact : run_.journalOf(plan->id)) document_.addKept(fact);
  emit said(tr("Edits that were not saved have been brought back. Save to keep them."));
  return true;
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
  note(entryFor(o));
}

void Desk::addRun(int hooping, double predicted_s, double taken_s) {
  keepRun(job().id, hooping, predicted_s, taken_s);
}

void Desk::keepRun(const std::string& job_id, int hooping, double predicted_s, double taken_s) {
  // predictions are compared with the model as it was shipped, so that learning does not chase
  // itself
  ledger_.add(entryFor(RunEntry{job_id, hooping, shop_.asShipped_s(predicted_s), taken_s}));
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
  emit viewChanged();
  emit changed();
}

void Desk::compareWith(Job other, const QString& now, const QString& name) {
  comparison_ = Comparison{other, now, name, nullptr};
  studies_.compare(std::move(other), fabric_);
  comparison_->weighed = studies_.compared();
  emit compared();
}

void Desk::endComparison() {
  if (!comparison_) return;
  comparison_.reset();
  studies_.endComparison();
  emit compared();
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
  if (planCurrent() && endedEarly(shown_->plan))
    studies_.plan().reset();  // asked again, it is sought to the end
  else if (studies_.plan().resultFor(input) && planCurrent())
    return setHooping(1);
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
  studies_.advice().ask({job(), shown_->id, std::make_shared<const HoopingPlan>(shown_->plan),
                         std::make_shared<const Bench>(bench())});
}

std::shared_ptr<const std::vector<PlanAdvice>> Desk::advice() const {
  const auto& study = studies_.advice();
  const auto& asked = study.lastInput();
  if (!shown_ || !asked || asked->plan != shown_->id || !(asked->job == job())) return nullptr;
  return study.last();
}

/// A plan is taken for the job that it was asked for, and only while that one is in hand.
void Desk::takePlan() {
  auto& study = studies_.plan();
  if (study.state() == StudyState::Failed) {
    emit failed(QString::fromUtf8(study.error()->what()));
  } else if (study.state() == StudyState::Ready && study.last() &&
             study.lastInput()->document == document_.number()) {
    auto made = std::make_shared<MadePlan>();
    made->id = newId();
    made->time = nowUtc();
    made->plan = *study.last();
    made->layout_print = printOf(*study.lastInput()->layout);
    made->settings = study.lastInput()->settings;
    document_.addPlan(made);
    setHooping(1);
    LedgerEntry e;
    e.event = "plan";
    e.worst_mm = made->plan.worst_seam_error_mm;
    e.note = std::to_string(made->plan.hoopings.size()) + " hoopings";
    note(std::move(e));
    emit changed();
  }
  emit planned();
}

void Desk::setHooping(int index, int setting) {
  const int most = plan() ? static_cast<int>(plan()->hoopings.size()) : 0;
  hooping_ = most == 0 ? 0 : std::clamp(index, 1, most);
  setting_ = hooping_ == 0 ? 0 : settingAt(hooping_, setting) ? setting : 1;
  nudge_.reset();
  holdScans();
  measure();
  emit hoopingChanged();
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

const Hooping* Desk::hoopingAt(int index) const {
  if (!plan() || index < 1 || index > static_cast<int>(plan()->hoopings.size())) return nullptr;
  return &plan()->hoopings[static_cast<size_t>(index - 1)];
}

SettingKey Desk::keyOf(int hooping, int setting) const {
  const PlanSetting* s = settingAt(hooping, setting);
  return s ? rt::keyOf(*shown_, *s) : SettingKey{};
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
  if (!key.plan.empty() && !record().marks(key).empty()) document_.add(MarksCleared{key, nowUtc()});
}

namespace {

bool named(const std::string& id, const std::vector<Mark>& marks) {
  return std::any_of(marks.begin(), marks.end(), [&](const Mark& m) { return m.id == id; });
}

}  // namespace

/// Marks that the scan in force should show and that nobody has found.
std::vector<LeftOut> Desk::unseen(const Hooping& hooping, const std::vector<Mark>& have) const {
  std::vector<LeftOut> out;
  const auto reading = hooping.index == hooping_ ? scans_.reading() : nullptr;
  const ScanTaken* scan = scans_.shown();
  if (!reading || !scan || oneTag_ || reading->photo.problem || scans_.old(*scan)) return out;
  const std::vector<Mark> expected = expectedMarks(hooping);
  for (const Mark& m : expected)
    if (!named(m.id, have)) out.push_back({m.id});
  // points that a person matched stand for themselves
  if (out.size() == expected.size()) out.clear();
  return out;
}

std::optional<Alignment> Desk::measured(int hooping) const {
  const Hooping* h = hoopingAt(hooping);
  if (!h) return std::nullopt;
  std::vector<Mark> marks = marksOf(hooping);
  if (marks.empty()) return std::nullopt;
  AlignmentSetup setup;
  setup.field = fieldOf(*h);
  setup.tolerance_mm = job().tolerance_mm;
  setup.limits = bench().shop.practice.shape;
  const Transform meant = intendedPlace(h->settings.front());
  for (Mark& m : marks) m.layout = meant(m.layout);
  try {
    Alignment a = align(marks, setup);
    holdMissing(a, unseen(*h, marks));
    if (std::all_of(marks.begin(), marks.end(),
                    [](const Mark& m) { return m.id.starts_with(kOneTag); }))
      holdSingle(a);
    holdInField(a, *h, setup.field);
    return a;
  } catch (const Error&) {
    return std::nullopt;
  }
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

void Desk::sendHooping(int hooping, int setting) {
  const Hooping* h = hoopingAt(hooping);
  const PlanSetting* s = settingAt(hooping, setting);
  if (!s || !planCurrent())
    throw Error("there is no current plan", "hooping " + std::to_string(hooping),
                "plan the hoopings first (4)");
  const std::optional<Alignment> a = alignmentOf(hooping);
  if (!a)
    throw Error("the cloth has not been aligned", "hooping " + std::to_string(hooping),
                "needle its marks at Align (6): it would be sewn where the cloth is not");
  if (a->status != Readiness::Ready && record().overruledAlignment(keyOf(hooping)).empty())
    throw Error("the alignment is not ready: " + headlineOf(*a),
                "hooping " + std::to_string(hooping),
                "follow the advice at Align (6), or overrule it there with a reason");
  const Field field = fieldOf(*h);
  run_.send(
      {keyOf(hooping, setting), hooping, setting, job().id, job().title,
       inMachine(*h, static_cast<size_t>(setting - 1), a->fit, field),
       sewingTime_s(s->pattern, bench().shop.time, Needles::Many), h->hoop_id,
       intendedPlace(h->settings.front()) * intendedPlace(*s).inverse().value_or(Transform{})},
      field, bench().shop.time.stitches_per_minute);
}

void Desk::sewOn() {
  run_.start(bench().shop.practice.resume_overlap_stitches);
}

size_t Desk::resumeRow() const {
  return run_.resumeRow(bench().shop.practice.resume_overlap_stitches);
}

void Desk::finishedAt(const SettingKey& key, bool whole, double taken_s) {
  if (whole && run_.sent() && taken_s > 0)
    keepRun(run_.sent()->job_id, run_.sent()->hooping, run_.sent()->predicted_s, taken_s);
  if (!shown_ || key.plan != shown_->id || !run_.sent()) return;
  const int index = run_.sent()->hooping, setting = run_.sent()->setting;
  if (settingAt(index, setting + 1)) {
    setHooping(index, setting + 1);
    emit said(tr("Setting %1 of hooping %2 is done. Bring the frame to its next setting; the cloth "
                 "stays clamped.")
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
  if (!store.empty()) serverUrl(store);
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
