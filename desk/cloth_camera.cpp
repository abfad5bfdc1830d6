#include "cloth_camera.h"

#include "ledger_entry.h"

namespace rt {
namespace {

QJsonArray tagsJson(const std::vector<TagPlace>& tags) {
  QJsonArray out;
  for (const TagPlace& t : tags) out.append(QJsonArray{t.id, t.at.x, t.at.y, t.angle_deg});
  return out;
}

}  // namespace

ClothCamera::ClothCamera(MachineLink& machine, ScanTable& scans, QObject* parent)
    : QObject(parent), machine_(machine), scans_(scans) {
  connect(&machine_, &MachineLink::phaseChanged, this, [this] {
    if (machine_.phase() == MachineLink::Phase::Away) {
      want_ = Want::Nothing;
      clamped_.reset();  // another machine has other cloth
      practised_.reset();
      emit changed();
    } else if (machine_.phase() == MachineLink::Phase::Idle) {
      goOn();
    }
  });
  connect(&machine_, &MachineLink::photographed, this, [this](const QByteArray& jpeg) {
    if (want_ != Want::Photo) return;
    want_ = Want::Nothing;
    scans_.take(jpeg.toStdString(), tr("camera"), QString::fromStdString(nowUtc()));
    emit changed();
  });
  connect(&machine_, &MachineLink::truthTold, this,
          [this](const Transform& lies, const QString& fault) {
            if (want_ != Want::Truth) return;
            want_ = Want::Nothing;
            truth_ = {lies, fault};
            toldOf_ = practised_;
            practised_.reset();
            emit changed();
            emit told();
          });
  connect(&machine_, &MachineLink::refused, this, [this](const QString& request) {
    // what else the machine refuses is no matter of the camera
    if (request != u"hoop" && request != u"photo" && request != u"truth") return;
    want_ = Want::Nothing;
    emit changed();
  });
}

void ClothCamera::shoot() {
  if (!scans_.held() || busy()) return;
  want_ = Want::Photo;
  goOn();
}

void ClothCamera::practise(int level, std::optional<quint32> seed) {
  if (!scans_.held() || busy()) return;
  level_ = level;
  seed_ = seed;
  clamped_.reset();
  toldOf_.reset();
  scans_.clampedAnew();  // what was found before lies otherwise now
  practised_ = scans_.held()->key;
  want_ = Want::Photo;
  goOn();
}

void ClothCamera::askTruth() {
  if (!practising() || busy()) return;
  want_ = Want::Truth;
  goOn();
}

bool ClothCamera::practising() const {
  return practised_ && scans_.held() && scans_.held()->key == *practised_;
}

std::optional<ClothCamera::Truth> ClothCamera::truth() const {
  return toldOf_ && scans_.held() && scans_.held()->key == *toldOf_ ? std::optional(truth_)
                                                                    : std::nullopt;
}

void ClothCamera::goOn() {
  emit changed();
  if (want_ == Want::Nothing || !scans_.held()) return;
  if (machine_.phase() == MachineLink::Phase::Away) return machine_.connectMachine();
  if (machine_.phase() == MachineLink::Phase::Connecting) return;
  if (want_ == Want::Truth) return machine_.askTruth();
  if (clamped_ != scans_.held()->key) {
    machine_.hoopCloth(practising() ? level_ : 0, scans_.held()->meant, seed_);
    seed_.reset();
    clamped_ = scans_.held()->key;
  }
  machine_.takePhoto(scene());
}

QJsonObject ClothCamera::scene() const {
  const PhotoSetup& s = scans_.held()->setup;
  QJsonArray crosses;
  for (const CrossPlace& c : s.crosses) crosses.append(QJsonArray{c.layout.x, c.layout.y});
  QJsonArray lines;
  for (const SewnLinePlace& l : s.lines)
    lines.append(QJsonArray{l.knot.x, l.knot.y, l.end.x, l.end.y});
  return {{"hoop_tags", tagsJson(s.hoop_tags)},
          {"hoop_tag_mm", s.hoop_tag_mm},
          {"tag_height_mm", s.tag_height_mm},
          {"cloth_tags", tagsJson(s.cloth_tags)},
          {"cloth_tag_mm", s.cloth_tag_mm},
          {"crosses", crosses},
          {"lines", lines},
          {"field_mm", QJsonArray{s.base.field.width_mm, s.base.field.height_mm}}};
}

}  // namespace rt
