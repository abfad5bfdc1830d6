#include "geometry.h"

#include <algorithm>

#include "error.h"

namespace rt {
namespace {

std::string oneLine(std::string text) {
  std::replace_if(
      text.begin(), text.end(), [](char c) { return c == '\n' || c == '\r'; }, ' ');
  return text;
}

}  // namespace

Error::Error(std::string what, std::string where, std::string remedy)
    : what_(oneLine(std::move(what))),
      where_(oneLine(std::move(where))),
      remedy_(oneLine(std::move(remedy))) {
  line_ =
      what_ + (where_.empty() ? "" : " (" + where_ + ")") + (remedy_.empty() ? "" : "; " + remedy_);
}

Point unit(Point a) {
  const double n = length(a);
  return n > 0 ? a * (1 / n) : Point{1, 0};
}

double wrapDegrees(double angle_deg) {
  double a = std::fmod(angle_deg, 360.0);
  if (a <= -180) a += 360;
  if (a > 180) a -= 360;
  return a;
}

Point Box::corner(int i) const {
  return {i == 0 || i == 3 ? left : right, i < 2 ? top : bottom};
}

void Box::add(Point p) {
  left = std::min(left, p.x);
  right = std::max(right, p.x);
  top = std::min(top, p.y);
  bottom = std::max(bottom, p.y);
}

void Box::add(const Box& other) {
  if (other.empty()) return;
  add(Point{other.left, other.top});
  add(Point{other.right, other.bottom});
}

Box Box::grown(double by_mm) const {
  return empty() ? *this : Box{left - by_mm, top - by_mm, right + by_mm, bottom + by_mm};
}

Box Box::moved(Point by) const {
  return {left + by.x, top + by.y, right + by.x, bottom + by.y};
}

bool Box::contains(Point p) const {
  return p.x >= left && p.x <= right && p.y >= top && p.y <= bottom;
}

bool Box::contains(const Box& other) const {
  return other.empty() ||
         (other.left >= left && other.right <= right && other.top >= top && other.bottom <= bottom);
}

bool Box::overlaps(const Box& other) const {
  return left < other.right && other.left < right && top < other.bottom && other.top < bottom;
}

Box Box::intersection(const Box& other) const {
  return {std::max(left, other.left), std::max(top, other.top), std::min(right, other.right),
          std::min(bottom, other.bottom)};
}

Box Box::around(Point centre, double width_mm, double height_mm) {
  return {centre.x - width_mm / 2, centre.y - height_mm / 2, centre.x + width_mm / 2,
          centre.y + height_mm / 2};
}

Box boundsOf(std::span<const Point> points) {
  Box box;
  for (Point p : points) box.add(p);
  return box;
}

std::optional<Transform> Transform::inverse() const {
  const double det = determinant();
  if (det == 0 || !std::isfinite(det)) return std::nullopt;
  Transform inv{yy / det, -xy / det, -yx / det, xx / det, 0, 0};
  const Point shift = inv.turn({dx, dy});
  inv.dx = -shift.x;
  inv.dy = -shift.y;
  return inv;
}

Transform Transform::moving(Point by) {
  return {1, 0, 0, 1, by.x, by.y};
}

Transform Transform::turning(double clockwise_deg) {
  const double c = std::cos(radians(clockwise_deg)), s = std::sin(radians(clockwise_deg));
  return {c, -s, s, c, 0, 0};
}

Transform Transform::scaling(double sx, double sy) {
  return {sx, 0, 0, sy, 0, 0};
}

Transform operator*(const Transform& l, const Transform& r) {
  const Point shift = l({r.dx, r.dy});
  return {l.xx * r.xx + l.xy * r.yx,
          l.xx * r.xy + l.xy * r.yy,
          l.yx * r.xx + l.yy * r.yx,
          l.yx * r.xy + l.yy * r.yy,
          shift.x,
          shift.y};
}

double pointSegmentDistance(Point p, Point a, Point b) {
  const Point ab = b - a;
  const double n = dot(ab, ab);
  const double t = n > 0 ? std::clamp(dot(p - a, ab) / n, 0.0, 1.0) : 0.0;
  return distance(p, a + ab * t);
}

double segmentDistance(Point a0, Point a1, Point b0, Point b1) {
  const Point u = a1 - a0, v = b1 - b0;
  const double d = cross(u, v);
  if (d != 0) {
    const double s = cross(b0 - a0, v) / d, t = cross(b0 - a0, u) / d;
    if (s >= 0 && s <= 1 && t >= 0 && t <= 1) return 0;
  }
  return std::min({pointSegmentDistance(a0, b0, b1), pointSegmentDistance(a1, b0, b1),
                   pointSegmentDistance(b0, a0, a1), pointSegmentDistance(b1, a0, a1)});
}

double polylineLength(std::span<const Point> line) {
  double sum = 0;
  for (size_t i = 1; i < line.size(); ++i) sum += distance(line[i - 1], line[i]);
  return sum;
}

std::vector<Point> resample(std::span<const Point> line, double step_mm) {
  if (line.size() < 2) return {line.begin(), line.end()};
  const double total = polylineLength(line);
  const int parts = std::max(1, static_cast<int>(std::ceil(total / step_mm - 1e-9)));
  std::vector<Point> out{line.front()};
  out.reserve(parts + 1);
  double walked = 0;
  size_t i = 1;
  for (int k = 1; k < parts; ++k) {
    const double want = total * k / parts;
    while (i + 1 < line.size() && walked + distance(line[i - 1], line[i]) < want) {
      walked += distance(line[i - 1], line[i]);
      ++i;
    }
    const double piece = distance(line[i - 1], line[i]);
    out.push_back(piece > 0 ? mix(line[i - 1], line[i], std::min(1.0, (want - walked) / piece))
                            : line[i]);
  }
  out.push_back(line.back());
  return out;
}

Arc arcFromChord(double chord_mm, double sagitta_mm) {
  if (!(chord_mm > 0) || !(sagitta_mm > 0) || !std::isfinite(chord_mm + sagitta_mm))
    throw Error("an arc needs a chord and a sagitta over 0 mm", "chord and sagitta",
                "measure the straight distance between the ends, and the bow's height over it");
  Arc arc;
  arc.radius_mm = chord_mm * chord_mm / (8 * sagitta_mm) + sagitta_mm / 2;
  const double half = std::asin(std::min(1.0, chord_mm / (2 * arc.radius_mm)));
  arc.span_deg = 2 * degrees(sagitta_mm <= chord_mm / 2 ? half : kPi - half);
  arc.arc_length_mm = radians(arc.span_deg) * arc.radius_mm;
  arc.centre = {0, sagitta_mm - arc.radius_mm};
  return arc;
}

Arc arcThrough(Point a, Point b, Point c) {
  const Point u = b - a, v = c - a;
  const double d = 2 * cross(u, v), scale = std::max({length(u), length(v), distance(b, c)});
  if (!(std::abs(d) > 1e-9 * scale * scale) || !std::isfinite(d))
    throw Error("the three points lie on a line, or two of them are one", "points",
                "pick points that are apart and bend around the curve");
  const double uu = dot(u, u), vv = dot(v, v);
  Arc arc;
  arc.centre = a + Point{(v.y * uu - u.y * vv) / d, (u.x * vv - v.x * uu) / d};
  arc.radius_mm = distance(a, arc.centre);
  auto angle = [&](Point p) { return std::atan2(p.y - arc.centre.y, p.x - arc.centre.x); };
  const double way = d > 0 ? 1 : -1;
  double span = way * (angle(c) - angle(a));
  while (span <= 0) span += 2 * kPi;
  while (span > 2 * kPi) span -= 2 * kPi;
  arc.span_deg = degrees(span);
  arc.arc_length_mm = span * arc.radius_mm;
  return arc;
}

}  // namespace rt
