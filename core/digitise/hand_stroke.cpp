#include "hand_stroke.h"

#include <span>

#include "satin.h"

namespace rt {
namespace {

constexpr double kStep_mm = 0.5;

void keepFarthest(const std::vector<Point>& line, size_t from, size_t to, double stray,
                  std::vector<bool>& keep) {
  double most = stray;
  size_t at = 0;
  for (size_t i = from + 1; i < to; ++i)
    if (const double d = pointSegmentDistance(line[i], line[from], line[to]); d > most)
      most = d, at = i;
  if (at == 0) return;
  keep[at] = true;
  keepFarthest(line, from, at, stray, keep);
  keepFarthest(line, at, to, stray, keep);
}

bool isCorner(Point a, Point b, Point c, double corner_deg) {
  return std::abs(degrees(std::atan2(cross(b - a, c - b), dot(b - a, c - b)))) > corner_deg;
}

std::vector<Point> withoutRepeats(const std::vector<Point>& drawn) {
  std::vector<Point> out;
  for (Point p : drawn)
    if (out.empty() || distance(out.back(), p) > 1e-3) out.push_back(p);
  return out;
}

}  // namespace

std::vector<Point> thinned(const std::vector<Point>& line, double stray_mm) {
  if (line.size() < 3) return line;
  std::vector<bool> keep(line.size(), false);
  keep.front() = keep.back() = true;
  keepFarthest(line, 0, line.size() - 1, stray_mm, keep);
  std::vector<Point> out;
  for (size_t i = 0; i < line.size(); ++i)
    if (keep[i]) out.push_back(line[i]);
  return out;
}

std::vector<Point> smoothedBetweenCorners(const std::vector<Point>& line, double corner_deg,
                                          double step_mm) {
  if (line.empty()) return {};
  std::vector<Point> out, part{line[0]};
  auto flush = [&] {
    const std::vector<Point> curve = part.size() > 2 ? smoothed(part, step_mm) : part;
    out.insert(out.end(), curve.begin() + (out.empty() ? 0 : 1), curve.end());
  };
  for (size_t i = 1; i < line.size(); ++i) {
    part.push_back(line[i]);
    if (i + 1 < line.size() && !isCorner(line[i - 1], line[i], line[i + 1], corner_deg)) continue;
    flush();
    part = {line[i]};
  }
  return out;
}

HandStroke handStroke(const std::vector<Point>& drawn, const HandStrokeOptions& o) {
  HandStroke out;
  std::vector<Point> line = withoutRepeats(drawn);
  if (line.size() < 2) return out;
  out.closed = line.size() > 3 && distance(line.front(), line.back()) <= o.close_within_mm &&
               polylineLength(line) > 4 * o.close_within_mm;
  if (out.closed) line.back() = line.front();
  // a closed line is thinned in two halves, as its ends coincide
  if (out.closed) {
    const auto middle = static_cast<long>(line.size() / 2);
    std::vector<Point> first(line.begin(), line.begin() + middle + 1),
        second(line.begin() + middle, line.end());
    line = thinned(first, o.stray_mm / 2);
    const std::vector<Point> rest = thinned(second, o.stray_mm / 2);
    line.insert(line.end(), rest.begin() + 1, rest.end());
  } else {
    line = thinned(line, o.stray_mm / 2);
  }
  out.points = smoothedBetweenCorners(line, o.corner_deg, kStep_mm);
  return out;
}

}  // namespace rt
