#include "sewn_shift.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

namespace rt {
namespace {

constexpr double kThread_mm = 0.4;
constexpr double kSmooth_mm = 0.25;  // rows of a fill become one plane
constexpr double kAround_mm = 3;     // cloth beside the thread that is looked at
constexpr double kFinest_mm = 0.12, kCoarsest_mm = 0.3;  // of the grid
constexpr double kGrid_mm = 0.4;                         // of the first search
constexpr double kCell_mm = 0.5;                         // weave and shading hang together so far
constexpr size_t kMostColours = 5, kCoarsePlaces = 4000, kFinePlaces = 40000;
constexpr double kTurnSigma = 0.01;  // radians, of cloth that was aligned, before it is looked at
constexpr double kLeastExplained = 0.25;  // part of the variance that the thread has to explain
constexpr double kLeastSigma_mm = 0.006;  // thread is no ruled line
constexpr int kRounds = 12;

/// Values on a grid over a box.
class Raster {
 public:
  Raster(const Box& box, double step)
      : box_(box),
        step_(step),
        width_(static_cast<int>(box.width() / step) + 1),
        height_(static_cast<int>(box.height() / step) + 1),
        values_(static_cast<size_t>(width_) * static_cast<size_t>(height_)) {}
  int width() const { return width_; }
  int height() const { return height_; }
  float& at(int x, int y) { return values_[index(x, y)]; }
  float at(int x, int y) const { return values_[index(x, y)]; }
  Point place(int x, int y) const { return {box_.left + x * step_, box_.top + y * step_}; }

  /// Between the grid's places linearly; its edge goes on for ever.
  double operator()(Point p) const {
    const double fx = std::clamp((p.x - box_.left) / step_, 0.0, width_ - 1.001);
    const double fy = std::clamp((p.y - box_.top) / step_, 0.0, height_ - 1.001);
    const int x = static_cast<int>(fx), y = static_cast<int>(fy);
    const double u = fx - x, v = fy - y;
    return (at(x, y) * (1 - u) + at(x + 1, y) * u) * (1 - v) +
           (at(x, y + 1) * (1 - u) + at(x + 1, y + 1) * u) * v;
  }

  /// Calls `each(x, y, distance)` for places within `reach` of a stroke.
  template <class Each>
  void near(Point a, Point b, double reach, Each&& each) const {
    Box around;
    around.add(a), around.add(b);
    around = around.grown(reach);
    const int left = std::max(0, static_cast<int>(std::floor((around.left - box_.left) / step_)));
    const int top = std::max(0, static_cast<int>(std::floor((around.top - box_.top) / step_)));
    const int right =
        std::min(width_ - 1, static_cast<int>(std::ceil((around.right - box_.left) / step_)));
    const int bottom =
        std::min(height_ - 1, static_cast<int>(std::ceil((around.bottom - box_.top) / step_)));
    const Point along = b - a;
    const double square = dot(along, along);
    for (int y = top; y <= bottom; ++y)
      for (int x = left; x <= right; ++x) {
        const Point p = place(x, y);
        const double t = square > 0 ? std::clamp(dot(p - a, along) / square, 0.0, 1.0) : 0;
        if (const double d = distance(p, a + along * t); d <= reach) each(x, y, d);
      }
  }

  void smooth(double sigma_mm) {
    const double sigma = sigma_mm / step_;
    const int reach = static_cast<int>(std::ceil(3 * sigma));
    std::vector<float> weight;
    float sum = 0;
    for (int i = -reach; i <= reach; ++i) {
      weight.push_back(static_cast<float>(std::exp(-0.5 * i * i / (sigma * sigma))));
      sum += weight.back();
    }
    for (float& w : weight) w /= sum;
    const auto pass = [&](int dx, int dy) {
      std::vector<float> out(values_.size());
      for (int y = 0; y < height_; ++y)
        for (int x = 0; x < width_; ++x) {
          float v = 0;
          for (int i = -reach; i <= reach; ++i)
            v += weight[static_cast<size_t>(i + reach)] *
                 at(std::clamp(x + i * dx, 0, width_ - 1), std::clamp(y + i * dy, 0, height_ - 1));
          out[index(x, y)] = v;
        }
      values_ = std::move(out);
    };
    pass(1, 0);
    pass(0, 1);
  }

 private:
  size_t index(int x, int y) const {
    return static_cast<size_t>(y) * static_cast<size_t>(width_) + static_cast<size_t>(x);
  }
  Box box_;
  double step_;
  int width_, height_;
  std::vector<float> values_;
};

class Matcher {
 public:
  Matcher(const Photo& photo, const Plane& plane, const std::vector<LaidStroke>& own,
          const std::vector<LaidStroke>& others, const Box& window, Point about, double reach,
          const SewnWindow& rule)
      : step_(std::clamp(plane.mmPerPixel(window.centre()), kFinest_mm, kCoarsest_mm)),
        reach_(reach),
        window_(window),
        about_(about),
        rule_(rule) {
    paintThread(own);
    choosePlaces(own, others);
    for (Point p : places_) {
      double c[3];
      photo.colour(plane.toPhoto(p), c);
      for (int ch = 0; ch < 3; ++ch) seen_[ch].push_back(c[ch]);
    }
  }

  std::optional<SewnShift> run() const {
    if (threads_.empty() || places_.size() < rule_.fewest_places) return std::nullopt;
    const size_t each = (places_.size() + kFinePlaces - 1) / kFinePlaces;
    Pose pose{coarse(), 0};
    for (int round = 0; round < kRounds; ++round) {
      const Fitted fit = fitted(pose, each, true);
      const Eigen::Vector3d known = rule_.held_mm > 0
                                        ? Eigen::Vector3d{pose.by.x, pose.by.y, pose.turn}
                                        : Eigen::Vector3d{0, 0, pose.turn};
      const Eigen::Vector3d step = (fit.information / fit.variance + prior(held()))
                                       .ldlt()
                                       .solve(fit.slope / fit.variance - prior(held()) * known);
      if (!step.allFinite()) return std::nullopt;
      const double length = std::hypot(step.x(), step.y());
      const double kept = length > kGrid_mm ? kGrid_mm / length : 1;  // never past the next valley
      pose.by = pose.by + Point{step.x() * kept, step.y() * kept};
      pose.turn += step.z() * kept;
      if (length < 1e-4) break;
    }
    if (!(length(pose.by) < reach_)) return std::nullopt;
    const Fitted fit = fitted(pose, each, true);
    if (!(fit.left < (1 - kLeastExplained) * flat(each))) return std::nullopt;
    return SewnShift{pose.by, covarianceOf(fit), degrees(pose.turn)};
  }

 private:
  struct Fitted {
    double left = 0;      // sum of squares that is not explained
    double variance = 1;  // of a measurement, counted as it hangs together with its neighbours
    Eigen::Matrix3d information = Eigen::Matrix3d::Zero();  // of shift and turn
    Eigen::Vector3d slope = Eigen::Vector3d::Zero();
  };
  struct Pose {
    Point by;
    double turn = 0;  // radians
  };

  /// A picture a colour: how much of a place its thread covers.
  void paintThread(const std::vector<LaidStroke>& own) {
    std::vector<int> colours;
    for (const LaidStroke& s : own)
      if (std::find(colours.begin(), colours.end(), s.colour) == colours.end() &&
          colours.size() < kMostColours)
        colours.push_back(s.colour);
    if (colours.empty()) return;
    threads_.assign(colours.size(), Raster(window_.grown(reach_), step_));
    for (const LaidStroke& s : own) {
      const auto c = static_cast<size_t>(std::find(colours.begin(), colours.end(), s.colour) -
                                         colours.begin());
      threads_[0].near(s.from, s.to, (kThread_mm + step_) / 2,
                       [&](int x, int y, double d) { lay(c, x, y, d); });
    }
    for (Raster& t : threads_) t.smooth(kSmooth_mm);
  }
  void lay(size_t colour, int x, int y, double d) {
    const auto cover =
        static_cast<float>(std::clamp((kThread_mm / 2 + step_ / 2 - d) / step_, 0.0, 1.0));
    for (size_t c = 0; c < threads_.size(); ++c) {
      float& v = threads_[c].at(x, y);
      v = c == colour ? std::max(v, cover) : v * (1 - cover);
    }
  }

  void choosePlaces(const std::vector<LaidStroke>& own, const std::vector<LaidStroke>& others) {
    Raster wanted(window_, step_);
    for (const LaidStroke& s : own)
      wanted.near(s.from, s.to, kAround_mm, [&](int x, int y, double) { wanted.at(x, y) = 1; });
    for (const LaidStroke& s : others)
      wanted.near(s.from, s.to, kThread_mm / 2 + rule_.clear_mm,
                  [&](int x, int y, double) { wanted.at(x, y) = 0; });
    for (int y = 0; y < wanted.height(); ++y)
      for (int x = 0; x < wanted.width(); ++x)
        if (wanted.at(x, y) > 0) places_.push_back(wanted.place(x, y));
  }

  /// What cloth and thread explain with the thread shifted, from every `each`-th place.
  Fitted fitted(const Pose& pose, size_t each, bool slopes) const {
    const auto n = static_cast<Eigen::Index>((places_.size() + each - 1) / each);
    const auto k = static_cast<Eigen::Index>(threads_.size());
    Eigen::MatrixXd a(n, 3 + k), gx(n, k), gy(n, k), seen(n, 3), arm(n, 2);
    const Point middle = window_.centre();
    const double cos = std::cos(pose.turn), sin = std::sin(pose.turn);
    for (Eigen::Index i = 0; i < n; ++i) {
      const size_t from = static_cast<size_t>(i) * each;
      const Point p = places_[from], r = p - about_ - pose.by;
      const Point q = about_ + Point{cos * r.x + sin * r.y, cos * r.y - sin * r.x};
      arm(i, 0) = r.x, arm(i, 1) = r.y;
      a(i, 0) = 1, a(i, 1) = p.x - middle.x, a(i, 2) = p.y - middle.y;
      for (Eigen::Index c = 0; c < k; ++c) {
        const Raster& t = threads_[static_cast<size_t>(c)];
        a(i, 3 + c) = t(q);
        if (!slopes) continue;
        gx(i, c) = (t(q + Point{step_, 0}) - t(q - Point{step_, 0})) / (2 * step_);
        gy(i, c) = (t(q + Point{0, step_}) - t(q - Point{0, step_})) / (2 * step_);
      }
      for (int ch = 0; ch < 3; ++ch) seen(i, ch) = seen_[ch][from];
    }
    const Eigen::MatrixXd normal = a.transpose() * a;
    const auto solver = normal.ldlt();
    const Eigen::MatrixXd level = solver.solve(a.transpose() * seen);
    const Eigen::MatrixXd rest = seen - a * level;
    Fitted out;
    out.left = rest.squaredNorm();
    if (!slopes) return out;
    // three colours of one place and its neighbours in the weave are one measurement
    const double cell = kCell_mm * kCell_mm / (step_ * step_ * static_cast<double>(each));
    out.variance = out.left / static_cast<double>(n) * std::max(1.0, cell);
    for (int ch = 0; ch < 3; ++ch) {
      // how the picture changes with shift and turn, cloth and levels fitted; turns are small
      Eigen::MatrixXd j(n, 3);
      j.col(0) = -gx * level.col(ch).tail(k);
      j.col(1) = -gy * level.col(ch).tail(k);
      j.col(2) = j.col(1).cwiseProduct(arm.col(0)) - j.col(0).cwiseProduct(arm.col(1));
      j -= a * solver.solve(a.transpose() * j);
      out.information += j.transpose() * j;
      out.slope += j.transpose() * rest.col(ch);
    }
    return out;
  }

  /// Of a grid over the reach the shift that explains most.
  Point coarse() const {
    const size_t each = std::max<size_t>(1, places_.size() / kCoarsePlaces);
    Point best;
    double least = INFINITY;
    const int most = static_cast<int>(reach_ / kGrid_mm);
    for (int y = -most; y <= most; ++y)
      for (int x = -most; x <= most; ++x) {
        const Point by{x * kGrid_mm, y * kGrid_mm};
        if (const double left = fitted({by, 0}, each, false).left; left < least)
          least = left, best = by;
      }
    return best;
  }

  /// What is left where the cloth has no thread at all.
  double flat(size_t each) const {
    double sum = 0;
    for (const auto& channel : seen_) {
      double mean = 0, square = 0, n = 0;
      for (size_t i = 0; i < channel.size(); i += each, ++n)
        mean += channel[i], square += channel[i] * channel[i];
      sum += square - mean * mean / n;
    }
    return sum;
  }

  /// What is known before: how far it may be at all, and that aligned cloth is turned little.
  Eigen::Matrix3d prior(double held) const {
    return Eigen::Vector3d(1 / (held * held), 1 / (held * held), 1 / (kTurnSigma * kTurnSigma))
        .asDiagonal();
  }
  double held() const { return rule_.held_mm > 0 ? rule_.held_mm : reach_; }
  PlaceCovariance covarianceOf(const Fitted& fit) const {
    const Eigen::Matrix3d c = (fit.information / fit.variance + prior(reach_)).inverse();
    const double floor = kLeastSigma_mm * kLeastSigma_mm;
    return {c(0, 0) + floor, c(0, 1), c(1, 1) + floor};
  }

  double step_, reach_;
  Box window_;
  Point about_;
  SewnWindow rule_;
  std::vector<Raster> threads_;  // by colour
  std::vector<Point> places_;
  std::vector<double> seen_[3];
};

}  // namespace

std::optional<SewnShift> shiftOfSewn(const Photo& photo, const Plane& plane,
                                     const std::vector<LaidStroke>& own,
                                     const std::vector<LaidStroke>& others, const Box& window,
                                     Point about, double reach_mm, const SewnWindow& rule) {
  return Matcher(photo, plane, own, others, window, about, reach_mm, rule).run();
}

}  // namespace rt
