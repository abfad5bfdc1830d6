#include "uncovered.h"

#include <algorithm>

#include "hand_stroke.h"

namespace rt {
namespace {

constexpr double kUnderlap_mm = 0.5;   // what stays of a shape under the edge of one above it
constexpr double kLeastSeen = 0.01;    // of a shape's area
constexpr double kLeastLine_mm = 0.5;  // of a line that comes apart
constexpr double kLeastEdges = 0.1;    // of what is seen of a line: edges that are worth sewing
constexpr double kLeastEdges_mm2 = 1.0;
constexpr double kCoverStray_mm = 0.02;  // of what lies above: finer than any thread

/// An outline of fewer points.
Area coarser(const Area& area) {
  Area out;
  for (const Ring& ring : area) {
    if (ring.size() < 8) {
      out.push_back(ring);
      continue;
    }
    // in two halves, as a ring has no ends
    const auto middle = ring.begin() + static_cast<long>(ring.size() / 2);
    Ring first = thinned({ring.begin(), middle + 1}, kCoverStray_mm);
    std::vector<Point> back(middle, ring.end());
    back.push_back(ring.front());
    const Ring second = thinned(back, kCoverStray_mm);
    first.insert(first.end(), second.begin() + 1, second.end() - 1);
    if (first.size() >= 3) out.push_back(std::move(first));
  }
  return out;
}

/// Stretches of a line outside an area, found to a quarter of a millimetre.
std::vector<std::vector<Point>> visibleParts(const std::vector<Point>& line, const Area& hidden) {
  std::vector<std::vector<Point>> parts;
  bool open = false;
  for (size_t i = 0; i + 1 < line.size(); ++i) {
    const int steps =
        std::max(1, static_cast<int>(std::ceil(distance(line[i], line[i + 1]) / 0.25)));
    for (int k = i == 0 ? 0 : 1; k <= steps; ++k) {
      const Point p = mix(line[i], line[i + 1], static_cast<double>(k) / steps);
      const bool seen = !contains(hidden, p);
      if (seen && !open) parts.emplace_back();
      open = seen;
      if (!seen) continue;
      const bool corner = k == 0 || k == steps || parts.back().size() < 2;
      if (corner)
        parts.back().push_back(p);
      else
        parts.back().back() = p;  // straight on: only the last point moves
    }
  }
  std::erase_if(parts, [](const auto& part) { return polylineLength(part) < kLeastLine_mm; });
  return parts;
}

/// The stretches of a line shape whose middle is seen, as shapes.
std::vector<Shape> seenStretches(const Shape& shape, const Area& hidden) {
  std::vector<Point> line = shape.line;
  if (shape.closed) line.push_back(line.front());
  std::vector<std::vector<Point>> parts = visibleParts(line, hidden);
  if (parts.size() == 1 && std::abs(polylineLength(parts[0]) - polylineLength(line)) < 0.3)
    return {shape};
  std::vector<Shape> out;
  for (std::vector<Point>& part : parts) {
    out.push_back(shape);
    out.back().line = std::move(part);
    out.back().closed = false;
  }
  return out;
}

/// What is seen of a line: its stretches, or, where only its edges show beside a narrower one that
/// lies on it, what shows of its ink.
std::vector<Shape> seenOfLine(const Shape& shape, const Area& ink, const Area& above,
                              const Area& hidden) {
  std::vector<Shape> parts = seenStretches(shape, hidden);
  const Area seen = difference(ink, above);
  std::vector<Area> kept;
  for (const Shape& part : parts) kept.push_back(inkOf(part));
  const double lost_mm2 = area_mm2(difference(seen, united(kept)));
  if (lost_mm2 < std::max(kLeastEdges_mm2, kLeastEdges * area_mm2(seen))) return parts;
  Shape edges = shape;
  edges.line.clear();
  edges.area = difference(ink, hidden);
  return {edges};
}

/// The inks of shapes that lie above, joined as they come: each takes part in few unions.
class Cover {
 public:
  void add(Area ink) {
    blocks_.push_back({1, boundsOf(ink), std::move(ink)});
    while (blocks_.size() > 1 && blocks_[blocks_.size() - 2].shapes == blocks_.back().shapes) {
      Block top = std::move(blocks_.back());
      blocks_.pop_back();
      Block& both = blocks_.back();
      both.shapes *= 2;
      both.box.add(top.box);
      both.area = united(both.area, top.area);
    }
  }
  /// What of it can lie over something in the box.
  Area over(const Box& box) const {
    const Box near = box.grown(2 * kUnderlap_mm);
    std::vector<Area> parts;
    for (const Block& b : blocks_)
      if (b.box.overlaps(box))
        parts.push_back(simplified(cropped(b.area, near), FillRule::EvenOdd));
    return united(parts);
  }

 private:
  struct Block {
    size_t shapes = 0;
    Box box;
    Area area;
  };
  std::vector<Block> blocks_;
};

}  // namespace

std::vector<Shape> withoutHidden(std::span<const Shape> shapes, std::vector<std::string>& hidden) {
  Cover later;
  std::vector<Shape> shown;  // from the top down
  for (size_t i = shapes.size(); i-- > 0;) {
    const Shape& shape = shapes[i];
    const Area ink = inkOf(shape);
    const Area above = later.over(boundsOf(ink));
    later.add(coarser(ink));
    const Area under = above.empty() ? Area{} : grown(above, -kUnderlap_mm);
    if (under.empty()) {
      shown.push_back(shape);
    } else if (shape.line.empty()) {
      const bool seen = area_mm2(difference(ink, above)) >= kLeastSeen * area_mm2(ink);
      if (seen) shown.push_back(shape), shown.back().area = difference(ink, under);
      if (!seen) hidden.push_back(shape.element);
    } else {
      std::vector<Shape> parts = seenOfLine(shape, ink, above, under);
      if (parts.empty()) hidden.push_back(shape.element);
      for (size_t k = parts.size(); k-- > 0;) shown.push_back(std::move(parts[k]));
    }
  }
  std::reverse(shown.begin(), shown.end());
  return shown;
}

}  // namespace rt
