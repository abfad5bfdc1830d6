#include "scan_table.h"

#include "ledger_entry.h"

namespace rt {
namespace {

constexpr size_t kLensTags = 4;

/// Marks that a photo should show and does not. Of a tag that is the only mark nothing is missing.
std::vector<std::string> missingIn(const ScanTable::Held& held, const PhotoReading& photo) {
  std::vector<std::string> out;
  if (!photo.found.corners.empty()) return out;
  const auto seen = [&](const std::string& id) {
    return std::any_of(photo.found.marks.begin(), photo.found.marks.end(),
                       [&](const PhotoMark& m) { return m.mark.id == id; });
  };
  const auto named = [&](const std::string& id) {
    const auto name = held.names.find(id);
    return name == held.names.end() ? id : name->second;
  };
  for (const CrossPlace& c : held.setup.crosses)
    if (!seen(c.name)) out.push_back(named(c.name));
  for (const SewnLinePlace& l : held.setup.lines)
    for (const std::string& end : {l.knot_name, l.end_name})
      if (!seen(end)) out.push_back(named(end));
  for (const TagPlace& t : held.setup.cloth_tags)
    if (!seen(std::to_string(t.id))) out.push_back(named(std::to_string(t.id)));
  return out;
}

}  // namespace

ScanTable::ScanTable(JobDocument& document, QObject* parent)
    : QObject(parent),
      document_(document),
      intake_([](const Arrived& a, const Watch& watch) {
        watched(watch, 0, "taking the photo in");
        return scanFrom(a.bytes, a.name, a.file_time);
      }),
      read_([](const ScanQuestion& q, const Watch& watch) { return readScan(q, watch); }) {
  connect(&intake_, &StudyBase::changed, this, &ScanTable::takeIn);
  connect(&read_, &StudyBase::changed, this, &ScanTable::takeReading);
}

void ScanTable::hold(std::optional<Held> held) {
  if (held == held_) return ask();
  if (!held || !held_ || !(held->key == held_->key)) {
    hints_.clear();
    guides_.clear();
    shown_.clear();
    unread_.clear();
  }
  held_ = std::move(held);
  findUnread();
  ask();
  emit changed();
}

/// A scan that nobody has read (the program ended, or another hooping was gone to, before it was)
/// is read when its hooping is in hand again.
void ScanTable::findUnread() {
  const ScanTaken* last = shown();
  if (!last || !unread_.empty() || old(*last)) return;
  const auto& all = document_.work().record.all();
  const bool read = std::any_of(all.begin(), all.end(), [&](const Happening& h) {
    const auto* r = std::get_if<ScanRead>(&h);
    const auto* m = std::get_if<MarkFound>(&h);
    // files of earlier programs kept the marks alone
    return (r && r->scan == last->scan.id) ||
           (m && m->of == last->of && !m->reading.empty() && m->time >= last->time);
  });
  if (!read) unread_ = last->scan.id;
}

void ScanTable::clampedAnew() {
  if (held_) document_.add(MarksCleared{held_->key, nowUtc()});
}

void ScanTable::take(std::string bytes, const QString& name, const QString& file_time) {
  if (!held_) return emit failed(tr("Plan the hoopings first (4): a scan belongs to one."));
  forKey_ = held_->key;
  intake_.ask({std::move(bytes), name.toStdString(), file_time.toStdString(), ++arrivals_});
  emit changed();
}

void ScanTable::takeIn() {
  if (intake_.state() == StudyState::Failed) {
    emit failed(QString::fromUtf8(intake_.error()->what()));
  } else if (intake_.state() == StudyState::Ready && intake_.last() &&
             intake_.lastInput()->number == arrivals_) {
    Scan scan = *intake_.last();
    scan.id = newId();
    ++arrivals_;  // taken once
    const bool here = held_ && held_->key == forKey_;
    if (here) {
      shown_ = unread_ = scan.id;
      hints_.clear();
      guides_.clear();
    }
    // it belongs to the hooping that it was taken of, whichever is in hand by now
    document_.add(ScanTaken{forKey_, nowUtc(), std::move(scan)});
    if (here) ask();
  }
  emit changed();
}

std::vector<const ScanTaken*> ScanTable::scans() const {
  return held_ ? document_.work().record.scans(held_->key) : std::vector<const ScanTaken*>{};
}

const ScanTaken* ScanTable::shown() const {
  const auto all = scans();
  for (const ScanTaken* s : all)
    if (s->scan.id == shown_) return s;
  return all.empty() ? nullptr : all.back();
}

bool ScanTable::old(const Held& held, const Scan& scan) const {
  return !scan.shot.empty() &&
         scan.shot < document_.work().record.clampedSince(held.key, held.settings);
}

PhotoSetup ScanTable::setup() const {
  PhotoSetup out = held_->setup;
  out.guides = guides_;
  const auto reading = read_.last();
  for (CrossPlace& c : out.crosses)
    if (const auto hint = hints_.find(c.name); hint != hints_.end() && reading)
      c.at_px = reading->toPhoto(hint->second);
  for (SewnLinePlace& l : out.lines) {
    const auto knot = hints_.find(l.knot_name), end = hints_.find(l.end_name);
    if (knot == hints_.end() || end == hints_.end() || !reading) continue;
    l.knot_px = reading->toPhoto(knot->second);
    l.end_px = reading->toPhoto(end->second);
  }
  return out;
}

void ScanTable::ask() {
  const ScanTaken* scan = shown();
  if (!scan) return;
  PhotoSetup asked = setup();
  // a reading that stands is not made anew by what it taught itself
  const bool same = read_.lastInput() && read_.lastInput()->scan->scan.id == scan->scan.id;
  if (same)
    asked.lens = read_.lastInput()->setup.lens;
  else if (lenses_)
    asked.lens = lenses_(scan->scan.camera);
  read_.ask({std::make_shared<const ScanTaken>(*scan), std::move(asked), held_->area});
}

std::shared_ptr<const ScanReading> ScanTable::reading() const {
  const ScanTaken* scan = shown();
  return scan && read_.lastInput() && read_.lastInput()->scan->scan.id == scan->scan.id
             ? read_.last()
             : nullptr;
}

/// What a scan says of the cloth goes into the record once, when it is read for the first time.
void ScanTable::takeReading() {
  if (read_.state() == StudyState::Failed) emit failed(QString::fromUtf8(read_.error()->what()));
  const ScanTaken* scan = shown();
  const bool failed_here = read_.state() == StudyState::Failed && scan && read_.asked() &&
                           read_.asked()->scan->scan.id == scan->scan.id;
  if (scan && scan->scan.id == unread_ && failed_here) {
    unread_.clear();
    document_.add(
        ScanRead{held_->key, nowUtc(), scan->scan.id, newId(), read_.error()->problem(), {}});
  }
  if (read_.state() == StudyState::Ready && scan && scan->scan.id == unread_ && reading()) {
    unread_.clear();
    const Held held = *held_;  // what is kept may bring another hooping in hand
    const Scan of = scan->scan;
    const auto read = reading();
    const std::string why = keepReading(held, of, *read);
    if (!why.empty() && old(held, of)) emit failed(QString::fromStdString(why));
  }
  emit changed();
}

std::string ScanTable::keep(const Held& held, Scan scan, const ScanReading& reading) {
  scan.id = newId();
  const bool here = held_ && held_->key == held.key;
  if (here) {
    shown_ = scan.id;
    unread_.clear();
    hints_.clear();
    guides_.clear();
  }
  document_.add(ScanTaken{held.key, nowUtc(), scan});
  const std::string why = keepReading(held, scan, reading);
  if (here) ask();
  emit changed();
  return why;
}

/// What a scan says of the cloth goes into the record. Why it says nothing; empty: it does.
std::string ScanTable::keepReading(const Held& held, const Scan& scan, const ScanReading& reading) {
  const PhotoReading& photo = reading.photo;
  if (photo.found.plane && photo.found.plane_tags.size() >= kLensTags) {
    const LensPrior own = photo.found.plane->lensByItself();
    emit lensSeen(scan.camera, own.k1, own.sigma);
  }
  if (old(held, scan))
    return tr("This photo is older than the clamping of the cloth: it is shown, not "
              "measured. Take another.")
        .toStdString();
  const std::string read = newId();
  document_.add(ScanRead{held.key, nowUtc(), scan.id, read,
                         photo.problem ? photo.problem->problem() : std::string(),
                         missingIn(held, photo)});
  if (photo.problem) return photo.problem->what();
  keepMarks(held, read, photo);
  return {};
}

void ScanTable::keepMarks(const Held& held, const std::string& read, const PhotoReading& photo) {
  const PhotoAlignment& found = photo.found;
  const Transform back = held.meant.inverse().value_or(Transform{});
  // several: the record tells all of them at once
  std::vector<Mark> marks;
  for (const PhotoMark& m : found.marks) marks.push_back(m.mark);
  if (!found.corners.empty()) marks.clear();
  for (const Mark& corner : found.corners) {
    marks.push_back(corner);
    marks.back().id = kOneTag + corner.id;
  }
  const int kept = static_cast<int>(marks.size());
  for (Mark m : marks) {
    if (const auto name = held.names.find(m.id); name != held.names.end()) m.id = name->second;
    m.layout = back(m.layout);
    m.shared_by = read;
    document_.add(MarkFound{held.key, nowUtc(), std::move(m), read});
  }
  emit marked(kept);
}

void ScanTable::choose(std::string scan) {
  shown_ = std::move(scan);
  hints_.clear();
  guides_.clear();
  ask();
  emit changed();
}

void ScanTable::readAgain() {
  if (!shown()) return;
  unread_ = shown()->scan.id;
  if (read_.state() == StudyState::Ready && reading()) return takeReading();
  ask();
}

void ScanTable::drop(std::string scan) {
  if (!held_) return;
  document_.add(ScanDropped{held_->key, nowUtc(), scan});
  if (shown_ == scan) shown_.clear();
  ask();
  emit changed();
}

void ScanTable::pointAt(const std::string& mark, Point hoop) {
  if (!shown()) return;
  hints_[mark] = hoop;
  unread_ = shown()->scan.id;
  ask();
  emit changed();
}

void ScanTable::pointAtGuide(Point frame, Point picture) {
  const auto now = reading();
  if (!now) return;
  guides_.push_back({frame, now->toPhoto(picture)});
  if (guides_.size() >= 4) {
    unread_ = shown()->scan.id;
    ask();
  }
  emit changed();
}

void ScanTable::forgetGuides() {
  guides_.clear();
  ask();
  emit changed();
}

void ScanTable::stop() {
  intake_.stop();
  read_.stop();
  emit changed();
}

}  // namespace rt
