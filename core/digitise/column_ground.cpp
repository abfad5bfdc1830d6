#include "column_ground.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>
#include <queue>

namespace rt {
namespace {

constexpr double kCell_mm = 0.2, kMostCells = 1e6;
constexpr double kBeside_mm = 0.12;  // of a thread's middle is covered too
constexpr double kStep_mm = 0.2;
constexpr double kAcross = 0.2;   // sine of 12 degrees: rungs fan, and the eye is strict from 25
constexpr double kLength = 0.05;  // of two ways as little seen the shorter
constexpr double kSearch_mm = 0.5;
constexpr double kMostNodes = 6000;
constexpr int kNever = std::numeric_limits<int>::max();

/// Moves of a search: to the sides, across corners and like a knight.
constexpr std::array<std::array<int, 2>, 16> kMoves{{{1, 0},
                                                     {0, 1},
                                                     {-1, 0},
                                                     {0, -1},
                                                     {1, 1},
                                                     {-1, 1},
                                                     {-1, -1},
                                                     {1, -1},
                                                     {2, 1},
                                                     {1, 2},
                                                     {-1, 2},
                                                     {-2, 1},
                                                     {-2, -1},
                                                     {-1, -2},
                                                     {1, -2},
                                                     {2, -1}}};

}  // namespace

ColumnGround::ColumnGround(const Box& bounds, size_t columns)
    : cell_(kCell_mm), finished_(columns, kNever) {
  if (bounds.empty()) return;
  const Box box = bounds.grown(kCell_mm);
  cell_ = std::max(kCell_mm, std::sqrt(box.width() * box.height() / kMostCells));
  origin_ = box.corner(0);
  columns_ = static_cast<int>(box.width() / cell_) + 1;
  rows_ = static_cast<int>(box.height() / cell_) + 1;
  cells_.resize(static_cast<size_t>(columns_) * static_cast<size_t>(rows_));
}

std::optional<size_t> ColumnGround::cellAt(Point p) const {
  const Point c = (p - origin_) * (1 / cell_);
  if (!(c.x >= 0 && c.y >= 0 && c.x < columns_ && c.y < rows_)) return std::nullopt;
  return static_cast<size_t>(c.y) * static_cast<size_t>(columns_) + static_cast<size_t>(c.x);
}

void ColumnGround::add(size_t column, std::span<const Point> satin) {
  for (size_t i = 1; i < satin.size(); ++i) {
    const Point way = satin[i] - satin[i - 1];
    const Cover cover{static_cast<int>(column), static_cast<float>(std::atan2(way.y, way.x))};
    const Point side = unit(quarterTurn(way)) * kBeside_mm;
    for (Point beside : {Point{}, side * -1, side}) markAlong(satin[i - 1] + beside, way, cover);
  }
}

void ColumnGround::markAlong(Point from, Point way, Cover cover) {
  const int parts =
      std::max(1, static_cast<int>(std::ceil(std::hypot(way.x, way.y) / (0.6 * kCell_mm))));
  // in cells: this is done for every 0.12 mm of every stitch
  const Point start = (from - origin_) * (1 / cell_), step = way * (1 / (parts * cell_));
  size_t last = cells_.size();
  for (int k = 0; k <= parts; ++k) {
    const Point at = start + step * k;
    if (!(at.x >= 0 && at.y >= 0 && at.x < columns_ && at.y < rows_)) continue;
    const size_t cell =
        static_cast<size_t>(at.y) * static_cast<size_t>(columns_) + static_cast<size_t>(at.x);
    if (cell == last) continue;
    last = cell;
    for (Cover& c : cells_[cell])
      if (c.column < 0 || c.column == cover.column) {
        c = cover;
        break;
      }
  }
}

bool ColumnGround::covers(Point p) const {
  const std::optional<size_t> cell = cellAt(p);
  return cell && cells_[*cell].front().column >= 0;
}

void ColumnGround::startOver() {
  std::fill(finished_.begin(), finished_.end(), kNever);
}

ColumnGround::Seen ColumnGround::at(Point p, int now) const {
  const std::optional<size_t> cell = cellAt(p);
  if (!cell) return {};
  Seen out;
  int last = -1;
  for (const Cover& c : cells_[*cell]) {
    if (c.column < 0) break;
    const int step = finished_[static_cast<size_t>(c.column)];
    if (step >= now) return {State::Hidden, 0};
    if (step > last) last = step, out = {State::Finished, c.angle};
  }
  return out;
}

bool ColumnGround::isSeen(Point p, Point ahead, int now) const {
  const Seen seen = at(p, now);
  if (seen.state != State::Finished) return seen.state == State::Bare;
  return std::abs(std::cos(seen.angle) * ahead.y - std::sin(seen.angle) * ahead.x) > kAcross;
}

double ColumnGround::seen_mm(Point a, Point b, int now) const {
  const double length = distance(a, b);
  const int parts = std::max(1, static_cast<int>(length / kStep_mm));
  const Point ahead = unit(b - a);
  int count = 0;
  for (int k = 0; k < parts; ++k) count += isSeen(mix(a, b, (k + 0.5) / parts), ahead, now);
  return length * count / parts;
}

double ColumnGround::seen_mm(std::span<const Point> line, int now) const {
  double sum = 0;
  for (size_t i = 1; i < line.size(); ++i) sum += seen_mm(line[i - 1], line[i], now);
  return sum;
}

double ColumnGround::cost_mm(std::span<const Point> line, int now) const {
  return seen_mm(line, now) + kLength * polylineLength(line);
}

namespace {

/// Squares about two places, over which the cheapest way is looked for (Dijkstra 1959).
class WaySearch {
 public:
  WaySearch(Point a, Point b, double round_mm) {
    Box box;
    box.add(a);
    box.add(b);
    box = box.grown(round_mm);
    step_ = std::max(kSearch_mm, std::sqrt(box.width() * box.height() / kMostNodes));
    wide_ = static_cast<int>(box.width() / step_) + 1;
    high_ = static_cast<int>(box.height() / step_) + 1;
    origin_ = box.corner(0);
    from_ = near(a);
    to_ = near(b);
  }

  /// Places between the two ends.
  std::vector<Point> run(const std::function<double(Point, Point)>& cost) {
    cheapest_.assign(static_cast<size_t>(wide_) * static_cast<size_t>(high_), INFINITY);
    before_.assign(cheapest_.size(), -1);
    offer(from_, 0, -1);
    while (!open_.empty() && open_.top().second != to_) {
      const auto [sum, node] = open_.top();
      open_.pop();
      if (sum > cheapest_[static_cast<size_t>(node)]) continue;
      for (const auto& [dx, dy] : kMoves) {
        const int x = node % wide_ + dx, y = node / wide_ + dy;
        if (x < 0 || y < 0 || x >= wide_ || y >= high_) continue;
        const int next = y * wide_ + x;
        offer(next, sum + cost(place(node), place(next)), node);
      }
    }
    std::vector<Point> out;
    for (int n = before_[static_cast<size_t>(to_)]; n >= 0 && n != from_;
         n = before_[static_cast<size_t>(n)])
      out.push_back(place(n));
    std::reverse(out.begin(), out.end());
    return out;
  }

 private:
  Point place(int node) const {
    return origin_ + Point{(node % wide_) * step_, (node / wide_) * step_};
  }
  int near(Point p) const {
    const int x = static_cast<int>(std::lround((p.x - origin_.x) / step_)),
              y = static_cast<int>(std::lround((p.y - origin_.y) / step_));
    return std::clamp(y, 0, high_ - 1) * wide_ + std::clamp(x, 0, wide_ - 1);
  }
  void offer(int node, double cost, int before) {
    if (cost >= cheapest_[static_cast<size_t>(node)]) return;
    cheapest_[static_cast<size_t>(node)] = cost;
    before_[static_cast<size_t>(node)] = before;
    open_.emplace(cost, node);
  }

  using Open = std::pair<double, int>;
  Point origin_;
  double step_;
  int wide_, high_, from_, to_;
  std::vector<double> cheapest_;  // by node
  std::vector<int> before_;
  std::priority_queue<Open, std::vector<Open>, std::greater<>> open_;
};

}  // namespace

std::vector<Point> ColumnGround::leastSeen(Point a, Point b, int now, double round_mm) const {
  auto cost = [&](Point p, Point q) { return cost_mm(std::array{p, q}, now); };
  std::vector<Point> line = WaySearch(a, b, round_mm).run(cost);
  line.insert(line.begin(), a);
  line.push_back(b);
  // straight where that is no worse
  std::vector<double> sums{0};
  for (size_t i = 1; i < line.size(); ++i) sums.push_back(sums.back() + cost(line[i - 1], line[i]));
  std::vector<Point> out{a};
  for (size_t i = 0; i + 1 < line.size();) {
    size_t j = line.size() - 1;
    while (j > i + 1 && cost(line[i], line[j]) > sums[j] - sums[i] + 1e-9) --j;
    out.push_back(line[j]);
    i = j;
  }
  return out;
}

}  // namespace rt
