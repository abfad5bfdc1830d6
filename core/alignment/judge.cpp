#include "judge.h"

#include <algorithm>
#include <array>

#include "error.h"

namespace rt {
namespace {

// A mark departs when its residual is over this many of its standard deviations: 99 % of honest
// two-dimensional errors lie within (chi-square, two degrees of freedom: 9.21).
constexpr double kDeparts = 3.035;
constexpr size_t kMostMarks = 500;
constexpr double kSure = 2.0;  // a change of shape counts when it is over two standard deviations

/// Farthest two marks, and the mark farthest from the line through them.
bool onLine(const std::vector<Mark>& marks) {
  auto farthest = [&](Point from) {
    return std::max_element(marks.begin(), marks.end(),
                            [&](const Mark& a, const Mark& b) {
                              return distance(a.layout, from) < distance(b.layout, from);
                            })
        ->layout;
  };
  const Point a = farthest(marks[0].layout), b = farthest(a);
  const double most = distance(a, b);
  double wide = 0;
  for (const Mark& m : marks) wide = std::max(wide, std::abs(cross(b - a, m.layout - a)));
  return wide < 0.05 * most * most;
}

void holdLeftOut(Alignment& alignment, const LeftOut& mark) {
  AlignmentNote note;
  note.what = AlignmentNote::What::MarkMissing, note.weight = Readiness::Check;
  note.left_out = mark;
  alignment.hold(note);
}

class Judge {
 public:
  Judge(const std::vector<Mark>& marks, const AlignmentSetup& setup) : setup_(setup) {
    out_.marks = marks;
  }

  Alignment run() {
    if (out_.marks.size() > kMostMarks)
      throw Error(
          std::to_string(out_.marks.size()) + " marks are more than " + std::to_string(kMostMarks),
          "marks", "take those farthest apart");
    out_.fit = fitMarks(out_.marks, setup_.kind);
    measureShape();
    if (anyDeparts(out_.fit, out_.marks) && !explainedByShape()) dropWrongMark();
    measureErrors();
    decide();
    adviseMark();
    return std::move(out_);
  }

 private:
  bool departs(const Fit& fit, const std::vector<Mark>& marks, size_t i) const {
    return fit.residual_mm[i] > std::max(kDeparts * marks[i].error_mm,
                                         setup_.limits.mark_off_part * setup_.tolerance_mm);
  }

  bool anyDeparts(const Fit& fit, const std::vector<Mark>& marks) const {
    for (size_t i = 0; i < marks.size(); ++i)
      if (departs(fit, marks, i)) return true;
    return false;
  }

  /// Stretch and shear as the marks show them, whatever fit was asked for.
  void measureShape() {
    out_.stretch = out_.out_of_square_deg = 0;
    const Fit similar = fitMarks(out_.marks, FitKind::Similarity);
    shapeFits_ = !anyDeparts(similar, out_.marks);
    const double size = std::abs(similar.scale_x - 1);
    if (size > kSure * similar.scaleError() || setup_.kind == FitKind::Similarity)
      noteStretch(size);
    if (out_.marks.size() < 3 || onLine(out_.marks)) return;
    const Fit affine = fitMarks(out_.marks, FitKind::Affine);
    if (out_.marks.size() > 3) shapeFits_ = shapeFits_ || !anyDeparts(affine, out_.marks);
    // an affine fit takes any three marks as they come: its figures count against their errors
    double reach = 0;
    for (const Mark& m : out_.marks) reach = std::max(reach, distance(m.layout, affine.centre));
    double sigma = 0;
    for (const Mark& m : out_.marks) sigma = std::max(sigma, m.error_mm);
    const double least =
        setup_.kind == FitKind::Affine ? 0 : kSure * sigma * std::sqrt(2.0) / reach;
    const double axis = std::max(std::abs(affine.scale_x - 1), std::abs(affine.scale_y - 1));
    if (axis > least) noteStretch(axis);
    if (radians(std::abs(affine.skew_deg)) > least)
      out_.out_of_square_deg = std::abs(affine.skew_deg);
  }

  void noteStretch(double size) { out_.stretch = std::max(out_.stretch, size); }

  bool explainedByShape() const {
    return shapeFits_ && (out_.stretch > setup_.limits.stretch_check ||
                          out_.out_of_square_deg > setup_.limits.square_check_deg);
  }

  /// Leaves each mark out in turn; a single one whose absence makes the rest agree is not believed.
  void dropWrongMark() {
    const auto least = static_cast<size_t>(leastMarks(setup_.kind)) + 1;
    if (out_.marks.size() < least || out_.marks.size() < 3) return;
    std::vector<size_t> culprits;
    for (size_t i = 0; i < out_.marks.size(); ++i) {
      std::vector<Mark> rest = out_.marks;
      rest.erase(rest.begin() + static_cast<long>(i));
      if (static_cast<int>(rest.size()) < leastMarks(setup_.kind) || onePlace(rest)) continue;
      if (setup_.kind == FitKind::Affine && onLine(rest)) continue;
      const Fit fit = fitMarks(rest, setup_.kind);
      if (fit.freedom > 0 && !anyDeparts(fit, rest)) culprits.push_back(i);
    }
    if (culprits.size() != 1) return;
    const size_t i = culprits[0];
    out_.missing.push_back({out_.marks[i].id, LeftOut::Why::OffTheOthers, distanceWithout(i)});
    out_.marks.erase(out_.marks.begin() + static_cast<long>(i));
    out_.fit = fitMarks(out_.marks, setup_.kind);
    measureShape();
  }

  static bool onePlace(const std::vector<Mark>& marks) {
    return std::all_of(marks.begin(), marks.end(),
                       [&](const Mark& m) { return distance(m.layout, marks[0].layout) < 2.0; });
  }

  double distanceWithout(size_t i) const {
    std::vector<Mark> rest = out_.marks;
    rest.erase(rest.begin() + static_cast<long>(i));
    const Fit fit = fitMarks(rest, setup_.kind);
    return distance(fit.toHoop(out_.marks[i].layout), out_.marks[i].hoop);
  }

  Point toLayout(Point hoop) const { return (*out_.fit.toHoop.inverse())(hoop); }

  void measureErrors() {
    out_.error_centre_mm = out_.fit.error95_mm(toLayout({0, 0}));
    for (Point corner : setup_.field.edgePoints())
      out_.error_worst_mm = std::max(out_.error_worst_mm, out_.fit.error95_mm(toLayout(corner)));
  }

  using What = AlignmentNote::What;
  static AlignmentNote noteOf(What what, Readiness weight, double value = 0, double limit = 0) {
    AlignmentNote note;
    note.what = what, note.weight = weight, note.value = value, note.limit = limit;
    return note;
  }

  void decide() {
    // it begins at the worst: only figures that are there and good make it better
    out_.status = Readiness::Rehoop;
    const double worst = out_.error_worst_mm, limit = setup_.tolerance_mm;
    if (!(worst >= 0 && std::isfinite(worst) && limit > 0))
      return out_.hold(noteOf(What::Unmeasured, Readiness::Rehoop));
    out_.status = Readiness::Ready;
    if (worst > limit)
      out_.hold(noteOf(What::Error, worst > 2 * limit ? Readiness::Rehoop : Readiness::Check, worst,
                       limit));
    decideShape();
    for (size_t i = 0; i < out_.marks.size(); ++i)
      if (departs(out_.fit, out_.marks, i)) {
        AlignmentNote note = noteOf(What::MarkOff, Readiness::Check, out_.fit.residual_mm[i]);
        note.id = out_.marks[i].id;
        out_.hold(note);
      }
    for (const LeftOut& m : out_.missing) holdLeftOut(out_, m);
    decideField();
  }

  void decideShape() {
    const ShapeLimits& limits = setup_.limits;
    if (out_.stretch > limits.stretch_check)
      out_.hold(noteOf(What::Stretch,
                       out_.stretch > limits.stretch_rehoop ? Readiness::Rehoop : Readiness::Check,
                       out_.stretch, limits.stretch_rehoop));
    if (out_.out_of_square_deg > limits.square_check_deg)
      out_.hold(noteOf(What::OutOfSquare, Readiness::Check, out_.out_of_square_deg));
  }

  void decideField() {
    if (setup_.layout_width_mm <= 0 || setup_.layout_height_mm <= 0) return;
    const Box layout = Box::around({0, 0}, setup_.layout_width_mm, setup_.layout_height_mm);
    double over = -1;  // below 0: all corners lie inside
    Point toward;
    for (int i = 0; i < 4; ++i) {
      const Point p = out_.fit.toHoop(layout.corner(i));
      if (setup_.field.contains(p)) continue;
      const double x = std::max(0.0, std::abs(p.x) - setup_.field.width_mm / 2);
      const double y = std::max(0.0, std::abs(p.y) - setup_.field.height_mm / 2);
      if (const double d = std::hypot(x, y); d > over)
        over = d, toward = {p.x > 0 ? x : -x, p.y > 0 ? y : -y};
    }
    if (over < 0) return;
    AlignmentNote note = noteOf(What::LeavesField, Readiness::Rehoop, over);
    note.at = toward;
    out_.hold(note);
  }

  /// The corner of the field where one more mark lowers the worst error most.
  void adviseMark() {
    if (out_.status == Readiness::Ready && out_.error_worst_mm < 0.6 * setup_.tolerance_mm) return;
    double best = out_.error_worst_mm;
    Point where;
    for (Point corner : setup_.field.edgePoints()) {
      const Point spot = corner * 0.9;
      std::vector<Mark> more = out_.marks;
      more.push_back({"new", toLayout(spot), spot, out_.marks[0].error_mm});
      double worst = 0;
      for (Point p : setup_.field.edgePoints())
        worst = std::max(worst, expectedError95_mm(more, toLayout(p)));
      if (worst < best - 0.01) best = worst, where = spot;
    }
    if (best >= out_.error_worst_mm - 0.01) return;
    AlignmentNote note = noteOf(What::AddMark, Readiness::Ready, best);
    note.at = where;
    out_.hold(note);
  }

  AlignmentSetup setup_;
  Alignment out_;
  bool shapeFits_ = false;
};

}  // namespace

bool Field::contains(Point p) const {
  const double x = p.x / (width_mm / 2), y = p.y / (height_mm / 2);
  const double slack = 1 + kSame_mm;
  return shape == HoopShape::Oval ? x * x + y * y <= slack
                                  : std::abs(x) <= slack && std::abs(y) <= slack;
}

std::vector<Point> Field::edgePoints() const {
  std::vector<Point> out;
  if (shape == HoopShape::Rectangle) {
    const Box box = Box::around({0, 0}, width_mm, height_mm);
    for (int i = 0; i < 4; ++i) out.push_back(box.corner(i));
    return out;
  }
  for (int i = 0; i < 8; ++i)
    out.push_back({width_mm / 2 * std::cos(i * kPi / 4), height_mm / 2 * std::sin(i * kPi / 4)});
  return out;
}

std::string_view name(Readiness status) {
  constexpr std::array<std::string_view, 3> kNames{"ready", "check", "rehoop"};
  return kNames[static_cast<size_t>(status)];
}

Alignment align(const std::vector<Mark>& marks, const AlignmentSetup& setup) {
  return Judge(marks, setup).run();
}

void Alignment::hold(AlignmentNote note) {
  status = std::max(status, note.weight);
  notes.push_back(std::move(note));
}

void holdSingle(Alignment& alignment) {
  AlignmentNote note;
  note.what = AlignmentNote::What::SingleMark, note.weight = Readiness::Check;
  alignment.hold(note);
}

void holdMissing(Alignment& alignment, std::vector<LeftOut> missing) {
  constexpr size_t kVouching = 3;
  const bool vouched = alignment.marks.size() >= kVouching && alignment.missing.empty();
  for (LeftOut& m : missing) {
    if (!vouched) holdLeftOut(alignment, m);
    alignment.missing.push_back(std::move(m));
  }
}

}  // namespace rt
