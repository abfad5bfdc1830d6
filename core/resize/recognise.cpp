#include "recognise.h"

#include <algorithm>

namespace rt {
namespace {

double median(std::vector<double> values) {
  if (values.empty()) return 0;
  const auto middle = values.begin() + static_cast<long>(values.size() / 2);
  std::nth_element(values.begin(), middle, values.end());
  return *middle;
}

/// The commonest direction of stitches, by doubled angles weighted with length, degrees in [0,
/// 180).
double mainAngle_deg(std::span<const Point> p) {
  double c = 0, s = 0;
  for (size_t i = 1; i < p.size(); ++i) {
    const Point d = p[i] - p[i - 1];
    const double a = 2 * std::atan2(d.y, d.x), w = dot(d, d);
    c += w * std::cos(a);
    s += w * std::sin(a);
  }
  const double angle = degrees(std::atan2(s, c)) / 2;
  return angle < 0 ? angle + 180 : angle;
}

/// Rows: maximal runs of stitches within 20° of the main direction. Spacing between their lines.
std::vector<double> rowGaps(std::span<const Point> p, double angle_deg) {
  const Transform level = Transform::turning(-angle_deg);
  std::vector<double> rows;
  std::vector<double> ys;
  for (size_t i = 1; i < p.size(); ++i) {
    const Point a = level(p[i - 1]), b = level(p[i]), d = b - a;
    const bool along = std::abs(d.y) < std::abs(d.x) * 0.36;
    if (along && ys.empty()) ys.push_back(a.y);
    if (along) ys.push_back(b.y);
    if (!along || i + 1 == p.size()) {
      if (ys.size() >= 2) rows.push_back(median(ys));
      ys.clear();
    }
  }
  std::vector<double> gaps;
  for (size_t i = 1; i < rows.size(); ++i)
    if (const double g = std::abs(rows[i] - rows[i - 1]); g > 0.05 && g < 3) gaps.push_back(g);
  return gaps;
}

}  // namespace

Recognised recognise(std::span<const Point> p) {
  Recognised out;
  std::vector<double> lengths, twoOn;
  size_t back = 0, straight = 0;
  for (size_t i = 1; i < p.size(); ++i) lengths.push_back(distance(p[i - 1], p[i]));
  for (size_t i = 2; i < p.size(); ++i) {
    const Point a = p[i - 1] - p[i - 2], b = p[i] - p[i - 1];
    const double cosine = dot(unit(a), unit(b));
    back += cosine < -0.7;
    straight += cosine > 0.9;
    if (cosine < -0.7) twoOn.push_back(distance(p[i - 2], p[i]));
  }
  out.spacing_mm = median(lengths);
  if (p.size() < 5) return out;
  const auto turns = static_cast<double>(p.size() - 2);
  out.angle_deg = mainAngle_deg(p);
  if (static_cast<double>(back) > 0.6 * turns) {
    out.kind = Kind::Satin;
    out.spacing_mm = median(twoOn);
    return out;
  }
  const std::vector<double> gaps = rowGaps(p, out.angle_deg);
  if (gaps.size() >= 3 && static_cast<double>(straight) > 0.1 * turns) {
    out.kind = Kind::Fill;
    out.spacing_mm = median(gaps);
  }
  return out;
}

std::vector<Point> needlePoints(const Pattern& pattern, const Block& block) {
  std::vector<Point> out;
  for (size_t row = block.first; row < block.last; ++row) {
    const Stitch& s = pattern.stitches[row];
    if (s.op == Op::Stitch && s.kind != Kind::Tie) out.push_back(s.at);
  }
  return out;
}

}  // namespace rt
