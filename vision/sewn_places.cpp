#include "sewn_places.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <tuple>

#include "sewn_shift.h"
#include "side_by_side.h"

namespace rt {
namespace {

constexpr double kAlong_mm = 4, kApart_mm = 1.2;  // of an element; from one edge to the next
constexpr double kLevel = 0.9;                    // cosine of 25°
constexpr double kInside_mm = 1.0, kOutside_mm = 1.6, kBesideLine_mm = 1.4;
constexpr double kGoesOn = -0.5;  // cosine between both threads of a point that no edge turns at
constexpr size_t kLeastRows = 4, kFewestPlaces = 60;
constexpr double kMostSigma_mm = 0.25;  // along the surest direction; more tells nothing

/// By row: which unbroken sewing it belongs to.
std::vector<size_t> shapesOf(const Pattern& pattern) {
  std::vector<size_t> out;
  NeedleWalk walk;
  size_t shape = 0;
  for (const Stitch& s : pattern.stitches) {
    const bool parts = s.op == Op::Trim || s.op == Op::Stop || s.op == Op::Jump;
    if (walk.next(s).colourChange || parts) ++shape;
    out.push_back(shape);
  }
  return out;
}

/// A needle point with the threads that meet there.
struct Meeting {
  size_t row, shape;
  Point at;
  std::optional<Point> before, after;
};

std::vector<Meeting> meetingsOf(const Pattern& pattern) {
  std::vector<Meeting> out;
  const std::vector<size_t> shapes = shapesOf(pattern);
  NeedleWalk walk;
  for (size_t row = 0; row < pattern.stitches.size(); ++row) {
    const Stitch& s = pattern.stitches[row];
    const NeedleWalk::Step step = walk.next(s);
    if (s.op != Op::Stitch) continue;
    Meeting m{row, shapes[row], s.at, {}, {}};
    if (step.sewn) {
      m.before = step.from;
      if (!out.empty() && out.back().row + 1 == row) out.back().after = s.at;
    }
    out.push_back(m);
  }
  return out;
}

/// Away from the thread, where stitches turn back: level or upright; nothing within a line.
std::optional<Point> outwardAt(const Meeting& m) {
  if (!m.before && !m.after) return std::nullopt;
  const Point a = m.before ? *m.before - m.at : Point{}, b = m.after ? *m.after - m.at : Point{};
  const double la = length(a), lb = length(b);
  if (la > 0 && lb > 0 && dot(a, b) < kGoesOn * la * lb) return std::nullopt;
  const Point way = unit(la > lb ? a : b) * -1.0;
  if (std::abs(way.x) > kLevel) return Point{way.x > 0 ? 1.0 : -1.0, 0};
  if (std::abs(way.y) > kLevel) return Point{0, way.y > 0 ? 1.0 : -1.0};
  return std::nullopt;
}

/// The kinds that lie on top and tell where sewing ends.
bool told(Kind kind) {
  return kind != Kind::Underlay && kind != Kind::Tie;
}

/// Shapes with a fill or satin: their lines lie side by side, none is told from the next.
std::set<size_t> closelySewn(const Pattern& pattern, const std::vector<Meeting>& meetings) {
  std::set<size_t> out;
  for (const Meeting& m : meetings) {
    const Kind kind = pattern.stitches[m.row].kind;
    if (kind == Kind::Fill || kind == Kind::Satin) out.insert(m.shape);
  }
  return out;
}

double longerThread(const Meeting& m) {
  return std::max(m.before ? distance(*m.before, m.at) : 0, m.after ? distance(*m.after, m.at) : 0);
}

}  // namespace

std::vector<SewnElement> sewnElements(const Pattern& pattern) {
  // shape, way out, place along, place across
  using Key = std::tuple<size_t, int, int, int>;
  std::map<Key, SewnElement> found;
  std::map<Key, double> widths;
  const std::vector<Meeting> meetings = meetingsOf(pattern);
  const std::set<size_t> close = closelySewn(pattern, meetings);
  for (const Meeting& m : meetings) {
    if (!told(pattern.stitches[m.row].kind)) continue;
    const std::optional<Point> out = outwardAt(m);
    const bool turns = m.before && m.after && out;
    const bool line =
        !out && m.before && m.after && dot(unit(*m.before - m.at), unit(*m.after - m.at)) < kGoesOn;
    if (!turns && !line) continue;
    const auto cell = [](double v, double size) { return static_cast<int>(std::floor(v / size)); };
    Key key{m.shape, 0, cell(m.at.x, kAlong_mm), cell(m.at.y, kAlong_mm)};
    if (turns) {
      const bool level = out->x != 0;
      const int way = level ? (out->x > 0 ? 1 : 2) : (out->y > 0 ? 3 : 4);
      key = {m.shape, way, cell(level ? m.at.y : m.at.x, kAlong_mm),
             cell(level ? m.at.x : m.at.y, kApart_mm)};
    }
    SewnElement& e = found[key];
    e.rows.push_back(m.row);
    e.shape = m.shape;
    e.window.add(m.at);
    double& w = widths[key];
    w = std::max(w, longerThread(m));
  }
  std::vector<SewnElement> out;
  for (auto& [key, e] : found) {
    const int way = std::get<1>(key);
    if (e.rows.size() < (way ? kLeastRows : 2)) continue;
    if (way == 0) {
      e.window = e.window.grown(kBesideLine_mm);
    } else {
      const double in = std::min(kInside_mm, widths[key] / 2);
      if (way == 1) e.window.left -= in, e.window.right += kOutside_mm;
      if (way == 2) e.window.right += in, e.window.left -= kOutside_mm;
      if (way == 3) e.window.top -= in, e.window.bottom += kOutside_mm;
      if (way == 4) e.window.bottom += in, e.window.top -= kOutside_mm;
    }
    out.push_back(std::move(e));
  }
  return out;
}

std::vector<SewnPlace> sewnPlaces(const Photo& photo, const Plane& plane, const Pattern& thought,
                                  const std::vector<SewnElement>& elements,
                                  const SewnSearch& search) {
  struct Laid {
    LaidStroke stroke;
    size_t shape;
    Box box;
  };
  std::vector<Laid> laid;
  const std::vector<size_t> shapes = shapesOf(thought);
  NeedleWalk walk;
  for (size_t row = 0; row < thought.stitches.size(); ++row) {
    const Stitch& s = thought.stitches[row];
    const NeedleWalk::Step step = walk.next(s);
    if (!step.sewn) continue;
    Box box;
    box.add(step.from), box.add(s.at);
    laid.push_back({{step.from, s.at, s.thread}, shapes[row], box});
  }
  std::vector<std::optional<SewnPlace>> seen(elements.size());
  sideBySide(elements.size(), [&](size_t i) {
    const SewnElement& e = elements[i];
    const Box around = e.window.grown(3);
    std::vector<LaidStroke> own, others;
    for (const Laid& l : laid)
      if (around.overlaps(l.box)) (l.shape == e.shape ? own : others).push_back(l.stroke);
    Point about;
    for (size_t row : e.rows) about = about + thought.stitches[row].at;
    about = about * (1.0 / static_cast<double>(e.rows.size()));
    const auto shift = shiftOfSewn(photo, plane, own, others, e.window, about, search.reach_mm,
                                   {search.clear_mm, kFewestPlaces, search.reach_mm / 3});
    if (shift && shift->covariance.shortAxis_mm() < kMostSigma_mm)
      seen[i] = SewnPlace{i, shift->by, shift->covariance};
  });
  std::vector<SewnPlace> out;
  for (const auto& s : seen)
    if (s) out.push_back(*s);
  return out;
}

}  // namespace rt
