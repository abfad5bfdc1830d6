#include "plane.h"

#include <Eigen/Dense>

#include "error.h"
#include "lens.h"

namespace rt {
namespace {

constexpr double kLeastNoise_px = 0.01;
constexpr double kPromise =
    6;  // what the tags' own errors weigh against the residuals, in freedoms
using Matrix9 = Eigen::Matrix<double, 9, 9>;
using Vector9 = Eigen::Matrix<double, 9, 1>;

}  // namespace

std::array<Point, 4> cornersOf(const TagPlace& tag, double size_mm) {
  const Transform t = Transform::moving(tag.at) * Transform::turning(tag.angle_deg);
  const double h = size_mm / 2;
  return {t({-h, -h}), t({h, -h}), t({h, h}), t({-h, h})};
}

/// Parameters: the homography's eight (its last is 1) in normalised coordinates, then k1.
Point Plane::project(const Parameters& p, Point plane) const {
  const Point q = (plane - origin_) * (1 / scale_);
  const double w = p[6] * q.x + p[7] * q.y + 1;
  const Point u{(p[0] * q.x + p[1] * q.y + p[2]) / w, (p[3] * q.x + p[4] * q.y + p[5]) / w};
  return Lens{middle_, half_, p[8]}.seen(u);
}

Point Plane::toPhoto(Point plane) const {
  return project(parameters_, plane);
}

Point Plane::toPlane(Point px) const {
  const Point u = Lens{middle_, half_, parameters_[8]}.straight(px);
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
  // a first homography without the lens, by the direct linear method
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
  parameters_[8] = lens.k1;
  solve(sights);
}

namespace {

/// Of the weighted least squares about a guess.
struct NormalEquations {
  Matrix9 normal = Matrix9::Zero();
  Vector9 rhs = Vector9::Zero();
};

/// `project(parameters, place)` says where a place of the plane is seen.
template <class Project>
NormalEquations equationsAt(const std::array<double, 9>& parameters,
                            const std::vector<Plane::Sight>& sights, const LensPrior& lens,
                            Project project) {
  constexpr double kStep = 1e-6;
  NormalEquations out;
  for (const Plane::Sight& s : sights) {
    const Point at = project(parameters, s.plane);
    Eigen::Matrix<double, 2, 9> j;
    for (size_t k = 0; k < 9; ++k) {
      std::array<double, 9> p = parameters;
      p[k] += kStep;
      const Point d = (project(p, s.plane) - at) * (1 / kStep);
      j(0, static_cast<long>(k)) = d.x, j(1, static_cast<long>(k)) = d.y;
    }
    const double w = 1 / (s.sigma_px * s.sigma_px);
    const Point r = s.px - at;
    out.normal += w * j.transpose() * j;
    out.rhs += w * j.transpose() * Eigen::Vector2d(r.x, r.y);
  }
  out.normal(8, 8) += 1 / (lens.sigma * lens.sigma);
  out.rhs[8] -= (parameters[8] - lens.k1) / (lens.sigma * lens.sigma);
  return out;
}

}  // namespace

/// Gauss-Newton with damping.
void Plane::solve(const std::vector<Sight>& sights) {
  const auto seen = [this](const Parameters& p, Point plane) { return project(p, plane); };
  const auto costOf = [&](const Parameters& p) {
    double sum = std::pow((p[8] - lens_.k1) / lens_.sigma, 2);
    for (const Sight& s : sights) {
      const Point d = project(p, s.plane) - s.px;
      sum += dot(d, d) / (s.sigma_px * s.sigma_px);
    }
    return sum;
  };
  NormalEquations equations;
  double damping = 1e-6, cost = costOf(parameters_);
  for (int round = 0; round < 40; ++round) {
    equations = equationsAt(parameters_, sights, lens_, seen);
    Matrix9 damped = equations.normal;
    for (int k = 0; k < 9; ++k) damped(k, k) *= 1 + damping;
    const Vector9 step = damped.ldlt().solve(equations.rhs);
    Parameters next = parameters_;
    for (size_t k = 0; k < 9; ++k) next[k] += step[static_cast<long>(k)];
    const double now = costOf(next);
    if (std::isfinite(now) && now <= cost) {
      const bool done = cost - now < 1e-9 * (1 + cost);
      parameters_ = next, cost = now, damping = std::max(1e-9, damping / 4);
      if (done) break;
    } else {
      damping *= 8;
      if (damping > 1e6) break;
    }
  }
  const Matrix9 inverse = equations.normal.ldlt().solve(Matrix9::Identity());
  for (int r = 0; r < 9; ++r)
    for (int c = 0; c < 9; ++c) covariance_[static_cast<size_t>(9 * r + c)] = inverse(r, c);
  measureNoise(sights);
}

/// The noise follows from the residuals; where they are worse than promised, so is the covariance.
void Plane::measureNoise(const std::vector<Sight>& sights) {
  double square = 0, weighted = 0;
  for (const Sight& s : sights) {
    const Point d = toPhoto(s.plane) - s.px;
    square += dot(d, d);
    weighted += dot(d, d) / (s.sigma_px * s.sigma_px);
  }
  const double n = static_cast<double>(sights.size());
  rms_ = std::sqrt(square / n);
  const double freedom = std::max(1.0, 2 * n - 9);
  noise_ = std::max(kLeastNoise_px, std::sqrt(square / freedom));
  // corners fit worse than their tags promise where paper, print or lens are not as modelled; few
  // corners say little about that
  const double worse = (weighted + kPromise) / (freedom + kPromise);
  for (double& c : covariance_) c *= worse;
}

LensPrior Plane::lensByItself() const {
  const double both = 1 / covariance_[80], known = 1 / (lens_.sigma * lens_.sigma);
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
  const Point px = toPhoto(plane);
  Eigen::Matrix<double, 2, 9> j;
  for (size_t k = 0; k < 9; ++k) {
    Plane moved = *this;
    const double step = 1e-6;
    moved.parameters_[k] += step;
    const Point d = (moved.toPlane(px) - plane) * (1 / step);
    j(0, static_cast<long>(k)) = d.x, j(1, static_cast<long>(k)) = d.y;
  }
  Matrix9 c;
  for (int r = 0; r < 9; ++r)
    for (int k = 0; k < 9; ++k) c(r, k) = covariance_[static_cast<size_t>(9 * r + k)];
  // errors that do not hang together with one another: the covariance's own directions
  const Eigen::SelfAdjointEigenSolver<Matrix9> eigen(c);
  std::vector<Point> out;
  for (int k = 0; k < 9; ++k) {
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
  out.parameters_ = {p[0] / w,          p[1] / w, moved.x() * f / w, p[3] / w, p[4] / w,
                     moved.y() * f / w, p[6] / w, p[7] / w,          p[8]};
  return out;
}

}  // namespace rt
