#include <algorithm>
#include <map>
#include <optional>
#include <tuple>

#include "column_graph.h"
#include "column_ground.h"
#include "column_tour.h"
#include "needle_room.h"
#include "stroke_laps.h"

namespace rt {
namespace {

constexpr size_t kDot = 8;             // needle points of the least column
constexpr double kUnseenWay_mm = 1.0;  // shorter ones are lost among the stitches
constexpr double kWithin_mm = 0.15;    // a run keeps to its line so that none shows beside a column
constexpr double kSkip_mm = 4.0;       // of a run, at most, to begin it nearer
constexpr double kFineStep_mm = 0.3;
constexpr double kRounding_mm = 0.05;  // what writing to 0.01 mm may add to a stitch
constexpr double kNearer = 0.2;        // what beginning nearer is worth, of what is seen
constexpr double kHidden_mm = 0.1;
constexpr double kCrossing_mm = 0.3;    // what one more stitch across is worth, of what is seen
constexpr double kSearchFrom_mm = 0.3;  // of a way that is seen: others are searched
constexpr size_t kMostLegs = 3;         // of a way that is sewn in long stitches
constexpr double kOtherTours_mm = 0.5;  // seen: other tours are tried
constexpr size_t kTours = 6;
constexpr double kSeenAway = 6;  // mm of distance that a tour may go for 1 mm less seen

std::vector<Point> reversed(std::vector<Point> line) {
  std::reverse(line.begin(), line.end());
  return line;
}

struct SewnTour {
  Strand strand;
  double seen_mm = 0;  ///< Of its ways, about.
};

/// Sews one connected part, by one tour or another.
class Sewing {
 public:
  Sewing(const ColumnGraph& graph, const std::vector<int>& part, const ColumnSewing& how)
      : graph_(graph),
        how_(how),
        laps_(graph, (how.width_mm + how.satin.pull_mm) / 2, how.satin.rule.stroke_lap_mm),
        ground_(boundsOf(graph, part, how), graph.edges.size()) {
    for (size_t i = 0; i < graph.edges.size(); ++i)
      if (const int edge = static_cast<int>(i);
          isSatin(edge) && std::binary_search(part.begin(), part.end(), graph.edges[i].from))
        ground_.add(i, satinFrom(edge, graph.edges[i].from, false));
  }

  SewnTour run(const ColumnTour& tour) {
    sewn_ = {};
    ground_.startOver();
    for (size_t i = 0; i < tour.steps.size(); ++i)
      if (tour.steps[i].what == TourStep::What::Cover && isSatin(tour.steps[i].edge))
        ground_.finish(static_cast<size_t>(tour.steps[i].edge), static_cast<int>(i));
    sewn_.strand.add(joint(tour.from), Kind::Underlay);
    for (size_t i = 0; i < tour.steps.size(); ++i) {
      now_ = static_cast<int>(i);
      step(tour.steps[i], i > 0 ? &tour.steps[i - 1] : nullptr,
           i + 1 < tour.steps.size() ? &tour.steps[i + 1] : nullptr);
    }
    beginWhereItIsSewn();
    return std::move(sewn_);
  }

  bool covers(Point p) const { return ground_.covers(p); }

 private:
  static Box boundsOf(const ColumnGraph& graph, const std::vector<int>& part,
                      const ColumnSewing& how) {
    Box box;
    for (const ColumnEdge& e : graph.edges) {
      if (!std::binary_search(part.begin(), part.end(), e.from)) continue;
      const double reach = std::max({0.0, e.reach_from_mm, e.reach_to_mm});
      box.add(rt::boundsOf(e.line).grown(e.width_mm > 0 ? 0 : how.width_mm + reach));
      box.add(rt::boundsOf(e.satin));
    }
    return box;
  }

  /// A first stitch that is too short would take the next points away, and not its own.
  void beginWhereItIsSewn() {
    if (strand().points.size() < 3 ||
        distance(strand().points[0], strand().points[1]) >= kShortestStitch_mm)
      return;
    strand().points.erase(strand().points.begin());
    strand().kinds.erase(strand().kinds.begin());
  }

  const ColumnEdge& at(int edge) const { return graph_.edges[static_cast<size_t>(edge)]; }
  Point joint(int node) const { return graph_.joints[static_cast<size_t>(node)]; }
  Strand& strand() { return sewn_.strand; }
  Point exit() const { return sewn_.strand.exit(); }

  void step(const TourStep& s, const TourStep* before, const TourStep* next) {
    switch (s.what) {
      case TourStep::What::Travel:
        return travel(s.edge, s.node);
      case TourStep::What::Under:
        return under(s.edge, s.node, next);
      case TourStep::What::Cover:
        return cover(s.edge, s.node, next ? beginOf(*next) : std::nullopt,
                     before && before->what == TourStep::What::Under && before->edge == s.edge);
    }
  }

  /// Where a step's first stitches lie, and the joint by which they can be reached.
  struct Begin {
    Point at, joint;
  };
  std::optional<Begin> beginOf(const TourStep& s) {
    const ColumnEdge& e = at(s.edge);
    const Point joint = lineFrom(s.edge, s.node).front();
    if (s.what == TourStep::What::Cover) {
      const std::optional<Point> start = startOf(s.edge, s.node);
      return start ? std::optional(Begin{*start, joint}) : std::nullopt;
    }
    if (s.what == TourStep::What::Travel || e.under.empty()) return Begin{joint, joint};
    return Begin{e.from == s.node ? e.under.front() : e.under.back(), joint};
  }

  std::vector<Point> lineFrom(int edge, int node) const {
    const ColumnEdge& e = at(edge);
    std::vector<Point> line = e.width_mm > 0 ? e.line : smoothed(e.line, 0.5);
    if (e.from != node) std::reverse(line.begin(), line.end());
    return line;
  }

  // --- ways

  /// Of some ways from where the needle stands, and of others about them where all are seen, the
  /// one of which least is.
  std::vector<Point> leastSeen(std::vector<std::vector<Point>> ways) const {
    const std::vector<Point>* best = nullptr;
    double least = INFINITY;
    for (const auto& line : ways)
      if (const double cost = ground_.cost_mm(line, now_); cost < least) least = cost, best = &line;
    if (ground_.seen_mm(*best, now_) < kSearchFrom_mm) return *best;
    std::vector<Point> found = ground_.leastSeen(exit(), best->back(), now_);
    return ground_.cost_mm(found, now_) < least ? found : *best;
  }

  /// Runs to `to`, straight or by way of the joint `node` or however it is seen least.
  void goTo(Point to, int node, Kind kind) {
    const Point from = exit();
    if (distance(from, to) <= kUnseenWay_mm) return;
    std::vector<std::vector<Point>> ways{{from, to}};
    if (distance(from, joint(node)) > kShortestStitch_mm &&
        distance(joint(node), to) > kShortestStitch_mm)
      ways.push_back({from, joint(node), to});
    const std::vector<Point> way = leastSeen(std::move(ways));
    for (size_t i = 1; i < way.size(); ++i)
      runAlong(strand(), std::span(way).subspan(i - 1, 2), how_.run_step_mm, kind);
    leaveOutLast();
  }

  /// What comes begins there itself.
  void leaveOutLast() {
    strand().points.pop_back();
    strand().kinds.pop_back();
  }

  /// Counts what will be seen of the ways since a needle point.
  void countSeen(size_t since) {
    for (size_t i = std::max<size_t>(since, 1); i < strand().points.size(); ++i)
      sewn_.seen_mm += ground_.seen_mm(strand().points[i - 1], strand().points[i], now_);
  }

  // --- what lies under

  /// Along an edge's centre, from where it comes nearest to the needle.
  void travel(int edge, int node) {
    const size_t since = strand().points.size();
    const std::vector<Point> line = resample(lineFrom(edge, node), kFineStep_mm);
    size_t first = 0;
    double least = INFINITY;
    for (size_t i = 0; i < line.size() && static_cast<double>(i) * kFineStep_mm < kSkip_mm; ++i)
      if (const double d = distance(exit(), line[i]); d < least) least = d, first = i;
    if (first + 1 >= line.size()) first = 0;
    goTo(line[first], node, Kind::Underlay);
    runWithin(strand(), std::span(line).subspan(first), how_.run_step_mm, kWithin_mm,
              Kind::Underlay);
    countSeen(since);
  }

  /// What belongs under an edge, from the joint `node`, begun at the side to which the way is seen
  /// less.
  void addUnder(int edge, int node, Kind kind) {
    const ColumnEdge& e = at(edge);
    auto fromNode = [&](const std::vector<Point>& line) {
      return e.from == node ? line : reversed(line);
    };
    std::vector<Point> under = fromNode(e.under);
    if (std::vector<Point> other = fromNode(e.under_mirrored); !other.empty()) {
      auto cost = [&](Point to) {
        return ground_.seen_mm(exit(), to, now_) + kNearer * distance(exit(), to);
      };
      if (cost(other.front()) < cost(under.front())) under = std::move(other);
    }
    goTo(under.front(), node, kind);
    for (Point p : under) strand().add(p, kind);
  }

  /// Out along an edge that will be covered from its other end.
  void under(int edge, int node, const TourStep* next) {
    const ColumnEdge& e = at(edge);
    if (e.under.empty()) {
      const bool turns = next && next->what == TourStep::What::Cover && next->edge == edge;
      return turns && isSatin(edge) && !ownsJoint(e, otherJoint(e, node)) ? runInside(edge, node)
                                                                          : travel(edge, node);
    }
    const size_t since = strand().points.size();
    addUnder(edge, node, e.narrow ? Kind::Run : Kind::Underlay);
    const Point end = lineFrom(edge, node).back();
    if (e.narrow) return strand().add(end, Kind::Run);
    if (ground_.seen_mm(exit(), end, now_) < kHidden_mm) strand().add(end, Kind::Underlay);
    countSeen(since);
  }

  /// Where nothing comes in between, a run turns where its own satin begins, and does not cross
  /// what lies on the joint.
  void runInside(int edge, int node) {
    const std::vector<Point>& satin = satinFrom(edge, otherJoint(at(edge), node), false);
    if (satin.size() < 2) return travel(edge, node);
    const size_t since = strand().points.size();
    const Point turn = mix(satin[0], satin[1], 0.5);
    std::vector<Point> line = lineFrom(edge, node);
    const auto nearest = std::min_element(line.begin() + 1, line.end(), [&](Point a, Point b) {
      return distance(a, turn) < distance(b, turn);
    });
    line.erase(nearest, line.end());
    line.push_back(turn);
    runAlong(strand(), line, how_.run_step_mm, Kind::Underlay);
    countSeen(since);
  }

  // --- cover

  /// Needle points from the joint `node` to the edge's other end and as far past either as they go,
  /// begun at either side.
  const std::vector<Point>& satinFrom(int edge, int node, bool mirrored) {
    const ColumnEdge& e = at(edge);
    const bool forward = e.from == node;
    const auto [found, added] = satins_.try_emplace({edge, forward, mirrored});
    if (!added) return found->second;
    if (e.width_mm > 0) {
      const std::vector<Point>& points = mirrored ? e.mirrored : e.satin;
      return found->second = forward ? points : reversed(points);
    }
    const std::vector<Point> whole =
        extended(lineFrom(edge, node), forward ? e.reach_from_mm : e.reach_to_mm,
                 forward ? e.reach_to_mm : e.reach_from_mm);
    return found->second =
               satinAlong(whole, how_.width_mm, how_.satin, mirrored, laps_.cutOf(edge)).points;
  }

  bool isSatin(int edge) const {
    const ColumnEdge& e = at(edge);
    return e.width_mm > 0 ? !e.narrow : how_.width_mm >= how_.least_column_mm;
  }

  /// From where the needle stands to where satin begins, by whichever way is least seen: straight,
  /// along the last stitch to the other side of its column first, by way of the joint, or round.
  void way(Point to, Point joint) {
    const Point from = exit();
    if (distance(from, to) <= kUnseenWay_mm) return;
    std::vector<std::vector<Point>> ways{{from, to}};
    const double short_mm = how_.satin.split_over_mm - kRounding_mm;
    const bool isShort = distance(from, to) <= short_mm;
    auto addVia = [&](Point p) {
      if (isShort && distance(from, p) + distance(p, to) > short_mm) return;
      if (distance(from, p) > kShortestStitch_mm && distance(p, to) > kShortestStitch_mm)
        ways.push_back({from, p, to});
    };
    addVia(joint);
    const std::vector<Point>& points = strand().points;
    for (size_t back : {2u, 3u, 4u})
      if (points.size() > back && strand().kinds.back() == Kind::Satin)
        addVia(points[points.size() - back]);
    const std::vector<Point> best = leastSeen(std::move(ways));
    if (polylineLength(best) <= short_mm && best.size() <= kMostLegs + 1) {
      for (size_t i = 1; i + 1 < best.size(); ++i) strand().add(best[i], Kind::Satin);
      return;
    }
    for (size_t i = 1; i < best.size(); ++i)
      runAlong(strand(), std::span(best).subspan(i - 1, 2), how_.run_step_mm, Kind::Underlay);
    leaveOutLast();
  }

  /// The middle of where an edge's satin begins at a joint.
  std::optional<Point> startOf(int edge, int node) {
    if (!isSatin(edge)) return std::nullopt;
    const std::vector<Point>& satin = satinFrom(edge, node, false);
    return satin.size() < 2 ? std::nullopt : std::optional(mix(satin[0], satin[1], 0.5));
  }

  /// A way to sew a column: its needle points, and the other side of its last rung.
  struct SatinPass {
    std::vector<Point> points;
    Point otherEnd;
  };

  /// Begun at either side; and from the other end, where the needle has come from there.
  std::vector<SatinPass> passesOf(int edge, int node, bool eitherEnd) {
    const std::vector<Point>&one = satinFrom(edge, node, false),
          &other = satinFrom(edge, node, true);
    if (one.empty()) return {};
    std::vector<SatinPass> out{{one, other.back()}, {other, one.back()}};
    if (eitherEnd && one.size() > kDot) {
      out.push_back({reversed(one), other.front()});
      out.push_back({reversed(other), one.front()});
    }
    return out;
  }

  /// How much of the way to a satin's beginning and of the way on will be seen, and whether it
  /// ends at the wrong side for `next`, mm.
  double shown(const SatinPass& pass, std::optional<Begin> next) const {
    const std::vector<Point>& satin = pass.points;
    const bool begins = distance(exit(), satin.front()) <= kUnseenWay_mm;
    double sum = begins ? 0 : ground_.seen_mm(exit(), satin.front(), now_);
    sum += kNearer * distance(exit(), satin.front());
    if (!next) return sum;
    const bool across = crosses(satin.back(), pass.otherEnd, next->at);
    const Point end = across ? pass.otherEnd : satin.back();
    return sum + (across ? kCrossing_mm : 0) +
           std::min(ground_.seen_mm(end, next->at, now_ + 1),
                    ground_.seen_mm(std::vector{end, next->joint, next->at}, now_ + 1));
  }

  /// Satin from the joint `node` to the edge's other end, begun at the side from which it begins
  /// near the needle, so that one stretch of a column goes on in the next without a gap, and ends
  /// near `next`. `fromUnder`: what lies under it was sewn just now, so that either end is as near.
  void cover(int edge, int node, std::optional<Begin> next, bool fromUnder) {
    if (!isSatin(edge)) return coverNarrow(edge, node);
    const std::vector<SatinPass> passes = passesOf(edge, node, fromUnder);
    if (passes.empty()) return;
    const SatinPass* best = nullptr;
    double least = INFINITY;
    for (const SatinPass& p : passes)
      if (const double s = shown(p, next); s < least) least = s, best = &p;
    const std::vector<Point>& points = best->points;
    const size_t since = strand().points.size();
    way(points.front(), lineFrom(edge, node).front());
    strand().add(points.front(), Kind::Satin);
    countSeen(since);
    for (Point p : points) strand().add(p, Kind::Satin);
    if (next && points.size() > 3 && crosses(exit(), best->otherEnd, next->at))
      addAcross(strand(), best->otherEnd, static_cast<int>(points.size()),
                how_.satin.split_over_mm);
    // a dot's few stitches need its middle
    if (points.size() < kDot) strand().add(lineFrom(edge, node).back(), Kind::Satin);
  }

  /// Is one more stitch sewn along the last rung, as its other side is nearer to what comes next?
  static bool crosses(Point end, Point otherEnd, Point next) {
    return distance(otherEnd, next) + kUnseenWay_mm < distance(end, next);
  }

  /// Too narrow for satin: a second run beside the first.
  void coverNarrow(int edge, int node) {
    const ColumnEdge& e = at(edge);
    const std::vector<Point> line = lineFrom(edge, node);
    if (e.width_mm <= 0) return runAlong(strand(), line, how_.run_step_mm * 0.8, Kind::Run);
    for (Point p : e.from == node ? e.satin : reversed(e.satin)) strand().add(p, Kind::Run);
    strand().add(line.back(), Kind::Run);
  }

  const ColumnGraph& graph_;
  const ColumnSewing& how_;
  StrokeLaps laps_;
  // once each: by edge, from its first joint or its last, and by the side at which it begins
  std::map<std::tuple<int, bool, bool>, std::vector<Point>> satins_;
  ColumnGround ground_;
  int now_ = 0;  // step of the tour
  SewnTour sewn_;
};

int nearest(const std::vector<Point>& joints, const std::vector<int>& among, Point p) {
  return *std::min_element(among.begin(), among.end(), [&](int a, int b) {
    return distance(joints[static_cast<size_t>(a)], p) <
           distance(joints[static_cast<size_t>(b)], p);
  });
}

/// Of the tours that promise most the one whose ways are seen least, what it is farther counted.
Strand sewnPart(const ColumnGraph& graph, std::vector<int> part, const ColumnSewing& how,
                Point entry, Point exit) {
  std::sort(part.begin(), part.end());
  const std::vector<ColumnTour> tours = columnTours(graph, part, entry, exit, kTours);
  Sewing sewing(graph, part, how);
  SewnTour best = sewing.run(tours[0]);
  double least = tours[0].away_mm + kSeenAway * best.seen_mm;
  for (size_t i = 1; i < tours.size() && best.seen_mm > kOtherTours_mm; ++i) {
    if (tours[i].away_mm >= least) continue;
    SewnTour other = sewing.run(tours[i]);
    if (const double cost = tours[i].away_mm + kSeenAway * other.seen_mm; cost < least)
      least = cost, best = std::move(other);
  }
  return spreadOut(best.strand, kNeedleRoom_mm, [&](Point p) { return sewing.covers(p); });
}

}  // namespace

std::vector<Strand> sewColumns(const ColumnGraph& graph, const ColumnSewing& how, Point entry,
                               Point exit) {
  std::vector<Strand> strands;
  std::vector<int> left;
  for (size_t i = 0; i < graph.joints.size(); ++i) left.push_back(static_cast<int>(i));
  Point at = entry;
  while (!left.empty()) {
    const std::vector<int> part = connectedJoints(graph, nearest(graph.joints, left, at));
    strands.push_back(sewnPart(graph, part, how, at, exit));
    at = strands.back().exit();
    std::erase_if(left,
                  [&](int n) { return std::find(part.begin(), part.end(), n) != part.end(); });
  }
  return strands;
}

}  // namespace rt
