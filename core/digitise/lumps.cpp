#include "lumps.h"

#include <algorithm>
#include <unordered_map>

namespace rt {
namespace {

constexpr double kLumpCell_mm = 0.25, kLumpDisc_mm = 1.0, kThreadStep_mm = 0.2;
constexpr double kBack_mm = 0.3;  // by which a needle point stands back at a time
// To either side of its middle a thread covers: for certain among threads of one column, whose ends
// come together, and as it lies on the ground of another.
constexpr double kThread_mm = 0.13, kOtherThread_mm = 0.19;
constexpr double kPointsNear_mm = 0.25;  // another needle point keeps the edge where it is
constexpr double kOutside_mm = 0.15;     // of an end: covered too, where it lies in other ground
constexpr double kKeptLap_mm = 0.25;     // others cover so far inside the end that is left
constexpr double kNearLump_mm = 1.3;     // ends farther from the lump's middle do not thin it
constexpr double kLeastPart = 0.5;       // of a stitch's height is left, …
constexpr double kLeastLeft_mm = 1.0;    // … and this
constexpr double kLumpSquare_mm = 1.0;

class LumpEvener {
 public:
  LumpEvener(std::vector<ColumnEdge>& edges, const LumpRule& rule) : rule_(rule) {
    for (size_t e = 0; e < edges.size(); ++e) {
      if (edges[e].narrow || edges[e].width_mm <= 0) continue;
      ways_.push_back({&edges[e].satin, static_cast<int>(e), 0});
      ways_.push_back({&edges[e].mirrored, static_cast<int>(e), 1});
    }
    Box box;
    for (const Way& way : ways_) box.add(boundsOf(*way.points));
    if (box.empty()) return;
    box = box.grown(kLumpDisc_mm + kLumpCell_mm);
    origin_ = box.corner(0);
    columns_ = static_cast<int>(box.width() / kLumpCell_mm) + 1;
    rows_ = static_cast<int>(box.height() / kLumpCell_mm) + 1;
    laid_.assign(static_cast<size_t>(columns_) * static_cast<size_t>(rows_), 0);
    for (const Way& way : ways_)
      for (size_t k = 1; k < way.points->size(); ++k)
        lay((*way.points)[k - 1], (*way.points)[k], 1);
    const int reach = static_cast<int>(kLumpDisc_mm / kLumpCell_mm);
    for (int y = -reach; y <= reach; ++y)
      for (int x = -reach; x <= reach; ++x)
        if (std::hypot(x, y) * kLumpCell_mm <= kLumpDisc_mm) disc_.push_back(y * columns_ + x);
    disc_mm2_ = static_cast<double>(disc_.size()) * kLumpCell_mm * kLumpCell_mm;
  }

  void run() {
    std::vector<std::pair<double, size_t>> heavy;
    const size_t edge =
        static_cast<size_t>(kLumpDisc_mm / kLumpCell_mm) * (static_cast<size_t>(columns_) + 1);
    for (size_t i = edge; i + edge < laid_.size(); ++i)
      if (laid_[i] > 0)
        if (const double d = densityAt(i); d > rule_.lump_mm_per_mm2) heavy.emplace_back(-d, i);
    if (heavy.empty()) return;
    list();
    std::sort(heavy.begin(), heavy.end());
    for (const auto& [_, cell] : heavy)
      if (densityAt(cell) > rule_.lump_mm_per_mm2) thin(cell);
  }

 private:
  /// One of the two ways to sew a column: begun at its left or at its right.
  struct Way {
    std::vector<Point>* points;
    int edge, side;
  };
  /// A needle point, and the stitch from it to the next.
  struct Needle {
    int way, k;
    double height_mm;  // of its stitches as they came
  };

  Point at(const Needle& n, int on = 0) const {
    return (*ways_[static_cast<size_t>(n.way)].points)[static_cast<size_t>(n.k + on)];
  }
  bool hasNext(const Needle& n) const {
    return static_cast<size_t>(n.k) + 1 < ways_[static_cast<size_t>(n.way)].points->size();
  }
  bool isInner(const Needle& n) const { return n.k > 0 && hasNext(n); }

  size_t cellAt(Point p) const {
    const Point c = (p - origin_) * (1 / kLumpCell_mm);
    return static_cast<size_t>(c.y) * static_cast<size_t>(columns_) + static_cast<size_t>(c.x);
  }
  Point middleOf(size_t cell) const {
    const size_t wide = static_cast<size_t>(columns_);
    return origin_ + Point{(static_cast<double>(cell % wide) + 0.5) * kLumpCell_mm,
                           (static_cast<double>(cell / wide) + 0.5) * kLumpCell_mm};
  }

  /// A column is sewn in one of its two ways: each counts half.
  void lay(Point a, Point b, double sign) {
    const double length = distance(a, b);
    const int parts = std::max(1, static_cast<int>(std::lround(length / kThreadStep_mm)));
    for (int k = 0; k < parts; ++k)
      laid_[cellAt(mix(a, b, (k + 0.5) / parts))] += static_cast<float>(sign * length / parts / 2);
  }
  double densityAt(size_t cell) const {
    double sum = 0;
    for (int by : disc_) sum += laid_[static_cast<size_t>(static_cast<long>(cell) + by)];
    return sum / disc_mm2_;
  }

  // --- which stitches lie where

  static int keyOf(int x, int y) { return x * 65536 + y; }
  std::pair<int, int> squareOf(Point p) const {
    return {static_cast<int>((p.x - origin_.x) / kLumpSquare_mm),
            static_cast<int>((p.y - origin_.y) / kLumpSquare_mm)};
  }
  void list() {
    for (size_t w = 0; w < ways_.size(); ++w) {
      const std::vector<Point>& points = *ways_[w].points;
      for (size_t k = 0; k < points.size(); ++k) {
        Needle n{static_cast<int>(w), static_cast<int>(k), 0};
        if (isInner(n)) n.height_mm = distance(points[k], mix(points[k - 1], points[k + 1], 0.5));
        note(n, static_cast<int>(needles_.size()));
        needles_.push_back(n);
      }
    }
  }
  void note(const Needle& n, int index) {
    const Point from = at(n), to = hasNext(n) ? at(n, 1) : from;
    const int parts = static_cast<int>(distance(from, to) / (kLumpSquare_mm / 2)) + 1;
    int last = -1;
    for (int k = 0; k <= parts; ++k) {
      const auto [x, y] = squareOf(mix(from, to, static_cast<double>(k) / parts));
      if (keyOf(x, y) == last) continue;
      last = keyOf(x, y);
      near_[last].push_back(index);
    }
  }
  /// Needle points whose stitches come within a square's side of a place, each once.
  const std::vector<int>& about(Point p) {
    const auto [x, y] = squareOf(p);
    std::vector<int>& found = about_[keyOf(x, y)];
    if (!found.empty()) return found;
    for (int j = -1; j <= 1; ++j)
      for (int i = -1; i <= 1; ++i)
        if (const auto square = near_.find(keyOf(x + i, y + j)); square != near_.end())
          found.insert(found.end(), square->second.begin(), square->second.end());
    std::sort(found.begin(), found.end());
    found.erase(std::unique(found.begin(), found.end()), found.end());
    return found;
  }

  // --- standing back

  void thin(size_t cell) {
    const Point middle = middleOf(cell);
    bool better = true;
    while (better && densityAt(cell) > rule_.most_mm_per_mm2) {
      better = false;
      for (int turn : {0, 1})  // every second needle point of an edge first
        for (int i : about(middle)) {
          if (needles_[static_cast<size_t>(i)].k / 2 % 2 != turn) continue;
          better = standBack(i, middle) || better;
          if (densityAt(cell) <= rule_.most_mm_per_mm2) return;
        }
    }
  }

  /// One step, if the end is near the lump and nothing is bared.
  bool standBack(int i, Point lump) {
    const Needle& n = needles_[static_cast<size_t>(i)];
    if (!isInner(n)) return false;
    const Point end = at(n), before = at(n, -1), after = at(n, 1);
    const Point foot = mix(before, after, 0.5);
    if (distance(end, lump) > kNearLump_mm ||
        distance(end, foot) - kBack_mm < std::max(kLeastLeft_mm, kLeastPart * n.height_mm))
      return false;
    const Point way = unit(foot - end);
    if (!edgeStays(end, i) && !covered(end - way * kOutside_mm, i)) return false;
    const Point side = quarterTurn(way) * (kThread_mm * 0.75);
    for (double mm = 0; mm <= kBack_mm + kKeptLap_mm + 1e-9; mm += kThread_mm / 2)
      for (Point beside : {Point{}, side, side * -1})
        if (!covered(end + way * mm + beside, i)) return false;
    move(n, end + way * kBack_mm);
    return true;
  }
  void move(const Needle& n, Point to) {
    const Point before = at(n, -1), after = at(n, 1);
    lay(before, at(n), -1);
    lay(at(n), after, -1);
    (*ways_[static_cast<size_t>(n.way)].points)[static_cast<size_t>(n.k)] = to;
    lay(before, to, 1);
    lay(to, after, 1);
  }

  bool laid(Point p, const Needle& n, double within_mm) const {
    return pointSegmentDistance(p, at(n), at(n, 1)) <= within_mm;
  }
  /// By stitches that do not end in this needle point, of its column in its own way; other columns
  /// may be sewn in either.
  bool covered(Point p, int i) {
    const Needle& own = needles_[static_cast<size_t>(i)];
    const int edge = ways_[static_cast<size_t>(own.way)].edge;
    std::array<bool, 2> other{};
    for (int j : about(p)) {
      const Needle& n = needles_[static_cast<size_t>(j)];
      if (!hasNext(n) || j == i || j + 1 == i) continue;
      const Way& way = ways_[static_cast<size_t>(n.way)];
      if (way.edge == edge) {
        if (n.way == own.way && laid(p, n, kThread_mm)) return true;
        continue;
      }
      bool& is = other[static_cast<size_t>(way.side)];
      is = is || laid(p, n, kOtherThread_mm);
      if (other[0] && other[1]) return true;
    }
    return false;
  }
  /// Another needle point of the column in the same way, so near that the edge stays.
  bool edgeStays(Point end, int i) {
    for (int j : about(end))
      if (j != i && needles_[static_cast<size_t>(j)].way == needles_[static_cast<size_t>(i)].way &&
          distance(at(needles_[static_cast<size_t>(j)]), end) <= kPointsNear_mm)
        return true;
    return false;
  }

  LumpRule rule_;
  std::vector<Way> ways_;
  std::vector<Needle> needles_;
  Point origin_;
  int columns_ = 0, rows_ = 0;
  std::vector<float> laid_;  // mm of thread, cell by cell
  std::vector<int> disc_;    // cells of a disc, as steps
  double disc_mm2_ = 1;
  std::unordered_map<int, std::vector<int>> near_, about_;
};

}  // namespace

void evenLumps(std::vector<ColumnEdge>& edges, const LumpRule& rule) {
  LumpEvener(edges, rule).run();
}

}  // namespace rt
