#include "fit.h"

#include <Eigen/Dense>
#include <algorithm>
#include <map>

#include "error.h"

namespace rt {
namespace {

using Parameters = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor, 6, 6>;

constexpr double kLeastSpread_mm = 1.0;

Point weightedCentre(const std::vector<Mark>& marks, Point Mark::*member) {
  Point sum;
  double weight = 0;
  for (const Mark& m : marks) {
    const double w = 1 / (m.error_mm * m.error_mm);
    sum = sum + (m.*member) * w;
    weight += w;
  }
  return sum * (1 / weight);
}

/// How a small change of each parameter moves the landing place of a point.
Parameters jacobian(FitKind kind, const Transform& linear, Point fromCentre) {
  const Point r = linear.turn(fromCentre);
  if (kind == FitKind::Affine) {
    Parameters j(2, 6);
    j << 1, 0, fromCentre.x, fromCentre.y, 0, 0,  //
        0, 1, 0, 0, fromCentre.x, fromCentre.y;
    return j;
  }
  Parameters j(2, kind == FitKind::Rigid ? 3 : 4);
  j(0, 0) = 1, j(0, 1) = 0, j(0, 2) = -r.y;
  j(1, 0) = 0, j(1, 1) = 1, j(1, 2) = r.x;
  if (kind == FitKind::Similarity) j(0, 3) = r.x, j(1, 3) = r.y;
  return j;
}

/// Turn and size that carry the layout's marks onto the hoop's, both about their centres.
void solveTurn(const std::vector<Mark>& marks, Point lc, Point hc, Fit& fit) {
  double c = 0, s = 0, spread = 0;
  for (const Mark& m : marks) {
    const Point l = m.layout - lc, h = m.hoop - hc;
    const double w = 1 / (m.error_mm * m.error_mm);
    c += w * dot(l, h);
    s += w * cross(l, h);
    spread += w * dot(l, l);
  }
  const double scale = fit.kind == FitKind::Similarity ? std::hypot(c, s) / spread : 1;
  const double angle = std::atan2(s, c);
  fit.toHoop = Transform::turning(degrees(angle)) * Transform::scaling(scale, scale);
  fit.rotation_deg = degrees(angle);
  fit.scale_x = fit.scale_y = scale;
}

void solveAffine(const std::vector<Mark>& marks, Point lc, Point hc, Fit& fit) {
  Eigen::Matrix2d ll = Eigen::Matrix2d::Zero(), hl = Eigen::Matrix2d::Zero();
  for (const Mark& m : marks) {
    const Point l = m.layout - lc, h = m.hoop - hc;
    const double w = 1 / (m.error_mm * m.error_mm);
    const Eigen::Vector2d lv(l.x, l.y), hv(h.x, h.y);
    ll += w * lv * lv.transpose();
    hl += w * hv * lv.transpose();
  }
  const Eigen::SelfAdjointEigenSolver<Eigen::Matrix2d> eigen(ll);
  if (eigen.eigenvalues()(0) < 1e-4 * eigen.eigenvalues()(1))
    throw Error("the marks lie on one line", "marks",
                "an affine fit needs a third mark off the line");
  const Eigen::Matrix2d a = hl * ll.inverse();
  if (a.determinant() <= 0)
    throw Error("the marks fit only in a mirror", "marks", "check which mark is which");
  fit.toHoop = {a(0, 0), a(0, 1), a(1, 0), a(1, 1), 0, 0};
  const double angle = std::atan2(a(1, 0), a(0, 0));
  const Point across = Transform::turning(-degrees(angle)).turn({a(0, 1), a(1, 1)});
  fit.rotation_deg = degrees(angle);
  fit.scale_x = std::hypot(a(0, 0), a(1, 0));
  fit.scale_y = across.y;
  fit.skew_deg = degrees(std::atan2(across.x, fit.scale_x));
}

void addResiduals(const std::vector<Mark>& marks, Fit& fit) {
  double sum = 0;
  for (const Mark& m : marks) {
    const double r = distance(fit.toHoop(m.layout), m.hoop);
    fit.residual_mm.push_back(r);
    sum += r * r;
    fit.chi2 += r * r / (m.error_mm * m.error_mm);
  }
  fit.rms_mm = std::sqrt(sum / static_cast<double>(marks.size()));
}

/// Variance a coordinate of a mark that is its own.
double ownVariance(const Mark& m) {
  double shared = 0;
  for (Point p : m.shared) shared += dot(p, p) / 2;
  return std::max(0.0, m.error_mm * m.error_mm - shared);
}

/// Errors of the marks carried through the weighted least squares to its parameters: own ones mark
/// by mark, shared ones in one.
Parameters carried(const std::vector<Mark>& marks, const std::vector<Parameters>& jacobians,
                   const Parameters& inverse) {
  Parameters out = Parameters::Zero(inverse.rows(), inverse.cols());
  std::map<std::pair<std::string, size_t>, Eigen::VectorXd> common;
  for (size_t i = 0; i < marks.size(); ++i) {
    const Mark& m = marks[i];
    const Eigen::MatrixXd by = inverse * jacobians[i].transpose() / (m.error_mm * m.error_mm);
    out += by * by.transpose() * ownVariance(m);
    for (size_t k = 0; k < m.shared.size(); ++k) {
      Eigen::VectorXd& sum =
          common.try_emplace({m.shared_by, k}, Eigen::VectorXd::Zero(inverse.rows())).first->second;
      sum += by * Eigen::Vector2d(m.shared[k].x, m.shared[k].y);
    }
  }
  for (const auto& [error, by] : common) out += by * by.transpose();
  return out;
}

void addCovariance(const std::vector<Mark>& marks, Fit& fit) {
  Parameters information;
  std::vector<Parameters> jacobians;
  for (const Mark& m : marks) {
    jacobians.push_back(jacobian(fit.kind, fit.toHoop, m.layout - fit.centre));
    const Parameters add =
        jacobians.back().transpose() * jacobians.back() / (m.error_mm * m.error_mm);
    information = information.size() == 0 ? add : Parameters(information + add);
  }
  fit.freedom = 2 * static_cast<int>(marks.size()) - static_cast<int>(information.rows());
  Parameters covariance = carried(marks, jacobians, information.inverse());
  // marks that disagree by more than their stated errors make the whole fit less sure
  if (fit.freedom > 0) covariance *= std::max(1.0, fit.chi2 / fit.freedom);
  fit.parameters = static_cast<int>(information.rows());
  std::copy(covariance.data(), covariance.data() + covariance.size(), fit.covariance.begin());
}

}  // namespace

std::string_view name(FitKind kind) {
  constexpr std::array<std::string_view, 3> kNames{"rigid", "similarity", "affine"};
  return kNames[static_cast<size_t>(kind)];
}

int leastMarks(FitKind kind) {
  return kind == FitKind::Affine ? 3 : 2;
}

Fit fitMarks(const std::vector<Mark>& marks, FitKind kind) {
  if (static_cast<int>(marks.size()) < leastMarks(kind))
    throw Error(std::to_string(marks.size()) + " marks are too few for this fit", "marks",
                "a rigid or similarity fit needs two, an affine fit three");
  Fit fit;
  fit.kind = kind;
  fit.centre = weightedCentre(marks, &Mark::layout);
  const Point hoopCentre = weightedCentre(marks, &Mark::hoop);
  double spread = 0, found = 0;
  for (const Mark& m : marks) {
    spread = std::max(spread, distance(m.layout, fit.centre));
    found = std::max(found, distance(m.hoop, hoopCentre));
  }
  if (!(spread >= kLeastSpread_mm))
    throw Error("the marks lie in one place", "marks", "set marks far apart: they give the angle");
  // cloth that shrank to a tenth is no cloth: somebody needled one place twice
  if (!(found >= spread / 10))
    throw Error("the marks were found in one place of the hoop", "marks",
                "measure them again: each where its own cross lies");
  if (kind == FitKind::Affine)
    solveAffine(marks, fit.centre, hoopCentre, fit);
  else
    solveTurn(marks, fit.centre, hoopCentre, fit);
  const Point shift = hoopCentre - fit.toHoop.turn(fit.centre);
  fit.toHoop.dx = fit.dx_mm = shift.x;
  fit.toHoop.dy = fit.dy_mm = shift.y;
  addResiduals(marks, fit);
  addCovariance(marks, fit);
  return fit;
}

PlaceCovariance Fit::covarianceAt(Point layout) const {
  const Parameters j = jacobian(kind, toHoop, layout - centre);
  const Eigen::Map<const Parameters> of(covariance.data(), parameters, parameters);
  const Eigen::Matrix2d c = j * of * j.transpose();
  return {c(0, 0), (c(0, 1) + c(1, 0)) / 2, c(1, 1)};
}

namespace {

/// Half the difference of the eigenvalues of a symmetric 2 × 2 matrix.
double halfSpread(const PlaceCovariance& c) {
  return std::hypot((c.xx - c.yy) / 2, c.xy);
}

}  // namespace

double PlaceCovariance::longAxis_mm() const {
  return std::sqrt(std::max(0.0, (xx + yy) / 2 + halfSpread(*this)));
}

double PlaceCovariance::shortAxis_mm() const {
  return std::sqrt(std::max(0.0, (xx + yy) / 2 - halfSpread(*this)));
}

double PlaceCovariance::longAxis_deg() const {
  return degrees(std::atan2(2 * xy, xx - yy) / 2);
}

double within95_mm(const PlaceCovariance& covariance) {
  const double a = covariance.longAxis_mm(), b = covariance.shortAxis_mm();
  if (!(a > 0)) return 0;
  constexpr int kDirections = 48;  // over a quarter; the mean is over the angle of a round normal
  const auto outside = [&](double r) {
    double sum = 0;
    for (int k = 0; k < kDirections; ++k) {
      const double t = (k + 0.5) * kPi / 2 / kDirections;
      const double variance = a * a * std::cos(t) * std::cos(t) + b * b * std::sin(t) * std::sin(t);
      sum += std::exp(-r * r / (2 * variance));
    }
    return sum / kDirections;
  };
  double low = 1.9 * a, high = 2.5 * a;
  for (int step = 0; step < 40; ++step) {
    const double r = (low + high) / 2;
    (outside(r) > 0.05 ? low : high) = r;
  }
  return (low + high) / 2;
}

double Fit::error95_mm(Point layout) const {
  return within95_mm(covarianceAt(layout));
}

double trueWithin_mm(const Fit& fit, Point layout, double limit_mm) {
  constexpr double kMost_mm = 1000;
  constexpr int kRays = 24;
  if (!(fit.error95_mm(layout) <= limit_mm)) return 0;
  double low = 0, high = kMost_mm;
  const auto within = [&](double r) {
    for (int i = 0; i < kRays; ++i) {
      const double way = i * 2 * kPi / kRays;
      if (!(fit.error95_mm(layout + Point{std::cos(way), std::sin(way)} * r) <= limit_mm))
        return false;
    }
    return true;
  };
  if (within(kMost_mm)) return kMost_mm;
  while (high - low > 0.1) {
    const double r = (low + high) / 2;
    (within(r) ? low : high) = r;
  }
  return low;
}

double Fit::scaleError() const {
  // the fourth parameter is the logarithm of the size
  return kind == FitKind::Similarity ? std::sqrt(std::max(0.0, covariance[15])) : 0;
}

double expectedError95_mm(const std::vector<Mark>& marks, Point layout) {
  std::vector<Mark> ideal = marks;
  for (Mark& m : ideal) m.hoop = m.layout;
  return fitMarks(ideal, FitKind::Rigid).error95_mm(layout);
}

}  // namespace rt
