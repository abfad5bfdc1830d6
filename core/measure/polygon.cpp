#include "polygon.h"

#include <algorithm>
#include <polyclipping/clipper.hpp>

namespace rt {
namespace {

namespace cl = ClipperLib;

constexpr double kLattice = 10000;  // clipper works on whole numbers: 1/10,000 mm

cl::Path toPath(std::span<const Point> line) {
  cl::Path path;
  path.reserve(line.size());
  for (Point p : line)
    path.emplace_back(static_cast<cl::cInt>(std::llround(p.x * kLattice)),
                      static_cast<cl::cInt>(std::llround(p.y * kLattice)));
  return path;
}

cl::Paths toPaths(const Area& area) {
  cl::Paths paths;
  paths.reserve(area.size());
  for (const Ring& ring : area)
    if (ring.size() >= 3) paths.push_back(toPath(ring));
  return paths;
}

Ring toRing(const cl::Path& path) {
  Ring ring;
  ring.reserve(path.size());
  for (const cl::IntPoint& p : path)
    ring.push_back({static_cast<double>(p.X) / kLattice, static_cast<double>(p.Y) / kLattice});
  return ring;
}

Area toArea(const cl::Paths& paths) {
  Area area;
  area.reserve(paths.size());
  for (const cl::Path& path : paths)
    if (path.size() >= 3) area.push_back(toRing(path));
  return area;
}

Area combine(const Area& a, const Area& b, cl::ClipType how) {
  cl::Clipper clipper;
  clipper.AddPaths(toPaths(a), cl::ptSubject, true);
  clipper.AddPaths(toPaths(b), cl::ptClip, true);
  cl::Paths out;
  clipper.Execute(how, out, cl::pftEvenOdd, cl::pftEvenOdd);
  return toArea(out);
}

void collectParts(const cl::PolyNode& node, std::vector<Area>& parts) {
  for (const cl::PolyNode* outline : node.Childs) {
    Area part{toRing(outline->Contour)};
    for (const cl::PolyNode* hole : outline->Childs) {
      part.push_back(toRing(hole->Contour));
      collectParts(*hole, parts);
    }
    parts.push_back(std::move(part));
  }
}

}  // namespace

double signedArea_mm2(const Ring& ring) {
  double sum = 0;
  for (size_t i = 0, n = ring.size(); i < n; ++i) sum += cross(ring[i], ring[(i + 1) % n]);
  return sum / 2;
}

double area_mm2(const Area& area) {
  double sum = 0;
  for (const Area& part : separated(area)) {
    sum += std::abs(signedArea_mm2(part[0]));
    for (size_t i = 1; i < part.size(); ++i) sum -= std::abs(signedArea_mm2(part[i]));
  }
  return sum;
}

Box boundsOf(const Area& area) {
  Box box;
  for (const Ring& ring : area) box.add(boundsOf(std::span<const Point>(ring)));
  return box;
}

bool contains(const Ring& ring, Point p) {
  bool inside = false;
  for (size_t i = 0, n = ring.size(); i < n; ++i) {
    const Point a = ring[i], b = ring[i + 1 == n ? 0 : i + 1];
    if ((a.y > p.y) != (b.y > p.y) && p.x < a.x + (p.y - a.y) / (b.y - a.y) * (b.x - a.x))
      inside = !inside;
  }
  return inside;
}

bool contains(const Area& area, Point p) {
  bool inside = false;
  for (const Ring& ring : area) inside ^= contains(ring, p);
  return inside;
}

Area transformed(const Area& area, const Transform& by) {
  Area out = area;
  for (Ring& ring : out)
    for (Point& p : ring) p = by(p);
  return out;
}

Area simplified(const Area& area, FillRule rule) {
  cl::Clipper clipper;
  clipper.AddPaths(toPaths(area), cl::ptSubject, true);
  const auto fill = rule == FillRule::EvenOdd ? cl::pftEvenOdd : cl::pftNonZero;
  cl::Paths out;
  clipper.Execute(cl::ctUnion, out, fill, fill);
  return toArea(out);
}

Area united(const Area& a, const Area& b) {
  return combine(a, b, cl::ctUnion);
}

Area united(std::span<const Area> areas) {
  cl::Clipper clipper;
  for (const Area& area : areas) {
    cl::Paths paths = toPaths(area);
    // a mirrored area winds the wrong way round: its outline is its largest ring
    double most = 0, sign = 1;
    for (const cl::Path& path : paths)
      if (const double a = cl::Area(path); std::abs(a) > most) most = std::abs(a), sign = a;
    if (sign < 0) cl::ReversePaths(paths);
    clipper.AddPaths(paths, cl::ptSubject, true);
  }
  cl::Paths out;
  clipper.Execute(cl::ctUnion, out, cl::pftNonZero, cl::pftNonZero);
  return toArea(out);
}

Area difference(const Area& a, const Area& b) {
  return combine(a, b, cl::ctDifference);
}

Area intersection(const Area& a, const Area& b) {
  return combine(a, b, cl::ctIntersection);
}

namespace {

/// The part of a ring on the inner side of one edge of a box: where `beyond` is at most 0.
template <class Beyond>
Ring croppedOnce(const Ring& ring, Beyond beyond) {
  Ring out;
  for (size_t i = 0, n = ring.size(); i < n; ++i) {
    const Point a = ring[i], b = ring[i + 1 == n ? 0 : i + 1];
    const double da = beyond(a), db = beyond(b);
    if (da <= 0) out.push_back(a);
    if ((da < 0 && db > 0) || (da > 0 && db < 0)) out.push_back(mix(a, b, da / (da - db)));
  }
  return out;
}

}  // namespace

Area cropped(const Area& area, const Box& box) {
  Area out;
  for (const Ring& ring : area) {
    const Box bounds = boundsOf(std::span<const Point>(ring));
    if (!bounds.overlaps(box)) continue;
    Ring part = ring;
    if (bounds.left < box.left) part = croppedOnce(part, [&](Point p) { return box.left - p.x; });
    if (bounds.right > box.right)
      part = croppedOnce(part, [&](Point p) { return p.x - box.right; });
    if (bounds.top < box.top) part = croppedOnce(part, [&](Point p) { return box.top - p.y; });
    if (bounds.bottom > box.bottom)
      part = croppedOnce(part, [&](Point p) { return p.y - box.bottom; });
    if (part.size() >= 3) out.push_back(std::move(part));
  }
  return out;
}

Area grown(const Area& area, double by_mm) {
  cl::Paths clean;
  cl::SimplifyPolygons(toPaths(area), clean, cl::pftEvenOdd);
  cl::ClipperOffset offset(2, 0.02 * kLattice);
  offset.AddPaths(clean, cl::jtRound, cl::etClosedPolygon);
  cl::Paths out;
  offset.Execute(out, by_mm * kLattice);
  return toArea(out);
}

Area withoutSlivers(const Area& area, double width_mm) {
  return grown(grown(area, -width_mm / 2), width_mm / 2);
}

Area widened(std::span<const Point> line, double width_mm, LineEnd end) {
  const LineJoin join = end == LineEnd::Round ? LineJoin::Round : LineJoin::Mitre;
  return widened(line, {.width_mm = width_mm, .end = end, .join = join});
}

Area widened(std::span<const Point> line, const LineStyle& style) {
  const cl::EndType type = style.closed                   ? cl::etClosedLine
                           : style.end == LineEnd::Butt   ? cl::etOpenButt
                           : style.end == LineEnd::Square ? cl::etOpenSquare
                                                          : cl::etOpenRound;
  const cl::JoinType join = style.join == LineJoin::Round   ? cl::jtRound
                            : style.join == LineJoin::Mitre ? cl::jtMiter
                                                            : cl::jtSquare;
  cl::ClipperOffset offset(style.mitre_limit, 0.02 * kLattice);
  offset.AddPath(toPath(line), join, type);
  cl::Paths out;
  offset.Execute(out, style.width_mm / 2 * kLattice);
  return toArea(out);
}

std::vector<std::vector<double>> levelCrossings(const Area& area, double top_mm, double step_mm,
                                                int rows) {
  std::vector<std::vector<double>> crossings(static_cast<size_t>(std::max(0, rows)));
  auto level = [&](int row) { return top_mm + row * step_mm; };
  for (const Ring& ring : area)
    for (size_t i = 0, n = ring.size(); i < n; ++i) {
      Point a = ring[i], b = ring[i + 1 == n ? 0 : i + 1];
      if (a.y > b.y) std::swap(a, b);
      // a corner on a line belongs to the edge below it, so that each crossing counts once
      int row = static_cast<int>(std::ceil(std::clamp((a.y - top_mm) / step_mm, 0.0, rows + 1.0)));
      while (row > 0 && level(row - 1) >= a.y) --row;
      for (; row < rows && level(row) < b.y; ++row)
        if (level(row) >= a.y)
          crossings[static_cast<size_t>(row)].push_back(a.x + (level(row) - a.y) / (b.y - a.y) *
                                                                  (b.x - a.x));
    }
  for (std::vector<double>& xs : crossings) std::sort(xs.begin(), xs.end());
  return crossings;
}

std::vector<Area> separated(const Area& area) {
  cl::Clipper clipper;
  clipper.AddPaths(toPaths(area), cl::ptSubject, true);
  cl::PolyTree tree;
  clipper.Execute(cl::ctUnion, tree, cl::pftEvenOdd, cl::pftEvenOdd);
  std::vector<Area> parts;
  collectParts(tree, parts);
  std::stable_sort(parts.begin(), parts.end(), [](const Area& a, const Area& b) {
    return std::abs(signedArea_mm2(a[0])) > std::abs(signedArea_mm2(b[0]));
  });
  return parts;
}

}  // namespace rt
