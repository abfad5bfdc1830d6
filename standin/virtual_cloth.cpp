#include "virtual_cloth.h"

#include <QJsonArray>
#include <QString>
#include <cmath>

namespace standin {
namespace {

constexpr int kMostMarks = 40;
constexpr double kMovingWidth_mm = 320, kMovingHeight_mm = 220;  // held there, when it moves
constexpr double kOpening_mm = 9;                                // of the frame around its field
constexpr size_t kMostSewn = 400'000;                            // stitches that a photo shows

double within(double v, double from, double to) {
  return std::isfinite(v) ? std::clamp(v, from, to) : from;
}

std::vector<rt::TagPlace> tagsIn(const QJsonValue& list) {
  std::vector<rt::TagPlace> out;
  for (const QJsonValue& v : list.toArray()) {
    const QJsonArray t = v.toArray();
    const int id = t[0].toInt(-1);
    if (t.size() < 3 || id < 0 || id > 586 || out.size() >= kMostMarks) continue;
    out.push_back({id,
                   {within(t[1].toDouble(), -2000, 2000), within(t[2].toDouble(), -2000, 2000)},
                   within(t[3].toDouble(), -360, 360)});
  }
  return out;
}

}  // namespace

void VirtualCloth::hoop(Level level, uint32_t seed, const rt::Transform& meant) {
  settle();
  for (Stitch& s : sewn_) s.hole = s.before = kNone;  // they stay as they lie
  moving_.reset();
  hole_ = kNone;
  if (make_) moving_.emplace(kMovingWidth_mm, kMovingHeight_mm, *make_, seed_ ^ seed);
  random_.seed(seed);
  level_ = level;
  last_.reset();
  const auto any = [&](double from, double to) {
    return std::uniform_real_distribution<double>(from, to)(random_);
  };
  const auto either = [&](double least, double most) {
    const double v = any(least, most);
    return any(0, 1) < 0.5 ? -v : v;
  };
  const bool more = level != Level::Even;
  const double turn = more ? either(1.5, 4) : either(0.1, 1.2);
  const rt::Point off{more ? either(1, 5) : either(0.1, 1.5),
                      more ? either(1, 5) : either(0.1, 1.5)};
  rt::Transform shape;
  fault_.clear();
  const bool mean = level == Level::Mean;
  const int what = mean ? static_cast<int>(any(0, 3.999)) : -1;
  if (level == Level::Stretched || what == 0) {
    if (any(0, 1) < 0.5) {
      shape.xx = 1 + any(0.006, 0.02);
      fault_ = QStringLiteral("stretched");
    } else {
      shape.xy = std::tan(rt::radians(either(0.5, 1.2)));
      fault_ = QStringLiteral("out of square");
    }
  } else if (level == Level::Wrong || what == 1) {
    fault_ = any(0, 1) < 0.6 ? QStringLiteral("wrong mark") : QStringLiteral("mark missing");
  } else if (what == 2) {
    fault_ = QStringLiteral("foreign tag");
  }
  lies_ = rt::Transform::moving(off) * rt::Transform::turning(turn) * shape;
  meant_ = meant;
  field_ = {};
  hooped_ = true;
}

void VirtualCloth::needle(const Row& row) {
  const rt::Point field = field_({row.x_mm, row.y_mm}), at = onCloth()(field);
  if (row.op != u"stitch") {
    if (row.op == u"trim") lift();
    if (row.op == u"jump") {
      lift();
      last_ = at;
    }
    return;
  }
  const uint rgb = row.thread.mid(1).toUInt(nullptr, 16);
  const Stitch stitch{last_.value_or(at),
                      at,
                      {static_cast<uint8_t>(rgb & 255), static_cast<uint8_t>(rgb >> 8 & 255),
                       static_cast<uint8_t>(rgb >> 16 & 255)}};
  if (moving_)
    layMoving(field, stitch);
  else if (last_ && sewn_.size() < kMostSewn)
    sewn_.push_back(stitch);
  last_ = at;
}

void VirtualCloth::lift() {
  last_.reset();
  hole_ = kNone;
  if (moving_) moving_->cut();
}

/// From the field to the layout, as the cloth lies.
rt::Transform VirtualCloth::onCloth() const {
  return (lies_ * meant_).inverse().value_or(rt::Transform{});
}

void VirtualCloth::layMoving(rt::Point field, Stitch stitch) {
  // a landing is a place where thread begins: it has a hole of its own
  if (last_ && hole_ == kNone) hole_ = moving_->needle((lies_ * meant_)(*last_));
  stitch.before = hole_;
  stitch.hole = hole_ = moving_->needle(field);
  if (stitch.before != kNone && sewn_.size() < kMostSewn) sewn_.push_back(stitch);
}

/// Stitches of this clamping to where the cloth has brought them.
void VirtualCloth::settle() {
  if (!moving_) return;
  moving_->settle();
  const rt::Transform back = onCloth();
  for (Stitch& s : sewn_) {
    if (s.hole == kNone) continue;
    s.from = back(moving_->lies(s.before));
    s.to = back(moving_->lies(s.hole));
  }
}

/// Where a mark of the cloth is now, in the frame of what was meant.
rt::Point VirtualCloth::whereNow(rt::Point mark) const {
  return moving_ ? lies_.inverse().value_or(rt::Transform{})(moving_->cloth(lies_(mark))) : mark;
}

void VirtualCloth::letMove(const std::string& fabric, uint32_t seed) {
  make_ = rt::clothMake(fabric, seed);
  seed_ = seed;
}

/// Alignment lines as they were sewn, [knot x, knot y, end x, end y] each; a fault has them a
/// little off or not there.
std::vector<rt::LaidThread> VirtualCloth::sewnLinesOf(const QJsonValue& asked) const {
  std::vector<rt::LaidThread> out;
  int number = 0;
  for (const QJsonValue& v : asked.toArray()) {
    const QJsonArray l = v.toArray();
    if (number >= kMostMarks) break;
    const bool first = number++ == 0;
    if (first && fault_ == u"mark missing") continue;
    const rt::Point by = first && fault_ == u"wrong mark" ? rt::Point{2.5, -1.5} : rt::Point{};
    rt::Point p[2];
    for (int i = 0; i < 2; ++i)
      p[i] = by + rt::Point{within(l[2 * i].toDouble(), -2000, 2000),
                            within(l[2 * i + 1].toDouble(), -2000, 2000)};
    const std::vector<rt::LaidThread> thread = rt::sewnLine(p[0], p[1]);
    out.insert(out.end(), thread.begin(), thread.end());
  }
  return out;
}

rt::Scene VirtualCloth::sceneOf(const QJsonObject& request) const {
  rt::Scene s;
  s.lies = lies_;
  s.hoop_tags = tagsIn(request["hoop_tags"]);
  s.hoop_tag_mm = within(request["hoop_tag_mm"].toDouble(12), 3, 100);
  s.tag_height_mm = within(request["tag_height_mm"].toDouble(0), -20, 20);
  s.cloth_tags = tagsIn(request["cloth_tags"]);
  s.cloth_tag_mm = within(request["cloth_tag_mm"].toDouble(15), 3, 100);
  for (const QJsonValue& v : request["crosses"].toArray())
    if (s.crosses.size() < kMostMarks)
      s.crosses.push_back({within(v.toArray()[0].toDouble(), -2000, 2000),
                           within(v.toArray()[1].toDouble(), -2000, 2000)});
  for (rt::Point& c : s.crosses) c = whereNow(c);
  for (rt::TagPlace& t : s.cloth_tags) t.at = whereNow(t.at);
  const std::vector<rt::LaidThread> lines = sewnLinesOf(request["lines"]);
  const QJsonArray field = request["field_mm"].toArray();
  const double width = within(field[0].toDouble(200), 20, 2000),
               height = within(field[1].toDouble(140), 20, 2000);
  s.frame = rt::Box::around({0, 0}, width, height).grown(kOpening_mm);
  if (fault_ == u"wrong mark") {
    if (!s.crosses.empty())
      s.crosses.front() = s.crosses.front() + rt::Point{2.5, -1.5};
    else if (!s.cloth_tags.empty())
      s.cloth_tags.front().at = s.cloth_tags.front().at + rt::Point{2.5, -1.5};
  } else if (fault_ == u"mark missing") {
    if (!s.crosses.empty())
      s.crosses.pop_back();
    else if (!s.cloth_tags.empty())
      s.cloth_tags.pop_back();
  } else if (fault_ == u"foreign tag") {
    s.cloth_tags.push_back({486, {width / 5, height / 4}, 20});
  }
  for (const rt::LaidThread& t : lines)
    s.threads.push_back({lies_(t.from), lies_(t.to), {80, 60, 50}});
  const rt::Transform onFrame = lies_ * meant_;
  for (const Stitch& t : sewn_)
    s.threads.push_back({onFrame(t.from), onFrame(t.to), {t.bgr[0], t.bgr[1], t.bgr[2]}});
  return s;
}

/// Held by a hand: over the middle, near enough for the frame's tags to fill the picture.
rt::Camera VirtualCloth::cameraFor(const rt::Scene& scene, int width) {
  const auto any = [&](double from, double to) {
    return std::uniform_real_distribution<double>(from, to)(random_);
  };
  rt::Camera c;
  c.width = width;
  c.height = width * 3 / 4;
  rt::Box all = scene.frame;
  for (const rt::TagPlace& t : scene.hoop_tags) all.add(t.at);
  const double need = std::max((std::max(-all.left, all.right) * 2 + 50) / 0.8,
                               (std::max(-all.top, all.bottom) * 2 + 50) / 0.6);
  c.distance_mm = need * c.focal / 2 * 1.04;  // half the diagonal is 1: the sides are 0.8 and 0.6
  const bool mean = level_ == Level::Mean;
  c.tilt_deg = any(0, mean ? 20 : 10);
  c.tilt_way_deg = any(0, 360);
  c.turn_deg = any(-8, 8);
  c.k1 = any(-0.015, 0.015);
  c.noise = mean ? 5 : 2;
  c.blur_px = mean ? 0.9 : 0.4;
  c.distance_mm *= 1 + 0.012 * c.tilt_deg;
  return c;
}

QJsonObject VirtualCloth::photo(const QJsonObject& request) {
  if (!hooped_) return {{"ok", false}, {"error", "no cloth is in the frame: hoop it first"}};
  settle();
  rt::Scene scene = sceneOf(request);
  if (level_ == Level::Mean) scene.shadow = 0.3;
  const int width = std::clamp(request["width_px"].toInt(1600), 320, 4000);
  const rt::Photo photo = rt::takePhoto(scene, cameraFor(scene, width), random_);
  const std::string bytes = photo.jpeg(93);
  return {{"ok", true}, {"jpeg", QString::fromLatin1(QByteArray::fromStdString(bytes).toBase64())}};
}

QJsonObject VirtualCloth::truth() const {
  if (!hooped_) return {{"ok", false}, {"error", "no cloth is in the frame: hoop it first"}};
  return {{"ok", true},
          {"lies", QJsonArray{lies_.xx, lies_.xy, lies_.yx, lies_.yy, lies_.dx, lies_.dy}},
          {"fault", fault_}};
}

}  // namespace standin
