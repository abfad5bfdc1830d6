#include "satin.h"

#include <algorithm>

namespace rt {
namespace {

/// Direction of the line at a distance from its start, evened over a window so that the rungs of a
/// coarse polyline do not fan at its vertices.
class Tangents {
 public:
  Tangents(std::span<const Point> line, double window_mm) : line_(line), window_(window_mm) {
    along_.push_back(0);
    for (size_t i = 1; i < line.size(); ++i)
      along_.push_back(along_.back() + distance(line[i - 1], line[i]));
  }
  double total() const { return along_.back(); }
  Point at(double mm) const {
    mm = std::clamp(mm, 0.0, total());
    const auto after = std::upper_bound(along_.begin(), along_.end(), mm);
    const size_t i =
        std::clamp<size_t>(static_cast<size_t>(after - along_.begin()), 1, line_.size() - 1);
    const double piece = along_[i] - along_[i - 1];
    return piece > 0 ? mix(line_[i - 1], line_[i], (mm - along_[i - 1]) / piece) : line_[i];
  }
  Point direction(double mm) const {
    const double half = std::min(window_ / 2, total() / 2);
    return unit(at(std::min(mm + half, total())) - at(std::max(mm - half, 0.0)));
  }

 private:
  std::span<const Point> line_;
  double window_;
  std::vector<double> along_;
};

}  // namespace

namespace {

/// Steps of the golden ratio fall between one another for ever: points placed by them make no line.
double spread(int rung) {
  constexpr double kGolden = 0.6180339887498949;
  const double at = kGolden * rung;
  return 2 * (at - std::floor(at)) - 1;
}

constexpr double kRounding_mm = 0.03;  // what writing to 0.01 mm may add
constexpr double kSplitRoom_mm = 1.2;  // least that split points move to either side
constexpr double kMiddle = 0.6;        // of the width: split points stay within it

}  // namespace

void addAcross(Strand& strand, Point to, int rung, double split_over_mm) {
  if (strand.empty()) return strand.add(to, Kind::Satin);
  const Point from = strand.exit();
  const double mm = distance(from, to);
  split_over_mm -= kRounding_mm;
  if (mm > split_over_mm) {
    int parts = static_cast<int>(std::ceil(mm / split_over_mm - 1e-9));
    if (split_over_mm - mm / parts < kSplitRoom_mm) ++parts;  // room to move the points
    const double even = mm / parts;
    const double inner = even * (parts - 2) / 2;  // from the middle to the outermost point
    const double room =
        std::min({split_over_mm - even, std::max(0.3, kMiddle / 2 * mm - inner), even * 0.7});
    const double shift = room * spread(rung);
    for (int k = 1; k < parts; ++k) strand.add(mix(from, to, (k * even + shift) / mm), Kind::Satin);
  }
  strand.add(to, Kind::Satin);
}

Strand satinAlong(std::span<const Point> line, double width_mm, const SatinOptions& options,
                  bool fromRight, const RungCut& cut) {
  Strand strand;
  if (line.size() < 2 || polylineLength(line) <= 0) return strand;
  const Tangents centre(line, std::max(width_mm, 2 * options.spacing_mm));
  const double half = (width_mm + options.pull_mm) / 2;
  const int rungs =
      std::max(2, static_cast<int>(std::lround(centre.total() / (options.spacing_mm / 2))));
  for (int k = 0; k <= rungs; ++k) {
    const double mm = centre.total() * k / rungs;
    const Point side =
        quarterTurn(centre.direction(mm)) * ((k % 2 == 0) != fromRight ? -half : half);
    const Point middle = centre.at(mm);
    const std::optional<Point> edge = cut ? cut(middle, middle + side) : middle + side;
    if (edge) addAcross(strand, *edge, k, options.split_over_mm);
  }
  return strand;
}

namespace {

/// Takes `mm` off the start; keeps at least a stub of the last stretch.
void shorten(std::vector<Point>& line, double mm) {
  mm = std::min(mm, polylineLength(line) - 0.2);
  while (mm > 0 && line.size() > 2 && distance(line[0], line[1]) <= mm) {
    mm -= distance(line[0], line[1]);
    line.erase(line.begin());
  }
  if (mm > 0) line[0] = mix(line[0], line[1], std::min(0.95, mm / distance(line[0], line[1])));
}

}  // namespace

std::vector<Point> extended(std::span<const Point> line, double start_mm, double end_mm) {
  std::vector<Point> out(line.begin(), line.end());
  if (out.size() < 2) return out;
  const Point back = unit(line[0] - line[1]), on = unit(line.back() - line[line.size() - 2]);
  if (start_mm < 0) shorten(out, -start_mm);
  if (end_mm < 0) {
    std::reverse(out.begin(), out.end());
    shorten(out, -end_mm);
    std::reverse(out.begin(), out.end());
  }
  if (start_mm > 0) out.insert(out.begin(), line[0] + back * start_mm);
  if (end_mm > 0) out.push_back(line.back() + on * end_mm);
  return out;
}

std::vector<Point> smoothed(std::span<const Point> line, double step_mm) {
  if (line.size() < 3) return {line.begin(), line.end()};
  std::vector<Point> out{line[0]};
  for (size_t i = 0; i + 1 < line.size(); ++i) {
    const Point p1 = line[i], p2 = line[i + 1];
    const Point p0 = i > 0 ? line[i - 1] : p1 + (p1 - p2);
    const Point p3 = i + 2 < line.size() ? line[i + 2] : p2 + (p2 - p1);
    const double d1 = std::sqrt(std::max(1e-9, distance(p0, p1)));
    const double d2 = std::sqrt(std::max(1e-9, distance(p1, p2)));
    const double d3 = std::sqrt(std::max(1e-9, distance(p2, p3)));
    // Bézier handles of the centripetal spline
    const Point b1 =
        (p2 * (d1 * d1) - p0 * (d2 * d2) + p1 * (2 * d1 * d1 + 3 * d1 * d2 + d2 * d2)) *
        (1 / (3 * d1 * (d1 + d2)));
    const Point b2 =
        (p1 * (d3 * d3) - p3 * (d2 * d2) + p2 * (2 * d3 * d3 + 3 * d3 * d2 + d2 * d2)) *
        (1 / (3 * d3 * (d3 + d2)));
    const int parts = std::max(1, static_cast<int>(std::ceil(distance(p1, p2) / step_mm)));
    for (int k = 1; k <= parts; ++k) {
      const double t = static_cast<double>(k) / parts, u = 1 - t;
      out.push_back(p1 * (u * u * u) + b1 * (3 * u * u * t) + b2 * (3 * u * t * t) +
                    p2 * (t * t * t));
    }
  }
  return out;
}

}  // namespace rt
