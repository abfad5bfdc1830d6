#include "stroke_laps.h"

#include <algorithm>

namespace rt {
namespace {

constexpr double kLeastLapped_mm = 0.6;  // shorter ones are lap alone
constexpr double kTurned = 2.2;  // widths along a chain: nearer is the same bend, not a meeting

struct Taken {
  double from = 1, to = 0;  // empty
  bool empty() const { return from > to; }
  void add(Taken o) {
    if (o.empty()) return;
    *this = empty() ? o : Taken{std::min(from, o.from), std::max(to, o.to)};
  }
};

/// Where the way from p along v (a unit vector) lies within r of c.
Taken inDisc(Point p, Point v, Point c, double r) {
  const Point to = c - p;
  const double foot = dot(to, v), off = cross(v, to), rest = r * r - off * off;
  if (rest < 0) return {};
  return {foot - std::sqrt(rest), foot + std::sqrt(rest)};
}

/// Where it lies beside the stretch a to b, within r of it.
Taken besideLine(Point p, Point v, Point a, Point b, double r) {
  const double length = distance(a, b);
  if (length <= 0) return {};
  const Point u = (b - a) * (1 / length);
  Taken in{-1e9, 1e9};
  auto within = [&](double at, double by, double low, double high) {
    if (std::abs(by) < 1e-12) return at >= low && at <= high;
    const double s = (low - at) / by, t = (high - at) / by;
    in = {std::max(in.from, std::min(s, t)), std::min(in.to, std::max(s, t))};
    return true;
  };
  if (!within(dot(p - a, u), dot(v, u), 0, length) || !within(cross(u, p - a), cross(u, v), -r, r))
    return {};
  return in;
}

/// How far along its chain a column comes nearest to a place.
double alongAt(const ColumnEdge& e, Point p) {
  double least = INFINITY, at = 0, along = e.along_mm;
  for (size_t i = 1; i < e.line.size(); ++i) {
    const double length = distance(e.line[i - 1], e.line[i]);
    if (const double d = pointSegmentDistance(p, e.line[i - 1], e.line[i]); d < least) {
      const Point u = unit(e.line[i] - e.line[i - 1]);
      least = d, at = along + std::clamp(dot(p - e.line[i - 1], u), 0.0, length);
    }
    along += length;
  }
  return at;
}

/// By chain: its length where it closes smoothly, else 0.
std::vector<double> ringsOf(const ColumnGraph& graph) {
  struct Ends {
    int first = -1, last = -1;
    double length = 0;
    bool smooth = true;
  };
  std::vector<Ends> chains;
  for (const ColumnEdge& e : graph.edges) {
    if (e.chain < 0) continue;
    chains.resize(std::max(chains.size(), static_cast<size_t>(e.chain) + 1));
    Ends& c = chains[static_cast<size_t>(e.chain)];
    if (e.along_mm <= 0) c.first = e.from, c.smooth = c.smooth && e.reach_from_mm == 0;
    const double end = e.along_mm + polylineLength(e.line);
    if (end > c.length) c.length = end, c.last = e.to;
  }
  std::vector<double> out;
  for (const Ends& c : chains) out.push_back(c.smooth && c.first == c.last ? c.length : 0);
  return out;
}

}  // namespace

StrokeLaps::StrokeLaps(const ColumnGraph& graph, double half_mm, double lap_mm)
    : graph_(graph), half_(half_mm), deep_(half_mm - lap_mm), ring_(ringsOf(graph)) {
  for (const ColumnEdge& e : graph.edges) boxes_.push_back(boundsOf(e.line).grown(half_mm));
}

bool StrokeLaps::yields(const ColumnEdge& e, int chain) const {
  auto ownedBy = [&](int joint) {
    const size_t j = static_cast<size_t>(joint);
    return j < graph_.owners.size() && graph_.owners[j] == chain;
  };
  return ownedBy(e.from) || ownedBy(e.to);
}

bool StrokeLaps::has(const ColumnEdge& owner, const ColumnEdge& other) const {
  if (owner.chain == other.chain) return owner.along_mm < other.along_mm;
  const bool it = yields(other, owner.chain), owners = yields(owner, other.chain);
  return it != owners ? it : owner.chain < other.chain;
}

RungCut StrokeLaps::cutOf(int edge) const {
  const ColumnEdge& e = graph_.edges[static_cast<size_t>(edge)];
  if (e.chain < 0 || deep_ <= 0) return {};
  std::vector<Ground> grounds;
  for (size_t i = 0; i < graph_.edges.size(); ++i) {
    const ColumnEdge& other = graph_.edges[i];
    if (static_cast<int>(i) == edge || other.chain < 0 || !has(other, e) ||
        !boxes_[i].overlaps(boxes_[static_cast<size_t>(edge)]))
      continue;
    Ground ground{other.chain == e.chain, {}};
    double along = other.along_mm;
    const std::vector<Point> line = smoothed(other.line, 0.5);
    for (size_t k = 1; k < line.size(); ++k) {
      ground.stretches.push_back({line[k - 1], line[k], along});
      along += distance(line[k - 1], line[k]);
    }
    grounds.push_back(std::move(ground));
  }
  if (grounds.empty()) return {};
  return [this, grounds = std::move(grounds), &e](Point middle, Point end) {
    return cut(grounds, e, middle, end);
  };
}

/// The longest part of the rung that is not deep in another's ground; of it, the end on the needle
/// point's side.
std::optional<Point> StrokeLaps::cut(const std::vector<Ground>& grounds, const ColumnEdge& e,
                                     Point middle, Point end) const {
  const double length = 2 * distance(middle, end);
  const Point way = unit(middle - end);
  std::vector<Taken> taken;
  double along = -1;
  for (const Ground& ground : grounds)
    for (const Stretch& s : ground.stretches) {
      if (distance(s.a, middle) > 2 * half_ + distance(s.a, s.b)) continue;
      if (ground.same_chain) {
        if (along < 0) along = alongAt(e, middle);
        const double apart = along - s.along_mm, ring = ring_[static_cast<size_t>(e.chain)];
        if (std::min(apart, ring > 0 ? ring - apart : apart) < kTurned * 2 * half_) continue;
      }
      Taken in = besideLine(end, way, s.a, s.b, deep_);
      in.add(inDisc(end, way, s.a, deep_));
      in.add(inDisc(end, way, s.b, deep_));
      if (!in.empty() && in.to > 0 && in.from < length) taken.push_back(in);
    }
  if (taken.empty()) return end;
  std::sort(taken.begin(), taken.end(),
            [](const Taken& a, const Taken& b) { return a.from < b.from; });
  double best = 0, from = 0, reached = 0;
  auto offer = [&](double a, double b) {
    if (b - a > best) best = b - a, from = a;
  };
  for (const Taken& t : taken) {
    offer(reached, std::min(t.from, length));
    reached = std::max(reached, t.to);
  }
  offer(reached, length);
  if (best < kLeastLapped_mm) return std::nullopt;
  return end + way * from;
}

}  // namespace rt
