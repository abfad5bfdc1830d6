#include "column_ground.h"

#include <algorithm>
#include <cmath>
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
constexpr size_t kMostNodes = 6000;
constexpr int kNever = std::numeric_limits<int>::max();

/// Moves of a search: to the sides, across corners and like a knight.
constexpr std::array<std::array<int, 2>, 16> kMoves{
    {{1, 0}, {0, 1}, {-1, 0}, {0, -1}, {1, 1}, {-1, 1}, {-1, -1}, {1, -1},
     {2, 1}, {1, 2}, {-1, 2}, {-2, 1}, {-2, -1}, {-1, -2}, {1, -2}, {2, -1}}};

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

const ColumnGround::Cell* ColumnGround::cellAt(Point p) const {
  const Point c = (p - origin_) * (1 / cell_);
  if (c.x < 0 || c.y < 0 || c.x >= columns_ || c.y >= rows_) return nullptr;
  return &cells_[static_cast<size_t>(c.y) * static_cast<size_t>(columns_) +
                 static_cast<size_t>(c.x)];
}

void ColumnGround::add(size_t column, std::span<const Point> satin) {
  for (size_t i = 1; i < satin.size(); ++i) {
    const Point way = satin[i] - satin[i - 1];
    const double length = std::hypot(way.x, way.y);
    const auto angle = static_cast<float>(std::atan2(way.y, way.x));
    const Point side = unit(quarterTurn(way)) * kBeside_mm;
    const int parts = std::max(1, static_cast<int>(std::ceil(length / (0.6 * kCell_mm))));
    for (int k = 0; k <= parts; ++k) {
      const Point p = satin[i - 1] + way * (static_cast<double>(k) / parts);
      for (Point at : {p, p - side, p + side}) mark(at, {static_cast<int>(column), angle});
    }
  }
}

void ColumnGround::mark(Point p, Cover cover) {
  Cell* cell = const_cast<Cell*>(cellAt(p));
  if (!cell) return;
  for (Cover& c : *cell)
    if (c.column < 0 || c.column == cover.column) {
      c = cover;
      return;
    }
}

bool ColumnGround::covers(Point p) const {
  const Cell* cell = cellAt(p);
  return cell && cell->front().column >= 0;
}

void ColumnGround::startOver() { std::fill(finished_.begin(), finished_.end(), kNever); }

ColumnGround::Seen ColumnGround::at(Point p, int now) const {
  const Cell* cell = cellAt(p);
  if (!cell) return {};
  Seen out;
  int last = -1;
  for (const Cover& c : *cell) {
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

std::vector<Point> ColumnGround::leastSeen(Point a, Point b, int now, double round_mm) const {
  Box box;
  box.add(a);
  box.add(b);
  box = box.grown(round_mm);
  const double step =
      std::max(kSearch_mm, std::sqrt(box.width() * box.height() / static_cast<double>(kMostNodes)));
  const int wide = static_cast<int>(box.width() / step) + 1,
            high = static_cast<int>(box.height() / step) + 1;
  const Point origin = box.corner(0);
  auto place = [&](int x, int y) { return origin + Point{x * step, y * step}; };
  auto near = [&](Point p) {
    const int x = static_cast<int>(std::lround((p.x - origin.x) / step)),
              y = static_cast<int>(std::lround((p.y - origin.y) / step));
    return std::clamp(y, 0, high - 1) * wide + std::clamp(x, 0, wide - 1);
  };
  auto cost = [&](Point p, Point q) { return seen_mm(p, q, now) + kLength * distance(p, q); };
  const int from = near(a), to = near(b);
  std::vector<double> best(static_cast<size_t>(wide) * static_cast<size_t>(high), INFINITY);
  std::vector<int> back(best.size(), -1);
  using Open = std::pair<double, int>;
  std::priority_queue<Open, std::vector<Open>, std::greater<>> open;
  open.emplace(best[static_cast<size_t>(from)] = 0, from);
  while (!open.empty() && open.top().second != to) {
    const auto [sum, node] = open.top();
    open.pop();
    if (sum > best[static_cast<size_t>(node)]) continue;
    const int x = node % wide, y = node / wide;
    for (const auto& [dx, dy] : kMoves) {
      const int u = x + dx, v = y + dy;
      if (u < 0 || v < 0 || u >= wide || v >= high) continue;
      const int next = v * wide + u;
      const double there = sum + cost(place(x, y), place(u, v));
      if (there >= best[static_cast<size_t>(next)]) continue;
      best[static_cast<size_t>(next)] = there;
      back[static_cast<size_t>(next)] = node;
      open.emplace(there, next);
    }
  }
  std::vector<Point> line{b};
  for (int n = back[static_cast<size_t>(to)]; n >= 0 && n != from; n = back[static_cast<size_t>(n)])
    line.push_back(place(n % wide, n / wide));
  line.push_back(a);
  std::reverse(line.begin(), line.end());
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
