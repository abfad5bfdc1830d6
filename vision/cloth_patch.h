// A piece of the cloth seen from above, as it differs from the cloth around. Part of this room.
#pragma once

#include <array>
#include <opencv2/core.hpp>

#include "plane.h"

namespace rt {

/// Lines of up to 2 mm in a rectangle of the plane, in cells: what is left of each colour when the
/// cloth around, a median over 4.6 mm, is taken away. A shadow's edge leaves almost nothing.
class ClothPatch {
 public:
  static constexpr double kRough_mm = 0.35;  ///< Cells as wide as a line, for a first search.
  /// The cell is not finer than it need be for a line; the patch lies about `middle`, its own x
  /// turned by `turn_deg` against the plane's.
  ClothPatch(const Photo& photo, const Plane& plane, Point middle, double turn_deg, double width_mm,
             double height_mm);

  double step() const { return step_; }  ///< Edge of a cell, mm.
  int width() const { return difference_.cols; }
  int height() const { return difference_.rows; }
  Point middle() const { return {(width() - 1) / 2.0, (height() - 1) / 2.0}; }
  double turn_deg() const { return turn_deg_; }
  Point toPlane(Point cell) const;
  /// What is left of blue, green and red, floats, in cells of at least `cell_mm`; and how large
  /// they are.
  std::pair<cv::Mat, double> coarse(double cell_mm) const;

 private:
  Point at_;
  double turn_deg_, step_;
  cv::Mat difference_;
};

/// Ways in which a line can differ from the cloth: brightness both ways, each colour both ways, and
/// pairs of colours against one another, for thread or pen may differ in one of them alone.
inline constexpr size_t kLineSignals = 12;
/// Weights of blue, green and red of one of them.
std::array<double, 3> lineSignal(size_t which);
cv::Mat signalOf(const cv::Mat& difference, size_t which);

}  // namespace rt
