#include "artwork_layers.h"

#include <algorithm>

namespace rt {
namespace {

constexpr double kSolid = 0.98;  // an opacity that lets nothing through
constexpr double kHalf = 0.5;    // from here on a paint is ink, and below it is not
constexpr double kSeen = 0.25;   // colours this far apart are worth another thread (of 3)
constexpr double kAlike = 0.08;  // parts that show nearly the same are one
constexpr double kSmall = 0.15;  // of a paint's area: parts below this follow the larger ones
constexpr double kWhole = 0.97;  // of a paint's area: a part that is all of it
constexpr double kLeast_mm2 = 1e-4;
constexpr size_t kMostCutPoints = 3'000'000;

}  // namespace

const Area& Layers::inkOfLayer(Layer& layer) {
  if (!layer.ink) layer.ink = inkOf(layer.shape);
  return *layer.ink;
}

void Layers::add(Shape shape, const Tint& shows, std::optional<Tint> sewn) {
  const double half = shape.line_width_mm;  // a square end reaches farther than half its width
  const Box box = shape.line.empty() ? boundsOf(shape.area) : boundsOf(shape.line).grown(half);
  layers_.push_back({std::move(shape), box, shows, sewn, {}});
}

Layers::Painted Layers::paint(Shape shape, const Tint& tint) {
  if (tint.opacity >= kSolid || points_ > kMostCutPoints) return asIfSolid(std::move(shape), tint);
  return translucent(std::move(shape), tint);
}

Layers::Painted Layers::asIfSolid(Shape shape, const Tint& tint) {
  Painted out;
  out.onPaper = tint.opacity <= kHalf;
  if (out.onPaper) return out;
  shape.colour = tint.colour();
  add(shape, {tint.red, tint.green, tint.blue, 1}, tint);
  out.shapes.push_back(std::move(shape));
  return out;
}

/// What a tint shows on each of the layers below it, those that show nearly the same together.
std::vector<Layers::Part> Layers::parts(const Area& ink, const Tint& tint) {
  std::vector<Part> out;
  auto put = [&](Area area, const Tint& shows, const std::optional<Tint>& below) {
    const double mm2 = area_mm2(area);
    if (mm2 < kLeast_mm2) return;
    for (Part& p : out)
      if (apart(p.shows, shows) < kAlike && p.below.has_value() == below.has_value() &&
          (!below || apart(*p.below, *below) < kAlike)) {
        p.area = united(p.area, area);
        p.mm2 += mm2;
        return;
      }
    out.push_back({std::move(area), shows, below, mm2});
  };
  Area rest = ink;
  for (size_t i = layers_.size(); i-- > 0 && !rest.empty();) {
    if (!layers_[i].box.overlaps(boundsOf(rest))) continue;
    const Area& layer = inkOfLayer(layers_[i]);
    for (const Ring& r : layer) points_ += r.size();
    for (const Ring& r : rest) points_ += r.size();
    Area on = intersection(rest, layer);
    if (on.empty()) continue;
    rest = difference(rest, layer);
    put(std::move(on), overlaid(tint, layers_[i].shows), layers_[i].sewn);
  }
  put(std::move(rest), tint, std::nullopt);
  return out;
}

Layers::Painted Layers::translucent(Shape shape, const Tint& tint) {
  std::vector<Part> parts = this->parts(inkOf(shape), tint);
  std::stable_sort(parts.begin(), parts.end(),
                   [](const Part& a, const Part& b) { return a.mm2 > b.mm2; });
  double all = 0;
  for (const Part& p : parts) all += p.mm2;
  Painted out;
  const bool ink = tint.opacity > kHalf;
  // what is ink is sewn without a gap: its small parts go with its largest
  while (ink && parts.size() > 1 && parts.back().mm2 < kSmall * all) {
    parts[0].area = united(parts[0].area, parts.back().area);
    parts[0].mm2 += parts.back().mm2;
    parts.pop_back();
  }
  for (Part& p : parts) {
    const bool shown = p.shows.opacity > kHalf;
    const bool seen = p.mm2 >= kSmall * all && (!p.below || apart(p.shows, *p.below) >= kSeen);
    out.onPaper |= !shown && !p.below && p.mm2 >= kSmall * all;
    out.faint |= shown && !seen;
    std::optional<Tint> sewn = p.below;
    Shape part = shape;
    if (p.mm2 < kWhole * all) {
      part.line.clear();
      part.area = p.area;
      part.clipped = true;
    }
    part.colour = p.shows.colour();
    if (shown && seen) {
      sewn = p.shows;
      out.shapes.push_back(part);
    }
    add(std::move(part), p.shows, sewn);
  }
  return out;
}

}  // namespace rt
