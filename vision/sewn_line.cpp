#include "sewn_line.h"

#include <algorithm>
#include <numeric>

#include "cloth_patch.h"
#include "line_match.h"

namespace rt {
namespace {

constexpr double kLineTurn_deg = 0.25;
constexpr double kLeastLine = 2.5, kLeastAgainst = 3.5;
constexpr double kEndsFree_mm = 1.5;    // of the ends that the match leaves out
constexpr double kAlongStep_mm = 0.1;   // places along in which an end is sought
constexpr double kThreadWide_mm = 0.4;  // half of it lies beyond the needle's last point
constexpr double kBesideFrom_mm = 1.0, kBesideTo_mm = 1.8;
constexpr double kLengthOff = 0.03;    // of its length
constexpr double kEndAlong_mm = 0.1;   // what no end of thread is surer of
constexpr double kLeastBeyond_mm = 3;  // bare cloth beyond an end
constexpr int kParts = 4;

struct RoughLine {
  double score = 0, across_mm = 0, turn_deg = 0;
};

/// The weakest quarter of a line that crosses the patch's middle `across` off, turned.
class Rows {
 public:
  Rows(const cv::Mat& signal, double step, double length)
      : signal_(signal), step_(step), length_(length) {}

  double weakest(double across_mm, double turn_deg) const {
    const double slope = std::tan(radians(turn_deg));
    const int columns = static_cast<int>(length_ * 0.86 / step_), middle = signal_.cols / 2;
    double least = INFINITY;
    for (int part = 0; part < kParts; ++part) {
      double sum = 0;
      const int from = part * columns / kParts, to = (part + 1) * columns / kParts;
      for (int i = from; i < to; ++i) {
        const int u = i - columns / 2;
        const int x = middle + u;
        const auto y =
            static_cast<int>(std::lround((signal_.rows - 1) / 2.0 + across_mm / step_ + slope * u));
        if (x < 0 || y < 0 || x >= signal_.cols || y >= signal_.rows) return 0;
        sum += signal_.at<float>(y, x);
      }
      least = std::min(least, sum / std::max(1, to - from));
    }
    return least;
  }

 private:
  const cv::Mat& signal_;
  double step_, length_;
};

RoughLine bestLine(const cv::Mat& signal, double step, double length, const SewnLineSearch& s,
                   double* spread) {
  const Rows rows(signal, step, length);
  RoughLine out;
  double sum = 0, square = 0, n = 0;
  for (double turn = -s.most_turn_deg; turn <= s.most_turn_deg; turn += kLineTurn_deg)
    for (double across = -s.reach_mm; across <= s.reach_mm; across += step) {
      const double score = rows.weakest(across, turn);
      sum += score, square += score * score, ++n;
      if (score > out.score) out = {score, across, turn};
    }
  *spread = std::sqrt(std::max(1e-6, square / n - sum * sum / (n * n)));
  return out;
}

/// How far the line's thread stands out at places along it.
class Along {
 public:
  Along(const Photo& photo, const Plane& plane, const LineMatch& line)
      : photo_(photo), plane_(plane), line_(line) {}

  double at(double u) const {
    double beside = 0, n = 0;
    for (double v = kBesideFrom_mm; v <= kBesideTo_mm; v += 0.2)
      beside += seen(u, v) + seen(u, -v), n += 2;
    return (seen(u, -0.1) + seen(u, 0) + seen(u, 0.1)) / 3 - beside / n;
  }

 private:
  double seen(double u, double v) const {
    double c[3];
    photo_.colour(plane_.toPhoto(line_.at + line_.way * u + quarterTurn(line_.way) * v), c);
    return c[0] * line_.signal[0] + c[1] * line_.signal[1] + c[2] * line_.signal[2];
  }
  const Photo& photo_;
  const Plane& plane_;
  const LineMatch& line_;
};

/// Where thread ends between two places along the line, counted outward: the step that leaves the
/// least unexplained (least squares over where it is, and both levels).
std::optional<double> endBetween(const Along& along, double from, double to) {
  const double way = to < from ? -1 : 1;
  std::vector<double> seen;
  for (double t = 0; t <= std::abs(to - from); t += kAlongStep_mm)
    seen.push_back(along.at(from + way * t));
  const size_t margin = static_cast<size_t>(kLeastBeyond_mm / kAlongStep_mm);
  if (seen.size() < 3 * margin) return std::nullopt;
  const double all = std::accumulate(seen.begin(), seen.end(), 0.0);
  double before = 0, most = -1, high = 0, low = 0;
  size_t best = 0;
  for (size_t i = 0; i < seen.size(); ++i) {
    const double left = static_cast<double>(i), right = static_cast<double>(seen.size() - i);
    if (i >= margin && seen.size() - i >= margin) {
      const double a = before / left, b = (all - before) / right;
      const double explained = left * right / (left + right) * (a - b) * (a - b);
      if (a > b && explained > most) most = explained, best = i, high = a, low = b;
    }
    before += seen[i];
  }
  // the cloth beyond is bare, and the thread before it is not
  if (most < 0 || high - low < kLeastLine || std::abs(low) > 0.4 * high) return std::nullopt;
  return from + way * (static_cast<double>(best) - 0.5) * kAlongStep_mm;
}

}  // namespace

std::optional<SeenSewnLine> findSewnLine(const Photo& photo, const Plane& plane,
                                         const SewnLineSearch& s) {
  const Point between = s.end - s.knot, middle = (s.knot + s.end) * 0.5;
  const double length = rt::length(between);
  if (!(length > 4 * kLeastBeyond_mm)) return std::nullopt;
  const double turn = degrees(std::atan2(between.y, between.x));
  const double side = length * std::tan(radians(s.most_turn_deg)) / 2 + s.reach_mm;
  const ClothPatch patch(photo, plane, middle, turn, length, 2 * side + 4);
  const auto [small, step] = patch.coarse(ClothPatch::kRough_mm);
  std::optional<std::pair<size_t, RoughLine>> rough;
  double least = kLeastAgainst;
  for (size_t i = 0; i < kLineSignals; ++i) {
    double spread = 1;
    const RoughLine r = bestLine(signalOf(small, i), step, length, s, &spread);
    if (r.score > kLeastLine && r.score / spread > least) least = r.score / spread, rough = {i, r};
  }
  if (!rough) return std::nullopt;
  const double way = radians(turn + rough->second.turn_deg);
  LineSearch line;
  line.way = {std::cos(way), std::sin(way)};
  line.at = middle + Transform::turning(turn).turn({0, rough->second.across_mm});
  const double half = length / 2 - kEndsFree_mm - s.reach_mm / 2;
  const double known = std::max(length * 0.3, half);
  line.stretches = {{0, known, known}, {0, -known, -known}};
  line.signal = lineSignal(rough->first);
  const auto match = matchLine(photo, plane, line);
  if (!match) return std::nullopt;
  const Along along(photo, plane, *match);
  const double here = dot(middle - match->at, match->way);
  const double inside = length * 0.25, beyond = length / 2 + s.reach_mm + kLeastBeyond_mm;
  const auto end = endBetween(along, here + inside, here + beyond),
             knot = endBetween(along, here - inside, here - beyond);
  if (!end || !knot) return std::nullopt;
  const double seen = *end - *knot - kThreadWide_mm;
  if (std::abs(seen - length) > kLengthOff * length + 2 * kEndAlong_mm) return std::nullopt;
  SeenSewnLine out;
  out.knot = match->at + match->way * (*knot + kThreadWide_mm / 2);
  out.end = match->at + match->way * (*end - kThreadWide_mm / 2);
  out.across_mm = std::hypot(match->sigma_mm, match->turn_sigma * length / 2);
  out.along_mm = std::hypot(kEndAlong_mm, plane.mmPerPixel(middle) / 4);
  out.strength = match->strength;
  return out;
}

}  // namespace rt
