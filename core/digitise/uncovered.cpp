#include "uncovered.h"

#include <algorithm>
#include <array>

#include "hand_stroke.h"

namespace rt {
namespace {

constexpr double kUnderlap_mm = 0.5;    // what stays of a shape under the edge of one above it
constexpr double kSliver_mm = 0.1;      // thinner than any thread
constexpr double kRim_mm = 1.0;         // as wide as a column at least
constexpr double kMostRim = 0.25;       // of a shape's area
constexpr int kBandApart = 64;          // of 765: colours that one thread stands for
constexpr double kMuchSliver = 0.0005;  // of an area: slivers that spoil an outline
constexpr double kLeastSeen = 0.01;     // of a shape's area
constexpr double kNothing_mm2 = 1e-4;   // of what is seen
constexpr double kLeastLine_mm = 0.5;   // of a line that comes apart
constexpr double kLeastEdges = 0.1;     // of what is seen of a line: edges that are worth sewing
constexpr double kLeastEdges_mm2 = 1.0;
constexpr double kCoverStray_mm = 0.02;  // of what lies above: finer than any thread

/// The area, or where it has slivers or spikes what is left without them.
Area sewable(const Area& area) {
  Area clean = withoutSlivers(area, kSliver_mm);
  const double all_mm2 = area_mm2(area);
  return all_mm2 - area_mm2(clean) > kMuchSliver * all_mm2 ? clean : area;
}

/// What is seen of an ink, with a little of it under the edges of what lies above.
Area withUnderlap(const Area& seen, const Area& ink) {
  return intersection(ink, grown(sewable(seen), kUnderlap_mm));
}

/// Is what is seen of a shape, `part` of its ink, no more than a rim?
bool isRim(const Area& seen, double part) {
  return part < kLeastSeen || (part < kMostRim && withoutSlivers(seen, kRim_mm).empty());
}

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
  edges.area = withUnderlap(seen, ink);
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

/// Colours by their channels, each from 0 to 255.
using Channels = std::array<int, 3>;
Channels channelsOf(Colour c) {
  return {static_cast<int>(c.rgb >> 16 & 255), static_cast<int>(c.rgb >> 8 & 255),
          static_cast<int>(c.rgb & 255)};
}

/// Steps of a blend: shapes one on another of which only rims are seen, each in nearly the colour
/// of the next. Together they are a band that can be sewn, in their mean colour.
class BlendBand {
 public:
  /// False for a colour too far from the band's others.
  bool takes(Colour colour) const {
    int apart = 0;
    for (size_t k = 0; k < 3; ++k) {
      const int c = channelsOf(colour)[k];
      int low = c, high = c;
      for (const Step& s : steps_)
        low = std::min(low, channelsOf(s.shape.colour)[k]),
        high = std::max(high, channelsOf(s.shape.colour)[k]);
      apart += high - low;
    }
    return apart <= kBandApart;
  }

  /// `rim` is what is seen of its ink, `seen` the part of the ink that it is.
  void add(const Shape& shape, Area rim, double seen_mm2, double seen) {
    steps_.push_back({shape, std::move(rim), seen_mm2, seen});
  }

  /// Ends the band: into `shown` if it can be sewn, else its names into `hidden`.
  void end(std::vector<Shape>& shown, std::vector<std::string>& hidden) {
    if (steps_.empty()) return;
    const bool lone = steps_.size() == 1 && steps_[0].seen < kLeastSeen;
    Area band = lone ? Area{} : area();
    if (band.empty()) {
      for (const Step& s : steps_) hidden.push_back(s.shape.element);
    } else {
      auto less = [](const Step& a, const Step& b) { return a.seen_mm2 < b.seen_mm2; };
      shown.push_back(std::max_element(steps_.begin(), steps_.end(), less)->shape);
      shown.back().area = std::move(band);
      shown.back().colour = meanColour();
    }
    steps_.clear();
  }

 private:
  struct Step {
    Shape shape;
    Area rim;
    double seen_mm2 = 0, seen = 0;
  };

  Area area() const {
    std::vector<Area> rims, inks;
    for (const Step& s : steps_) {
      rims.push_back(s.rim);
      inks.push_back(s.shape.area);
    }
    return withUnderlap(united(rims), united(inks));
  }

  /// Of steps of which something is seen.
  Colour meanColour() const {
    double all = 0;
    std::array<double, 3> sum{};
    for (const Step& s : steps_) {
      all += s.seen_mm2;
      for (size_t k = 0; k < 3; ++k) sum[k] += s.seen_mm2 * channelsOf(s.shape.colour)[k];
    }
    uint32_t rgb = 0;
    for (double v : sum) rgb = rgb << 8 | static_cast<uint32_t>(std::lround(v / all));
    return {rgb};
  }

  std::vector<Step> steps_;
};

}  // namespace

std::vector<Shape> withoutHidden(std::span<const Shape> shapes, std::vector<std::string>& hidden) {
  Cover later;
  BlendBand band;
  std::vector<Shape> shown;  // from the top down
  for (size_t i = shapes.size(); i-- > 0;) {
    const Shape& shape = shapes[i];
    const Area ink = inkOf(shape);
    const Area above = later.over(boundsOf(ink));
    later.add(coarser(ink));
    const Area under = above.empty() ? Area{} : grown(above, -kUnderlap_mm);
    if (shape.line.empty() && !under.empty()) {
      const Area seen = difference(ink, above);
      const double seen_mm2 = area_mm2(seen), part = seen_mm2 / std::max(1e-9, area_mm2(ink));
      if (seen_mm2 < kNothing_mm2) {
        hidden.push_back(shape.element);
        continue;
      }
      if (isRim(seen, part)) {
        if (!band.takes(shape.colour)) band.end(shown, hidden);
        band.add(shape, seen, seen_mm2, part);
        continue;
      }
      band.end(shown, hidden);
      shown.push_back(shape);
      shown.back().area = withUnderlap(seen, ink);
      continue;
    }
    band.end(shown, hidden);
    if (under.empty()) {
      shown.push_back(shape);
      if (shape.clipped) shown.back().area = sewable(shape.area);
    } else {
      std::vector<Shape> parts = seenOfLine(shape, ink, above, under);
      if (parts.empty()) hidden.push_back(shape.element);
      for (size_t k = parts.size(); k-- > 0;) shown.push_back(std::move(parts[k]));
    }
  }
  band.end(shown, hidden);
  std::reverse(shown.begin(), shown.end());
  return shown;
}

}  // namespace rt
