#include "scan_table.h"

#include "ledger_entry.h"

namespace rt {
namespace {

constexpr size_t kLensTags = 4;

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
  ask();
  emit changed();
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
             intake_.lastInput()->number == arrivals_ && held_ && held_->key == forKey_) {
    Scan scan = *intake_.last();
    scan.id = newId();
    shown_ = unread_ = scan.id;
    hints_.clear();
    guides_.clear();
    ++arrivals_;  // taken once
    document_.add(ScanTaken{held_->key, nowUtc(), std::move(scan)});
    ask();
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

bool ScanTable::old(const ScanTaken& scan) const {
  return held_ && !scan.scan.shot.empty() &&
         scan.scan.shot < document_.work().record.clampedSince(held_->key, held_->settings);
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

/// Marks of a scan go into the record once, when it is read for the first time.
void ScanTable::takeReading() {
  if (read_.state() == StudyState::Failed) emit failed(QString::fromUtf8(read_.error()->what()));
  const ScanTaken* scan = shown();
  if (read_.state() == StudyState::Ready && scan && scan->scan.id == unread_ && reading()) {
    unread_.clear();
    const PhotoAlignment& found = reading()->photo.found;
    if (found.plane && found.plane_tags.size() >= kLensTags) {
      const LensPrior own = found.plane->lensByItself();
      emit lensSeen(scan->scan.camera, own.k1, own.sigma);
    }
    if (old(*scan)) {
      emit failed(
          tr("This photo is older than the clamping of the cloth: it is shown, not "
             "measured. Take another."));
    } else if (!reading()->photo.problem) {
      const Transform back = held_->meant.inverse().value_or(Transform{});
      const std::string read = newId();
      int kept = 0;
      // several: the record tells all of them at once
      std::vector<Mark> marks;
      for (const PhotoMark& m : reading()->photo.found.marks) marks.push_back(m.mark);
      if (!reading()->photo.found.corners.empty()) marks.clear();
      for (const Mark& corner : reading()->photo.found.corners)
        marks.push_back(corner), marks.back().id = kOneTag + corner.id;
      for (Mark m : marks) {
        if (const auto name = held_->names.find(m.id); name != held_->names.end())
          m.id = name->second;
        m.layout = back(m.layout);
        m.shared_by = read;
        document_.add(MarkFound{held_->key, nowUtc(), std::move(m), read});
        ++kept;
      }
      emit marked(kept);
    }
  }
  emit changed();
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
