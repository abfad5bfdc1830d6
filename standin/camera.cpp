#include "camera.h"

#include <apriltag/apriltag.h>
#include <apriltag/tag36h11.h>

#include <Eigen/Dense>
#include <map>
#include <opencv2/imgproc.hpp>

namespace rt {
namespace {

constexpr double kThread_mm = 0.4;
constexpr double kFrameWide_mm = 26;

/// The black and white cells of tags, 10 by 10, their white rim included.
class Cells {
 public:
  const std::vector<uint8_t>& of(int id) {
    auto [it, fresh] = known_.try_emplace(id);
    if (fresh) {
      apriltag_family_t* family = tag36h11_create();
      image_u8_t* image = apriltag_to_image(family, static_cast<uint32_t>(id));
      for (int y = 0; y < 10; ++y)
        for (int x = 0; x < 10; ++x) it->second.push_back(image->buf[y * image->stride + x]);
      image_u8_destroy(image);
      tag36h11_destroy(family);
    }
    return it->second;
  }

 private:
  std::map<int, std::vector<uint8_t>> known_;
};

/// Where a lens shows a place at u.
Point bent(const Camera& c, Point u) {
  const double r2 = dot(u, u);
  const Point out = u * (1 + c.k1 * r2);
  if (c.p1 == 0 && c.p2 == 0) return out;
  const double xy = 2 * u.x * u.y;
  return out +
         Point{c.p1 * xy + c.p2 * (r2 + 2 * u.x * u.x), c.p1 * (r2 + 2 * u.y * u.y) + c.p2 * xy};
}

struct LaidTag {
  Transform toTag;  // hoop mm to the tag's own mm
  Point at;
  double size;
  const std::vector<uint8_t>* cells;
};

Eigen::Matrix3d turnOf(const Camera& c) {
  const double w = radians(c.tilt_way_deg);
  const Eigen::Vector3d axis(std::cos(w), std::sin(w), 0);
  return (Eigen::AngleAxisd(radians(c.tilt_deg), axis) *
          Eigen::AngleAxisd(radians(c.turn_deg), Eigen::Vector3d::UnitZ()))
      .toRotationMatrix();
}

/// Brightness of a tag there; below 0: not on it.
double tagAt(const LaidTag& tag, Point hoop) {
  if (std::abs(hoop.x - tag.at.x) > tag.size || std::abs(hoop.y - tag.at.y) > tag.size) return -1;
  const Point p = tag.toTag(hoop);
  const double module = tag.size / 8;
  const int x = static_cast<int>(std::floor(p.x / module + 5)),
            y = static_cast<int>(std::floor(p.y / module + 5));
  if (x < 0 || y < 0 || x > 9 || y > 9) return -1;
  return (*tag.cells)[static_cast<size_t>(10 * y + x)] > 127 ? 235 : 25;
}

/// Stitches by where they lie, so that a place asks only those near it.
class Sewing {
 public:
  explicit Sewing(const std::vector<LaidThread>& threads) : threads_(threads) {
    for (size_t i = 0; i < threads.size(); ++i) {
      Box box{threads[i].from.x, threads[i].from.y, threads[i].from.x, threads[i].from.y};
      box.add(threads[i].to);
      box = box.grown(kThread_mm / 2);
      for (int y = cell(box.top); y <= cell(box.bottom); ++y)
        for (int x = cell(box.left); x <= cell(box.right); ++x) near_[{x, y}].push_back(i);
    }
  }
  /// The colour of the topmost thread there, shaded as something round; false: bare.
  bool colour(Point at, double out[3]) const {
    const auto cell_ = near_.find({cell(at.x), cell(at.y)});
    if (cell_ == near_.end()) return false;
    for (auto i = cell_->second.rbegin(); i != cell_->second.rend(); ++i) {
      const LaidThread& t = threads_[*i];
      const Point way = t.to - t.from;
      const double along =
          dot(way, way) > 0 ? std::clamp(dot(at - t.from, way) / dot(way, way), 0.0, 1.0) : 0;
      const double off = distance(at, t.from + way * along) / (kThread_mm / 2);
      if (off > 1) continue;
      const double light = 0.6 + 0.4 * std::sqrt(1 - off * off);
      for (int k = 0; k < 3; ++k) out[k] = t.bgr[k] * light;
      return true;
    }
    return false;
  }

 private:
  static int cell(double mm) { return static_cast<int>(std::floor(mm)); }
  const std::vector<LaidThread>& threads_;
  std::map<std::pair<int, int>, std::vector<size_t>> near_;
};

/// Light that comes from a place of the scene toward the camera.
class Painter {
 public:
  Painter(const Scene& s, const Camera& c, std::mt19937& random)
      : s_(s),
        c_(c),
        sewing_(s.threads),
        toLayout_(*s.lies.inverse()),
        unturn_(Transform::turning(-s.cross_turn_deg)),
        back_(turnOf(c).transpose()),
        eye_(back_ * Eigen::Vector3d(0, 0, -c.distance_mm)),
        half_(std::hypot(c.width, c.height) / 2) {
    const double turned = degrees(std::atan2(s.lies.yx, s.lies.xx));
    for (const TagPlace& t : s.cloth_tags)
      lay({t.id, s.lies(t.at), t.angle_deg + turned}, s.cloth_tag_mm);
    raised_ = tags_.size();
    for (const TagPlace& t : s.hoop_tags) lay(t, s.hoop_tag_mm);
    for (const TagPlace& t : s.hoop_tags)
      busy_.push_back({t.at, s.hoop_tag_mm * 1.2 + 2 * s.tag_height_mm + 11});
    for (const TagPlace& t : s.cloth_tags)
      busy_.push_back({s.lies(t.at), s.cloth_tag_mm * 1.2 + 11});
    for (Point p : s.crosses) busy_.push_back({s.lies(p), 26});
    std::uniform_real_distribution<double> any(0, 1);
    const double way = any(random) * 2 * kPi;
    shadowWay_ = {std::cos(way), std::sin(way)};
    shadowFrom_ = (any(random) - 0.5) * 80;
  }

  /// A pixel by its middle alone. True if something fine lies near it.
  bool middle(Point px, double out[3]) const {
    const Ray ray = rayOf(px);
    at(ray, out);
    return fine(low(ray));
  }
  /// A pixel as the sum of what it covers.
  void whole(Point px, double out[3]) const {
    // places none of which share a row, a column or a slant: along a square of places edges that
    // run with the pixels would all be off alike, which no camera does
    constexpr int kPlaces = 11, kStride = 3;
    double sum[3] = {0, 0, 0}, one[3];
    for (int i = 0; i < kPlaces; ++i) {
      constexpr auto part = [](int n) { return (n % kPlaces + 0.5) / kPlaces - 0.5; };
      at(rayOf({px.x + part(i), px.y + part(kStride * i)}), one);
      for (int k = 0; k < 3; ++k) sum[k] += one[k] / kPlaces;
    }
    std::copy(sum, sum + 3, out);
  }

 private:
  using Ray = Eigen::Vector3d;

  void lay(const TagPlace& t, double size) {
    tags_.push_back({*(Transform::moving(t.at) * Transform::turning(t.angle_deg)).inverse(), t.at,
                     size, &cells_.of(t.id)});
  }
  Ray rayOf(Point px) const {
    const Point d =
        (px - Point{(c_.width - 1) / 2.0, (c_.height - 1) / 2.0}) * (1 / half_) - c_.looks;
    Point u = d;
    for (int i = 0; bends_ && i < 5; ++i) u = u + (d - bent(c_, u));
    return back_ * Eigen::Vector3d(u.x / c_.focal, u.y / c_.focal, 1);
  }
  Point onPlane(const Ray& ray, double height) const {
    const double t = (-height - eye_.z()) / ray.z();
    return {eye_.x() + t * ray.x(), eye_.y() + t * ray.y()};
  }
  Point low(const Ray& ray) const { return onPlane(ray, 0); }

  bool fine(Point p) const {
    return std::any_of(busy_.begin(), busy_.end(),
                       [&](const auto& b) { return distance(b.first, p) < b.second; });
  }

  void at(const Ray& ray, double out[3]) const {
    const Point on = low(ray);
    if (!tag(raised_, tags_.size(), onPlane(ray, s_.tag_height_mm), out) &&
        !tag(0, raised_, on, out) && !rim(on, out) && !sewing_.colour(on, out) && !cross(on, out))
      std::copy(s_.cloth_bgr, s_.cloth_bgr + 3, out);
    if (s_.shadow > 0 && dot(on, shadowWay_) > shadowFrom_)
      for (int k = 0; k < 3; ++k) out[k] *= 1 - s_.shadow;
  }
  bool tag(size_t from, size_t to, Point on, double out[3]) const {
    for (size_t i = from; i < to; ++i)
      if (const double v = tagAt(tags_[i], on); v >= 0) {
        out[0] = out[1] = out[2] = v;
        return true;
      }
    return false;
  }
  /// The frame around the cloth, and the table around the frame.
  bool rim(Point on, double out[3]) const {
    if (s_.frame.empty() || s_.frame.contains(on)) return false;
    const bool frame = s_.frame.grown(kFrameWide_mm).contains(on);
    const double colour[2][3] = {{120, 140, 150}, {150, 150, 148}};
    std::copy(colour[frame], colour[frame] + 3, out);
    return true;
  }
  bool cross(Point on, double out[3]) const {
    const Point l = toLayout_(on);
    bool any = false;
    for (Point middle : s_.crosses) {
      const Point q = unturn_.turn(l - middle);
      const bool along = std::abs(q.y) < s_.line_mm / 2 && std::abs(q.x) < 12,
                 down = std::abs(q.x) < s_.line_mm / 2 && std::abs(q.y) < 12;
      if (!along && !down) continue;
      const double way = along ? q.x : q.y;
      if (s_.sewn && std::abs(std::remainder(way, 2.5)) > 1.05) continue;
      std::copy(s_.cross_bgr, s_.cross_bgr + 3, out);
      any = true;
    }
    return any;
  }

  const Scene& s_;
  const Camera& c_;
  Cells cells_;
  Sewing sewing_;
  std::vector<LaidTag> tags_;
  std::vector<std::pair<Point, double>> busy_;
  size_t raised_ = 0;
  Transform toLayout_, unturn_;
  Eigen::Matrix3d back_;
  Eigen::Vector3d eye_;
  double half_, shadowFrom_ = 0;
  bool bends_ = c_.k1 != 0 || c_.p1 != 0 || c_.p2 != 0;
  Point shadowWay_;
};

}  // namespace

Point seenAt(const Camera& c, Point hoop, double height_mm) {
  const Eigen::Vector3d v = turnOf(c) * Eigen::Vector3d(hoop.x, hoop.y, -height_mm) +
                            Eigen::Vector3d(0, 0, c.distance_mm);
  const Point u{c.focal * v.x() / v.z(), c.focal * v.y() / v.z()};
  const double half = std::hypot(c.width, c.height) / 2;
  return Point{(c.width - 1) / 2.0, (c.height - 1) / 2.0} + (bent(c, u) + c.looks) * half;
}

std::vector<LaidThread> sewnLine(Point knot, Point end) {
  constexpr double kStitch_mm = 2.5, kDip_mm = 0.2, kTie_mm = 0.8;
  std::vector<LaidThread> out;
  const double length = distance(knot, end);
  const Point way = unit(end - knot);
  const auto lay = [&](double from, double to) {
    LaidThread t;
    t.from = knot + way * from, t.to = knot + way * to;
    out.push_back(t);
  };
  for (int i = 0; i < 3; ++i) lay(0, kTie_mm);
  const int stitches = std::max(1, static_cast<int>(std::ceil(length / kStitch_mm)));
  // between stitches the thread dips into the cloth
  for (int i = 0; i < stitches; ++i)
    lay(length * i / stitches + (i > 0 ? kDip_mm : 0),
        length * (i + 1) / stitches - (i + 1 < stitches ? kDip_mm : 0));
  return out;
}

Photo takePhoto(const Scene& s, const Camera& c, std::mt19937& random) {
  const Painter painter(s, c, random);
  std::vector<double> light(static_cast<size_t>(c.width) * static_cast<size_t>(c.height) * 3);
  const auto placeOf = [&](int x, int y) {
    return 3 * (static_cast<size_t>(y) * static_cast<size_t>(c.width) + static_cast<size_t>(x));
  };
  std::vector<bool> fine(light.size() / 3);
  for (int y = 0; y < c.height; ++y)
    for (int x = 0; x < c.width; ++x) {
      const size_t at = placeOf(x, y);
      fine[at / 3] = painter.middle({x * 1.0, y * 1.0}, &light[at]);
    }
  // sampled more than once only where neighbours differ or something fine is known to lie
  const std::vector<double> middles = light;
  const auto differ = [&](int x, int y, int x2, int y2) {
    const size_t a = placeOf(x, y),
                 b = placeOf(std::clamp(x2, 0, c.width - 1), std::clamp(y2, 0, c.height - 1));
    return std::abs(middles[a] - middles[b]) + std::abs(middles[a + 2] - middles[b + 2]) > 4;
  };
  for (int y = 0; y < c.height; ++y)
    for (int x = 0; x < c.width; ++x)
      if (fine[placeOf(x, y) / 3] || differ(x, y, x - 1, y) || differ(x, y, x + 1, y) ||
          differ(x, y, x, y - 1) || differ(x, y, x, y + 1))
        painter.whole({x * 1.0, y * 1.0}, &light[placeOf(x, y)]);
  cv::Mat picture(c.height, c.width, CV_64FC3, light.data());
  if (c.blur_px > 0) cv::GaussianBlur(picture, picture, {}, c.blur_px, 0, cv::BORDER_REPLICATE);
  // the weave runs along the picture: it is finer than a pixel's place matters; noise as the sum of
  // four even ones, which is normal enough
  std::uniform_real_distribution<double> phase(0, 6.28);
  const double p1 = phase(random), p2 = phase(random);
  const auto noise = [&] {
    const uint32_t bits = random();
    return c.noise *
           ((bits & 255) + (bits >> 8 & 255) + (bits >> 16 & 255) + (bits >> 24) - 510.0) / 148;
  };
  std::vector<uint8_t> bgr;
  bgr.reserve(light.size());
  size_t i = 0;
  std::vector<double> along(static_cast<size_t>(c.width));
  for (int x = 0; x < c.width; ++x) along[static_cast<size_t>(x)] = 5 * std::sin(x * 2.1 + p1);
  for (int y = 0; y < c.height; ++y) {
    const double down = 5 * std::sin(y * 1.9 + p2);
    for (double across : along) {
      const double weave = across + down;
      for (int k = 0; k < 3; ++k, ++i)
        bgr.push_back(
            static_cast<uint8_t>(std::clamp(light[i] + weave + noise() + 0.5, 0.0, 255.0)));
    }
  }
  return Photo::fromPixels(c.width, c.height, bgr);
}

}  // namespace rt
