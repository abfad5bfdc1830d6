#include "sewing_run.h"

#include "blocks.h"
#include "needles.h"

namespace rt {
namespace {

const char* wordOf(MachineEvent::Kind kind) {
  switch (kind) {
    case MachineEvent::Kind::BobbinEmpty:
      return "bobbin-empty";
    case MachineEvent::Kind::Fold:
      return "fold";
    default:
      return "break";
  }
}

/// How often the job went on on another cloth, and since when it is this one.
struct Cloth {
  int number = 0;
  std::string since;
};
Cloth clothOf(const Record& record) {
  Cloth out;
  for (const Happening& h : record.all())
    if (const auto* replaced = std::get_if<ClothReplaced>(&h)) {
      ++out.number;
      out.since = replaced->time;
    }
  return out;
}

}  // namespace

SewingRun::SewingRun(JobDocument& document, LedgerKeeper& ledger,
                     const std::filesystem::path& folder, QObject* parent)
    : QObject(parent),
      document_(document),
      ledger_(ledger),
      journal_(folder / "sewn"),
      link_(QString::fromStdString((folder / "sewn" / "machine-memory").string())) {
  connect(&link_, &MachineLink::happened, this, &SewingRun::take);
  connect(&link_, &MachineLink::phaseChanged, this, &SewingRun::phaseChanged);
  connect(&link_, &MachineLink::lost, this, [this] {
    if (run_.empty()) return;
    whole_ = false;
    keep("lost");
    note("lost", link_.stitch());
  });
  connect(&link_, &MachineLink::failed, this, &SewingRun::failed);
}

void SewingRun::send(Sent what, const Field& field, double stitches_per_minute) {
  sent_ = std::move(what);
  run_.clear();
  byHand_.reset();
  bobbinFrom_ = 0;
  begun_ = document_.work().record.sewn(sent_->key).begun;
  whole_ = !begun_;
  // the machine remembers how far it sewed by this name: another cloth is another design to it
  const int cloth = clothOf(document_.work().record).number;
  const std::string design = sent_->key.plan + "/" + sent_->key.setting +
                             (cloth > 0 ? "#" + std::to_string(cloth) : std::string());
  link_.load({QString::fromStdString(design), fileOf(*sent_), QString::fromStdString(sent_->frame),
              sent_->rows, field, stitches_per_minute, sent_->settingPlace});
}

QString SewingRun::fileOf(const Sent& sent) {
  return QStringLiteral("%1 %2-%3")
      .arg(QString::fromStdString(sent.job_id).left(8))
      .arg(sent.hooping)
      .arg(sent.setting);
}

size_t SewingRun::resumeRow(size_t overlap_stitches) const {
  if (!sent_) return 0;
  const std::vector<Stitch>& rows = sent_->rows.stitches;
  if (byHand_) return std::min(*byHand_, rows.size());
  size_t row = knownRow();
  if (row == rows.size()) return row;
  for (size_t back = 0; row > 0 && back < overlap_stitches; ++back) {
    if (rows[row - 1].op != Op::Stitch) break;
    --row;
  }
  // it goes on from the landing before the thread, so that no stitch is missing
  while (row > 0 && rows[row].op == Op::Stitch && rows[row - 1].op == Op::Jump) --row;
  return row;
}

std::vector<RowsSewn> SewingRun::journalOf(const std::string& plan) const {
  std::vector<RowsSewn> out = journal_.of(plan);
  const std::string since = clothOf(document_.work().record).since;
  std::erase_if(out, [&](const RowsSewn& fact) { return fact.time <= since; });
  return out;
}

size_t SewingRun::knownRow() const {
  if (!sent_) return 0;
  Record journal;
  for (RowsSewn& fact : journalOf(sent_->key.plan)) journal.add(std::move(fact));
  const size_t row = std::max({document_.work().record.sewn(sent_->key).row,
                               journal.sewn(sent_->key).row, link_.rememberedRow()});
  return std::min(row, sent_->rows.stitches.size());
}

void SewingRun::start(size_t overlap_stitches) {
  using Phase = MachineLink::Phase;
  if (link_.phase() == Phase::ColourWait || link_.phase() == Phase::Paused) return link_.goOn();
  if (!sent_) return;
  const bool before = begun_ || knownRow() > 0;
  from_ = resumeRow(overlap_stitches);
  run_ = newId();
  whole_ = whole_ && from_ == 0;
  if (byHand_) keepChoice();
  byHand_.reset();
  const int stitch = stitchesBefore(from_);
  note(before ? "resume" : "sew-start", stitch,
       from_ > 0 ? tr("from stitch %1").arg(stitch) : QString());
  begun_ = true;
  link_.sew(from_);
}

/// Where a person chose to go on, told when it is sewn by and not while it is looked for.
void SewingRun::keepChoice() {
  const size_t known = knownRow();
  const int here = stitchesBefore(known), there = stitchesBefore(*byHand_);
  if (*byHand_ > known) {
    from_ = known;
    keepAt(*byHand_, known > 0 ? "skipped" : "chosen");
    from_ = *byHand_;
    if (there > here)
      note("skipped", here, tr("stitches %1 to %2 passed by on purpose").arg(here).arg(there));
  } else if (*byHand_ < known) {
    note("back", there, tr("from stitch %1 to %2").arg(here).arg(there));
  }
}

int SewingRun::stitchesBefore(size_t row) const {
  if (!sent_) return 0;
  const auto& rows = sent_->rows.stitches;
  return static_cast<int>(countRows(std::span(rows).first(std::min(row, rows.size())), Op::Stitch));
}

void SewingRun::moveTo(size_t row) {
  if (!sent_ || link_.phase() == MachineLink::Phase::Sewing) return;
  byHand_ = std::min(row, sent_->rows.stitches.size());
  emit phaseChanged();
}

int SewingRun::needleFor(const QString& thread) const {
  if (!sent_) return 1;
  for (const NeedleStep& step : planNeedles(sent_->rows, link_.needles()).steps)
    if (sent_->rows.threads[static_cast<size_t>(step.thread)].hex() == thread.toStdString())
      return step.needle + 1;
  return 1;
}

std::vector<size_t> SewingRun::blockStarts() const {
  std::vector<size_t> out;
  if (!sent_) return out;
  for (const Block& b : blocksOf(sent_->rows)) out.push_back(b.first);
  return out;
}

/// Into the journal, and into the record if the job in hand is the one that is sewn.
void SewingRun::keep(const char* event, bool done) {
  keepAt(std::max(from_, link_.row()), event, done);
}

void SewingRun::keepAt(size_t row, const char* event, bool done) {
  const RowsSewn fact{sent_->key, nowUtc(), run_, from_, row, event, done};
  const bool kept = journal_.add(fact);
  if (!kept && !journalFails_)
    emit failed(
        tr("How far it sewed cannot be written down: the disk is full or may not be "
           "written. It sews on, and the job in hand remembers it: save it elsewhere."));
  journalFails_ = !kept;
  if (planById(document_.work(), sent_->key.plan)) document_.addKept(fact);
}

void SewingRun::note(const char* event, int stitch, const QString& words) {
  LedgerEntry e;
  e.event = event;
  e.job_id = sent_->job_id;
  e.job_title = sent_->job_title;
  e.hooping = sent_->hooping;
  e.stitch = stitch;
  e.note = words.toStdString();
  ledger_.add(std::move(e));
}

void SewingRun::take(const MachineEvent& event) {
  using What = MachineEvent::Kind;
  if (!sent_ || run_.empty()) return;
  switch (event.kind) {
    case What::Progress:
      keep("");
      return emit moved();
    case What::Colour:
      keep("colour");
      note("colour", event.stitch, event.thread);
      return emit colourAsked(event.thread);
    case What::Break:
    case What::BobbinEmpty:
    case What::Fold:
      whole_ = false;
      if (event.kind == What::BobbinEmpty) bobbinFrom_ = event.row;
      keep(wordOf(event.kind));
      note(wordOf(event.kind), event.stitch, event.thread);
      return emit broke(event.stitch);
    case What::BobbinMissed:
      // what was told as sewn since the start is not: the record goes back to there
      whole_ = false;
      keepAt(event.from_row, "bobbin-missed");
      note("bobbin-missed", event.stitch, event.thread);
      return emit broke(event.stitch);
    case What::Stop:
      return keep("stop");
    case What::Done:
      keep("done", true);
      note("done", event.stitch);
      const SettingKey key = sent_->key;
      run_.clear();
      emit finished(key, whole_, event.clock_s);
  }
}

}  // namespace rt
