#include "cross_finder.h"

#include <algorithm>
#include <functional>
#include <opencv2/imgproc.hpp>

#include "line_fit.h"

namespace rt {
namespace {

constexpr double kMostTurn_deg = 6, kTurnStep_deg = 0.5;
constexpr double kBackground_mm = 2.2;  // wider than any line that is drawn or sewn
constexpr double kLeastStrength = 2.5;  // grey levels that both lines stand out by
constexpr double kLeastContrast = 3.0;  // times the spread of what is no cross
constexpr double kWindow_mm = 1.2;      // a line's step is sought this far across
constexpr double kRough_mm = 0.35;      // cells of the first search
constexpr double kMiddle_mm = 1.0;      // where the lines meet neither is measured

/// How far each place differs from the cloth around it, along the colour in which the cloth's lines
/// differ most; a patch of the plane turned as the cross is expected.
class Patch {
 public:
  Patch(const Photo& photo, const Plane& plane, const CrossSearch& s)
      : s_(s), step_(std::clamp(plane.mmPerPixel(s.near) * 0.8, 0.06, 0.35)) {
    half_ = s.reach_mm + s.arm_mm + 2;
    size_ = static_cast<int>(2 * half_ / step_) + 1;
    cv::Mat colour(size_, size_, CV_32FC3);
    for (int y = 0; y < size_; ++y)
      for (int x = 0; x < size_; ++x) {
        double c[3];
        photo.colour(plane.toPhoto(toPlane({x * 1.0, y * 1.0})), c);
        colour.at<cv::Vec3f>(y, x) = {static_cast<float>(c[0]), static_cast<float>(c[1]),
                                      static_cast<float>(c[2])};
      }
    // the cloth around is smooth: it is evened in coarse cells
    const double times = std::max(1.0, kRough_mm / step_);
    const int coarse = std::max(8, static_cast<int>(std::lround(size_ / times)));
    cv::Mat around;
    cv::resize(colour, around, {coarse, coarse}, 0, 0, cv::INTER_AREA);
    cv::GaussianBlur(around, around, {}, kBackground_mm / (step_ * size_ / coarse));
    cv::resize(around, around, {size_, size_}, 0, 0, cv::INTER_LINEAR);
    difference_ = colour - around;
  }

  Point toPlane(Point cell) const {
    const Transform t = Transform::moving(s_.near) * Transform::turning(s_.turn_deg);
    return t(cell * step_ - Point{half_, half_});
  }
  const cv::Mat& difference() const { return difference_; }
  double step() const { return step_; }
  int size() const { return size_; }

 private:
  CrossSearch s_;
  double step_, half_ = 0;
  int size_ = 0;
  cv::Mat difference_;
};

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

/// One line, found again along its arms: where it lies across, and how well that is known.
struct Measured {
  Point at, way;  // on the plane, mm
  double sigma = 0;
  bool good = false;
};

Measured measure(const cv::Mat& turned, double step, Point cell, bool horizontal, double arm_mm,
                 const std::function<Point(Point)>& toPlane) {
  std::vector<Point> places;
  const int arm = static_cast<int>(arm_mm / step), gap = static_cast<int>(kMiddle_mm / step);
  const int window = std::max(2, static_cast<int>(kWindow_mm / step));
  const int along =
      std::max(1, static_cast<int>(0.5 / step));  // places are half a millimetre apart
  for (int side : {-1, 1})
    for (int k = gap; k + along <= arm; k += along) {
      double sum = 0, weight = 0;
      std::vector<double> profile;
      for (int w = -window; w <= window; ++w) {
        double value = 0;
        for (int i = 0; i < along; ++i) {
          const int u = static_cast<int>(horizontal ? cell.x : cell.y) + side * (k + i),
                    v = static_cast<int>(horizontal ? cell.y : cell.x) + w;
          const int x = horizontal ? u : v, y = horizontal ? v : u;
          if (x >= 0 && y >= 0 && x < turned.cols && y < turned.rows)
            value += turned.at<float>(y, x);
        }
        profile.push_back(value / along);
      }
      const double most = *std::max_element(profile.begin(), profile.end());
      if (most <= 0) continue;
      for (size_t i = 0; i < profile.size(); ++i)
        if (const double g = profile[i] - 0.4 * most; g > 0)
          sum += g * (static_cast<double>(i) - window), weight += g;
      const double across = (horizontal ? cell.y : cell.x) + sum / weight;
      const double at = (horizontal ? cell.x : cell.y) + side * (k + along / 2.0);
      places.push_back(toPlane(horizontal ? Point{at, across} : Point{across, at}));
    }
  const auto fit = fitLine(std::move(places), 0.03, 4);
  if (!fit) return {};
  return {fit->at, fit->way, fit->rms / std::sqrt(static_cast<double>(fit->places)), true};
}

constexpr size_t kSignals = 12;

/// One of the ways in which a line can differ from the cloth: brightness both ways, each colour
/// both ways, and pairs of colours against one another: thread or pen differ in one of them.
cv::Mat signalOf(const cv::Mat& difference, size_t which) {
  static constexpr float kWeights[kSignals / 2][3] = {
      {0.114F, 0.587F, 0.299F}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}, {-1, 0, 1}, {-0.5F, 1, -0.5F}};
  const float* w = kWeights[which / 2];
  const float side = which % 2 == 0 ? 1.0F : -1.0F;
  cv::Mat out;
  cv::transform(difference, out, cv::Matx13f(side * w[0], side * w[1], side * w[2]));
  return out;
}

/// The best place over all ways in which a line can differ, sought in cells that are no finer than
/// a line is wide: a finer photo costs no more. Which signal, and where in the patch.
std::optional<std::pair<size_t, Candidate>> findRough(const Patch& patch, const CrossSearch& s) {
  const double times = std::max(1.0, kRough_mm / patch.step());
  const int size = std::max(8, static_cast<int>(std::lround(patch.size() / times)));
  const double step = patch.step() * patch.size() / size;
  const Region all{{(size - 1) / 2.0, (size - 1) / 2.0}, s.reach_mm};
  std::optional<std::pair<size_t, Candidate>> out;
  double least = kLeastContrast;
  cv::Mat small;
  cv::resize(patch.difference(), small, {size, size}, 0, 0, cv::INTER_AREA);
  for (size_t i = 0; i < kSignals; ++i) {
    const cv::Mat coarse = signalOf(small, i);
    for (double turn = -kMostTurn_deg; turn <= kMostTurn_deg; turn += 2 * kTurnStep_deg) {
      const Candidate c = best(coarse, step, s.arm_mm, all, turn);
      if (const double value = c.score / c.spread; value > least && c.score > kLeastStrength)
        least = value, out = {i, c};
    }
  }
  if (out) {
    Candidate& c = out->second;
    c.cell = (c.cell - all.cell) * (step / patch.step()) +
             Point{(patch.size() - 1) / 2.0, (patch.size() - 1) / 2.0};
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

}  // namespace

std::optional<SeenCross> findCross(const Photo& photo, const Plane& plane, const CrossSearch& s) {
  const Patch patch(photo, plane, s);
  const auto rough = findRough(patch, s);
  if (!rough) return std::nullopt;
  const cv::Mat signal = signalOf(patch.difference(), rough->first);
  const Candidate found = sharpened(signal, patch.step(), s.arm_mm, rough->second);
  if (found.score < kLeastStrength) return std::nullopt;
  cv::Mat turned;
  const cv::Point2f middle((static_cast<float>(patch.size()) - 1) / 2,
                           (static_cast<float>(patch.size()) - 1) / 2);
  const cv::Mat rotation = cv::getRotationMatrix2D(middle, found.turn_deg, 1);
  cv::warpAffine(signal, turned, rotation, signal.size(), cv::INTER_LINEAR, cv::BORDER_REFLECT);
  cv::Mat undo;
  cv::invertAffineTransform(rotation, undo);
  const auto toPlane = [&](Point cell) {
    return patch.toPlane(
        {undo.at<double>(0, 0) * cell.x + undo.at<double>(0, 1) * cell.y + undo.at<double>(0, 2),
         undo.at<double>(1, 0) * cell.x + undo.at<double>(1, 1) * cell.y + undo.at<double>(1, 2)});
  };
  const Measured across = measure(turned, patch.step(), found.cell, true, s.arm_mm, toPlane),
                 down = measure(turned, patch.step(), found.cell, false, s.arm_mm, toPlane);
  if (!across.good || !down.good) return std::nullopt;
  const double d = cross(across.way, down.way);
  if (std::abs(d) < 0.98) return std::nullopt;  // not at right angles
  SeenCross out;
  out.at = across.at + across.way * (cross(down.at - across.at, down.way) / d);
  if (distance(out.at, s.near) > s.reach_mm * 1.5) return std::nullopt;
  const Point way = across.way.x < 0 ? across.way * -1 : across.way;
  out.turn_deg = degrees(std::atan2(way.y, way.x));
  out.sigma_mm = std::hypot(across.sigma, down.sigma) / std::sqrt(2.0);
  out.strength = found.score;
  return out;
}

}  // namespace rt
