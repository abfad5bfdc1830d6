#include "phone_scan.h"

#include <QBuffer>
#include <QImage>
#include <QPainter>
#include <atomic>
#include <future>

#include "hooping_place.h"
#include "tags.h"

namespace rt {
namespace {

constexpr double kTimesAsLarge = 10;
constexpr int kPicture_px = 900;  // its longer side
constexpr int kJpegQuality = 82;
constexpr int kFirstLook_px = 1200;  // enough to see which marks are there
constexpr double kThread_mm = 0.4, kThreadSeen = 0.55;
constexpr double kArm_px = 10;
constexpr QRgb kOff = 0xff9c2b2b, kCross = 0xff1f6f74;

/// Tags that tell a candidate: those of its frame, and its marks where they are tags.
size_t tagsSeen(const std::vector<SeenTag>& seen, const PhotoSetup& setup) {
  const auto listed = [&](const SeenTag& t) {
    const auto is = [&](const TagPlace& place) { return place.id == t.id; };
    return std::any_of(setup.hoop_tags.begin(), setup.hoop_tags.end(), is) ||
           std::any_of(setup.cloth_tags.begin(), setup.cloth_tags.end(), is);
  };
  return static_cast<size_t>(std::count_if(seen.begin(), seen.end(), listed));
}

/// Those of whose tags most are seen; those that are not sewn first.
std::vector<PhonePhoto::Candidate> byTags(const Photo& picture, const PhonePhoto& photo) {
  const std::vector<SeenTag> seen = findTags(picture);
  size_t most = 0;
  for (const auto& c : photo.candidates) most = std::max(most, tagsSeen(seen, c.held.setup));
  std::vector<PhonePhoto::Candidate> out;
  for (const auto& c : photo.candidates)
    if (tagsSeen(seen, c.held.setup) == most) out.push_back(c);
  std::stable_partition(out.begin(), out.end(), [](const auto& c) { return !c.sewn; });
  return out;
}

/// How many of a candidate's marks are not in the picture; unset: what there is says nothing.
std::optional<size_t> marksMissing(const Photo& picture, const PhonePhoto::Candidate& of,
                                   const LensPrior& lens) {
  PhotoSetup setup = of.held.setup;
  setup.lens = lens;
  const PhotoReading read = readPhoto(picture, setup);
  if (read.problem) return std::nullopt;
  return read.found.alignment.missing.size();
}

/// The one of several alike that misses the fewest marks, the first before all; null: of none do
/// they say anything.
const PhonePhoto::Candidate* byMarks(const Photo& picture,
                                     const std::vector<PhonePhoto::Candidate>& alike,
                                     const LensPrior& lens) {
  if (marksMissing(picture, alike.front(), lens)) return &alike.front();
  std::vector<std::optional<size_t>> missing(alike.size());
  std::atomic<size_t> next{1};
  const auto look = [&] {
    for (size_t i = next++; i < alike.size(); i = next++)
      missing[i] = marksMissing(picture, alike[i], lens);
  };
  std::future<void> other = std::async(std::launch::async, look);
  look();
  other.get();
  const PhonePhoto::Candidate* best = nullptr;
  size_t least = std::numeric_limits<size_t>::max();
  for (size_t i = 1; i < alike.size(); ++i)
    if (missing[i] && *missing[i] < least) {
      least = *missing[i];
      best = &alike[i];
    }
  return best;
}

/// Frames that are alike are told by their marks, where those of the first say nothing at all: in a
/// small picture first, for that is soon done.
PhonePhoto::Candidate chosen(const PhonePhoto& photo, const LensPrior& lens) {
  if (photo.candidates.size() == 1) return photo.candidates.front();
  const Photo whole = Photo::fromBytes(
      {reinterpret_cast<const uint8_t*>(photo.bytes.data()), photo.bytes.size()}, photo.name);
  const Photo small = whole.within(kFirstLook_px);
  const std::vector<PhonePhoto::Candidate> alike = byTags(small, photo);
  if (alike.size() == 1) return alike.front();
  const PhonePhoto::Candidate* found = byMarks(small, alike, lens);
  if (!found && whole.width() > kFirstLook_px) found = byMarks(whole, alike, lens);
  return found ? *found : alike.front();
}

QImage imageOf(const FlatPicture& flat) {
  return QImage(flat.bgr.data(), flat.width, flat.height, flat.width * 3, QImage::Format_BGR888)
      .copy();
}

/// Draws in millimetres of the hoop's plane.
class ErrorPainter {
 public:
  ErrorPainter(QImage& image, const Box& plane)
      : p_(&image), plane_(plane), scale_(image.width() / plane.width()) {
    p_.setRenderHint(QPainter::Antialiasing);
  }

  void field(const Field& field) {
    QPolygonF edge;
    for (Point corner : field.edgePoints()) edge << px(corner);
    p_.setPen(QPen(Qt::white, 2, Qt::DashLine));
    p_.setBrush(Qt::NoBrush);
    p_.drawPolygon(edge);
  }

  void sewing(const Pattern& rows) {
    const double width = std::max(1.0, kThread_mm * scale_);
    Point from;
    for (const Stitch& stitch : rows.stitches) {
      if (stitch.op == Op::Stitch) {
        QColor colour = QColor::fromRgb(rows.colourOf(stitch).rgb);
        colour.setAlphaF(kThreadSeen);
        p_.setPen(QPen(colour, width));
        p_.drawLine(px(from), px(stitch.at));
      }
      from = stitch.at;
    }
  }

  /// A cross where a mark should lie, and a line to ten times what it is off.
  void error(Point meant, Point found) {
    const QPointF from = px(meant), to = px(meant + (found - meant) * kTimesAsLarge);
    for (const auto& [colour, width] :
         {std::pair(QColor(255, 255, 255), 7.0), std::pair(QColor(kOff), 3.5)}) {
      p_.setPen(QPen(colour, width, Qt::SolidLine, Qt::RoundCap));
      p_.drawLine(from, to);
    }
    p_.setPen(Qt::NoPen);
    p_.setBrush(QColor(kOff));
    p_.drawEllipse(to, 4, 4);
    p_.setPen(QPen(QColor(kCross), 2.5));
    p_.drawLine(from - QPointF(kArm_px, 0), from + QPointF(kArm_px, 0));
    p_.drawLine(from - QPointF(0, kArm_px), from + QPointF(0, kArm_px));
  }

  void missing(Point meant) {
    p_.setPen(QPen(QColor(kOff), 3, Qt::DotLine));
    p_.setBrush(Qt::NoBrush);
    p_.drawEllipse(px(meant), 2 * kArm_px, 2 * kArm_px);
  }

 private:
  QPointF px(Point mm) const {
    return {(mm.x - plane_.left) * scale_, (mm.y - plane_.top) * scale_};
  }
  QPainter p_;
  Box plane_;
  double scale_;
};

void drawErrors(QImage& image, const Box& plane, const PhoneReading& read) {
  ErrorPainter painter(image, plane);
  const ScanTable::Held& held = read.of.held;
  const PhotoReading& photo = read.reading->photo;
  const Transform place = photo.problem ? Transform{} : photo.found.alignment.fit.toHoop;
  if (!photo.problem && read.of.sews)
    painter.sewing(onMeasuredCloth(*read.of.sews, 0, photo.found.alignment.fit));
  painter.field(held.setup.base.field);
  std::vector<std::string> seen;
  for (const PhotoMark& m : photo.found.marks) {
    painter.error(place(m.mark.layout), m.mark.hoop);
    seen.push_back(m.mark.id);
  }
  for (const CrossPlace& c : held.setup.crosses)
    if (std::find(seen.begin(), seen.end(), c.name) == seen.end()) painter.missing(place(c.layout));
}

}  // namespace

PhoneReading readPhonePhoto(const PhonePhoto& photo) {
  PhoneReading out;
  out.scan = scanFrom(photo.bytes, photo.name, photo.arrived);
  const LensPrior lens = photo.lens ? photo.lens(out.scan.camera) : LensPrior{};
  out.of = chosen(photo, lens);
  PhotoSetup setup = out.of.held.setup;
  setup.lens = lens;
  const auto taken =
      std::make_shared<const ScanTaken>(ScanTaken{out.of.held.key, photo.arrived, out.scan});
  out.reading =
      std::make_shared<const ScanReading>(readScan({taken, std::move(setup), out.of.held.area}));
  return out;
}

QByteArray errorPicture(const PhoneReading& read) {
  QImage image = imageOf(read.reading->picture);
  const Box plane = read.reading->picture.plane;
  image = image.scaled(kPicture_px, kPicture_px, Qt::KeepAspectRatio, Qt::SmoothTransformation)
              .convertToFormat(QImage::Format_RGB32);
  if (read.reading->flat) drawErrors(image, plane, read);
  QByteArray out;
  QBuffer buffer(&out);
  buffer.open(QIODevice::WriteOnly);
  image.save(&buffer, "JPG", kJpegQuality);
  return out;
}

}  // namespace rt
