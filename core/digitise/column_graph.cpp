#include "column_graph.h"

#include <algorithm>
#include <map>
#include <set>

namespace rt {
namespace {

constexpr double kSharpTurn_deg = 50;  // more than this between two stretches is a corner

/// A stretch of line between two nodes of the raw planar graph.
struct Link {
  int a = 0, b = 0;
  bool used = false;
};

/// Cuts all lines at their crossings and touchings.
class Planar {
 public:
  Planar(const std::vector<std::vector<Point>>& lines, double snap_mm) : snap_(snap_mm) {
    for (const auto& line : lines)
      for (size_t i = 1; i < line.size(); ++i)
        if (distance(line[i - 1], line[i]) > kSame_mm) segments_.push_back({line[i - 1], line[i]});
    for (size_t i = 0; i < segments_.size(); ++i) cut(i);
  }

  std::vector<Point> nodes;
  std::vector<Link> links;

 private:
  struct Segment {
    Point a, b;
  };

  int node(Point p) {
    for (size_t i = 0; i < nodes.size(); ++i)
      if (distance(nodes[i], p) <= snap_) return static_cast<int>(i);
    nodes.push_back(p);
    return static_cast<int>(nodes.size() - 1);
  }

  void cut(size_t index) {
    const Segment s = segments_[index];
    std::vector<std::pair<double, Point>> at{{0, s.a}, {1, s.b}};
    for (size_t j = 0; j < segments_.size(); ++j)
      if (j != index) addCuts(s, segments_[j], at);
    std::sort(at.begin(), at.end(), [](const auto& l, const auto& r) { return l.first < r.first; });
    int last = -1;
    for (const auto& [t, p] : at) {
      const int n = node(p);
      if (last >= 0 && n != last) addLink(last, n);
      last = n;
    }
  }

  void addCuts(const Segment& s, const Segment& o,
               std::vector<std::pair<double, Point>>& at) const {
    const Point u = s.b - s.a, v = o.b - o.a;
    const double len2 = dot(u, u), d = cross(u, v);
    for (Point end : {o.a, o.b})
      if (pointSegmentDistance(end, s.a, s.b) <= snap_)
        at.emplace_back(std::clamp(dot(end - s.a, u) / len2, 0.0, 1.0), end);
    if (std::abs(d) < 1e-9 * len2) return;
    const double t = cross(o.a - s.a, v) / d, w = cross(o.a - s.a, u) / d;
    if (t > 0 && t < 1 && w > 0 && w < 1) at.emplace_back(t, s.a + u * t);
  }

  void addLink(int a, int b) {
    if (seen_.insert(std::minmax(a, b)).second) links.push_back({a, b});
  }

  double snap_;
  std::vector<Segment> segments_;
  std::set<std::pair<int, int>> seen_;
};

/// Joins links into columns: through nodes of two, and straight through busier joints.
class Chainer {
 public:
  Chainer(Planar& planar, double cap_mm, double width_mm, double lap_mm)
      : p_(planar), cap_(cap_mm), half_(width_mm / 2), lap_(lap_mm), at_(planar.nodes.size()) {
    for (size_t i = 0; i < p_.links.size(); ++i) {
      at_[static_cast<size_t>(p_.links[i].a)].push_back(static_cast<int>(i));
      at_[static_cast<size_t>(p_.links[i].b)].push_back(static_cast<int>(i));
    }
    for (size_t n = 0; n < at_.size(); ++n) pair(static_cast<int>(n));
  }

  ColumnGraph run() {
    for (size_t i = 0; i < p_.links.size(); ++i)
      if (!p_.links[i].used && startsChain(static_cast<int>(i))) chain(static_cast<int>(i));
    for (size_t i = 0; i < p_.links.size(); ++i)  // what is left are smooth rings
      if (!p_.links[i].used) chainFrom(static_cast<int>(i), p_.links[i].a);
    return split();
  }

 private:
  int other(int link, int node) const {
    const Link& l = p_.links[static_cast<size_t>(link)];
    return l.a == node ? l.b : l.a;
  }
  Point way(int link, int node) const {
    return unit(p_.nodes[static_cast<size_t>(other(link, node))] -
                p_.nodes[static_cast<size_t>(node)]);
  }

  /// At each node, pairs the links that continue each other best.
  void pair(int node) {
    auto free = at_[static_cast<size_t>(node)];
    const double limit = std::cos(radians(180 - kSharpTurn_deg));
    while (free.size() >= 2) {
      double best = limit;
      size_t bi = 0, bj = 0;
      for (size_t i = 0; i < free.size(); ++i)
        for (size_t j = i + 1; j < free.size(); ++j)
          if (const double c = dot(way(free[i], node), way(free[j], node)); c < best)
            best = c, bi = i, bj = j;
      if (bj == 0) return;
      onward_[{node, free[bi]}] = free[bj];
      onward_[{node, free[bj]}] = free[bi];
      free.erase(free.begin() + static_cast<long>(bj));
      free.erase(free.begin() + static_cast<long>(bi));
    }
  }

  bool startsChain(int link) const {
    const Link& l = p_.links[static_cast<size_t>(link)];
    return !onward_.count({l.a, link}) || !onward_.count({l.b, link});
  }

  void chain(int link) {
    const Link& l = p_.links[static_cast<size_t>(link)];
    chainFrom(link, onward_.count({l.a, link}) ? l.b : l.a);
  }

  void chainFrom(int link, int start) {
    std::vector<int> nodes{start};
    int node = start;
    while (link >= 0 && !p_.links[static_cast<size_t>(link)].used) {
      p_.links[static_cast<size_t>(link)].used = true;
      node = other(link, node);
      nodes.push_back(node);
      const auto next = onward_.find({node, link});
      link = next == onward_.end() ? -1 : next->second;
    }
    chains_.push_back(std::move(nodes));
  }

  /// Joints are chain ends and every node where another chain passes or ends; chains that run
  /// through a joint stay one column there, with a joint in their midst.
  ColumnGraph split() {
    claimThroughs();
    std::map<int, int> uses;
    for (const auto& chain : chains_)
      for (size_t i = 0; i < chain.size(); ++i)
        uses[chain[i]] += (i == 0 || i + 1 == chain.size()) ? 2 : 1;
    ColumnGraph graph;
    for (const auto& chain : chains_) addChain(chain, uses, graph);
    graph.owners.assign(graph.joints.size(), -1);
    for (const auto& [node, joint] : joints_)
      if (const auto owner = owners_.find(node); owner != owners_.end())
        graph.owners[static_cast<size_t>(joint)] =
            static_cast<int>(owner->second.chain - chains_.data());
    return graph;
  }

  void addChain(const std::vector<int>& chain, std::map<int, int>& uses, ColumnGraph& graph) {
    ColumnEdge edge;
    edge.chain = static_cast<int>(&chain - chains_.data());
    edge.from = joint(chain[0], graph);
    edge.reach_from_mm = reach(chain.front(), chain[1], chain);
    edge.owns_from = ownedBy(chain, 0);
    double along = 0;
    for (size_t i = 0; i < chain.size(); ++i) {
      edge.line.push_back(p_.nodes[static_cast<size_t>(chain[i])]);
      if (i > 0) along += distance(edge.line.back(), edge.line[edge.line.size() - 2]);
      const bool end = i + 1 == chain.size();
      if (i == 0 || (!end && uses[chain[i]] < 2)) continue;
      edge.to = joint(chain[i], graph);
      edge.owns_to = ownedBy(chain, i);
      edge.reach_to_mm = end ? reach(chain.back(), chain[i - 1], chain) : reachThrough(chain, i);
      graph.edges.push_back(edge);
      edge = {};
      edge.chain = static_cast<int>(&chain - chains_.data());
      edge.along_mm = along;
      if (!end) edge.reach_from_mm = reachThrough(chain, i);
      edge.owns_from = ownedBy(chain, i);
      edge.from = joint(chain[i], graph);
      edge.line = {p_.nodes[static_cast<size_t>(chain[i])]};
    }
  }

  bool ownedBy(const std::vector<int>& chain, size_t i) const {
    const auto owner = owners_.find(chain[i]);
    if (owner == owners_.end()) return true;
    const bool ends = i == 0 || i + 1 == chain.size();
    return owner->second.chain == &chain && (ends || owner->second.index == i);
  }

  /// How far a chain's satin goes past its end at `node`; `next` is the node before the end.
  double reach(int node, int next, const std::vector<int>& chain) {
    if (chain.front() == chain.back() && smoothRing(chain)) return 0;
    if (at_[static_cast<size_t>(node)].size() == 1) return cap_;
    const Point way =
        unit(p_.nodes[static_cast<size_t>(next)] - p_.nodes[static_cast<size_t>(node)]);
    const size_t index = node == chain.front() ? 0 : chain.size() - 1;
    const auto [owner, first] = owners_.try_emplace(node, Owner{way, &chain, index});
    return first ? half_ : cutBack(owner->second.way, way);
  }

  /// To where the farther side of a column along `way` has entered the owner's by the lap.
  double cutBack(Point owner, Point way) const {
    const double sine = std::max(1e-3, std::abs(cross(owner, way)));
    return std::min(0.0, (lap_ - half_ * (1 - std::abs(dot(owner, way)))) / sine);
  }

  Point wayThrough(const std::vector<int>& chain, size_t i) const {
    return unit(p_.nodes[static_cast<size_t>(chain[i + 1])] -
                p_.nodes[static_cast<size_t>(chain[i - 1])]);
  }

  /// Where a chain goes through a joint: 0 if it owns it, else it stops on both sides.
  double reachThrough(const std::vector<int>& chain, size_t i) const {
    const Owner& owner = owners_.at(chain[i]);
    return owner.chain == &chain && owner.index == i ? 0 : cutBack(owner.way, wayThrough(chain, i));
  }

  bool smoothRing(const std::vector<int>& chain) const {
    const int links = static_cast<int>(at_[static_cast<size_t>(chain.front())].size());
    return links == 2 &&
           onward_.count({chain.front(), at_[static_cast<size_t>(chain.front())][0]}) > 0;
  }

  /// Joints that a chain passes through belong to it.
  void claimThroughs() {
    for (const auto& chain : chains_)
      for (size_t i = 1; i + 1 < chain.size(); ++i)
        owners_.try_emplace(chain[i], Owner{wayThrough(chain, i), &chain, i});
  }

  int joint(int node, ColumnGraph& graph) {
    const auto [it, added] = joints_.try_emplace(node, static_cast<int>(graph.joints.size()));
    if (added) graph.joints.push_back(p_.nodes[static_cast<size_t>(node)]);
    return it->second;
  }

  Planar& p_;
  double cap_, half_, lap_;
  std::vector<std::vector<int>> at_;
  std::map<std::pair<int, int>, int> onward_;
  std::vector<std::vector<int>> chains_;
  std::map<int, int> joints_;
  struct Owner {
    Point way;  // of its column at the joint
    const std::vector<int>* chain;
    size_t index;  // at which the chain comes by: a chain may cross itself
  };
  std::map<int, Owner> owners_;  // per joint
};

}  // namespace

ColumnGraph columnGraph(const std::vector<std::vector<Point>>& lines, double snap_mm, double cap_mm,
                        double width_mm, double lap_mm) {
  Planar planar(lines, snap_mm);
  return Chainer(planar, cap_mm, width_mm, lap_mm).run();
}

}  // namespace rt
