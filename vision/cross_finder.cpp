#include "cross_finder.h"

#include <algorithm>
#include <opencv2/imgproc.hpp>

#include "cloth_patch.h"
#include "line_match.h"

namespace rt {
namespace {

constexpr double kMostTurn_deg = 6, kTurnStep_deg = 0.5;
constexpr double kLeastStrength = 2.5;  // grey levels that both lines stand out by
constexpr double kLeastContrast = 3.0;  // times the spread of what is no cross
constexpr double kRough_mm = 0.35;      // cells of the first search
constexpr double kLongArm = 1.6;        // an arm may go on so far
constexpr double kMiddle_mm = 1.0;      // where the lines meet neither is measured

struct Candidate {
  double score = 0;
  Point cell;  // in the turned patch
  double turn_deg = 0;
  double spread = 1;  // of scores elsewhere
};

/// Where a cross may be, in cells of a turned patch.
struct Region {
  Point cell;
  double reach_mm;
};

/// Arms of both lines as sums along them: the weaker of the four counts.
Candidate best(const cv::Mat& signal, double step, double arm_mm, const Region& region,
               double turn_deg) {
  const int size = signal.rows;
  cv::Mat turned;
  const cv::Point2f middle((static_cast<float>(size) - 1) / 2, (static_cast<float>(size) - 1) / 2);
  cv::warpAffine(signal, turned, cv::getRotationMatrix2D(middle, turn_deg, 1), signal.size(),
                 cv::INTER_LINEAR, cv::BORDER_REFLECT);
  const int arm = std::max(4, static_cast<int>(arm_mm * 0.85 / step));
  const int gap = std::max(1, static_cast<int>(kMiddle_mm / step));
  const int thick = std::max(1, static_cast<int>(std::round(0.35 / step)));
  cv::Mat across, down;
  cv::blur(turned, across, {arm, thick});
  cv::blur(turned, down, {thick, arm});
  const int off = gap + arm / 2;
  const int reach = std::max(1, static_cast<int>(region.reach_mm / step)),
            centreX = static_cast<int>(std::lround(region.cell.x)),
            centreY = static_cast<int>(std::lround(region.cell.y));
  Candidate out;
  out.turn_deg = turn_deg;
  double sum = 0, square = 0;
  size_t n = 0;
  for (int y = centreY - reach; y <= centreY + reach; ++y)
    for (int x = centreX - reach; x <= centreX + reach; ++x) {
      if (y - off < 0 || x - off < 0 || y + off >= size || x + off >= size) continue;
      const double weakest = std::min({across.at<float>(y, x - off), across.at<float>(y, x + off),
                                       down.at<float>(y - off, x), down.at<float>(y + off, x)});
      sum += weakest, square += weakest * weakest, ++n;
      if (weakest > out.score) out.score = weakest, out.cell = {x * 1.0, y * 1.0};
    }
  if (n > 1) {
    const double mean = sum / static_cast<double>(n);
    out.spread = std::sqrt(std::max(1e-6, square / static_cast<double>(n) - mean * mean));
  }
  return out;
}

/// The best place over all ways in which a line can differ, sought in cells that are no finer than
/// a line is wide: a finer photo costs no more. Which signal, and where in the patch.
std::optional<std::pair<size_t, Candidate>> findRough(const ClothPatch& patch,
                                                      const CrossSearch& s) {
  const auto [small, step] = patch.coarse();
  const Region all{{(small.cols - 1) / 2.0, (small.rows - 1) / 2.0}, s.reach_mm};
  std::optional<std::pair<size_t, Candidate>> out;
  double least = kLeastContrast;
  for (size_t i = 0; i < kLineSignals; ++i) {
    const cv::Mat signal = signalOf(small, i);
    for (double turn = -kMostTurn_deg; turn <= kMostTurn_deg; turn += 2 * kTurnStep_deg) {
      const Candidate c = best(signal, step, s.arm_mm, all, turn);
      if (const double value = c.score / c.spread; value > least && c.score > kLeastStrength)
        least = value, out = {i, c};
    }
  }
  if (out) {
    Candidate& c = out->second;
    c.cell = (c.cell - all.cell) * (step / patch.step()) + patch.middle();
  }
  return out;
}

/// The same place in the photo's own cells, and turned by half a step where that is better.
Candidate sharpened(const cv::Mat& signal, double step, double arm_mm, const Candidate& rough) {
  const Region near{rough.cell, 2 * kRough_mm};
  Candidate out;
  for (double turn :
       {rough.turn_deg, rough.turn_deg - kTurnStep_deg, rough.turn_deg + kTurnStep_deg})
    if (const Candidate c = best(signal, step, arm_mm, near, turn); c.score > out.score) out = c;
  return out;
}

/// One of a cross's lines, seen again in the photo itself: its resampling would blur it.
std::optional<LineMatch> lineOf(const Photo& photo, const Plane& plane, const ClothPatch& patch,
                                const Candidate& found, double arm_mm,
                                const std::array<double, 3>& signal, double turn_deg) {
  const double arm = arm_mm, most = arm_mm * kLongArm;
  const Point unturned =
      patch.middle() + Transform::turning(found.turn_deg).turn(found.cell - patch.middle());
  LineSearch line;
  line.at = patch.toPlane(unturned);
  const double way = radians(patch.turn_deg() + found.turn_deg + turn_deg);
  line.way = {std::cos(way), std::sin(way)};
  line.stretches = {{kMiddle_mm, arm, most}, {-kMiddle_mm, -arm, -most}};
  line.signal = signal;
  return matchLine(photo, plane, line);
}

/// One sigma across a line at a place along it, mm.
double offAt(const LineMatch& line, Point at) {
  return std::hypot(line.sigma_mm, line.turn_sigma * dot(at - line.at, line.way));
}

}  // namespace

std::optional<SeenCross> findCross(const Photo& photo, const Plane& plane, const CrossSearch& s) {
  const double edge = 2 * (s.reach_mm + s.arm_mm + 2);
  const ClothPatch patch(photo, plane, s.near, s.turn_deg, edge, edge);
  const auto rough = findRough(patch, s);
  if (!rough) return std::nullopt;
  const cv::Mat signal = signalOf(patch.difference(), rough->first);
  const Candidate found = sharpened(signal, patch.step(), s.arm_mm, rough->second);
  if (found.score < kLeastStrength) return std::nullopt;
  const auto across = lineOf(photo, plane, patch, found, s.arm_mm, lineSignal(rough->first), 0),
             down = lineOf(photo, plane, patch, found, s.arm_mm, lineSignal(rough->first), 90);
  if (!across || !down) return std::nullopt;
  const double d = cross(across->way, down->way);
  if (std::abs(d) < 0.98) return std::nullopt;  // not at right angles
  SeenCross out;
  out.at = across->at + across->way * (cross(down->at - across->at, down->way) / d);
  if (distance(out.at, s.near) > s.reach_mm * 1.5) return std::nullopt;
  const Point way = across->way.x < 0 ? across->way * -1 : across->way;
  out.turn_deg = degrees(std::atan2(way.y, way.x));
  out.sigma_mm = std::hypot(offAt(*across, out.at), offAt(*down, out.at)) / std::sqrt(2.0);
  out.strength = found.score;
  return out;
}

}  // namespace rt
