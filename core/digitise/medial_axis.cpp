#include "medial_axis.h"

#include <algorithm>
#include <boost/polygon/voronoi.hpp>
#include <map>
#include <queue>
#include <set>
#include <unordered_map>
#include <unordered_set>

namespace rt {
namespace {

constexpr double kLattice = 10000;    // whole numbers for the diagram: 1/10,000 mm
constexpr double kNoise = 0.8;        // of a step: discs under this are ripples of the samples
constexpr double kCornerKept = 0.15;  // a pruned corner that turns by about 60° or more
constexpr double kSharpBend_deg = 62, kBendReach = 0.7;  // over this part of the radius each way
constexpr double kVertexApart = 0.03;    // of a step: nearer vertices of an outline are one
constexpr double kTogether = 0.7;        // joints nearer than this part of their radius are one
constexpr double kCornerTogether = 0.5;  // a joint and a corner, of the smaller radius
constexpr double kSpeck = 1e-4;          // mm; vertices nearer than this are one

/// Two whole numbers as one key.
uint64_t keyOf(int64_t x, int64_t y) {
  return static_cast<uint64_t>(x) << 32 ^ (static_cast<uint64_t>(y) & 0xffffffffu);
}

/// A sample of the outline with the direction into the area.
struct Sample {
  Point at, inward;
};

class Outline {
 public:
  Outline(const Area& area, double step_mm) {
    for (const Ring& ring : area) addRing(ring, step_mm);
  }

  struct Place {
    int32_t x, y;
  };
  std::vector<Place> places;
  std::vector<Sample> samples;
  std::vector<std::pair<int, int>> rings;  // first and one past the last sample

  bool neighbours(size_t a, size_t b) const {
    if (a > b) std::swap(a, b);
    if (b - a == 1 && ringOf_[a] == ringOf_[b]) return true;
    const auto [first, end] = rings[static_cast<size_t>(ringOf_[a])];
    return ringOf_[a] == ringOf_[b] && static_cast<int>(a) == first &&
           static_cast<int>(b) == end - 1;
  }

 private:
  /// Without vertices that lie next to one another: their edges have no direction to rely on.
  static Ring apart(const Ring& ring, double least_mm) {
    Ring out;
    for (Point p : ring)
      if (out.empty() || distance(out.back(), p) > least_mm) out.push_back(p);
    while (out.size() > 1 && distance(out.back(), out.front()) <= least_mm) out.pop_back();
    return out;
  }

  void addRing(const Ring& drawn, double step_mm) {
    const Ring ring = apart(drawn, kVertexApart * step_mm);
    const int first = static_cast<int>(samples.size());
    const size_t n = ring.size();
    for (size_t i = 0; i < n; ++i) {
      const Point before = ring[(i + n - 1) % n], a = ring[i], b = ring[(i + 1) % n];
      // the area lies to the left of a ring as it winds, whether outline or hole
      const Point in = quarterTurn(unit(b - a)), turned = unit(in + quarterTurn(unit(a - before)));
      add(a, turned);
      const int parts = static_cast<int>(std::ceil(distance(a, b) / step_mm));
      for (int k = 1; k < parts; ++k) add(mix(a, b, static_cast<double>(k) / parts), in);
    }
    const int end = static_cast<int>(samples.size());
    if (end > first) rings.emplace_back(first, end);
  }

  void add(Point p, Point inward) {
    const Place place{static_cast<int32_t>(std::lround(p.x * kLattice)),
                      static_cast<int32_t>(std::lround(p.y * kLattice))};
    if (!seen_.insert(keyOf(place.x, place.y)).second) return;
    places.push_back(place);
    samples.push_back({p, inward});
    ringOf_.push_back(static_cast<int>(rings.size()));
  }

  std::unordered_set<uint64_t> seen_;
  std::vector<int> ringOf_;
};

/// Edges of the diagram that lie within the area and part two places of the outline.
class Diagram {
 public:
  Diagram(const Area& area, const Outline& outline, double step_mm) : area_(area) {
    using Place = Outline::Place;
    boost::polygon::voronoi_diagram<double> diagram;
    std::vector<boost::polygon::point_data<int32_t>> points;
    points.reserve(outline.places.size());
    for (Place p : outline.places) points.emplace_back(p.x, p.y);
    boost::polygon::construct_voronoi(points.begin(), points.end(), &diagram);
    for (const auto& edge : diagram.edges()) {
      if (!edge.is_primary() || !edge.is_finite() || &edge > edge.twin()) continue;
      const size_t s = edge.cell()->source_index(), t = edge.twin()->cell()->source_index();
      if (outline.neighbours(s, t)) continue;
      const std::pair near(outline.samples[s], outline.samples[t]);
      const int a = node(*edge.vertex0(), near, step_mm);
      const int b = node(*edge.vertex1(), near, step_mm);
      if (a >= 0 && b >= 0 && a != b) edges.emplace_back(a, b);
    }
  }

  std::vector<AxisPoint> nodes;
  std::vector<std::pair<int, int>> edges;

 private:
  /// Number of a vertex's node, or -1 if it lies outside; kept in the vertex's colour, plus two.
  template <class Vertex>
  int node(const Vertex& vertex, const std::pair<Sample, Sample>& nearest, double step_mm) {
    if (vertex.color() > 0) return static_cast<int>(vertex.color()) - 2;
    const Point p{vertex.x() / kLattice, vertex.y() / kLattice};
    const double radius = distance(p, nearest.first.at);
    int n = -1;
    if (radius > kNoise * step_mm && inside(p, radius, nearest)) {
      const auto [it, added] =
          at_.try_emplace(keyOf(std::llround(p.x / kSpeck), std::llround(p.y / kSpeck)),
                          static_cast<int>(nodes.size()));
      if (added) nodes.push_back({p, radius});
      n = it->second;
    }
    vertex.color(static_cast<size_t>(n + 2));
    return n;
  }

  /// Both nearest samples know on which side of them the area lies, unless they sit on a jog of the
  /// outline; where they are not sure of it, it is counted.
  bool inside(Point p, double radius, const std::pair<Sample, Sample>& nearest) const {
    constexpr double kSure = 0.5;
    const double a = dot(p - nearest.first.at, nearest.first.inward) / radius,
                 b = dot(p - nearest.second.at, nearest.second.inward) / radius;
    if (a > kSure && b > kSure) return true;
    if (a < -kSure && b < -kSure) return false;
    return contains(area_, p);
  }

  const Area& area_;
  std::unordered_map<uint64_t, int> at_;
};

double lengthOf(const std::vector<AxisPoint>& line) {
  double sum = 0;
  for (size_t i = 1; i < line.size(); ++i) sum += distance(line[i - 1].at, line[i].at);
  return sum;
}

/// The graph of branches, pruned from its tips.
class Pruner {
 public:
  Pruner(const Diagram& diagram, const AxisOptions& options) : options_(options) {
    std::vector<std::vector<int>> next(diagram.nodes.size());
    std::set<std::pair<int, int>> seen;
    for (auto [a, b] : diagram.edges)
      if (seen.insert(std::minmax(a, b)).second) {
        next[static_cast<size_t>(a)].push_back(b);
        next[static_cast<size_t>(b)].push_back(a);
      }
    collect(diagram, next);
  }

  MedialAxis run() {
    prune();
    for (size_t j = 0; j < joints_.size(); ++j)
      if (joints_[j].corner < kCornerKept) dissolve(static_cast<int>(j));
    while (mergeOne()) {
    }
    for (size_t i = 0; i < branches_.size(); ++i) splitAtBend(i);
    return result();
  }

 private:
  struct Branch : AxisBranch {
    bool gone = false;
  };

  /// Chains through nodes of two become branches.
  void collect(const Diagram& diagram, const std::vector<std::vector<int>>& next) {
    std::vector<int> jointOf(diagram.nodes.size(), -1);
    auto joint = [&](int node) {
      int& j = jointOf[static_cast<size_t>(node)];
      if (j < 0) {
        j = static_cast<int>(joints_.size());
        joints_.push_back({diagram.nodes[static_cast<size_t>(node)], 0});
        at_.emplace_back();
      }
      return j;
    };
    std::set<std::pair<int, int>> walked;
    auto walk = [&](int from, int to) {
      if (!walked.insert({from, to}).second) return;
      Branch branch;
      branch.from = joint(from);
      branch.line.push_back(diagram.nodes[static_cast<size_t>(from)]);
      int before = from, here = to;
      while (next[static_cast<size_t>(here)].size() == 2 && here != from) {
        branch.line.push_back(diagram.nodes[static_cast<size_t>(here)]);
        const auto& ways = next[static_cast<size_t>(here)];
        walked.insert({before, here});
        const int onward = ways[0] == before ? ways[1] : ways[0];
        before = here;
        here = onward;
      }
      walked.insert({before, here});
      walked.insert({here, before});
      branch.to = joint(here);
      branch.line.push_back(diagram.nodes[static_cast<size_t>(here)]);
      add(std::move(branch));
    };
    for (size_t n = 0; n < next.size(); ++n)
      if (next[n].size() != 2)
        for (int m : next[n]) walk(static_cast<int>(n), m);
    for (size_t n = 0; n < next.size(); ++n) {  // smooth rings have no joint of their own
      if (next[n].size() != 2) continue;
      const int here = static_cast<int>(n), there = next[n][0];
      if (!walked.count({here, there}) && !walked.count({there, here})) walk(here, there);
    }
  }

  void add(Branch branch) {
    const int index = static_cast<int>(branches_.size());
    at_[static_cast<size_t>(branch.from)].push_back(index);
    at_[static_cast<size_t>(branch.to)].push_back(index);
    branches_.push_back(std::move(branch));
  }

  void remove(int branch) {
    Branch& b = branches_[static_cast<size_t>(branch)];
    b.gone = true;
    for (int j : {b.from, b.to}) std::erase(at_[static_cast<size_t>(j)], branch);
  }

  size_t degree(int joint) const { return at_[static_cast<size_t>(joint)].size(); }

  /// How far a branch's tip stands out of the disc at its root, in that disc's radius.
  double standsOut(const Branch& b, int tip) const {
    const AxisPoint t = joints_[static_cast<size_t>(tip)].disc;
    const AxisPoint root = joints_[static_cast<size_t>(tip == b.from ? b.to : b.from)].disc;
    return (distance(t.at, root.at) + t.radius_mm - root.radius_mm) / root.radius_mm;
  }

  /// A tip that may be cut off, and how far it stands out.
  struct Tip {
    double out;
    int branch, tip;
    bool operator>(const Tip& o) const {
      return std::tie(out, branch, tip) > std::tie(o.out, o.branch, o.tip);
    }
  };

  void offer(int branch) {
    const Branch& b = branches_[static_cast<size_t>(branch)];
    if (b.gone || b.from == b.to) return;
    for (int tip : {b.from, b.to})
      if (degree(tip) == 1)
        if (const double out = standsOut(b, tip); out < options_.keep_over)
          tips_.push({out, branch, tip});
  }

  /// Cuts tips off, the least first, until all that are left stand out.
  void prune() {
    for (size_t i = 0; i < branches_.size(); ++i) offer(static_cast<int>(i));
    while (!tips_.empty()) {
      const Tip least = tips_.top();
      tips_.pop();
      const Branch& b = branches_[static_cast<size_t>(least.branch)];
      const int root = least.tip == b.from ? b.to : b.from;
      if (b.gone || degree(least.tip) != 1 || degree(root) < 2) continue;
      AxisJoint& joint = joints_[static_cast<size_t>(root)];
      joint.corner = std::max(joint.corner, least.out);
      remove(least.branch);
      if (joint.corner < kCornerKept) dissolve(root);
      // what is left at the root may be a tip by now
      for (int branch : std::vector<int>(at_[static_cast<size_t>(root)])) offer(branch);
    }
  }

  /// Makes one branch of the two that meet at a joint without a corner.
  void dissolve(int joint) {
    const auto ends = at_[static_cast<size_t>(joint)];
    if (ends.size() != 2 || ends[0] == ends[1]) return;
    Branch a = branches_[static_cast<size_t>(ends[0])], b = branches_[static_cast<size_t>(ends[1])];
    if (a.to != joint) turn(a);
    if (b.from != joint) turn(b);
    remove(ends[0]);
    remove(ends[1]);
    Branch whole;
    whole.from = a.from;
    whole.to = b.to;
    whole.line = a.line;
    whole.line.insert(whole.line.end(), b.line.begin() + 1, b.line.end());
    add(std::move(whole));
    offer(static_cast<int>(branches_.size()) - 1);
  }

  static void turn(Branch& b) {
    std::swap(b.from, b.to);
    std::reverse(b.line.begin(), b.line.end());
  }

  /// Do a branch's ends belong to one crossing? Two joints (the arms of an X never quite meet), or
  /// a corner that one of its strokes has there.
  bool isWithinCrossing(const Branch& b) const {
    if (b.gone || b.from == b.to) return false;
    const auto [fewer, more] = std::minmax({degree(b.from), degree(b.to)});
    if (fewer < 2 || more < 3) return false;
    const auto [narrow, wide] = std::minmax({joints_[static_cast<size_t>(b.from)].disc.radius_mm,
                                             joints_[static_cast<size_t>(b.to)].disc.radius_mm});
    return lengthOf(b.line) <= (fewer < 3 ? kCornerTogether * narrow : kTogether * wide);
  }

  /// Makes the two joints of one crossing one.
  bool mergeOne() {
    for (size_t i = 0; i < branches_.size(); ++i) {
      if (!isWithinCrossing(branches_[i])) continue;
      unite(static_cast<int>(i));
      return true;
    }
    return false;
  }

  void unite(int branch) {
    const Branch b = branches_[static_cast<size_t>(branch)];
    remove(branch);
    const AxisPoint f = joints_[static_cast<size_t>(b.from)].disc;
    const AxisPoint t = joints_[static_cast<size_t>(b.to)].disc;
    const AxisPoint middle{mix(f.at, t.at, 0.5), std::max(f.radius_mm, t.radius_mm)};
    joints_[static_cast<size_t>(b.from)].disc = middle;
    for (int other : at_[static_cast<size_t>(b.to)]) {
      Branch& o = branches_[static_cast<size_t>(other)];
      if (o.from == b.to) o.from = b.from, o.line.insert(o.line.begin(), middle);
      if (o.to == b.to) o.to = b.from, o.line.push_back(middle);
      at_[static_cast<size_t>(b.from)].push_back(other);
    }
    at_[static_cast<size_t>(b.to)].clear();
  }

  /// Parts a branch where it turns round a sharp inner corner; the rest follows as a branch of its
  /// own, and is looked at in turn.
  void splitAtBend(size_t index) {
    const Branch b = branches_[index];
    if (b.gone) return;
    const std::vector<double> along = distancesAlong(b.line);
    size_t at = 0;
    double most = radians(kSharpBend_deg);
    for (size_t i = 1; i + 1 < b.line.size(); ++i) {
      const double reach = kBendReach * b.line[i].radius_mm;
      if (along[i] < 1.7 * reach || along.back() - along[i] < 1.7 * reach) continue;
      const double turned = turnAt(b.line, along, i, reach);
      if (turned > most) most = turned, at = i;
    }
    if (at == 0) return;
    const int joint = static_cast<int>(joints_.size());
    joints_.push_back({b.line[at], std::max(kCornerKept, most / kPi)});
    at_.emplace_back();
    remove(static_cast<int>(index));
    const auto middle = b.line.begin() + static_cast<long>(at);
    Branch first, second;
    first.from = b.from;
    first.to = second.from = joint;
    second.to = b.to;
    first.line.assign(b.line.begin(), middle + 1);
    second.line.assign(middle, b.line.end());
    add(std::move(first));
    add(std::move(second));
  }

  static std::vector<double> distancesAlong(const std::vector<AxisPoint>& line) {
    std::vector<double> along{0};
    for (size_t i = 1; i < line.size(); ++i)
      along.push_back(along.back() + distance(line[i - 1].at, line[i].at));
    return along;
  }

  /// Angle between the ways to and from a point, each taken over `reach`.
  static double turnAt(const std::vector<AxisPoint>& line, const std::vector<double>& along,
                       size_t i, double reach) {
    size_t before = i, after = i;
    while (before > 0 && along[i] - along[before] < reach) --before;
    while (after + 1 < line.size() && along[after] - along[i] < reach) ++after;
    const Point in = unit(line[i].at - line[before].at), out = unit(line[after].at - line[i].at);
    return std::acos(std::clamp(dot(in, out), -1.0, 1.0));
  }

  MedialAxis result() const {
    MedialAxis axis;
    std::vector<int> index(joints_.size(), -1);
    auto joint = [&](int j) {
      int& n = index[static_cast<size_t>(j)];
      if (n < 0) {
        n = static_cast<int>(axis.joints.size());
        axis.joints.push_back(joints_[static_cast<size_t>(j)]);
      }
      return n;
    };
    for (const Branch& b : branches_)
      if (!b.gone) axis.branches.push_back({joint(b.from), joint(b.to), b.line});
    return axis;
  }

  AxisOptions options_;
  std::vector<AxisJoint> joints_;
  std::vector<std::vector<int>> at_;  // branches at each joint
  std::vector<Branch> branches_;
  std::priority_queue<Tip, std::vector<Tip>, std::greater<>> tips_;
};

}  // namespace

MedialAxis medialAxis(const Area& area, const AxisOptions& options) {
  const Area clean = simplified(area, FillRule::EvenOdd);
  const Outline outline(clean, options.step_mm);
  if (outline.samples.size() < 3) return {};
  const Diagram diagram(clean, outline, options.step_mm);
  return Pruner(diagram, options).run();
}

}  // namespace rt
