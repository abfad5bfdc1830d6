#include "gauge.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <vector>

namespace rt {
namespace {

constexpr double kStraight_mm = 1e5;
constexpr int kRounds = 20;

/// Solves a symmetric 3 x 3 system by Cramer's rule; false where it has no single answer.
bool solve3(const double (&m)[3][3], const double (&b)[3], double (&x)[3]) {
  const auto det = [](const double(&a)[3][3]) {
    return a[0][0] * (a[1][1] * a[2][2] - a[1][2] * a[2][1]) -
           a[0][1] * (a[1][0] * a[2][2] - a[1][2] * a[2][0]) +
           a[0][2] * (a[1][0] * a[2][1] - a[1][1] * a[2][0]);
  };
  const double d = det(m);
  double scale = 0;
  for (const auto& row : m)
    for (double v : row) scale = std::max(scale, std::abs(v));
  if (!(std::abs(d) > 1e-13 * scale * scale * scale)) return false;
  for (int c = 0; c < 3; ++c) {
    double other[3][3];
    for (int r = 0; r < 3; ++r)
      for (int k = 0; k < 3; ++k) other[r][k] = k == c ? b[r] : m[r][k];
    x[c] = det(other) / d;
  }
  return true;
}

struct Circle {
  Point centre;
  double radius = 0;
};

/// Kåsa: x² + y² is linear in the centre and one more unknown. `points` lie about the origin, about
/// 1 across.
std::optional<Circle> kasa(std::span<const Point> points) {
  double m[3][3] = {}, b[3] = {}, x[3];
  for (Point p : points) {
    const double row[3] = {p.x, p.y, 1}, value = dot(p, p);
    for (int i = 0; i < 3; ++i) {
      b[i] += row[i] * value;
      for (int j = 0; j < 3; ++j) m[i][j] += row[i] * row[j];
    }
  }
  if (!solve3(m, b, x)) return std::nullopt;
  const Point centre{x[0] / 2, x[1] / 2};
  const double square = x[2] + dot(centre, centre);
  if (!(square > 0)) return std::nullopt;
  return Circle{centre, std::sqrt(square)};
}

/// One step of Gauss-Newton on the distances; false where it leads nowhere.
bool bettered(Circle& c, std::span<const Point> points) {
  double m[3][3] = {}, b[3] = {}, x[3];
  for (Point p : points) {
    const double d = distance(p, c.centre);
    if (!(d > 1e-12)) return false;
    const double row[3] = {(c.centre.x - p.x) / d, (c.centre.y - p.y) / d, -1};
    for (int i = 0; i < 3; ++i) {
      b[i] -= row[i] * (d - c.radius);
      for (int j = 0; j < 3; ++j) m[i][j] += row[i] * row[j];
    }
  }
  if (!solve3(m, b, x)) return false;
  c.centre = c.centre + Point{x[0], x[1]};
  c.radius += x[2];
  return std::abs(x[0]) + std::abs(x[1]) + std::abs(x[2]) > 1e-13;
}

}  // namespace

std::optional<ArcGauge> arcThrough(std::span<const Point> points) {
  if (points.size() < 3) return std::nullopt;
  Box box;
  for (Point p : points) box.add(p);
  const Point middle = box.centre();
  const double size = std::hypot(box.width(), box.height());
  if (!(size > 1e-9) || !std::isfinite(size)) return std::nullopt;
  std::vector<Point> near;
  for (Point p : points) near.push_back((p - middle) * (1 / size));
  std::optional<Circle> circle = kasa(near);
  if (!circle) return std::nullopt;
  for (int round = 0; round < kRounds && bettered(*circle, near); ++round) {
  }
  if (!(circle->radius > 0 && circle->radius * size < kStraight_mm)) return std::nullopt;
  ArcGauge out;
  double sum = 0;
  for (Point p : near) sum += std::pow(distance(p, circle->centre) - circle->radius, 2);
  out.rms_mm = std::sqrt(sum / static_cast<double>(near.size())) * size;
  out.centre = middle + circle->centre * size;
  out.radius_mm = circle->radius * size;
  // the way round: as the points go, each by less than half a turn
  double turned = 0;
  for (size_t i = 1; i < points.size(); ++i) {
    const Point a = points[i - 1] - out.centre, b = points[i] - out.centre;
    turned += std::atan2(cross(a, b), dot(a, b));
  }
  const Point from = points.front() - out.centre;
  const double begin = std::atan2(from.y, from.x);
  const auto at = [&](double angle) {
    return out.centre + Point{std::cos(angle), std::sin(angle)} * out.radius_mm;
  };
  out.first = at(begin);
  out.middle = at(begin + turned / 2);
  out.last = at(begin + turned);
  out.chord_mm = distance(out.first, out.last);
  out.sagitta_mm = out.radius_mm * (1 - std::cos(turned / 2));
  return out;
}

double angleBetween_deg(Point a, Point vertex, Point b) {
  const Point u = a - vertex, v = b - vertex;
  if (dot(u, u) == 0 || dot(v, v) == 0) return 0;
  return std::abs(std::atan2(cross(u, v), dot(u, v))) * 180 / std::numbers::pi;
}

double offLine_mm(Point p, Point a, Point b) {
  const double along = distance(a, b);
  return along > 0 ? std::abs(cross(b - a, p - a)) / along : distance(p, a);
}

}  // namespace rt
