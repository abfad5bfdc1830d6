#include "row_fill.h"

#include <algorithm>
#include <deque>
#include <queue>

namespace rt {
namespace {

constexpr double kLeastRow_mm = 0.5;  // shorter rows are left to their neighbours
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
    crossings_.resize(static_cast<size_t>(std::max(0, rows)));
    for (const Ring& ring : level) addRing(ring);
    for (int row = 0; row < rows; ++row) addRow(row, pull_mm);
    link();
    numberSections();
  }

  double y(int row) const { return top_ + (row + 0.5) * spacing_; }
  std::vector<Interval> all;
  std::vector<std::vector<int>> sections;  ///< Intervals of each, from the top down.

 private:
  void addRing(const Ring& ring) {
    for (size_t i = 0, n = ring.size(); i < n; ++i) {
      Point a = ring[i], b = ring[(i + 1) % n];
      if (a.y == b.y) continue;
      if (a.y > b.y) std::swap(a, b);
      const int first = std::max(0, static_cast<int>(std::ceil((a.y - top_) / spacing_ - 0.5)));
      for (int row = first; row < static_cast<int>(crossings_.size()) && y(row) < b.y; ++row)
        crossings_[static_cast<size_t>(row)].push_back(a.x +
                                                       (y(row) - a.y) / (b.y - a.y) * (b.x - a.x));
    }
  }

  void addRow(int row, double pull_mm) {
    auto& xs = crossings_[static_cast<size_t>(row)];
    std::sort(xs.begin(), xs.end());
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

  /// Intervals from `from` to `to`, fewest finished ones first; empty if they do not connect.
  std::vector<int> find(int from, int to, const std::vector<bool>& sewn) const {
    std::vector<double> cost(rows_.all.size(), INFINITY);
    std::vector<int> by(rows_.all.size(), -1);
    using Item = std::pair<double, int>;
    std::priority_queue<Item, std::vector<Item>, std::greater<>> open;
    cost[static_cast<size_t>(from)] = 0;
    open.emplace(0, from);
    while (!open.empty()) {
      const auto [c, i] = open.top();
      open.pop();
      if (i == to) break;
      if (c > cost[static_cast<size_t>(i)]) continue;
      for (const auto* list :
           {&rows_.all[static_cast<size_t>(i)].above, &rows_.all[static_cast<size_t>(i)].below})
        for (int j : *list) {
          const bool done = sewn[static_cast<size_t>(rows_.all[static_cast<size_t>(j)].section)];
          const double next = c + (done ? 4 : 1);
          if (next >= cost[static_cast<size_t>(j)]) continue;
          cost[static_cast<size_t>(j)] = next;
          by[static_cast<size_t>(j)] = i;
          open.emplace(next, j);
        }
    }
    std::vector<int> way;
    if (to != from && by[static_cast<size_t>(to)] < 0) return way;
    for (int i = to; i >= 0; i = i == from ? -1 : by[static_cast<size_t>(i)]) way.push_back(i);
    std::reverse(way.begin(), way.end());
    return way;
  }

  /// A line with few corners through the intervals.
  std::vector<Point> line(const std::vector<int>& way, Point from, Point to) const {
    std::vector<Point> out{from};
    size_t at = 0;
    while (at + 1 < way.size()) {
      size_t reach = at + 1;
      for (size_t step = 1; at + step < way.size(); step *= 2)
        if (straight(way, at, at + step, out.back(), target(way, at + step, to, out.back())))
          reach = at + step;
        else
          break;
      if (straight(way, at, way.size() - 1, out.back(), to)) reach = way.size() - 1;
      out.push_back(target(way, reach, to, out.back()));
      at = reach;
    }
    if (distance(out.back(), to) > 0) out.push_back(to);
    return out;
  }

 private:
  const Interval& interval(const std::vector<int>& way, size_t i) const {
    return rows_.all[static_cast<size_t>(way[i])];
  }

  Point target(const std::vector<int>& way, size_t i, Point to, Point from) const {
    if (i + 1 == way.size()) return to;
    const Interval& here = interval(way, i);
    const Interval& next = interval(way, i + 1);
    double left = std::max(here.left, next.left), right = std::min(here.right, next.right);
    const double margin = std::min(0.3, (right - left) / 3);
    return {std::clamp(from.x, left + margin, std::max(left + margin, right - margin)),
            rows_.y(here.row)};
  }

  bool straight(const std::vector<int>& way, size_t first, size_t last, Point a, Point b) const {
    if (std::abs(b.y - a.y) < kSame_mm) return last <= first + 1;
    for (size_t i = first; i <= last; ++i) {
      const Interval& it = interval(way, i);
      const double t = (rows_.y(it.row) - a.y) / (b.y - a.y);
      const double x = a.x + t * (b.x - a.x);
      if (t < -0.5 || t > 1.5 || x < it.left - 0.05 || x > it.right + 0.05) return false;
    }
    return true;
  }

  const Rows& rows_;
};

/// Where a section can begin: its first or last row, left or right end.
struct Entry {
  int section = -1;
  bool fromTop = true, fromLeft = true;
  Point at;
};

class Filler {
 public:
  Filler(const Area& level, const FillOptions& options)
      : options_(options), rows_(level, options.row_spacing_mm, options.pull_mm), ways_(rows_) {}

  std::vector<Strand> run(Point start) {
    std::vector<Strand> strands;
    std::vector<bool> sewn(rows_.sections.size());
    Point at = start;
    int here = -1;  // interval that the needle is in
    for (size_t n = 0; n < rows_.sections.size(); ++n) {
      const Entry entry = nearest(sewn, at);
      const int first = intervalOf(entry);
      if (here < 0 || !travel(strands.back(), here, first, entry.at, sewn)) strands.emplace_back();
      here = sewSection(strands.back(), entry);
      sewn[static_cast<size_t>(entry.section)] = true;
      at = strands.back().exit();
    }
    return strands;
  }

 private:
  int intervalOf(const Entry& e) const {
    const auto& list = rows_.sections[static_cast<size_t>(e.section)];
    return e.fromTop ? list.front() : list.back();
  }

  Entry nearest(const std::vector<bool>& sewn, Point at) const {
    Entry best;
    double least = INFINITY;
    for (size_t s = 0; s < sewn.size(); ++s) {
      if (sewn[s]) continue;
      for (bool top : {true, false})
        for (bool left : {true, false}) {
          Entry e{static_cast<int>(s), top, left, {}};
          const Interval& it = rows_.all[static_cast<size_t>(intervalOf(e))];
          e.at = {left ? it.left : it.right, rows_.y(it.row)};
          if (const double d = distance(at, e.at); d < least) least = d, best = e;
        }
    }
    return best;
  }

  bool travel(Strand& strand, int from, int to, Point target, const std::vector<bool>& sewn) const {
    const std::vector<int> way = ways_.find(from, to, sewn);
    if (way.empty()) return distance(strand.exit(), target) <= kLeastRow_mm;
    double onSewn = 0;
    for (int i : way)
      onSewn += sewn[static_cast<size_t>(rows_.all[static_cast<size_t>(i)].section)]
                    ? options_.row_spacing_mm
                    : 0;
    const std::vector<Point> line = ways_.line(way, strand.exit(), target);
    if (polylineLength(line) > options_.longest_travel_mm || onSewn > options_.over_sewn_mm)
      return false;
    for (size_t i = 1; i < line.size(); ++i)
      runAlong(strand, std::span(line).subspan(i - 1, 2), 2.5,
               options_.kind == Kind::Fill ? Kind::Underlay : options_.kind);
    return true;
  }

  /// Sews the rows to and fro; gives the interval it ends in.
  int sewSection(Strand& strand, const Entry& entry) const {
    std::vector<int> list = rows_.sections[static_cast<size_t>(entry.section)];
    if (!entry.fromTop) std::reverse(list.begin(), list.end());
    bool toRight = entry.fromLeft;
    for (int i : list) {
      addRow(strand, rows_.all[static_cast<size_t>(i)], toRight);
      toRight = !toRight;
    }
    return list.back();
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
    const int order = (row * 3) % std::max(1, options_.bricks);  // not a neighbour's place
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
  Rows rows_;
  Ways ways_;
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
