#include "line_fit.h"

#include <algorithm>

namespace rt {
namespace {

constexpr size_t kLeastPlaces = 6;
constexpr double kFarOff = 2.2;  // of the rms

LineFit through(const std::vector<Point>& places) {
  const double n = static_cast<double>(places.size());
  LineFit line;
  for (Point p : places) line.at = line.at + p * (1 / n);
  double xx = 0, xy = 0, yy = 0;
  for (Point p : places) {
    const Point d = p - line.at;
    xx += d.x * d.x, xy += d.x * d.y, yy += d.y * d.y;
  }
  const double angle = 0.5 * std::atan2(2 * xy, xx - yy);
  line.way = {std::cos(angle), std::sin(angle)};
  double square = 0;
  for (Point p : places) square += std::pow(cross(line.way, p - line.at), 2);
  line.rms = std::sqrt(square / n);
  line.places = places.size();
  return line;
}

}  // namespace

std::optional<LineFit> fitLine(std::vector<Point> places, double least, int rounds) {
  if (places.size() < kLeastPlaces) return std::nullopt;
  LineFit line = through(places);
  for (int round = 1; round < rounds; ++round) {
    const size_t before = places.size();
    std::vector<Point> kept;
    for (Point p : places)
      if (std::abs(cross(line.way, p - line.at)) <= std::max(least, kFarOff * line.rms))
        kept.push_back(p);
    if (kept.size() < kLeastPlaces || kept.size() == before) break;
    places = std::move(kept);
    line = through(places);
  }
  return line;
}

}  // namespace rt
