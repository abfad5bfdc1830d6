#include "column_graph.h"

#include <algorithm>
#include <deque>
#include <map>
#include <set>

#include "column_tour.h"
#include "needle_room.h"

namespace rt {
namespace {

constexpr size_t kDot = 8;             // needle points of the least column
constexpr double kUnseenWay_mm = 1.0;  // shorter ones are lost among the stitches
constexpr double kWithin_mm = 0.15;    // a run keeps to its line so that none shows beside a column
constexpr double kSkip_mm = 4.0;       // of a run, at most, to begin it nearer
constexpr double kSeenStep_mm = 0.3, kThreadHalf_mm = 0.2;
constexpr double kAcross = 0.2;   // sine of 12 degrees: rungs fan, and the eye is strict from 25
constexpr double kLength = 0.02;  // of two ways as little seen the shorter
constexpr size_t kLookOn = 120, kLookBack = 400;  // stitches
constexpr double kRounding_mm = 0.05;             // what writing to 0.01 mm may add to a stitch
constexpr double kNearer = 0.2;                   // what beginning nearer is worth, of what is seen
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
    return graph;
  }

  void addChain(const std::vector<int>& chain, std::map<int, int>& uses, ColumnGraph& graph) {
    ColumnEdge edge;
    edge.from = joint(chain[0], graph);
    edge.reach_from_mm = reach(chain.front(), chain[1], chain);
    edge.owns_from = ownedBy(chain, chain[0]);
    for (size_t i = 0; i < chain.size(); ++i) {
      edge.line.push_back(p_.nodes[static_cast<size_t>(chain[i])]);
      const bool end = i + 1 == chain.size();
      if (i == 0 || (!end && uses[chain[i]] < 2)) continue;
      edge.to = joint(chain[i], graph);
      edge.owns_to = ownedBy(chain, chain[i]);
      edge.reach_to_mm = end ? reach(chain.back(), chain[i - 1], chain) : reachThrough(chain, i);
      graph.edges.push_back(edge);
      edge = {};
      if (!end) edge.reach_from_mm = reachThrough(chain, i);
      edge.owns_from = ownedBy(chain, chain[i]);
      edge.from = joint(chain[i], graph);
      edge.line = {p_.nodes[static_cast<size_t>(chain[i])]};
    }
  }

  bool ownedBy(const std::vector<int>& chain, int node) const {
    const auto owner = owners_.find(node);
    return owner == owners_.end() || owner->second.chain == &chain;
  }

  /// How far a chain's satin goes past its end at `node`; `next` is the node before the end.
  double reach(int node, int next, const std::vector<int>& chain) {
    if (chain.front() == chain.back() && smoothRing(chain)) return 0;
    if (at_[static_cast<size_t>(node)].size() == 1) return cap_;
    const Point way =
        unit(p_.nodes[static_cast<size_t>(next)] - p_.nodes[static_cast<size_t>(node)]);
    const auto [owner, first] = owners_.try_emplace(node, Owner{way, &chain});
    return first ? half_ : cutBack(owner->second.way, way);
  }

  /// To where a centre line along `way` leaves the owner's column.
  double cutBack(Point owner, Point way) const {
    const double sine = std::max(0.3, std::abs(cross(owner, way)));
    return std::min(0.0, lap_ - half_ / sine);
  }

  Point wayThrough(const std::vector<int>& chain, size_t i) const {
    return unit(p_.nodes[static_cast<size_t>(chain[i + 1])] -
                p_.nodes[static_cast<size_t>(chain[i - 1])]);
  }

  /// Where a chain goes through a joint: 0 if it owns it, else it stops on both sides.
  double reachThrough(const std::vector<int>& chain, size_t i) const {
    const Owner& owner = owners_.at(chain[i]);
    return owner.chain == &chain ? 0 : cutBack(owner.way, wayThrough(chain, i));
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
        owners_.try_emplace(chain[i], Owner{wayThrough(chain, i), &chain});
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
  };
  std::map<int, Owner> owners_;  // per joint
};

/// Sews one connected part.
class Sewing {
 public:
  Sewing(const ColumnGraph& graph, const ColumnSewing& how) : graph_(graph), how_(how) {}

  Strand run(const ColumnTour& tour) {
    strand_ = {};
    strand_.add(graph_.joints[static_cast<size_t>(tour.from)], Kind::Underlay);
    for (size_t i = 0; i < tour.steps.size(); ++i) {
      const TourStep& s = tour.steps[i];
      const TourStep* next = i + 1 < tour.steps.size() ? &tour.steps[i + 1] : nullptr;
      switch (s.what) {
        case TourStep::What::Travel:
          travel(s.edge, s.node);
          break;
        case TourStep::What::Under:
          under(s.edge, s.node, next);
          break;
        case TourStep::What::Cover:
          cover(s.edge, s.node, next ? beginOf(*next) : std::nullopt);
          break;
      }
    }
    return std::move(strand_);
  }

 private:
  /// Where a step's first stitches lie.
  std::optional<Point> beginOf(const TourStep& s) const {
    const ColumnEdge& e = graph_.edges[static_cast<size_t>(s.edge)];
    if (s.what == TourStep::What::Cover) return startOf(s.edge, s.node);
    if (s.what == TourStep::What::Travel || e.under.empty())
      return lineFrom(s.edge, s.node).front();
    return e.from == s.node ? e.under.front() : e.under.back();
  }

  static std::vector<Point> reversed(std::vector<Point> line) {
    std::reverse(line.begin(), line.end());
    return line;
  }

  std::vector<Point> lineFrom(int edge, int node) const {
    const ColumnEdge& e = graph_.edges[static_cast<size_t>(edge)];
    std::vector<Point> line = e.width_mm > 0 ? e.line : smoothed(e.line, 0.5);
    if (e.from != node) std::reverse(line.begin(), line.end());
    return line;
  }

  /// Along an edge's centre, from where it comes nearest to the needle.
  void travel(int edge, int node) {
    const std::vector<Point> line = resample(lineFrom(edge, node), kSeenStep_mm);
    size_t first = 0;
    double least = INFINITY;
    for (size_t i = 0; i < line.size() && static_cast<double>(i) * kSeenStep_mm < kSkip_mm; ++i)
      if (const double d = distance(strand_.exit(), line[i]); d < least) least = d, first = i;
    if (first + 1 >= line.size()) first = 0;
    runWithin(strand_, std::span(line).subspan(first), how_.run_step_mm, kWithin_mm,
              Kind::Underlay);
  }

  /// What belongs under an edge, from the joint `node`, begun at the side to which the way is seen
  /// less.
  void addUnder(int edge, int node, Kind kind) {
    const ColumnEdge& e = graph_.edges[static_cast<size_t>(edge)];
    auto fromNode = [&](const std::vector<Point>& line) {
      return e.from == node ? line : reversed(line);
    };
    std::vector<Point> under = fromNode(e.under);
    if (std::vector<Point> other = fromNode(e.under_mirrored); !other.empty()) {
      const std::vector<Point> satin = satinFrom(edge, node, false);
      const Point at = strand_.exit();
      auto cost = [&](Point to) { return seen({at, to}, satin) + kNearer * distance(at, to); };
      if (cost(other.front()) < cost(under.front())) under = std::move(other);
    }
    for (Point p : under) strand_.add(p, kind);
  }

  void run(int edge, int node) {
    const ColumnEdge& e = graph_.edges[static_cast<size_t>(edge)];
    if (!e.under.empty()) {
      const Kind kind = e.narrow ? Kind::Run : Kind::Underlay;
      addUnder(edge, node, kind);
      strand_.add(lineFrom(edge, node).back(), kind);
      return;
    }
    travel(edge, node);
  }

  /// Out along an edge that will be covered from its other end. Where nothing comes in between it
  /// turns where its own satin begins, and does not cross what lies on the joint.
  void under(int edge, int node, const TourStep* next) {
    const ColumnEdge& e = graph_.edges[static_cast<size_t>(edge)];
    const bool turns = next && next->what == TourStep::What::Cover && next->edge == edge;
    if (turns && isSatin(edge) && !ownsJoint(e, otherJoint(e, node)))
      runInside(edge, node);
    else
      run(edge, node);
  }

  void runInside(int edge, int node) {
    const ColumnEdge& e = graph_.edges[static_cast<size_t>(edge)];
    if (!e.under.empty()) {
      addUnder(edge, node, Kind::Underlay);
      return;
    }
    const std::vector<Point> satin = satinFrom(edge, otherJoint(e, node), false);
    if (satin.size() < 2) return travel(edge, node);
    const Point turn = mix(satin[0], satin[1], 0.5);
    std::vector<Point> line = lineFrom(edge, node);
    const auto nearest = std::min_element(line.begin() + 1, line.end(), [&](Point a, Point b) {
      return distance(a, turn) < distance(b, turn);
    });
    line.erase(nearest, line.end());
    line.push_back(turn);
    runAlong(strand_, line, how_.run_step_mm, Kind::Underlay);
  }

  /// Needle points from the joint `node` to the edge's other end and as far past either as they go,
  /// begun at either side.
  std::vector<Point> satinFrom(int edge, int node, bool mirrored) const {
    const ColumnEdge& e = graph_.edges[static_cast<size_t>(edge)];
    const bool forward = e.from == node;
    if (e.width_mm > 0) {
      const std::vector<Point>& points = mirrored ? e.mirrored : e.satin;
      return forward ? points : reversed(points);
    }
    const std::vector<Point> whole =
        extended(lineFrom(edge, node), forward ? e.reach_from_mm : e.reach_to_mm,
                 forward ? e.reach_to_mm : e.reach_from_mm);
    return satinAlong(whole, how_.width_mm, how_.satin, mirrored).points;
  }

  bool isSatin(int edge) const {
    const ColumnEdge& e = graph_.edges[static_cast<size_t>(edge)];
    return e.width_mm > 0 ? !e.narrow : how_.width_mm >= how_.least_column_mm;
  }

  /// From where the needle stands to where satin begins, by whichever way is least seen: straight,
  /// along the last stitch to the other side of its column first, or by way of the joint.
  void way(const std::vector<Point>& satin, Point joint) {
    const Point at = strand_.exit(), to = satin.front();
    if (distance(at, to) <= kUnseenWay_mm) return;
    std::vector<std::vector<Point>> ways{{at, to}};
    const double short_mm = how_.satin.split_over_mm - kRounding_mm;
    const bool isShort = distance(at, to) <= short_mm;
    auto addVia = [&](Point p) {
      if (isShort && distance(at, p) + distance(p, to) > short_mm) return;
      if (distance(at, p) > kShortestStitch_mm && distance(p, to) > kShortestStitch_mm)
        ways.push_back({at, p, to});
    };
    addVia(joint);
    for (size_t back : {2u, 3u, 4u})
      if (strand_.points.size() > back && strand_.kinds.back() == Kind::Satin)
        addVia(strand_.points[strand_.points.size() - back]);
    const std::vector<Point>* best = nullptr;
    double least = INFINITY;
    for (const auto& line : ways)
      if (const double s = seen(line, satin) + kLength * polylineLength(line); s < least)
        least = s, best = &line;
    if (isShort) {  // a stitch or two
      for (size_t i = 1; i + 1 < best->size(); ++i) strand_.add((*best)[i], Kind::Satin);
      return;
    }
    for (size_t i = 1; i < best->size(); ++i)
      runAlong(strand_, std::span(*best).subspan(i - 1, 2), how_.run_step_mm, Kind::Underlay);
    strand_.points.pop_back();  // the satin begins there itself
    strand_.kinds.pop_back();
  }

  /// How much of a way will be seen: across finished satin, or where no thread lies, mm; not under
  /// the satin that comes next.
  double seen(const std::vector<Point>& line, const std::vector<Point>& next) const {
    double sum = 0;
    for (size_t leg = 1; leg < line.size(); ++leg) {
      const double length = distance(line[leg - 1], line[leg]);
      const int parts = std::max(1, static_cast<int>(length / kSeenStep_mm));
      const Point ahead = unit(line[leg] - line[leg - 1]);
      for (int k = 0; k < parts; ++k)
        if (isSeen(mix(line[leg - 1], line[leg], (k + 0.5) / parts), ahead, next))
          sum += length / parts;
    }
    return sum;
  }

  bool isSeen(Point at, Point ahead, const std::vector<Point>& next) const {
    auto near = [&](Point a, Point b) {
      const double half = distance(a, b) / 2;
      return distance(at, mix(a, b, 0.5)) < half + kThreadHalf_mm &&
             pointSegmentDistance(at, a, b) < kThreadHalf_mm;
    };
    for (size_t i = 1; i < std::min(next.size(), kLookOn); ++i)
      if (near(next[i - 1], next[i])) return false;
    bool on = false;
    const size_t n = strand_.points.size();
    for (size_t i = n - 1; i > 0 && n - i < kLookBack; --i) {
      if (strand_.kinds[i] != Kind::Satin || !near(strand_.points[i - 1], strand_.points[i]))
        continue;
      on = true;
      if (std::abs(cross(unit(strand_.points[i] - strand_.points[i - 1]), ahead)) > kAcross)
        return true;
    }
    return !on;
  }

  /// The middle of where an edge's satin begins at a joint.
  std::optional<Point> startOf(int edge, int node) const {
    const std::vector<Point> satin =
        isSatin(edge) ? satinFrom(edge, node, false) : std::vector<Point>{};
    return satin.size() < 2 ? std::nullopt : std::optional(mix(satin[0], satin[1], 0.5));
  }

  /// How much of the ways to a satin's beginning and from its end to `next` will be seen, about,
  /// mm.
  double shown(const std::vector<Point>& satin, std::optional<Point> next) const {
    const Point at = strand_.exit();
    const double before =
        distance(at, satin.front()) > kUnseenWay_mm ? seen({at, satin.front()}, satin) : 0;
    return before + (next ? std::max(0.0, distance(satin.back(), *next) - kUnseenWay_mm) : 0);
  }

  /// Satin from the joint `node` to the edge's other end, begun at the side from which it begins
  /// near the needle, so that one stretch of a column goes on in the next without a gap, and ends
  /// near `next`.
  void cover(int edge, int node, std::optional<Point> next) {
    if (!isSatin(edge)) return coverNarrow(edge, node);
    std::vector<Point> points = satinFrom(edge, node, false);
    if (points.empty()) return;
    std::vector<Point> other = satinFrom(edge, node, true);
    const double nearer =
        distance(strand_.exit(), points.front()) - distance(strand_.exit(), other.front());
    if (shown(other, next) - shown(points, next) < kNearer * nearer) points = std::move(other);
    way(points, lineFrom(edge, node).front());
    for (Point p : points) strand_.add(p, Kind::Satin);
    if (next) crossOver(points, *next);
    // a dot's few stitches need its middle
    if (points.size() < kDot) strand_.add(lineFrom(edge, node).back(), Kind::Satin);
  }

  /// One more stitch along the last rung, where its other side is nearer to what comes next.
  void crossOver(const std::vector<Point>& points, Point next) {
    const size_t n = points.size();
    if (n < 4 || distance(points[n - 1], points[n - 3]) > distance(points[n - 1], points[n - 2]))
      return;  // few, or split
    const Point other = points[n - 2] + (points[n - 1] - points[n - 3]) * 0.5;
    if (distance(other, next) + kUnseenWay_mm < distance(points[n - 1], next))
      strand_.add(other, Kind::Satin);
  }

  /// Too narrow for satin: a second run beside the first.
  void coverNarrow(int edge, int node) {
    const ColumnEdge& e = graph_.edges[static_cast<size_t>(edge)];
    const std::vector<Point> line = lineFrom(edge, node);
    if (e.width_mm <= 0) return runAlong(strand_, line, how_.run_step_mm * 0.8, Kind::Run);
    for (Point p : e.from == node ? e.satin : reversed(e.satin)) strand_.add(p, Kind::Run);
    strand_.add(line.back(), Kind::Run);
  }

  const ColumnGraph& graph_;
  const ColumnSewing& how_;
  Strand strand_;
};

int nearest(const std::vector<Point>& joints, const std::vector<int>& among, Point p) {
  return *std::min_element(among.begin(), among.end(), [&](int a, int b) {
    return distance(joints[static_cast<size_t>(a)], p) <
           distance(joints[static_cast<size_t>(b)], p);
  });
}

}  // namespace

ColumnGraph columnGraph(const std::vector<std::vector<Point>>& lines, double snap_mm, double cap_mm,
                        double width_mm, double lap_mm) {
  Planar planar(lines, snap_mm);
  return Chainer(planar, cap_mm, width_mm, lap_mm).run();
}

std::vector<Strand> sewColumns(const ColumnGraph& graph, const ColumnSewing& how, Point entry,
                               Point exit) {
  std::vector<Strand> strands;
  std::vector<int> left;
  for (size_t i = 0; i < graph.joints.size(); ++i) left.push_back(static_cast<int>(i));
  Point at = entry;
  while (!left.empty()) {
    const std::vector<int> part = connectedJoints(graph, nearest(graph.joints, left, at));
    strands.push_back(spreadOut(Sewing(graph, how).run(columnTour(graph, part, at, exit))));
    at = strands.back().exit();
    std::erase_if(left,
                  [&](int n) { return std::find(part.begin(), part.end(), n) != part.end(); });
  }
  return strands;
}

}  // namespace rt
