#include "cross_finder.h"

#include <algorithm>
#include <array>
#include <opencv2/imgproc.hpp>

#include "cloth_patch.h"
#include "line_match.h"

namespace rt {
namespace {

constexpr double kMostTurn_deg = 6, kTurnStep_deg = 0.75;
constexpr double kLeastStrength = 2.5;  // grey levels that both lines stand out by
constexpr double kLeastContrast = 3.0;  // times the spread of what is no cross
constexpr double kSharp_mm = 0.18;      // cells of the second search
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

/// Lighter and darker than the cloth in one signal.
using BothSides = std::array<Candidate, 2>;

/// Arms of both lines as sums along them: the weaker of the four counts.
BothSides best(const cv::Mat& signal, double step, double arm_mm, const Region& region,
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
  BothSides out;
  double sum[2] = {0, 0}, square[2] = {0, 0};
  size_t n = 0;
  for (int y = std::max(off, centreY - reach); y <= std::min(size - 1 - off, centreY + reach); ++y)
    for (int x = std::max(off, centreX - reach); x <= std::min(size - 1 - off, centreX + reach);
         ++x) {
      const double arms[4] = {across.at<float>(y, x - off), across.at<float>(y, x + off),
                              down.at<float>(y - off, x), down.at<float>(y + off, x)};
      const auto [least, most] = std::minmax({arms[0], arms[1], arms[2], arms[3]});
      const double weakest[2] = {least, -most};
      ++n;
      for (size_t side = 0; side < 2; ++side) {
        const double w = weakest[side];
        sum[side] += w, square[side] += w * w;
        if (w > out[side].score) out[side].score = w, out[side].cell = {x * 1.0, y * 1.0};
      }
    }
  for (size_t side = 0; side < 2; ++side) {
    out[side].turn_deg = turn_deg;
    if (n < 2) continue;
    const double mean = sum[side] / static_cast<double>(n);
    out[side].spread =
        std::sqrt(std::max(1e-6, square[side] / static_cast<double>(n) - mean * mean));
  }
  return out;
}

/// The best place over all ways in which a line can differ, sought in cells that are no finer than
/// a line is wide: a finer photo costs no more. Which signal, and where in the patch.
std::optional<std::pair<size_t, Candidate>> findRough(const ClothPatch& patch,
                                                      const CrossSearch& s) {
  const auto [small, step] = patch.coarse(ClothPatch::kRough_mm);
  const Region all{{(small.cols - 1) / 2.0, (small.rows - 1) / 2.0}, s.reach_mm};
  std::optional<std::pair<size_t, Candidate>> out;
  double least = kLeastContrast;
  for (size_t i = 0; i < kLineSignals; i += 2) {
    const cv::Mat signal = signalOf(small, i);
    for (double turn = -kMostTurn_deg; turn <= kMostTurn_deg; turn += 2 * kTurnStep_deg) {
      const BothSides sides = best(signal, step, s.arm_mm, all, turn);
      for (size_t side = 0; side < 2; ++side) {
        const Candidate& c = sides[side];
        if (const double value = c.score / c.spread; value > least && c.score > kLeastStrength)
          least = value, out = {i + side, c};
      }
    }
  }
  if (out)
    out->second.cell = (out->second.cell - all.cell) * (step / patch.step()) + patch.middle();
  return out;
}

/// The same place in finer cells, and turned by half a step where that is better.
Candidate sharpened(const ClothPatch& patch, size_t which, double arm_mm, const Candidate& rough) {
  const auto [small, step] = patch.coarse(kSharp_mm);
  const cv::Mat signal = signalOf(small, which);
  const Point middle{(small.cols - 1) / 2.0, (small.rows - 1) / 2.0};
  const double times = step / patch.step();
  const Region near{(rough.cell - patch.middle()) * (1 / times) + middle,
                    2 * ClothPatch::kRough_mm};
  Candidate out;
  for (double turn :
       {rough.turn_deg, rough.turn_deg - kTurnStep_deg, rough.turn_deg + kTurnStep_deg})
    if (const Candidate c = best(signal, step, arm_mm, near, turn)[0]; c.score > out.score) out = c;
  out.cell = (out.cell - middle) * times + patch.middle();
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
  const Candidate found = sharpened(patch, rough->first, s.arm_mm, rough->second);
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
