// Ready, check or re-hoop: the decision over a fit.
#pragma once

#include "fit.h"

namespace rt {

enum class HoopShape { Rectangle, Oval };

/// The stitching field, centred on the hoop frame's origin.
struct Field {
  double width_mm = 0, height_mm = 0;
  HoopShape shape = HoopShape::Rectangle;
  bool contains(Point p) const;
  /// Corners, or for an oval eight points of its edge.
  std::vector<Point> edgePoints() const;
  friend bool operator==(const Field&, const Field&) = default;
};

struct AlignmentSetup {
  Field field;
  double tolerance_mm = 0.5;                         ///< Largest 95 % error that is ready.
  double layout_width_mm = 0, layout_height_mm = 0;  ///< 0: not given, not held against the field.
  FitKind kind = FitKind::Rigid;
  friend bool operator==(const AlignmentSetup&, const AlignmentSetup&) = default;
};

/// Limits for cloth that changed its shape (shop practice).
inline constexpr double kStretchCheck = 0.005, kStretchRehoop = 0.015, kSquareCheck_deg = 0.3;

enum class Readiness { Ready, Check, Rehoop };
std::string_view name(Readiness status);

/// A mark that was not used, and why.
struct LeftOut {
  std::string id, reason;
};

struct Alignment {
  Readiness status = Readiness::Rehoop;
  Fit fit;
  std::vector<Mark> marks;  ///< Those used, in the order of fit.residual_mm.
  std::vector<LeftOut> missing;
  double error_centre_mm = 0, error_worst_mm = 0;  ///< 95 % bounds over the field.
  double stretch = 0;               ///< Largest |size - 1| that the marks show beyond their error.
  double out_of_square_deg = 0;     ///< Likewise; 0 with fewer than three marks.
  std::vector<std::string> advice;  ///< Reasons first, then what to do.
  std::string headline;             ///< One sentence with its figure.
};

/// Fits, looks for stretch, shear and a wrong mark (each left out in turn), and decides.
/// Throws Error when there is nothing to fit.
Alignment align(const std::vector<Mark>& marks, const AlignmentSetup& setup);

/// All rests on one mark that gives place and angle: the decision is check at best.
void holdSingle(Alignment& alignment);
/// Marks that were listed and not found, seen twice or not believed: where fewer than three others
/// agree, nobody vouches for them, and the decision is check at best.
void holdMissing(Alignment& alignment, std::vector<LeftOut> missing);

}  // namespace rt
