#include "photo_maker.h"

#include <apriltag/apriltag.h>
#include <apriltag/tag36h11.h>

#include <Eigen/Dense>
#include <map>

namespace rt::testing {
namespace {

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

struct Laid {
  Transform toTag;  // hoop mm to the tag's own mm
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
double tagAt(const Laid& tag, Point hoop) {
  const Point p = tag.toTag(hoop);
  const double module = tag.size / 8;
  const int x = static_cast<int>(std::floor(p.x / module + 5)),
            y = static_cast<int>(std::floor(p.y / module + 5));
  if (x < 0 || y < 0 || x > 9 || y > 9) return -1;
  return (*tag.cells)[static_cast<size_t>(10 * y + x)] > 127 ? 235 : 25;
}

}  // namespace

Point seenAt(const Camera& c, Point hoop, double height_mm) {
  const Eigen::Vector3d v = turnOf(c) * Eigen::Vector3d(hoop.x, hoop.y, -height_mm) +
                            Eigen::Vector3d(0, 0, c.distance_mm);
  const Point u{c.focal * v.x() / v.z(), c.focal * v.y() / v.z()};
  const double half = std::hypot(c.width, c.height) / 2;
  return Point{(c.width - 1) / 2.0, (c.height - 1) / 2.0} + u * ((1 + c.k1 * dot(u, u)) * half);
}

Photo takePhoto(const Scene& s, const Camera& c, std::mt19937& random) {
  Cells cells;
  std::vector<Laid> tags;
  const auto lay = [&](const TagPlace& t, double size, const Transform& frame) {
    tags.push_back({*(frame * Transform::moving(t.at) * Transform::turning(t.angle_deg)).inverse(),
                    size, &cells.of(t.id)});
  };
  for (const TagPlace& t : s.cloth_tags) lay(t, s.cloth_tag_mm, s.lies);
  const size_t raised = tags.size();
  for (const TagPlace& t : s.hoop_tags) lay(t, s.hoop_tag_mm, {});
  const Transform toLayout = *s.lies.inverse();
  const Transform unturn = Transform::turning(-s.cross_turn_deg);
  const Eigen::Matrix3d turn = turnOf(c), back = turn.transpose();
  const Eigen::Vector3d eye = back * Eigen::Vector3d(0, 0, -c.distance_mm);
  const double half = std::hypot(c.width, c.height) / 2;
  std::uniform_real_distribution<double> phase(0, 6.28);
  const double p1 = phase(random), p2 = phase(random);
  const auto colourAt = [&](Point px, double out[3]) {
    const Point d = (px - Point{(c.width - 1) / 2.0, (c.height - 1) / 2.0}) * (1 / half);
    Point u = d;
    for (int i = 0; i < 5; ++i) u = d * (1 / (1 + c.k1 * dot(u, u)));
    const Eigen::Vector3d ray = back * Eigen::Vector3d(u.x / c.focal, u.y / c.focal, 1);
    const auto at = [&](double height) {
      const double t = (-height - eye.z()) / ray.z();
      return Point{eye.x() + t * ray.x(), eye.y() + t * ray.y()};
    };
    const Point high = at(s.tag_height_mm), low = at(0);
    for (size_t i = raised; i < tags.size(); ++i)
      if (const double v = tagAt(tags[i], high); v >= 0) {
        out[0] = out[1] = out[2] = v;
        return;
      }
    for (size_t i = 0; i < raised; ++i)
      if (const double v = tagAt(tags[i], low); v >= 0) {
        out[0] = out[1] = out[2] = v;
        return;
      }
    for (int k = 0; k < 3; ++k) out[k] = s.cloth_bgr[k];
    const Point l = toLayout(low);
    for (Point cross : s.crosses) {
      const Point q = unturn.turn(l - cross);
      const bool along = std::abs(q.y) < s.line_mm / 2 && std::abs(q.x) < 12,
                 down = std::abs(q.x) < s.line_mm / 2 && std::abs(q.y) < 12;
      if (!along && !down) continue;
      const double way = along ? q.x : q.y;
      if (s.sewn && std::abs(std::remainder(way, 2.5)) > 1.05) continue;
      for (int k = 0; k < 3; ++k) out[k] = s.cross_bgr[k];
    }
  };
  // only near a tag or a cross is there anything to be sampled finely
  std::vector<std::pair<Point, double>> busy;
  for (const TagPlace& t : s.hoop_tags)
    busy.push_back({t.at, s.hoop_tag_mm * 1.2 + 2 * s.tag_height_mm + 3});
  for (const TagPlace& t : s.cloth_tags) busy.push_back({s.lies(t.at), s.cloth_tag_mm * 1.2 + 3});
  for (Point p : s.crosses) busy.push_back({s.lies(p), 18});
  const auto plain = [&](Point px) {
    const Point u = (px - Point{(c.width - 1) / 2.0, (c.height - 1) / 2.0}) * (1 / half);
    const Eigen::Vector3d ray = back * Eigen::Vector3d(u.x / c.focal, u.y / c.focal, 1);
    const double t = -eye.z() / ray.z();
    const Point p{eye.x() + t * ray.x(), eye.y() + t * ray.y()};
    // the lens is left out here: it moves nothing by more than the margin
    return std::none_of(busy.begin(), busy.end(),
                        [&](const auto& b) { return distance(b.first, p) < b.second + 8; });
  };
  // the weave runs along the picture: it is finer than a pixel's place matters; noise as the sum of
  // four even ones, which is normal enough
  const auto noise = [&] {
    const uint32_t bits = random();
    return c.noise *
           ((bits & 255) + (bits >> 8 & 255) + (bits >> 16 & 255) + (bits >> 24) - 510.0) / 148;
  };
  std::vector<uint8_t> bgr;
  bgr.reserve(static_cast<size_t>(c.width) * static_cast<size_t>(c.height) * 3);
  for (int y = 0; y < c.height; ++y)
    for (int x = 0; x < c.width; ++x) {
      double sum[3] = {0, 0, 0}, one[3];
      if (plain({x * 1.0, y * 1.0})) {
        for (int k = 0; k < 3; ++k) sum[k] = s.cloth_bgr[k];
      } else {
        for (double dy : {-1.0 / 3, 0.0, 1.0 / 3})
          for (double dx : {-1.0 / 3, 0.0, 1.0 / 3}) {
            colourAt({x + dx, y + dy}, one);
            for (int k = 0; k < 3; ++k) sum[k] += one[k] / 9;
          }
      }
      const double weave = 5 * std::sin(x * 2.1 + p1) + 5 * std::sin(y * 1.9 + p2);
      for (double v : sum)
        bgr.push_back(static_cast<uint8_t>(std::clamp(v + weave + noise() + 0.5, 0.0, 255.0)));
    }
  return Photo::fromPixels(c.width, c.height, bgr);
}

}  // namespace rt::testing
