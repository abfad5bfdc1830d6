#include "plane.h"

#include <Eigen/Dense>
#include <algorithm>

#include "error.h"

namespace rt {
namespace {

constexpr double kLeastNoise_px = 0.01;
constexpr double kPromise =
    6;  // what the tags' own errors weigh against the residuals, in freedoms
// What common lenses have, one sigma, in Bend's order after k1: phones straighten their pictures
// themselves, and what is left looks a percent beside the middle at most.
constexpr std::array<double, Bend::kTerms - 1> kCommon{0.005, 0.001, 0.001, 0.01, 0.01};
// How far a lens is askew, as a part of the above, and how likely that is before the photo is seen.
// Phones straighten their pictures, so that the place is taken as if nearly all lenses were
// straight where the photo does not say otherwise; its error is not.
struct Askew {
  double part, placed, doubted;
};
constexpr std::array<Askew, 3> kAskew{{{0.02, 0.98, 0.7}, {0.5, 0.01, 0.15}, {1, 0.01, 0.15}}};

/// Weights by evidence (logarithms) and what was thought before; their sum is 1.
template <class Prior>
std::array<double, kAskew.size()> weigh(const std::array<double, kAskew.size()>& evidence,
                                        Prior prior) {
  const double best = *std::max_element(evidence.begin(), evidence.end());
  std::array<double, kAskew.size()> out{};
  double sum = 0;
  for (size_t i = 0; i < out.size(); ++i)
    sum += out[i] = (kAskew[i].*prior) * std::exp(evidence[i] - best);
  for (double& w : out) w /= sum;
  return out;
}

}  // namespace

std::array<Point, 4> cornersOf(const TagPlace& tag, double size_mm) {
  const Transform t = Transform::moving(tag.at) * Transform::turning(tag.angle_deg);
  const double h = size_mm / 2;
  return {t({-h, -h}), t({h, -h}), t({h, h}), t({-h, h})};
}

/// Of the parameters, which follow the homography's eight (its last is 1).
CameraLens Plane::lensOf(const Parameters& p) const {
  std::array<double, Bend::kTerms> terms{};
  std::copy(p.begin() + kFlat, p.end(), terms.begin());
  return {middle_, half_, Bend::of(terms)};
}

Point Plane::project(const Parameters& p, const CameraLens& lens, Point plane) const {
  const Point q = (plane - origin_) * (1 / scale_);
  const double w = p[6] * q.x + p[7] * q.y + 1;
  const Point u{(p[0] * q.x + p[1] * q.y + p[2]) / w, (p[3] * q.x + p[4] * q.y + p[5]) / w};
  return lens.seen(u);
}

Point Plane::toPhoto(Point plane) const {
  return project(parameters_, lens(), plane);
}

void Plane::toPhoto(Point from, Point step, std::vector<Point>& out) const {
  constexpr size_t kSpan = 32;
  const CameraLens bends = lens();
  const auto seen = [&](double n) { return project(parameters_, bends, from + step * n); };
  Point first = seen(0);
  for (size_t i = 0; i < out.size(); i += kSpan) {
    const auto begin = static_cast<double>(i);
    const Point middle = seen(begin + kSpan / 2.0), last = seen(begin + kSpan);
    const Point slope = middle * 4 - first * 3 - last, bend = (first - middle * 2 + last) * 2;
    const size_t end = std::min(out.size(), i + kSpan);
    for (size_t k = i; k < end; ++k) {
      const double t = static_cast<double>(k - i) / kSpan;
      out[k] = first + (slope + bend * t) * t;
    }
    first = last;
  }
}

Point Plane::toPlane(Point px) const {
  const Point u = lens().straight(px);
  const auto& p = parameters_;
  Eigen::Matrix3d h;
  h << p[0], p[1], p[2], p[3], p[4], p[5], p[6], p[7], 1;
  const Eigen::Vector3d v = h.inverse() * Eigen::Vector3d(u.x, u.y, 1);
  return origin_ + Point{v.x() / v.z(), v.y() / v.z()} * scale_;
}

double Plane::mmPerPixel(Point plane) const {
  const double dx = distance(toPhoto(plane), toPhoto(plane + Point{1, 0})),
               dy = distance(toPhoto(plane), toPhoto(plane + Point{0, 1}));
  return 2 / std::max(1e-9, dx + dy);
}

/// Weighted least squares over the corners and what is known of the lens, by Gauss and Newton with
/// damping.
struct Plane::Descent {
  using Square = Eigen::Matrix<double, kParameters, kParameters>;
  using Column = Eigen::Matrix<double, kParameters, 1>;
  struct Equations {
    Square normal = Square::Zero();
    Column rhs = Column::Zero();
  };

  const Plane& plane;
  const std::vector<Sight>& sights;
  const Known& known;

  Point seen(const Parameters& p, Point at) const { return plane.project(p, plane.lensOf(p), at); }

  double cost(const Parameters& p) const {
    double sum = 0;
    for (size_t k = 0; k < known.size(); ++k)
      sum += std::pow((p[kFlat + k] - known[k].k1) / known[k].sigma, 2);
    for (const Sight& s : sights) {
      const Point d = seen(p, s.plane) - s.px;
      sum += dot(d, d) / (s.sigma_px * s.sigma_px);
    }
    return sum;
  }

  Equations about(const Parameters& p) const {
    constexpr double kStep = 1e-6;
    Equations out;
    for (const Sight& s : sights) {
      const Point at = seen(p, s.plane);
      Eigen::Matrix<double, 2, kParameters> j;
      for (size_t k = 0; k < kParameters; ++k) {
        Parameters moved = p;
        moved[k] += kStep;
        const Point d = (seen(moved, s.plane) - at) * (1 / kStep);
        j(0, static_cast<long>(k)) = d.x, j(1, static_cast<long>(k)) = d.y;
      }
      const double w = 1 / (s.sigma_px * s.sigma_px);
      const Point r = s.px - at;
      out.normal += w * j.transpose() * j;
      out.rhs += w * j.transpose() * Eigen::Vector2d(r.x, r.y);
    }
    for (size_t k = 0; k < known.size(); ++k) {
      const double w = 1 / (known[k].sigma * known[k].sigma);
      const auto row = static_cast<long>(kFlat + k);
      out.normal(row, row) += w;
      out.rhs[row] -= (p[kFlat + k] - known[k].k1) * w;
    }
    return out;
  }

  Solved run() const {
    Parameters at = plane.parameters_;
    Equations equations;
    double damping = 1e-6, least = cost(at);
    for (int round = 0; round < 40 && damping < 1e6; ++round) {
      equations = about(at);
      Square damped = equations.normal;
      for (int k = 0; k < damped.rows(); ++k) damped(k, k) *= 1 + damping;
      const Column step = damped.ldlt().solve(equations.rhs);
      Parameters next = at;
      for (size_t k = 0; k < kParameters; ++k) next[k] += step[static_cast<long>(k)];
      const double now = cost(next);
      if (!(std::isfinite(now) && now <= least)) {
        damping *= 8;
        continue;
      }
      const bool done = least - now < 1e-9 * (1 + least);
      at = next, least = now, damping = std::max(1e-9, damping / 4);
      if (done) break;
    }
    return solved(at, equations.normal, least);
  }

  /// With the covariance; and the evidence by Laplace's method, where how noisy the corners are is
  /// known as well as `kPromise` says.
  Solved solved(const Parameters& at, const Square& normal, double least) const {
    Solved out{at, {}, 0, kFlat};
    const Eigen::LDLT<Square> factors(normal);
    const Square inverse = factors.solve(Square::Identity());
    std::copy(inverse.data(), inverse.data() + inverse.size(), out.covariance.begin());
    const double counted = 2 * static_cast<double>(sights.size()) + kPromise;
    out.evidence =
        -counted / 2 * std::log(kPromise + least) - factors.vectorD().array().abs().log().sum() / 2;
    for (size_t k = 0; k < known.size(); ++k) {
      const double sigma = known[k].sigma;
      out.evidence -= std::log(sigma);
      out.fitted += 1 - out.covariance[(kFlat + k) * (kParameters + 1)] / (sigma * sigma);
    }
    return out;
  }
};

Plane::Plane(const std::vector<Sight>& sights, int width, int height, size_t least,
             const LensPrior& lens)
    : middle_{(width - 1) / 2.0, (height - 1) / 2.0},
      half_(std::hypot(width, height) / 2),
      lens_(lens) {
  if (sights.size() < least)
    throw Error("too few hoop tags are seen to know the hoop's plane", "photo",
                "take the photo so that at least two of the hoop's tags are in it, better all");
  for (const Sight& s : sights)
    origin_ = origin_ + s.plane * (1.0 / static_cast<double>(sights.size()));
  double far = 0;
  for (const Sight& s : sights) far = std::max(far, distance(s.plane, origin_));
  scale_ = std::max(1.0, far);
  firstHomography(sights);
  parameters_[kFlat] = lens.k1;
  std::vector<Solved> ways;
  for (const Askew& askew : kAskew) {
    Known known;
    known[0] = lens;
    for (size_t k = 1; k < known.size(); ++k) known[k].sigma = kCommon[k - 1] * askew.part;
    ways.push_back(Descent{*this, sights, known}.run());
  }
  measureNoise(sights, average(ways));
}

/// Without the lens, by the direct linear method.
void Plane::firstHomography(const std::vector<Sight>& sights) {
  Eigen::MatrixXd a(2 * static_cast<long>(sights.size()), 8);
  Eigen::VectorXd b(2 * static_cast<long>(sights.size()));
  for (size_t i = 0; i < sights.size(); ++i) {
    const Point q = (sights[i].plane - origin_) * (1 / scale_),
                u = (sights[i].px - middle_) * (1 / half_);
    const auto r = 2 * static_cast<long>(i);
    a.row(r) << q.x, q.y, 1, 0, 0, 0, -u.x * q.x, -u.x * q.y;
    a.row(r + 1) << 0, 0, 0, q.x, q.y, 1, -u.y * q.x, -u.y * q.y;
    b[r] = u.x, b[r + 1] = u.y;
  }
  const Eigen::VectorXd first = a.colPivHouseholderQr().solve(b);
  for (int i = 0; i < 8; ++i) parameters_[static_cast<size_t>(i)] = first[i];
}

/// Each way counts by its evidence; where they differ, that is uncertain too.
double Plane::average(const std::vector<Solved>& ways) {
  std::array<double, kAskew.size()> evidence{};
  for (size_t i = 0; i < ways.size(); ++i) evidence[i] = ways[i].evidence;
  const auto placed = weigh(evidence, &Askew::placed), doubted = weigh(evidence, &Askew::doubted);
  double fitted = 0;
  parameters_ = {}, covariance_ = {};
  for (size_t i = 0; i < ways.size(); ++i) {
    for (size_t k = 0; k < kParameters; ++k) parameters_[k] += placed[i] * ways[i].parameters[k];
    fitted += placed[i] * ways[i].fitted;
  }
  for (size_t i = 0; i < ways.size(); ++i) {
    const Solved& w = ways[i];
    for (size_t r = 0; r < kParameters; ++r)
      for (size_t c = 0; c < kParameters; ++c)
        covariance_[r * kParameters + c] +=
            doubted[i] * (w.covariance[r * kParameters + c] +
                          (w.parameters[r] - parameters_[r]) * (w.parameters[c] - parameters_[c]));
  }
  return fitted;
}

/// The noise follows from the residuals; where they are worse than promised, so is the covariance.
void Plane::measureNoise(const std::vector<Sight>& sights, double fitted) {
  double square = 0, weighted = 0;
  for (const Sight& s : sights) {
    const Point d = toPhoto(s.plane) - s.px;
    square += dot(d, d);
    weighted += dot(d, d) / (s.sigma_px * s.sigma_px);
  }
  const double n = static_cast<double>(sights.size());
  rms_ = std::sqrt(square / n);
  const double freedom = std::max(1.0, 2 * n - fitted);
  noise_ = std::max(kLeastNoise_px, std::sqrt(square / freedom));
  // corners fit worse than their tags promise where paper, print or lens are not as modelled; few
  // corners say little about that
  const double worse = (weighted + kPromise) / (freedom + kPromise);
  for (double& c : covariance_) c *= worse;
}

LensPrior Plane::lensByItself() const {
  const double both = 1 / covariance_[kFlat * (kParameters + 1)],
               known = 1 / (lens_.sigma * lens_.sigma);
  const double own = both - known;
  if (!(own > 0)) return {0, INFINITY};
  return {(k1() * both - lens_.k1 * known) / own, std::sqrt(1 / own)};
}

PlaceCovariance Plane::covarianceAt(Point plane) const {
  PlaceCovariance out;
  for (Point e : errorsAt(plane)) out.xx += e.x * e.x, out.xy += e.x * e.y, out.yy += e.y * e.y;
  return out;
}

std::vector<Point> Plane::errorsAt(Point plane) const {
  using Square = Eigen::Matrix<double, kParameters, kParameters>;
  const Point px = toPhoto(plane);
  Eigen::Matrix<double, 2, kParameters> j;
  for (size_t k = 0; k < kParameters; ++k) {
    Plane moved = *this;
    const double step = 1e-6;
    moved.parameters_[k] += step;
    const Point d = (moved.toPlane(px) - plane) * (1 / step);
    j(0, static_cast<long>(k)) = d.x, j(1, static_cast<long>(k)) = d.y;
  }
  // errors that do not hang together with one another: the covariance's own directions
  const Eigen::SelfAdjointEigenSolver<Square> eigen(
      Eigen::Map<const Square>(covariance_.data()).eval());
  std::vector<Point> out;
  for (int k = 0; k < j.cols(); ++k) {
    const Eigen::Vector2d by =
        j * eigen.eigenvectors().col(k) * std::sqrt(std::max(0.0, eigen.eigenvalues()(k)));
    out.push_back({by.x(), by.y()});
  }
  return out;
}

/// The focal length follows from the homography where the view is tilted; else a usual one stands
/// in. With it the plane's pose is known, and so where a parallel one would be seen.
Plane Plane::lowered(double down_mm) const {
  if (down_mm == 0) return *this;
  const auto& p = parameters_;
  Eigen::Matrix3d h;
  h << p[0], p[1], p[2], p[3], p[4], p[5], p[6], p[7], 1;
  const Eigen::Vector3d a = h.col(0), b = h.col(1);
  // a and b are equally long and at right angles once the focal length is divided out
  double f2 = 0;
  const double cross_z = a.z() * b.z(), flat = a.x() * b.x() + a.y() * b.y();
  const double diff_z = a.z() * a.z() - b.z() * b.z();
  const double diff = a.x() * a.x() + a.y() * a.y() - b.x() * b.x() - b.y() * b.y();
  const double denominator = cross_z * cross_z + diff_z * diff_z;
  if (denominator > 1e-8) f2 = -(flat * cross_z + diff * diff_z) / denominator;
  double f = f2 > 0 ? std::sqrt(f2) : 0;
  constexpr double kUsualFocal = 1.3;  // of half the diagonal: a phone's main camera
  if (!(f > 0.7 && f < 5)) f = kUsualFocal;
  const Eigen::Vector3d r1(a.x() / f, a.y() / f, a.z()), r2(b.x() / f, b.y() / f, b.z());
  const double unit_length = (r1.norm() + r2.norm()) / 2;
  Eigen::Vector3d normal = r1.cross(r2).normalized();
  const Eigen::Vector3d t(h(0, 2) / f, h(1, 2) / f, h(2, 2));
  if (normal.dot(t) < 0) normal = -normal;  // away from the camera
  const Eigen::Vector3d moved = t + normal * (unit_length * down_mm / scale_);
  Plane out = *this;
  const double w = moved.z();
  const std::array<double, kFlat> homography{p[0] / w, p[1] / w, moved.x() * f / w,
                                             p[3] / w, p[4] / w, moved.y() * f / w,
                                             p[6] / w, p[7] / w};
  std::copy(homography.begin(), homography.end(), out.parameters_.begin());
  return out;
}

}  // namespace rt
