#include "marks.h"

#include <algorithm>
#include <queue>
#include <set>

#include "length.h"

namespace rt {
namespace {

constexpr double kLattice_mm = 2.0;
constexpr double kMarkEdge_mm = 3.0;  // from an arm's end to the field's edge, where there is room

/// Places near thread, on a 2 mm lattice.
class Sewn {
 public:
  explicit Sewn(const Pattern& pattern) {
    forEachSegment(pattern, [&](Point a, Point b, size_t) {
      const int parts = std::max(1, static_cast<int>(distance(a, b) / kLattice_mm) + 1);
      for (int k = 0; k <= parts; ++k)
        cells_.insert(cell(mix(a, b, static_cast<double>(k) / parts)));
    });
  }
  /// Lattice cells with thread within a mark's reach.
  int crowd(Point p) const {
    const int reach = static_cast<int>(std::ceil(kMarkArm_mm / kLattice_mm)) + 1;
    const auto [cx, cy] = cell(p);
    int count = 0;
    for (int y = -reach; y <= reach; ++y)
      for (int x = -reach; x <= reach; ++x)
        count += static_cast<int>(cells_.count({cx + x, cy + y}));
    return count;
  }

 private:
  static std::pair<int, int> cell(Point p) {
    return {static_cast<int>(std::floor(p.x / kLattice_mm)),
            static_cast<int>(std::floor(p.y / kLattice_mm))};
  }
  std::set<std::pair<int, int>> cells_;
};

struct Pair {
  size_t i = 0, j = 0;
  Box shared;
  double length() const { return std::max(shared.width(), shared.height()); }
};

std::vector<Pair> neighbours(const std::vector<Hooping>& hoopings) {
  std::vector<Pair> all, kept;
  for (size_t i = 0; i < hoopings.size(); ++i)
    for (size_t j = i + 1; j < hoopings.size(); ++j) {
      const Box shared = hoopings[i].field.intersection(hoopings[j].field);
      if (!shared.empty() && std::min(shared.width(), shared.height()) >= 2 * kMarkArm_mm)
        all.push_back({i, j, shared});
    }
  std::stable_sort(all.begin(), all.end(),
                   [](const Pair& a, const Pair& b) { return a.length() > b.length(); });
  std::vector<size_t> group(hoopings.size());
  for (size_t i = 0; i < group.size(); ++i) group[i] = i;
  for (const Pair& p : all) {
    const Box& f = hoopings[p.i].field;
    const bool along = p.length() >= 0.6 * std::min(f.width(), f.height());
    if (group[p.i] == group[p.j] && !along) continue;
    const size_t from = group[p.j], to = group[p.i];
    for (size_t& g : group)
      if (g == from) g = to;
    kept.push_back(p);
  }
  return kept;
}

/// The clearest spot near one end of the shared strip.
struct Spot {
  Point at;
  int crowd = 0;
};

Spot clearest(const Box& shared, const Sewn& sewn, bool lowEnd) {
  const double edge =
      std::min(kMarkEdge_mm, std::min(shared.width(), shared.height()) / 2 - kMarkArm_mm);
  const Box room = shared.grown(-kMarkArm_mm - edge);
  const bool tall = room.height() >= room.width();
  Spot best{room.centre(), 1 << 30};
  double bestCost = INFINITY;
  const double end = lowEnd ? 0 : 1;
  for (double y = room.top; y <= room.bottom + kSame_mm;
       y += std::max(kLattice_mm, room.height() / 60))
    for (double x = room.left; x <= room.right + kSame_mm;
         x += std::max(kLattice_mm, room.width() / 60)) {
      const double t = tall ? (y - room.top) / std::max(1.0, room.height())
                            : (x - room.left) / std::max(1.0, room.width());
      if (lowEnd ? t > 0.45 : t < 0.55) continue;
      const int crowd = sewn.crowd({x, y});
      // any clear spot before any crowded one; then the one nearest its end
      const double cost = std::min(crowd, 5) * 10 + crowd * 0.1 + std::abs(t - end);
      if (cost < bestCost) bestCost = cost, best = {{x, y}, crowd};
    }
  return best;
}

/// A mark that is there already serves further hoopings too.
bool reuse(Hooping& a, Hooping& b, const HoopingPlan& plan, Point at) {
  for (const Hooping& h : plan.hoopings)
    for (const PlanMark& m : h.marks) {
      const bool held =
          a.field.grown(-kMarkArm_mm).contains(m.at) && b.field.grown(-kMarkArm_mm).contains(m.at);
      if (!held || distance(m.at, at) > 4 * kMarkArm_mm) continue;
      const PlanMark mark = m;
      for (Hooping* one : {&a, &b})
        if (std::find(one->marks.begin(), one->marks.end(), mark) == one->marks.end())
          one->marks.push_back(mark);
      return true;
    }
  return false;
}

double round1(double mm) {
  return std::round(mm * 10) / 10;
}

}  // namespace

void placeMarks(HoopingPlan& plan, const Pattern& pattern) {
  if (plan.hoopings.size() < 2) return;
  const Sewn sewn(pattern);
  int number = 0;
  for (const Pair& pair : neighbours(plan.hoopings)) {
    for (bool low : {true, false}) {
      const Spot spot = clearest(pair.shared, sewn, low);
      if (reuse(plan.hoopings[pair.i], plan.hoopings[pair.j], plan, spot.at)) continue;
      PlanMark mark{
          "M" + std::to_string(++number), "cross", {round1(spot.at.x), round1(spot.at.y)}};
      plan.hoopings[pair.i].marks.push_back(mark);
      plan.hoopings[pair.j].marks.push_back(mark);
      if (spot.crowd > 0)
        plan.warnings.push_back(
            "mark " + mark.id +
            " lies within 6 mm of sewing: no clear place is left between hoopings " +
            std::to_string(pair.i + 1) + " and " + std::to_string(pair.j + 1));
    }
  }
  for (const Hooping& h : plan.hoopings)
    if (h.marks.empty())
      plan.warnings.push_back("hooping " + std::to_string(h.index) +
                              " shares no cloth with another: tie it to the drawn centre lines");
}

namespace {

double fitError(const Hooping& h, Point at, double mark_error_mm) {
  std::vector<Mark> marks;
  for (const PlanMark& m : h.marks) marks.push_back({m.id, m.at, m.at, mark_error_mm});
  if (marks.size() < 2) {
    // the centre cross alone: two ends of its long line, half a field apart
    const double reach = std::max(h.field.width(), h.field.height()) / 2;
    const Point c = h.field.centre();
    marks = {{"a", c - Point{reach, 0}, {}, mark_error_mm},
             {"b", c + Point{reach, 0}, {}, mark_error_mm}};
  }
  return expectedError95_mm(marks, at);
}

double worstCorner(const Hooping& h, double mark_error_mm) {
  const Box sewn = threadBounds(h.pattern);
  double worst = 0;
  for (int i = 0; i < 4 && !sewn.empty(); ++i)
    worst = std::max(worst, fitError(h, sewn.corner(i), mark_error_mm));
  return worst;
}

/// Hoopings that share a mark.
bool share(const Hooping& a, const Hooping& b) {
  for (const PlanMark& m : a.marks)
    for (const PlanMark& n : b.marks)
      if (m.id == n.id) return true;
  return false;
}

/// For each hooping, the one before it that it is tied to in a chain (-1 for the first).
std::vector<int> chainParents(const std::vector<Hooping>& hoopings) {
  std::vector<int> parent(hoopings.size(), -1);
  for (size_t j = 1; j < hoopings.size(); ++j) {
    parent[j] = static_cast<int>(j) - 1;
    for (size_t i = j; i-- > 0;)
      if (share(hoopings[i], hoopings[j])) {
        parent[j] = static_cast<int>(i);
        break;
      }
  }
  return parent;
}

}  // namespace

void predictErrors(HoopingPlan& plan, TieStyle style, double mark_error_mm) {
  plan.seams.clear();
  plan.worst_seam_error_mm = 0;
  const std::vector<int> parent = chainParents(plan.hoopings);
  auto lineage = [&](int h) {
    std::vector<int> up;
    for (; h >= 0; h = parent[static_cast<size_t>(h)]) up.push_back(h);
    return up;
  };
  for (size_t i = 0; i < plan.hoopings.size(); ++i) {
    Hooping& h = plan.hoopings[i];
    double sum = 0;
    const std::vector<int> chain = style == TieStyle::Star ? std::vector<int>{static_cast<int>(i)}
                                                           : lineage(static_cast<int>(i));
    for (int k : chain)
      sum += std::pow(worstCorner(plan.hoopings[static_cast<size_t>(k)], mark_error_mm), 2);
    h.predicted_error_mm = std::sqrt(sum);
  }
  for (size_t i = 0; i < plan.hoopings.size(); ++i)
    for (size_t j = i + 1; j < plan.hoopings.size(); ++j) {
      if (!share(plan.hoopings[i], plan.hoopings[j])) continue;
      const Point at = plan.hoopings[i].field.intersection(plan.hoopings[j].field).centre();
      std::vector<int> between{static_cast<int>(i), static_cast<int>(j)};
      if (style == TieStyle::Chain) {
        // what the two have in common cancels: only the ways up to the common forebear count
        const std::vector<int> a = lineage(static_cast<int>(i)), b = lineage(static_cast<int>(j));
        between.clear();
        std::set_symmetric_difference(a.rbegin(), a.rend(), b.rbegin(), b.rend(),
                                      std::back_inserter(between));
      }
      double sum = 0;
      for (int k : between)
        sum += std::pow(fitError(plan.hoopings[static_cast<size_t>(k)], at, mark_error_mm), 2);
      plan.seams.push_back({static_cast<int>(i) + 1, static_cast<int>(j) + 1, at, std::sqrt(sum)});
      plan.worst_seam_error_mm = std::max(plan.worst_seam_error_mm, std::sqrt(sum));
    }
}

}  // namespace rt
