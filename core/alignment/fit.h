// Where a layout lies in its hoop: weighted fits with uncertainty.
#pragma once

#include <array>
#include <string>
#include <string_view>
#include <vector>

#include "geometry.h"

namespace rt {

/// Usual error of a mark, one standard deviation per coordinate, mm (shop practice).
/// The shop's own stand in data/practice.json.
struct MarkErrors {
  double tag_mm = 0.10;        ///< Tag seen by the camera.
  double needle_mm = 0.15;     ///< Needle over a cross.
  double sewn_line_mm = 0.20;  ///< Knot of a sewn line: the line turns with it.
  double pinned_mm = 0.30;     ///< Paper cross pinned by hand, basted thread, a place seen by eye.
  friend bool operator==(const MarkErrors&, const MarkErrors&) = default;
};

/// Covariance of a place, mm²: symmetric, positive semi-definite.
struct PlaceCovariance {
  double xx = 0, xy = 0, yy = 0;
  /// Half axes of the one-sigma ellipse, mm: the long one, and the short one.
  double longAxis_mm() const;
  double shortAxis_mm() const;
  /// Of the long axis against x, clockwise as seen.
  double longAxis_deg() const;
  friend PlaceCovariance operator+(const PlaceCovariance& a, const PlaceCovariance& b) {
    return {a.xx + b.xx, a.xy + b.xy, a.yy + b.yy};
  }
};
/// 95 % of a two-dimensional normal error lies within this many times its standard deviations
/// (square root of chi-square, two degrees of freedom: 5.991).
inline constexpr double kWithin95 = 2.4477;
/// The distance that 95 % of errors with this covariance stay within, mm. For errors along one line
/// 1.96 of its standard deviation, for round ones kWithin95 of it; between them the chance to stay
/// within r, 1 - mean over directions of exp(-r² / (2 · variance there)), is solved for r.
double within95_mm(const PlaceCovariance& covariance);

/// One place known in both frames.
struct Mark {
  std::string id;
  Point layout, hoop;                        ///< mm
  double error_mm = MarkErrors{}.needle_mm;  ///< One sigma a coordinate, all that is unknown of it.
  /// What of the error is not its own: the plane of a photo is off for all of its marks together.
  /// By how much the mark is off, hoop frame, mm, where each of these common errors is one sigma;
  /// their squares are part of the square of `error_mm`.
  std::vector<Point> shared = {};
  std::string shared_by = {};  ///< Marks of the same photo share the same errors.
  friend bool operator==(const Mark&, const Mark&) = default;
};

enum class FitKind { Rigid, Similarity, Affine };
std::string_view name(FitKind kind);

/// Layout to hoop: p_hoop = R · diag(scale_x, scale_y) · K · p_layout + (dx, dy).
struct Fit {
  FitKind kind = FitKind::Rigid;
  double dx_mm = 0, dy_mm = 0, rotation_deg = 0, scale_x = 1, scale_y = 1, skew_deg = 0;
  Transform toHoop;
  std::vector<double> residual_mm;  ///< Distance of each mark from where the fit puts it.
  double rms_mm = 0;
  double chi2 = 0;  ///< Weighted sum of squared residuals.
  int freedom = 0;  ///< Coordinates measured less parameters fitted.

  /// 95 % bound of the error at a layout point, mm (see within95_mm). Where
  /// marks disagree by more than their errors, it grows with them.
  double error95_mm(Point layout) const;
  /// Covariance of the landing place of a layout point, mm².
  PlaceCovariance covarianceAt(Point layout) const;
  /// Standard deviation of the size (similarity), as a part of 1; 0 for other fits.
  double scaleError() const;

  Point centre;        ///< Weighted centre of the marks, layout frame.
  int parameters = 3;  ///< Fitted: 3 rigid, 4 similarity, 6 affine.
  std::array<double, 36>
      covariance{};  ///< Of the parameters, about `centre`; parameters², by rows.
};

/// Least number of marks for a fit.
int leastMarks(FitKind kind);

/// Minimises the sum over marks of |fit(layout) - hoop|² / error². Rigid and similarity in closed
/// form (Umeyama 1991), affine by linear least squares. The covariance of the parameters carries
/// each mark's own error by itself and what marks share together. Throws Error for too few marks,
/// marks in one place, or (affine) on a line. The images of a mirrored fit are refused.
Fit fitMarks(const std::vector<Mark>& marks, FitKind kind);

/// How far around a place every point lands within `limit_mm` at 95 %: to 0.1 mm, at most 1,000 mm;
/// 0 where the place itself does not. The bound's square is a convex quadratic of the place, so
/// along each ray it is passed once.
double trueWithin_mm(const Fit& fit, Point layout, double limit_mm);

/// The 95 % bound at `layout` that a rigid fit over marks at these places would have.
double expectedError95_mm(const std::vector<Mark>& marks, Point layout);

}  // namespace rt
