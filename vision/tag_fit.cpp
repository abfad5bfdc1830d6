#include "tag_fit.h"

#include <Eigen/Dense>
#include <algorithm>
#include <numbers>
#include <vector>

namespace rt {
namespace {

constexpr int kAcross = 8;           // modules of a tag
constexpr double kMargin = 0.5;      // of a module around the tag that is looked at too
constexpr size_t kMostTaken = 5000;  // of larger tags every second, third … pixel is taken
constexpr int kFitRounds = 25;
constexpr double kFirstBlur_px = 0.8, kLeastBlur_px = 0.3;
constexpr double kMostBlur = 0.45;       // of a module: beyond it modules cannot be told apart
constexpr double kFarthest_px = 2.5;     // from where the corners were thought to be
constexpr double kMostLeft = 0.09;       // of the contrast may be left unexplained
constexpr double kLeastBlackWhite = 20;  // grey levels
constexpr int kHomography = 8, kLevels = 6, kAll = kHomography + kLevels + 1;
constexpr double kStill = 5e-4;  // modules: a step so small is none

using Vector = Eigen::Matrix<double, kAll, 1>;
using Matrix = Eigen::Matrix<double, kAll, kAll>;

/// The Gauss curve's integral and the curve itself, from a table: they are asked for millions of
/// times.
class Bell {
 public:
  Bell() {
    for (int i = 0; i < kSize; ++i) {
      const double z = (i - kSize / 2) / kPer;
      table_[static_cast<size_t>(i)] = {std::erfc(-z / std::numbers::sqrt2) / 2,
                                        std::exp(-z * z / 2) / std::sqrt(2 * std::numbers::pi)};
    }
  }
  std::array<double, 2> at(double z) const {
    const double t = std::clamp(z * kPer + kSize / 2, 0.0, kSize - 2.0);
    const auto i = static_cast<size_t>(t);
    const double f = t - static_cast<double>(i);
    return {table_[i][0] * (1 - f) + table_[i + 1][0] * f,
            table_[i][1] * (1 - f) + table_[i + 1][1] * f};
  }

 private:
  static constexpr int kSize = 2560;
  static constexpr double kPer = 256;  // a unit: to five units either way
  std::array<std::array<double, 2>, kSize> table_{};
};

/// Weights of the modules about a place along one axis, and how they change with place and blur.
struct Share {
  static constexpr int kReach = 2;
  int first = 0;
  std::array<double, 2 * kReach + 1> weight{}, by_place{}, by_blur{};

  Share(double q, double blur, const Bell& bell) : first(static_cast<int>(std::floor(q)) - kReach) {
    double z = (q - first) / blur;
    auto low = bell.at(z);
    for (size_t i = 0; i < weight.size(); ++i) {
      const double next = z - 1 / blur;
      const auto high = bell.at(next);
      weight[i] = low[0] - high[0];
      by_place[i] = (low[1] - high[1]) / blur;
      by_blur[i] = (next * high[1] - z * low[1]) / blur;
      z = next, low = high;
    }
  }
};

class TagFitter {
 public:
  TagFitter(const Photo& photo, const std::array<Point, 4>& corners, const TagModules& modules,
            const Bend& bend)
      : photo_(photo),
        modules_(modules),
        lens_(CameraLens::of(photo.width(), photo.height(), bend)) {
    for (size_t i = 0; i < 4; ++i) corners_[i] = lens_.straight(corners[i]);
    for (Point c : corners_) middle_ = middle_ + c * 0.25;
    for (Point c : corners_) half_ += distance(c, middle_) / 4;
  }

  std::optional<TagFit> run() {
    if (!(half_ * lens_.half > 8) || !start()) return std::nullopt;
    choosePixels();
    if (pixels_.size() < 10 * kAll) return std::nullopt;
    bool settled = false;
    for (int round = 0; round < kFitRounds && !settled; ++round) {
      const auto step = improve(round);
      if (!step) return std::nullopt;
      settled = round > 2 && *step < kStill;
    }
    return settled ? result() : std::nullopt;
  }

 private:
  struct Pixel {
    Point at;  // normalised
    double grey;
  };
  struct Place {
    double x, y, w;  // modules; the homography's third coordinate
  };

  Point normal(Point u) const { return (u - middle_) * (1 / half_); }
  Place tagAt(Point n) const {
    const double w = g_[6] * n.x + g_[7] * n.y + 1;
    return {(g_[0] * n.x + g_[1] * n.y + g_[2]) / w, (g_[3] * n.x + g_[4] * n.y + g_[5]) / w, w};
  }

  /// The homography through the corners as they are thought to be.
  bool start() {
    Eigen::Matrix<double, 8, 8> a;
    Eigen::Matrix<double, 8, 1> b;
    constexpr double kTo[4][2] = {{0, 0}, {kAcross, 0}, {kAcross, kAcross}, {0, kAcross}};
    for (int i = 0; i < 4; ++i) {
      const Point n = normal(corners_[static_cast<size_t>(i)]);
      a.row(2 * i) << n.x, n.y, 1, 0, 0, 0, -kTo[i][0] * n.x, -kTo[i][0] * n.y;
      a.row(2 * i + 1) << 0, 0, 0, n.x, n.y, 1, -kTo[i][1] * n.x, -kTo[i][1] * n.y;
      b[2 * i] = kTo[i][0], b[2 * i + 1] = kTo[i][1];
    }
    const Eigen::Matrix<double, 8, 1> g = a.partialPivLu().solve(b);
    if (!g.allFinite()) return false;
    for (int i = 0; i < 8; ++i) g_[static_cast<size_t>(i)] = g[i];
    return true;
  }

  void choosePixels() {
    Box box;
    for (Point c : corners_)
      box.add(lens_.seen(middle_ + (c - middle_) * (1 + 2.5 * kMargin / kAcross)));
    const int left = std::max(0, static_cast<int>(box.left)),
              top = std::max(0, static_cast<int>(box.top)),
              right = std::min(photo_.width() - 1, static_cast<int>(box.right) + 1),
              bottom = std::min(photo_.height() - 1, static_cast<int>(box.bottom) + 1);
    const double area = std::max(0.0, box.width()) * std::max(0.0, box.height());
    const int stride =
        std::max(1, static_cast<int>(std::ceil(std::sqrt(area / static_cast<double>(kMostTaken)))));
    for (int y = top; y <= bottom; y += stride)
      for (int x = left; x <= right; x += stride) {
        const Point n = normal(lens_.straight({x * 1.0, y * 1.0}));
        const Place q = tagAt(n);
        if (q.x < -kMargin || q.y < -kMargin || q.x > kAcross + kMargin || q.y > kAcross + kMargin)
          continue;
        pixels_.push_back(
            {n,
             static_cast<double>(
                 photo_.greyPixels()[static_cast<size_t>(y) * static_cast<size_t>(photo_.width()) +
                                     static_cast<size_t>(x)])});
      }
  }

  double module(int x, int y) const {
    return x < 0 || y < 0 || x >= kAcross || y >= kAcross
               ? 1.0
               : modules_[static_cast<size_t>(kAcross * y + x)];
  }

  /// The blurred tag at a place, and how it changes with place and blur.
  struct Shade {
    double value = 0, by_x = 0, by_y = 0, by_blur = 0;
  };
  Shade shadeAt(const Place& q, double blur) const {
    const Share x(q.x, blur, bell()), y(q.y, blur, bell());
    Shade out;
    for (size_t j = 0; j < y.weight.size(); ++j) {
      double row = 0, row_place = 0, row_blur = 0;
      for (size_t i = 0; i < x.weight.size(); ++i) {
        const double c = module(x.first + static_cast<int>(i), y.first + static_cast<int>(j));
        row += c * x.weight[i], row_place += c * x.by_place[i], row_blur += c * x.by_blur[i];
      }
      out.value += row * y.weight[j];
      out.by_x += row_place * y.weight[j];
      out.by_y += row * y.by_place[j];
      out.by_blur += row_blur * y.weight[j] + row * y.by_blur[j];
    }
    return out;
  }
  static const Bell& bell() {
    static const Bell table;
    return table;
  }

  double modules_px() const { return half_ * lens_.half * std::numbers::sqrt2 / kAcross; }

  /// One step; how far the tag moved, modules. After two, pixels that are far off count less.
  std::optional<double> improve(int round) {
    Matrix normal = Matrix::Zero();
    Vector rhs = Vector::Zero();
    const double blur = blur_ / modules_px();
    const double scale = round > 1 ? std::max(1.0, 2.5 * noise_) : INFINITY;
    std::vector<double> left;
    left.reserve(pixels_.size());
    weights_ = 0;
    double square = 0;
    for (const Pixel& p : pixels_) {
      const Place q = tagAt(p.at);
      const Shade s = shadeAt(q, blur);
      const double light[3] = {1, p.at.x, p.at.y};
      double base = 0, contrast = 0;
      Vector j;
      for (int k = 0; k < 3; ++k) {
        base += levels_[static_cast<size_t>(k)] * light[k];
        contrast += levels_[static_cast<size_t>(3 + k)] * light[k];
        j[kHomography + k] = light[k], j[kHomography + 3 + k] = light[k] * s.value;
      }
      const double dx = contrast * s.by_x / q.w, dy = contrast * s.by_y / q.w;
      const double along = dx * q.x + dy * q.y;
      j[0] = dx * p.at.x, j[1] = dx * p.at.y, j[2] = dx;
      j[3] = dy * p.at.x, j[4] = dy * p.at.y, j[5] = dy;
      j[6] = -along * p.at.x, j[7] = -along * p.at.y;
      j[kAll - 1] = contrast * s.by_blur;
      const double r = p.grey - base - contrast * s.value;
      const double far = r / scale, weight = 1 / ((1 + far * far) * (1 + far * far));
      normal.selfadjointView<Eigen::Lower>().rankUpdate(j, weight);
      rhs += weight * r * j;
      left.push_back(std::abs(r));
      weights_ += weight, square += weight * r * r;
    }
    if (!begun_) return beginLevels(normal, rhs);
    normal.diagonal().array() *= 1 + 1e-9;
    Matrix full = normal.selfadjointView<Eigen::Lower>();
    const Eigen::LDLT<Matrix> solver(full);
    // what counts less and less may swing to and fro: later steps are shorter
    const Vector step = solver.solve(rhs) * (round > kFitRounds / 3 ? 0.6 : 1.0);
    if (!step.allFinite()) return std::nullopt;
    for (int k = 0; k < kHomography; ++k) g_[static_cast<size_t>(k)] += step[k];
    for (int k = 0; k < kLevels; ++k) levels_[static_cast<size_t>(k)] += step[kHomography + k];
    const double next = blur_ + std::clamp(step[kAll - 1] * modules_px(), -blur_ / 2, blur_ / 2);
    blur_ = std::clamp(next, kLeastBlur_px, kMostBlur * modules_px());
    std::nth_element(left.begin(), left.begin() + static_cast<long>(left.size() / 2), left.end());
    noise_ = left[left.size() / 2] * 1.4826;
    variance_ = square / std::max(1.0, weights_ - kAll);
    covariance_ = solver.solve(Matrix::Identity());
    return step.head<kHomography>().cwiseAbs().maxCoeff();
  }

  /// Light and dark first: without them nothing else can be told.
  std::optional<double> beginLevels(const Matrix& normal, const Vector& rhs) {
    using Levels = Eigen::Matrix<double, kLevels, kLevels>;
    const Levels part = Levels(normal.block<kLevels, kLevels>(kHomography, kHomography))
                            .selfadjointView<Eigen::Lower>();
    const Eigen::Matrix<double, kLevels, 1> levels =
        part.ldlt().solve(rhs.segment<kLevels>(kHomography));
    if (!levels.allFinite() || levels[3] < kLeastBlackWhite) return std::nullopt;
    for (int k = 0; k < kLevels; ++k) levels_[static_cast<size_t>(k)] = levels[k];
    begun_ = true;
    return 1.0;
  }

  std::optional<TagFit> result() const {
    if (levels_[3] < kLeastBlackWhite || std::sqrt(variance_) > kMostLeft * levels_[3] + noise_)
      return std::nullopt;
    Eigen::Matrix3d g;
    g << g_[0], g_[1], g_[2], g_[3], g_[4], g_[5], g_[6], g_[7], 1;
    const Eigen::Matrix3d back = g.inverse();
    constexpr double kCorners[4][2] = {{0, 0}, {kAcross, 0}, {kAcross, kAcross}, {0, kAcross}};
    TagFit out;
    double square = 0;
    for (size_t i = 0; i < 4; ++i) {
      const Eigen::Vector3d v = back * Eigen::Vector3d(kCorners[i][0], kCorners[i][1], 1);
      const Point n{v.x() / v.z(), v.y() / v.z()};
      const Point at = middle_ + n * half_;
      if (!(distance(at, corners_[i]) * lens_.half < kFarthest_px)) return std::nullopt;
      out.corners[i] = lens_.seen(at);
      square += varianceOf(n) / 4;
    }
    out.corner_px = std::sqrt(square) * half_ * lens_.half;
    return out;
  }

  /// Mean variance a coordinate of where a place of the tag is seen.
  double varianceOf(Point n) const {
    const Place q = tagAt(n);
    Eigen::Matrix2d by_px;
    by_px << g_[0] - q.x * g_[6], g_[1] - q.x * g_[7], g_[3] - q.y * g_[6], g_[4] - q.y * g_[7];
    Eigen::Matrix<double, 2, kHomography> by_g;
    by_g << n.x, n.y, 1, 0, 0, 0, -q.x * n.x, -q.x * n.y,  //
        0, 0, 0, n.x, n.y, 1, -q.y * n.x, -q.y * n.y;
    const Eigen::Matrix<double, 2, kHomography> d = by_px.inverse() * by_g;
    return variance_ *
           (d * covariance_.topLeftCorner<kHomography, kHomography>() * d.transpose()).trace() / 2;
  }

  const Photo& photo_;
  const TagModules& modules_;
  CameraLens lens_;
  std::array<Point, 4>
      corners_{};  // as a straight lens would show them, parts of half the diagonal
  Point middle_;
  double half_ = 0;
  std::vector<Pixel> pixels_;
  std::array<double, kHomography> g_{};
  std::array<double, kLevels> levels_{};
  double blur_ = kFirstBlur_px, noise_ = 10, variance_ = 0, weights_ = 0;
  bool begun_ = false;
  Matrix covariance_ = Matrix::Zero();
};

}  // namespace

std::optional<TagFit> fitTag(const Photo& photo, const std::array<Point, 4>& corners,
                             const TagModules& modules, const Bend& bend) {
  return TagFitter(photo, corners, modules, bend).run();
}

}  // namespace rt
