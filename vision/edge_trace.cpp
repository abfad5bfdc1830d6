#include "edge_trace.h"

#include <algorithm>
#include <cmath>

namespace rt {
namespace {

constexpr double kStation_mm = 1;
constexpr double kAcross_mm = 0.1;  // of the places that are tried
constexpr double kSide_mm = 0.6;    // brightness is compared so far on both sides
constexpr double kAlong_mm = 2;  // and evened out so far along the stroke: weave goes, edges stay
constexpr double kBend = 4;      // grey levels that a step of one place across costs
constexpr size_t kMostStep = 4;  // places across from one station to the next
constexpr double kHome = 0.15;   // grey levels a place away from the stroke: for bare cloth

double grey(const FlatPicture& p, Point at) {
  const double fx = (at.x - p.plane.left) / p.step_mm, fy = (at.y - p.plane.top) / p.step_mm;
  const int x = std::clamp(static_cast<int>(fx), 0, p.width - 2);
  const int y = std::clamp(static_cast<int>(fy), 0, p.height - 2);
  const double u = std::clamp(fx - x, 0.0, 1.0), v = std::clamp(fy - y, 0.0, 1.0);
  const auto level = [&](int i, int j) {
    const uint8_t* c = &p.bgr[3 * (static_cast<size_t>(j) * static_cast<size_t>(p.width) +
                                   static_cast<size_t>(i))];
    return 0.114 * c[0] + 0.587 * c[1] + 0.299 * c[2];
  };
  return (level(x, y) * (1 - u) + level(x + 1, y) * u) * (1 - v) +
         (level(x, y + 1) * (1 - u) + level(x + 1, y + 1) * u) * v;
}

struct StrokePlace {
  Point at, across;  // of length 1
};

/// Even places along a stroke, a hand's tremble taken out, with the way across it.
std::vector<StrokePlace> placesOf(const std::vector<Point>& stroke) {
  std::vector<StrokePlace> out;
  double left = 0;
  for (size_t i = 1; i < stroke.size(); ++i) {
    const double way = distance(stroke[i - 1], stroke[i]);
    for (; left <= way && way > 0; left += kStation_mm)
      out.push_back({mix(stroke[i - 1], stroke[i], left / way), {}});
    left -= way;
  }
  constexpr size_t kReach = 5;
  const std::vector<StrokePlace> drawn = out;
  for (size_t i = 0; i < out.size(); ++i) {
    const size_t reach = std::min({kReach, i, out.size() - 1 - i});  // the ends stay
    Point sum;
    for (size_t k = i - reach; k <= i + reach; ++k) sum = sum + drawn[k].at;
    out[i].at = sum * (1.0 / static_cast<double>(2 * reach + 1));
  }
  for (size_t i = 0; i < out.size(); ++i) {
    const Point from = out[i > kReach ? i - kReach : 0].at;
    const Point to = out[std::min(out.size() - 1, i + kReach)].at;
    const double way = distance(from, to);
    out[i].across = way > 0 ? Point{-(to.y - from.y) / way, (to.x - from.x) / way} : Point{0, 1};
  }
  return out;
}

class Tracer {
 public:
  Tracer(const FlatPicture& picture, std::vector<StrokePlace> places, double reach)
      : picture_(picture),
        places_(std::move(places)),
        half_(static_cast<int>(reach / kAcross_mm)),
        wide_(static_cast<size_t>(2 * half_ + 1)) {}

  std::vector<Point> run() {
    measure();
    const std::vector<double> offset = chosen();
    std::vector<Point> out;
    for (size_t i = 0; i < places_.size(); ++i)
      out.push_back(places_[i].at + places_[i].across * offset[i]);
    return out;
  }

 private:
  /// How much brightness changes across the stroke at each place and offset, with its sign: along
  /// an edge it stays the same.
  void measure() {
    step_.assign(places_.size(), std::vector<double>(wide_));
    for (size_t i = 0; i < places_.size(); ++i)
      for (size_t k = 0; k < wide_; ++k) {
        const auto& [at, across] = places_[i];
        const Point here = at + across * ((static_cast<double>(k) - half_) * kAcross_mm);
        step_[i][k] = grey(picture_, here + across * kSide_mm) +
                      grey(picture_, here + across * (kSide_mm / 2)) -
                      grey(picture_, here - across * (kSide_mm / 2)) -
                      grey(picture_, here - across * kSide_mm);
      }
    const auto reach = static_cast<long>(kAlong_mm / kStation_mm);
    const auto raw = step_;
    for (size_t i = 0; i < places_.size(); ++i)
      for (size_t k = 0; k < wide_; ++k) {
        double sum = 0;
        int n = 0;
        for (long j = -reach; j <= reach; ++j) {
          const long at = static_cast<long>(i) + j;
          if (at < 0 || at >= static_cast<long>(places_.size())) continue;
          sum += raw[static_cast<size_t>(at)][k];
          ++n;
        }
        step_[i][k] = sum / n;
      }
  }

  double gain(size_t i, size_t k) const {
    return std::abs(step_[i][k]) -
           kHome * std::abs(static_cast<double>(k) - static_cast<double>(half_));
  }

  /// The path of most gain, and within it the top of each step by a parabola.
  std::vector<double> chosen() const {
    const size_t n = places_.size();
    std::vector<std::vector<double>> best(n, std::vector<double>(wide_));
    std::vector<std::vector<size_t>> from(n, std::vector<size_t>(wide_));
    for (size_t k = 0; k < wide_; ++k) best[0][k] = gain(0, k);
    for (size_t i = 1; i < n; ++i)
      for (size_t k = 0; k < wide_; ++k) {
        best[i][k] = -INFINITY;
        for (size_t j = k > kMostStep ? k - kMostStep : 0; j <= std::min(wide_ - 1, k + kMostStep);
             ++j) {
          const double bend = kBend * std::abs(static_cast<double>(k) - static_cast<double>(j));
          if (const double v = best[i - 1][j] - bend; v > best[i][k])
            best[i][k] = v, from[i][k] = j;
        }
        best[i][k] += gain(i, k);
      }
    size_t k = static_cast<size_t>(std::max_element(best[n - 1].begin(), best[n - 1].end()) -
                                   best[n - 1].begin());
    std::vector<double> out(n);
    for (size_t i = n; i-- > 0; k = from[i][k]) out[i] = (top(i, k) - half_) * kAcross_mm;
    return out;
  }
  double top(size_t i, size_t k) const {
    const double at = static_cast<double>(k);
    if (k == 0 || k + 1 == wide_) return at;
    const double a = std::abs(step_[i][k - 1]), b = std::abs(step_[i][k]),
                 c = std::abs(step_[i][k + 1]);
    const double bend = a - 2 * b + c;
    return bend < 0 ? at + std::clamp(0.5 * (a - c) / bend, -0.5, 0.5) : at;
  }

  const FlatPicture& picture_;
  std::vector<StrokePlace> places_;
  int half_;
  size_t wide_;
  std::vector<std::vector<double>> step_;
};

}  // namespace

std::vector<Point> edgeAlong(const FlatPicture& picture, const std::vector<Point>& stroke,
                             double reach_mm) {
  std::vector<StrokePlace> places = placesOf(stroke);
  if (places.size() < 2 || picture.width < 2 || picture.height < 2) return {};
  for (const StrokePlace& p : places)
    if (!picture.plane.contains(p.at)) return {};
  return Tracer(picture, std::move(places), std::clamp(reach_mm, kAcross_mm, 20.0)).run();
}

}  // namespace rt
