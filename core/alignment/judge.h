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

/// Limits for cloth that changed its shape, or lies not quite flat (shop practice,
/// data/practice.json).
struct ShapeLimits {
  double stretch_check = 0.005, stretch_rehoop = 0.015;  ///< Part of the size.
  double square_check_deg = 0.3;
  /// A mark that is off by less than this part of what is tolerated is no wrong mark, however sure
  /// the camera is of it: the bound has grown with it (Fit::error95_mm).
  double mark_off_part = 0.1;
  friend bool operator==(const ShapeLimits&, const ShapeLimits&) = default;
};

struct AlignmentSetup {
  Field field;
  double tolerance_mm = 0.5;                         ///< Largest 95 % error that is ready.
  double layout_width_mm = 0, layout_height_mm = 0;  ///< 0: not given, not held against the field.
  FitKind kind = FitKind::Rigid;
  ShapeLimits limits = {};
  friend bool operator==(const AlignmentSetup&, const AlignmentSetup&) = default;
};

enum class Readiness { Ready, Check, Rehoop };
std::string_view name(Readiness status);

/// A mark that was not used, and why.
struct LeftOut {
  enum class Why {
    NotFound,      ///< In the photo.
    SeenTwice,     ///< In the photo: which of the two is meant?
    OffTheOthers,  ///< `off_mm` from where the others put it.
    OffItsList,    ///< A tag of the frame is not where the set-up has it.
  };
  std::string id;
  Why why = Why::NotFound;
  double off_mm = 0;
  friend bool operator==(const LeftOut&, const LeftOut&) = default;
};

/// A reason for the decision or something to do, for people above the core to put in words.
struct AlignmentNote {
  enum class What {
    Unmeasured,    ///< The marks do not say where the layout lies.
    Error,         ///< `value` mm at the worst corner, `limit` mm allowed.
    Stretch,       ///< The cloth is off its size by `value` (a part); re-hoop if `limit` is passed.
    OutOfSquare,   ///< By `value` degrees.
    MarkOff,       ///< Mark `id` is `value` mm off the fit, more than its error allows.
    MarkMissing,   ///< Mark `left_out` is not used, and nobody vouches for it.
    LeavesField,   ///< The layout does, by `at` mm; (0, 0): only its corners leave the oval.
    SewingLeaves,  ///< Sewing of the hooping does, by `value` mm, worst at `at`.
    AddMark,       ///< One more mark near `at` lowers the worst corner to `value` mm.
    SingleMark,    ///< It rests on one mark.
    FewFrameTags,  ///< The photo's plane rests on `value` tags.
    FrameByHand,   ///< The photo's plane rests on `value` places pointed at.
  };
  What what = What::Unmeasured;
  Readiness weight = Readiness::Ready;  ///< What it holds the decision to, at the least.
  double value = 0, limit = 0;
  Point at;  ///< mm, hoop frame.
  std::string id;
  LeftOut left_out = {};
  friend bool operator==(const AlignmentNote&, const AlignmentNote&) = default;
};

struct Alignment {
  Readiness status = Readiness::Rehoop;
  Fit fit;
  std::vector<Mark> marks;  ///< Those used, in the order of fit.residual_mm.
  std::vector<LeftOut> missing;
  double error_centre_mm = 0, error_worst_mm = 0;  ///< 95 % bounds over the field.
  double stretch = 0;                ///< Largest |size - 1| that the marks show beyond their error.
  double out_of_square_deg = 0;      ///< Likewise; 0 with fewer than three marks.
  std::vector<AlignmentNote> notes;  ///< Reasons first, then what to do.
  /// Adds a note and lets it hold the decision.
  void hold(AlignmentNote note);
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
