#include "column_tour.h"

#include <algorithm>
#include <deque>
#include <map>
#include <set>

namespace rt {
namespace {

constexpr double kEdgeCost_mm = 0.1, kLateCost_mm = 30.0;
constexpr double kLateShare = 0.3, kWide_mm = 5.0;  // of that cost, whatever the width
constexpr size_t kFewJoints = 60;  // of more, where a tour begins and ends is not searched
constexpr size_t kBegins = 6, kEnds = 4;

class Tours {
 public:
  explicit Tours(const ColumnGraph& graph) : graph_(graph), at_(graph.joints.size()) {
    for (size_t i = 0; i < graph.edges.size(); ++i) {
      at_[static_cast<size_t>(graph.edges[i].from)].push_back(static_cast<int>(i));
      if (graph.edges[i].from != graph.edges[i].to)
        at_[static_cast<size_t>(graph.edges[i].to)].push_back(static_cast<int>(i));
    }
  }

  std::vector<int> connected(int from) const {
    std::vector<int> open{from};
    std::set<int> seen{from};
    for (size_t i = 0; i < open.size(); ++i)
      for (int e : edgesAt(open[i]))
        if (const int n = far(e, open[i]); seen.insert(n).second) open.push_back(n);
    return open;
  }

  std::vector<ColumnTour> best(std::vector<int> part, Point entry, Point exit, size_t most) {
    auto away = [&](int joint) {
      return distance(graph_.joints[static_cast<size_t>(joint)], entry);
    };
    const size_t begins = part.size() <= kFewJoints ? std::min(kBegins, part.size()) : 1;
    std::partial_sort(part.begin(), part.begin() + static_cast<long>(begins), part.end(),
                      [&](int a, int b) { return away(a) < away(b); });
    std::vector<std::pair<double, ColumnTour>> tours;  // cost, mm
    for (size_t i = 0; i < begins; ++i)
      for (const Path& path : pathsToward(part[i], exit, begins > 1 ? kEnds : 1)) {
        const double away_mm = away(part[i]) + path.away_mm;
        if (tours.size() >= most && away_mm >= tours.back().first) continue;
        ColumnTour tour = along(part[i], path.edges);
        tour.away_mm = away_mm;
        const double cost = away_mm + late_mm(tour);
        const auto after = std::upper_bound(tours.begin(), tours.end(), cost,
                                            [](double c, const auto& t) { return c < t.first; });
        tours.emplace(after, cost, std::move(tour));
        if (tours.size() > most) tours.pop_back();
      }
    std::vector<ColumnTour> out;
    for (auto& [cost, tour] : tours) out.push_back(std::move(tour));
    return out;
  }

 private:
  const std::vector<int>& edgesAt(int node) const { return at_[static_cast<size_t>(node)]; }
  int far(int edge, int node) const {
    return otherJoint(graph_.edges[static_cast<size_t>(edge)], node);
  }
  bool owns(int edge, int node) const {
    return ownsJoint(graph_.edges[static_cast<size_t>(edge)], node);
  }

  // --- the way

  /// A way from the first joint: its edges in order, what its turns cost, and how far from the exit
  /// it ends.
  struct Path {
    std::vector<int> edges;
    double cost_mm = 0, away_mm = 0;
  };

  /// The best way to each joint. The way's columns are covered in its order, after all that
  /// branches off where they begin: one that does not own that joint would lay its first stitches
  /// across finished satin.
  std::map<int, Path> pathsFrom(int from) const {
    std::map<int, Path> best{{from, {}}};
    std::deque<int> open{from};
    while (!open.empty()) {
      const int n = open.front();
      open.pop_front();
      const Path here = best.at(n);
      for (int e : edgesAt(n)) {
        const double cost = here.cost_mm + kEdgeCost_mm + (owns(e, n) ? 0 : kLateCost_mm);
        const int m = far(e, n);
        const auto found = best.find(m);
        if (found != best.end() && found->second.cost_mm <= cost) continue;
        Path next = here;
        next.edges.push_back(e);
        next.cost_mm = cost;
        best[m] = std::move(next);
        open.push_back(m);
      }
    }
    return best;
  }

  /// To the joints nearest to where the strand should end, what turns cost counted as distance.
  std::vector<Path> pathsToward(int from, Point exit, size_t most) const {
    std::vector<Path> out;
    for (auto& [joint, path] : pathsFrom(from)) {
      out.push_back(path);
      out.back().away_mm = distance(graph_.joints[static_cast<size_t>(joint)], exit);
    }
    std::stable_sort(out.begin(), out.end(), [](const Path& a, const Path& b) {
      return a.cost_mm + a.away_mm < b.cost_mm + b.away_mm;
    });
    out.resize(std::min(out.size(), most));
    return out;
  }

  // --- the tour

  /// Everything beside the path is sewn in passing, on the way out; then the way back lays what
  /// belongs under the path's own columns, and they are covered in one sweep.
  ColumnTour along(int from, const std::vector<int>& path) {
    used_.assign(graph_.edges.size(), false);
    tour_ = {from, {}, 0};
    std::vector<int> nodes{from};
    for (int e : path) nodes.push_back(far(e, nodes.back()));
    for (int e : path) used_[static_cast<size_t>(e)] = true;
    branches(from, Which::EndThere);
    for (size_t i = 0; i < path.size(); ++i) {
      step(TourStep::What::Travel, path[i], nodes[i]);
      branches(nodes[i + 1], Which::EndThere);
    }
    for (size_t i = path.size(); i-- > 0;) step(TourStep::What::Under, path[i], nodes[i + 1]);
    // a column that owns a joint is sewn after those that end at it, the path's too
    branches(from, Which::All);
    for (size_t i = 0; i < path.size(); ++i) {
      step(TourStep::What::Cover, path[i], nodes[i]);
      branches(nodes[i + 1], Which::All);
    }
    return std::move(tour_);
  }

  void step(TourStep::What what, int edge, int node) { tour_.steps.push_back({what, edge, node}); }

  enum class Which { EndThere, All };

  /// Out along each branch that is open at a joint, all beyond it, and back over it; those that end
  /// there before those that own the ground. `by`: the branch that led here; -1: the path.
  void branches(int node, Which which, int by = -1) {
    if (which == Which::All) branches(node, Which::EndThere, by);
    for (int e : edgesAt(node)) {
      if (used_[static_cast<size_t>(e)] || (which == Which::EndThere && owns(e, node))) continue;
      const int there = far(e, node);
      if (waits(e, node, there, by)) continue;
      used_[static_cast<size_t>(e)] = true;
      step(TourStep::What::Under, e, node);
      stack_.push_back(node);
      branches(there, Which::All, e);
      stack_.pop_back();
      step(TourStep::What::Cover, e, there);
    }
  }

  /// The column that another one ends at is sewn after it, if it is met again on the way back.
  bool waits(int edge, int node, int there, int by) const {
    return by >= 0 && owns(edge, node) && !owns(by, node) &&
           std::find(stack_.begin(), stack_.end(), there) != stack_.end();
  }

  /// What it costs that steps begin on ground which its owner has covered already: the more, the
  /// wider the owner.
  double late_mm(const ColumnTour& tour) const {
    std::vector<double> finished(graph_.joints.size());  // width of the cover there
    double cost = 0;
    for (const TourStep& s : tour.steps) {
      if (const double width = finished[static_cast<size_t>(s.node)];
          width > 0 && !owns(s.edge, s.node))
        cost += kLateCost_mm * (kLateShare + (1 - kLateShare) * std::min(1.0, width / kWide_mm));
      if (s.what != TourStep::What::Cover) continue;
      for (int node : {s.node, far(s.edge, s.node)})
        if (owns(s.edge, node))
          finished[static_cast<size_t>(node)] =
              std::max(0.1, graph_.edges[static_cast<size_t>(s.edge)].width_mm);
    }
    return cost;
  }

  const ColumnGraph& graph_;
  std::vector<std::vector<int>> at_;
  std::vector<bool> used_;
  std::vector<int> stack_;  // joints of the branches under way
  ColumnTour tour_;
};

}  // namespace

bool ownsJoint(const ColumnEdge& edge, int joint) {
  return edge.from == joint ? edge.owns_from : edge.owns_to;
}

int otherJoint(const ColumnEdge& edge, int joint) {
  return edge.from == joint ? edge.to : edge.from;
}

std::vector<int> connectedJoints(const ColumnGraph& graph, int from) {
  return Tours(graph).connected(from);
}

ColumnTour columnTour(const ColumnGraph& graph, const std::vector<int>& part, Point entry,
                      Point exit) {
  return std::move(columnTours(graph, part, entry, exit, 1).front());
}

std::vector<ColumnTour> columnTours(const ColumnGraph& graph, const std::vector<int>& part,
                                    Point entry, Point exit, size_t most) {
  return Tours(graph).best(part, entry, exit, most);
}

}  // namespace rt
