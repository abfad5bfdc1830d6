#include "row_fill.h"

#include <algorithm>
#include <deque>
#include <optional>
#include <queue>
#include <unordered_map>

namespace rt {
namespace {

constexpr double kLeastRow_mm = 0.5;  // shorter rows are left to their neighbours
constexpr int kOnSewn = 50;           // rows: how far a way goes round one finished row
constexpr double kSparse_mm = 1.0;    // rows from this distance get others between them, for ways
constexpr double kFinest_mm = 0.25;   // and these are no farther apart
constexpr double kLeastEnd_mm = 0.7;  // from a row's end to its next needle point
constexpr double kOutward_mm =
    0.8;  // a row that begins this far beyond the last one's end is begun there

/// A stretch of one row inside the area.
struct Interval {
  int row = 0;
  double left = 0, right = 0;
  int section = -1;
  std::vector<int> above, below;  ///< Touching intervals of the rows before and after.
};

/// Rows of the area, in a frame where they lie level.
class Rows {
 public:
  Rows(const Area& level, double spacing_mm, double pull_mm) : spacing_(spacing_mm) {
    const Box box = boundsOf(level);
    top_ = box.top;
    const int rows = static_cast<int>(std::floor(box.height() / spacing_mm + 0.5));
    crossings_ = levelCrossings(level, y(0), spacing_mm, rows);
    for (int row = 0; row < rows; ++row) addRow(row, pull_mm);
    link();
    numberSections();
  }

  double y(int row) const { return top_ + (row + 0.5) * spacing_; }
  std::vector<Interval> all;
  std::vector<std::vector<int>> sections;  ///< Intervals of each, from the top down.

 private:
  void addRow(int row, double pull_mm) {
    const std::vector<double>& xs = crossings_[static_cast<size_t>(row)];
    rowStart_.push_back(static_cast<int>(all.size()));
    for (size_t i = 0; i + 1 < xs.size(); i += 2) {
      // pull never takes more than a third of a gap from a hole
      const double before = i > 0 ? (xs[i] - xs[i - 1]) / 3 : pull_mm;
      const double after = i + 2 < xs.size() ? (xs[i + 2] - xs[i + 1]) / 3 : pull_mm;
      if (xs[i + 1] - xs[i] < kLeastRow_mm) continue;
      all.push_back({row,
                     xs[i] - std::min(pull_mm / 2, before),
                     xs[i + 1] + std::min(pull_mm / 2, after),
                     -1,
                     {},
                     {}});
    }
  }

  void link() {
    rowStart_.push_back(static_cast<int>(all.size()));
    for (size_t row = 0; row + 2 < rowStart_.size(); ++row)
      for (int i = rowStart_[row]; i < rowStart_[row + 1]; ++i)
        for (int j = rowStart_[row + 1]; j < rowStart_[row + 2]; ++j)
          if (all[static_cast<size_t>(i)].left < all[static_cast<size_t>(j)].right &&
              all[static_cast<size_t>(j)].left < all[static_cast<size_t>(i)].right) {
            all[static_cast<size_t>(i)].below.push_back(j);
            all[static_cast<size_t>(j)].above.push_back(i);
          }
  }

  /// A section goes on while one interval meets exactly one.
  void numberSections() {
    for (size_t i = 0; i < all.size(); ++i) {
      Interval& it = all[i];
      const bool goesOn =
          it.above.size() == 1 && all[static_cast<size_t>(it.above[0])].below.size() == 1;
      if (goesOn) {
        it.section = all[static_cast<size_t>(it.above[0])].section;
      } else {
        it.section = static_cast<int>(sections.size());
        sections.emplace_back();
      }
      sections[static_cast<size_t>(it.section)].push_back(static_cast<int>(i));
    }
  }

  double spacing_, top_ = 0;
  std::vector<std::vector<double>> crossings_;
  std::vector<int> rowStart_;
};

/// Ways inside the area, from interval to touching interval.
class Ways {
 public:
  explicit Ways(const Rows& rows) : rows_(rows) {}

  /// Fewest intervals from one to another, both included, finished sections last; empty if they do
  /// not connect.
  std::vector<int> find(int from, int to, const std::vector<bool>& sewn) const {
    struct Reached {
      int cost, by;
    };
    std::unordered_map<int, Reached> reached{{from, {0, from}}};  // few: ends lie near one another
    std::priority_queue<std::pair<int, int>, std::vector<std::pair<int, int>>, std::greater<>> open;
    open.emplace(0, from);
    while (!open.empty()) {
      const auto [cost, i] = open.top();
      open.pop();
      if (i == to) break;
      if (cost > reached.at(i).cost) continue;
      for (const auto* list :
           {&rows_.all[static_cast<size_t>(i)].above, &rows_.all[static_cast<size_t>(i)].below})
        for (int j : *list) {
          const auto section = static_cast<size_t>(rows_.all[static_cast<size_t>(j)].section);
          const int next = cost + (sewn[section] ? kOnSewn : 1);
          const auto [it, added] = reached.try_emplace(j, Reached{next, i});
          if (!added && it->second.cost <= next) continue;
          it->second = {next, i};
          open.emplace(next, j);
        }
    }
    std::vector<int> way;
    if (!reached.count(to)) return way;
    for (int i = to; i != from; i = reached.at(i).by) way.push_back(i);
    way.push_back(from);
    std::reverse(way.begin(), way.end());
    return way;
  }

  /// The shortest line through the intervals, within what each shares with the next.
  std::vector<Point> line(const std::vector<int>& way, Point from, Point to) const {
    std::vector<Point> out{from};
    size_t at = 0;
    while (at + 1 < way.size()) {  // stretches that lead one way, up or down
      const bool down = rowOf(way, at + 1) > rowOf(way, at);
      size_t end = at + 1;
      while (end + 1 < way.size() && (rowOf(way, end + 1) > rowOf(way, end)) == down) ++end;
      std::vector<Gate> gates;
      for (size_t i = at; i < end; ++i) gates.push_back(gateAfter(way, i));
      if (end + 1 < way.size()) {  // it turns there: to the near side of the last gate
        const Gate last = gates.back();
        gates.pop_back();
        pull(out, gates, {std::clamp(out.back().x, last.left, last.right), last.y});
      } else {
        pull(out, gates, to);
      }
      at = end;
    }
    if (distance(out.back(), to) > 0) out.push_back(to);
    return out;
  }

 private:
  /// What two touching intervals share, on the line between their rows.
  struct Gate {
    double left = 0, right = 0, y = 0;
  };
  int rowOf(const std::vector<int>& way, size_t i) const {
    return rows_.all[static_cast<size_t>(way[i])].row;
  }
  Gate gateAfter(const std::vector<int>& way, size_t i) const {
    const Interval &here = rows_.all[static_cast<size_t>(way[i])],
                   &next = rows_.all[static_cast<size_t>(way[i + 1])];
    const double left = std::max(here.left, next.left), right = std::min(here.right, next.right);
    const double margin = std::min(0.3, (right - left) / 3);
    return {left + margin, right - margin, (rows_.y(here.row) + rows_.y(next.row)) / 2};
  }

  /// Adds the shortest line from the last point through the gates to `to`: straight on while the
  /// gates so far can be seen through, a corner at the one that bars the view.
  static void pull(std::vector<Point>& out, const std::vector<Gate>& gates, Point to) {
    size_t first = 0;
    while (true) {
      const Point from = out.back();
      // slopes x over y that pass all gates so far, and the gates that bound them
      double low = -INFINITY, high = INFINITY;
      size_t lowAt = first, highAt = first;
      std::optional<std::pair<Point, size_t>> corner;
      for (size_t k = first; k <= gates.size() && !corner; ++k) {
        const Gate g = k < gates.size() ? gates[k] : Gate{to.x, to.x, to.y};
        const double dy = g.y - from.y;
        if (std::abs(dy) < kSame_mm) continue;
        const bool low_is_left = dy > 0;
        const double a = (g.left - from.x) / dy, b = (g.right - from.x) / dy;
        const double least = std::min(a, b), most = std::max(a, b);
        if (least > high)
          corner = {{low_is_left ? gates[highAt].right : gates[highAt].left, gates[highAt].y},
                    highAt};
        else if (most < low)
          corner = {{low_is_left ? gates[lowAt].left : gates[lowAt].right, gates[lowAt].y}, lowAt};
        if (least > low) low = least, lowAt = k;
        if (most < high) high = most, highAt = k;
      }
      if (!corner) break;
      out.push_back(corner->first);
      first = corner->second + 1;
    }
    out.push_back(to);
  }

  const Rows& rows_;
};

enum class End { Top, Bottom };

End opposite(End end) {
  return end == End::Top ? End::Bottom : End::Top;
}

/// Sections as a tree: what hangs on a section is sewn before it, and each is sewn toward the one
/// that it hangs on. So every way lies under rows that follow.
class SectionTree {
 public:
  struct Node {
    int parent = -1;
    End out = End::Bottom;      ///< Where it touches its parent.
    std::vector<int> children;  ///< In the order in which they are sewn.
  };

  /// Of the sections connected to `first`, which is the first to be sewn.
  SectionTree(const Rows& rows, int first, std::vector<bool>& taken)
      : rows_(rows), nodes_(rows.sections.size()) {
    root = farthest(first);
    grow(taken);
    leadTo(first);
  }
  int root = -1;
  const Node& node(int section) const { return nodes_[static_cast<size_t>(section)]; }

 private:
  struct Touch {
    int section;
    End mine;  // the end at which this one touches it
  };

  std::vector<Touch> touches(int section) const {
    const auto& list = rows_.sections[static_cast<size_t>(section)];
    std::vector<Touch> out;
    for (int i : rows_.all[static_cast<size_t>(list.front())].above)
      out.push_back({rows_.all[static_cast<size_t>(i)].section, End::Top});
    for (int i : rows_.all[static_cast<size_t>(list.back())].below)
      out.push_back({rows_.all[static_cast<size_t>(i)].section, End::Bottom});
    return out;
  }

  int farthest(int first) const {
    std::vector<bool> seen(nodes_.size());
    std::deque<int> open{first};
    seen[static_cast<size_t>(first)] = true;
    int last = first;
    while (!open.empty()) {
      last = open.front();
      open.pop_front();
      for (const Touch& t : touches(last))
        if (!seen[static_cast<size_t>(t.section)]) {
          seen[static_cast<size_t>(t.section)] = true;
          open.push_back(t.section);
        }
    }
    return last;
  }

  /// Depth first, so that sections that follow one another stay a chain.
  void grow(std::vector<bool>& taken) {
    std::vector<int> stack{root};
    taken[static_cast<size_t>(root)] = true;
    while (!stack.empty()) {
      const int at = stack.back();
      bool grew = false;
      for (const Touch& t : touches(at)) {
        if (taken[static_cast<size_t>(t.section)]) continue;
        taken[static_cast<size_t>(t.section)] = true;
        Node& child = nodes_[static_cast<size_t>(t.section)];
        child.parent = at;
        child.out = opposite(t.mine);
        nodes_[static_cast<size_t>(at)].children.push_back(t.section);
        stack.push_back(t.section);
        grew = true;
        break;
      }
      if (!grew) stack.pop_back();
    }
  }

  /// What leads to the first section comes first at every fork.
  void leadTo(int first) {
    for (int at = first; node(at).parent >= 0; at = node(at).parent) {
      auto& list = nodes_[static_cast<size_t>(node(at).parent)].children;
      std::rotate(list.begin(), std::find(list.begin(), list.end(), at),
                  std::find(list.begin(), list.end(), at) + 1);
    }
  }

  const Rows& rows_;
  std::vector<Node> nodes_;
};

class Filler {
 public:
  Filler(const Area& level, const FillOptions& options)
      : options_(options),
        every_(options.row_spacing_mm < kSparse_mm
                   ? 1
                   : static_cast<int>(std::ceil(options.row_spacing_mm / kFinest_mm))),
        rows_(level, options.row_spacing_mm / every_, options.pull_mm),
        ways_(rows_) {}

  std::vector<Strand> run(Point start) {
    std::vector<bool> taken(rows_.sections.size());
    sewn_.assign(taken.size(), false);
    at_ = start;
    for (size_t n = 0; n < taken.size(); ++n) {
      const int first = nearest(taken);
      if (first < 0) break;
      const SectionTree tree(rows_, first, taken);
      here_ = -1;
      sewTree(tree);
    }
    std::erase_if(strands_, [](const Strand& s) { return s.points.size() < 2; });
    return std::move(strands_);
  }

 private:
  const std::vector<int>& listOf(int section) const {
    return rows_.sections[static_cast<size_t>(section)];
  }
  int intervalOf(int section, End end) const {
    return end == End::Top ? listOf(section).front() : listOf(section).back();
  }
  Point endOf(int interval, bool left) const {
    const Interval& it = rows_.all[static_cast<size_t>(interval)];
    return {left ? it.left : it.right, rows_.y(it.row)};
  }

  /// The section that begins nearest to the needle; -1 when all are taken.
  int nearest(const std::vector<bool>& taken) const {
    int best = -1;
    double least = INFINITY;
    for (size_t s = 0; s < taken.size(); ++s) {
      if (taken[s]) continue;
      for (End end : {End::Top, End::Bottom})
        for (bool left : {true, false})
          if (const double d = distance(at_, endOf(intervalOf(static_cast<int>(s), end), left));
              d < least)
            least = d, best = static_cast<int>(s);
    }
    return best;
  }

  /// What hangs on a section first, then the section itself, toward its parent.
  void sewTree(const SectionTree& tree) {
    struct Visit {
      int section;
      size_t child = 0;
    };
    std::vector<Visit> stack{{tree.root}};
    while (!stack.empty()) {
      Visit& at = stack.back();
      const SectionTree::Node& node = tree.node(at.section);
      if (at.child < node.children.size()) {
        stack.push_back({node.children[at.child++]});
        continue;
      }
      sewToward(at.section, node.parent < 0 ? std::nullopt : std::optional(node.out));
      sewn_[static_cast<size_t>(at.section)] = true;
      stack.pop_back();
    }
  }

  /// Sews a section so that it ends at `out`; where that is free, from the nearer end.
  void sewToward(int section, std::optional<End> out) {
    const int top = intervalOf(section, End::Top), bottom = intervalOf(section, End::Bottom);
    End in = out ? opposite(*out) : End::Top;
    if (!out && std::min(distance(at_, endOf(bottom, true)), distance(at_, endOf(bottom, false))) <
                    std::min(distance(at_, endOf(top, true)), distance(at_, endOf(top, false))))
      in = End::Bottom;
    const int first = in == End::Top ? top : bottom;
    const bool fromLeft = distance(at_, endOf(first, true)) <= distance(at_, endOf(first, false));
    if (every_ > 1) return sewSparse(section, in, fromLeft);
    if (here_ < 0 || !travel(strands_.back(), here_, first, endOf(first, fromLeft)))
      strands_.emplace_back();
    here_ = sewSection(strands_.back(), section, in, fromLeft);
    at_ = strands_.back().exit();
  }

  Kind travelKind() const { return options_.kind == Kind::Fill ? Kind::Underlay : options_.kind; }

  bool travel(Strand& strand, int from, int to, Point target) const {
    const std::vector<int> way = ways_.find(from, to, sewn_);
    if (way.empty()) return distance(strand.exit(), target) <= kLeastRow_mm;
    const std::vector<Point> line = ways_.line(way, strand.exit(), target);
    if (polylineLength(line) > options_.longest_travel_mm) return false;
    for (size_t i = 1; i < line.size(); ++i)
      runAlong(strand, std::span(line).subspan(i - 1, 2), 2.5, travelKind());
    return true;
  }

  /// Sews the rows to and fro from one end; gives the interval it ends in.
  int sewSection(Strand& strand, int section, End in, bool toRight) const {
    std::vector<int> list = listOf(section);
    if (in == End::Bottom) std::reverse(list.begin(), list.end());
    for (int i : list) {
      addRow(strand, rows_.all[static_cast<size_t>(i)], toRight);
      toRight = !toRight;
    }
    return list.back();
  }

  /// The same where rows stand far apart: from row to row by a way inside the area.
  void sewSparse(int section, End in, bool toRight) {
    std::vector<int> list = listOf(section);
    if (in == End::Bottom) std::reverse(list.begin(), list.end());
    for (int i : list) {
      const Interval& it = rows_.all[static_cast<size_t>(i)];
      if (it.row % every_ != every_ / 2) continue;
      if (here_ < 0 || !travel(strands_.back(), here_, i, endOf(i, toRight)))
        strands_.emplace_back();
      addRow(strands_.back(), it, toRight);
      here_ = i;
      at_ = strands_.back().exit();
      toRight = !toRight;
    }
  }

  /// A row ends at the area's edge; the next goes from there to its first point inside, so that
  /// edges carry one needle hole a row and no short links.
  void addRow(Strand& strand, const Interval& it, bool toRight) const {
    const double y = rows_.y(it.row), way = toRight ? 1 : -1;
    const double start = toRight ? it.left : it.right, end = toRight ? it.right : it.left;
    const bool outward = !strand.empty() && (strand.exit().x - start) * way > kOutward_mm;
    if (strand.empty() || outward) {
      if (outward) runTo(strand, {start, y});
      strand.add({start, y}, options_.kind);
    }
    addBricks(strand, start, end, y, it.row);
    runTo(strand, {end, y});
    strand.add({end, y}, options_.kind);
  }

  /// Points on the way to `to` where one stitch would be too long.
  void runTo(Strand& strand, Point to) const {
    const double most = 1.6 * options_.stitch_length_mm, mm = distance(strand.exit(), to);
    const Point from = strand.exit();
    const int parts = static_cast<int>(std::ceil(mm / most));
    for (int k = 1; k < parts; ++k)
      strand.add(mix(from, to, static_cast<double>(k) / parts), options_.kind);
  }

  /// Needle points on a lattice that shifts from row to row.
  void addBricks(Strand& strand, double start, double end, double y, int row) const {
    const double step = options_.stitch_length_mm;
    const int order = (row / every_ * 3) % std::max(1, options_.bricks);  // not a neighbour's place
    const double phase = step * order / std::max(1, options_.bricks);
    const double low = std::min(start, end) + kLeastEnd_mm,
                 high = std::max(start, end) - kLeastEnd_mm;
    std::vector<double> xs;
    for (double k = std::ceil((low - phase) / step); phase + k * step <= high; k += 1)
      xs.push_back(phase + k * step);
    if (end < start) std::reverse(xs.begin(), xs.end());
    for (double x : xs) strand.add({x, y}, options_.kind);
  }

  FillOptions options_;
  int every_;  // row of those that ways are found through is sewn
  Rows rows_;
  Ways ways_;
  std::vector<Strand> strands_;
  std::vector<bool> sewn_;  // by section
  Point at_;                // the needle
  int here_ = -1;           // the interval that it is in; -1: none
};

}  // namespace

std::vector<Strand> fillRows(const Area& area, const FillOptions& options, Point start) {
  const Transform level = Transform::turning(-options.angle_deg);
  const Transform back = Transform::turning(options.angle_deg);
  std::vector<Strand> strands = Filler(transformed(area, level), options).run(level(start));
  for (Strand& strand : strands)
    for (Point& p : strand.points) p = back(p);
  return strands;
}

}  // namespace rt
