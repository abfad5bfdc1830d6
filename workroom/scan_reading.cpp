#include "scan_reading.h"

#include <algorithm>
#include <charconv>
#include <chrono>
#include <ctime>

#include "edge_trace.h"
#include "error.h"
#include "exif.h"
#include "hooping_place.h"
#include "job_limits.h"
#include "length.h"

namespace rt {
namespace {

constexpr int kOwnTags = 100;         // marks that are no shared ones of the plan
constexpr double kRoom_mm = 30;       // of the frame around its field
constexpr double kMostPicture = 2e6;  // pixels of a flattened picture
constexpr double kFinest_mm = 0.1;
constexpr size_t kKept = 4u << 20;   // bytes of a scan that are kept as they came
constexpr double kEdgeReach_mm = 3;  // a hand draws no better
constexpr double kBand_mm = 4;       // of a seam or an edge that is no ring
constexpr double kClosed = 0.15;     // of its size: a stroke that ends so near is a ring
constexpr int kQualities[] = {88, 75, 60,
                              45};  // of what is packed again, the best that may be kept

std::span<const uint8_t> bytesOf(const std::string& text) {
  return {reinterpret_cast<const uint8_t*>(text.data()), text.size()};
}

/// Local time of a camera with its offset as UTC, ISO 8601. Without an offset the clock of this
/// computer's place is taken for the camera's.
std::string utcOf(const PhotoNotes& notes) {
  std::tm tm{};
  int year = 0;
  if (std::sscanf(notes.taken.c_str(), "%4d-%2d-%2dT%2d:%2d:%2d", &year, &tm.tm_mon, &tm.tm_mday,
                  &tm.tm_hour, &tm.tm_min, &tm.tm_sec) != 6 ||
      year < 1970)
    return {};
  tm.tm_year = year - 1900;
  tm.tm_mon -= 1;
  tm.tm_isdst = -1;
  int hours = 0, minutes = 0;
  char sign = 0;
  std::time_t time = 0;
  if (std::sscanf(notes.offset.c_str(), "%c%2d:%2d", &sign, &hours, &minutes) == 3)
    time = timegm(&tm) - (sign == '-' ? -1 : 1) * (hours * 3600 + minutes * 60);
  else
    time = std::mktime(&tm);
  std::tm utc{};
  gmtime_r(&time, &utc);
  char text[40];
  std::strftime(text, sizeof text, "%Y-%m-%dT%H:%M:%SZ", &utc);
  return text;
}

/// As JPEG, no larger than a job may hold.
std::string packed(const Photo& photo, const std::string& name) {
  for (int quality : kQualities) {
    std::string bytes = photo.jpeg(quality);
    if (bytes.size() <= job_limits::kMostScanBytes) return bytes;
  }
  throw Error("the photo is too large to be kept with the job", name,
              "take one of fewer pixels: 12 megapixels show all that is measured");
}

/// A zoom lens bends otherwise at each length.
std::string cameraOf(const PhotoNotes& notes) {
  if (notes.camera.empty() || notes.focal_mm <= 0) return notes.camera;
  return notes.camera + ", " + formatNumber(notes.focal_mm, 1) + " mm";
}

}  // namespace

int tagOfMark(const std::string& mark_id) {
  const size_t m = mark_id.find("(M");
  int number = 0;
  if (m != std::string::npos &&
      std::from_chars(mark_id.data() + m + 2, mark_id.data() + mark_id.size(), number).ec ==
          std::errc())
    return number;
  return kOwnTags + (mark_id.empty() ? 0 : mark_id[0] - 'A');
}

Point anchorOf(const Box& b, int anchor) {
  const int column = anchor % 3, row = anchor / 3;
  return {b.left + b.width() * column / 2, b.top + b.height() * row / 2};
}

PhotoSetup frameSetup(const Hoop& frame) {
  PhotoSetup out;
  out.base.field = frame.field;
  out.hoop_tags = frame.tags;
  out.hoop_tag_mm = frame.tag_size_mm;
  out.tag_height_mm = frame.tag_height_mm;
  return out;
}

PhotoSetup scanSetup(const Hooping& hooping, const Hoop& frame, MarkSchool school,
                     double tolerance_mm, const std::optional<OneTag>& one_tag) {
  PhotoSetup out = frameSetup(frame);
  out.base.tolerance_mm = tolerance_mm;
  if (!frame.settings.empty() || frame.rail) {
    // tags lie in the frame's own frame, the needle and the photo in the first setting's field
    const PlanSetting& first = hooping.settings.front();
    const Transform toFrame =
        Transform::turning(-hooping.turn_deg) * Transform::moving(Point{} - hooping.origin);
    const Transform toField = intendedPlace(first) * toFrame.inverse().value_or(Transform{});
    const double across = degrees(std::atan2(toField.yx, toField.xx));
    for (TagPlace& t : out.hoop_tags) t = {t.id, toField(t.at), t.angle_deg + across};
  }
  const Transform meant = intendedPlace(hooping.settings.front());
  const double turned = degrees(std::atan2(meant.yx, meant.xx));
  if (one_tag) {
    out.cloth_tags.push_back({one_tag->id, meant(one_tag->layout), one_tag->angle_deg + turned});
    return out;
  }
  const std::vector<Mark> expected = expectedMarks(hooping);
  for (size_t i = 0; i < expected.size(); ++i) {
    const Mark& m = expected[i];
    // two marks that follow one another are the ends of one line; an odd one is a cross of its own
    if (school == MarkSchool::SewnLine && i + 1 < expected.size() &&
        distance(m.hoop, expected[i + 1].hoop) >= HoopingRule{}.marks_apart_mm) {
      const Mark& end = expected[++i];
      out.lines.push_back({m.id, end.id, m.hoop, end.hoop, {}, {}});
      continue;
    }
    if (school == MarkSchool::Tags)
      out.cloth_tags.push_back({tagOfMark(m.id), m.hoop, turned});
    else
      out.crosses.push_back({m.id, m.hoop, {}});
  }
  return out;
}

Box scanArea(const Hoop& frame) {
  return Box::around({0, 0}, frame.field.width_mm, frame.field.height_mm).grown(kRoom_mm);
}

Point ScanReading::toPhoto(Point at) const {
  if (flat && photo.found.plane) return photo.found.plane->toPhoto(at);
  return (at - Point{picture.plane.left, picture.plane.top}) * px_per_mm;
}

ScanReading readScan(const ScanQuestion& question, const Watch& watch) {
  watched(watch, 0, "reading the scan");
  ScanReading out;
  const Scan& scan = question.scan->scan;
  const Photo photo = Photo::fromBytes(bytesOf(*scan.bytes), scan.name);
  watched(watch, 0.3, "looking for tags");
  out.photo = readPhoto(photo, question.setup);
  watched(watch, 0.8, "laying it flat");
  const Box& area = question.area;
  const auto stepFor = [](const Box& box) {
    return std::max(kFinest_mm, std::sqrt(box.width() * box.height() / kMostPicture));
  };
  if (out.photo.found.plane) {
    const Plane& plane = *out.photo.found.plane;
    out.flat = true;
    out.picture = photo.flattened(area, stepFor(area), [&](Point p) { return plane.toPhoto(p); });
    return out;
  }
  // as it is, as large as the frame, so that a person can point at things in it
  const double scale = std::min(area.width() / photo.width(), area.height() / photo.height());
  const Box shown = Box::around({0, 0}, photo.width() * scale, photo.height() * scale);
  out.px_per_mm = 1 / scale;
  out.picture = photo.flattened(shown, stepFor(shown), [&](Point p) {
    return (p - Point{shown.left, shown.top}) * out.px_per_mm;
  });
  return out;
}

std::vector<Point> tracedEdge(const ScanReading* reading, const Transform& hoopToLayout,
                              const std::vector<Point>& stroke) {
  const auto back = hoopToLayout.inverse();
  if (!reading || !reading->flat || !back) return stroke;
  std::vector<Point> rough;
  for (Point p : stroke) rough.push_back((*back)(p));
  std::vector<Point> edge = edgeAlong(reading->picture, rough, kEdgeReach_mm);
  if (edge.empty()) return stroke;
  for (Point& p : edge) p = hoopToLayout(p);
  return edge;
}

Ring zoneAlong(const std::vector<Point>& edge) {
  if (edge.size() < 2) return {};
  Box box;
  for (Point p : edge) box.add(p);
  const double across = std::hypot(box.width(), box.height());
  if (edge.size() > 3 && distance(edge.front(), edge.back()) < kClosed * across) return edge;
  const Area band = widened(edge, kBand_mm, LineEnd::Butt);
  return band.empty() ? Ring{} : band.front();
}

Scan scanFrom(std::string bytes, const std::string& name, const std::string& file_time) {
  Scan out;
  out.name = name;
  const Photo photo = Photo::fromBytes(bytesOf(bytes), name);
  out.width = photo.width();
  out.height = photo.height();
  const PhotoNotes notes = photoNotes(bytesOf(bytes));
  out.shot = utcOf(notes);
  out.camera = cameraOf(notes);
  if (out.shot.empty()) out.shot = file_time;
  if (bytes.size() > kKept) bytes = packed(photo, name);
  out.bytes = std::make_shared<const std::string>(std::move(bytes));
  return out;
}

}  // namespace rt
