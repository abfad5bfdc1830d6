#include "lumps.h"

#include <algorithm>
#include <array>
#include <unordered_map>

namespace rt {
namespace {

constexpr double kCell_mm = 0.25, kDisc_mm = 1.0, kSample_mm = 0.2;
constexpr double kStep_mm = 0.3;       // by which an end stands back at a time
constexpr double kThread_mm = 0.2;     // to either side of its middle a thread covers
constexpr double kKeptLap_mm = 0.25;   // others cover so far inside the end that is left
constexpr double kReach_mm = 1.3;      // ends farther from the lump's middle do not thin it
constexpr double kLeastPart = 0.5;     // of a rung is left, …
constexpr double kLeastLeft_mm = 1.0;  // … and this
constexpr double kSquare_mm = 1.0;

class LumpEvener {
 public:
  LumpEvener(const std::vector<Rung*>& rungs, const LumpRule& rule) : rungs_(rungs), rule_(rule) {
    Box box;
    for (const Rung* r : rungs) box.add(r->left), box.add(r->right);
    if (box.empty()) return;
    box = box.grown(kDisc_mm + kCell_mm);
    origin_ = box.corner(0);
    columns_ = static_cast<int>(box.width() / kCell_mm) + 1;
    rows_ = static_cast<int>(box.height() / kCell_mm) + 1;
    laid_.assign(static_cast<size_t>(columns_) * static_cast<size_t>(rows_), 0);
    for (const Rung* r : rungs) lay(r->left, r->right, 1);
    const int reach = static_cast<int>(kDisc_mm / kCell_mm);
    for (int y = -reach; y <= reach; ++y)
      for (int x = -reach; x <= reach; ++x)
        if (std::hypot(x, y) * kCell_mm <= kDisc_mm) disc_.push_back(y * columns_ + x);
    cellArea_mm2_ = static_cast<double>(disc_.size()) * kCell_mm * kCell_mm;
  }

  void run() {
    std::vector<std::pair<double, size_t>> heavy;
    const size_t edge =
        static_cast<size_t>(kDisc_mm / kCell_mm) * (static_cast<size_t>(columns_) + 1);
    for (size_t i = edge; i + edge < laid_.size(); ++i)
      if (laid_[i] > 0)
        if (const double d = densityAt(i); d > rule_.most_mm_per_mm2) heavy.emplace_back(-d, i);
    if (heavy.empty()) return;
    list();
    std::sort(heavy.begin(), heavy.end());
    for (const auto& [_, cell] : heavy) thin(cell);
  }

 private:
  using Square = std::pair<int, int>;

  size_t cellAt(Point p) const {
    const Point c = (p - origin_) * (1 / kCell_mm);
    return static_cast<size_t>(c.y) * static_cast<size_t>(columns_) + static_cast<size_t>(c.x);
  }
  Point middleOf(size_t cell) const {
    const size_t wide = static_cast<size_t>(columns_);
    return origin_ + Point{(static_cast<double>(cell % wide) + 0.5) * kCell_mm,
                           (static_cast<double>(cell / wide) + 0.5) * kCell_mm};
  }

  void lay(Point a, Point b, double sign) {
    const double length = distance(a, b);
    const int parts = std::max(1, static_cast<int>(std::lround(length / kSample_mm)));
    for (int k = 0; k < parts; ++k)
      laid_[cellAt(mix(a, b, (k + 0.5) / parts))] += static_cast<float>(sign * length / parts);
  }

  double densityAt(size_t cell) const {
    double sum = 0;
    for (int by : disc_) sum += laid_[static_cast<size_t>(static_cast<long>(cell) + by)];
    return sum / cellArea_mm2_;
  }

  // --- which rungs lie where

  static int keyOf(int x, int y) { return x * 65536 + y; }
  void list() {
    for (size_t i = 0; i < rungs_.size(); ++i) {
      const Rung& r = *rungs_[i];
      lengths_.push_back(r.width_mm());
      const int parts = static_cast<int>(r.width_mm() / (kSquare_mm / 2)) + 1;
      int last = 0;
      for (int k = 0; k <= parts; ++k) {
        const int key = squareOf(mix(r.left, r.right, static_cast<double>(k) / parts));
        if (k > 0 && key == last) continue;
        near_[key].push_back(static_cast<int>(i));
        last = key;
      }
    }
  }
  int squareOf(Point p) const {
    return keyOf(static_cast<int>((p.x - origin_.x) / kSquare_mm),
                 static_cast<int>((p.y - origin_.y) / kSquare_mm));
  }
  /// Rungs that come within a square's side of a place, each once.
  const std::vector<int>& about(Point p) {
    const int x = static_cast<int>((p.x - origin_.x) / kSquare_mm),
              y = static_cast<int>((p.y - origin_.y) / kSquare_mm);
    std::vector<int>& found = about_[keyOf(x, y)];
    if (!found.empty()) return found;
    for (int j = -1; j <= 1; ++j)
      for (int i = -1; i <= 1; ++i)
        if (const auto at = near_.find(keyOf(x + i, y + j)); at != near_.end())
          found.insert(found.end(), at->second.begin(), at->second.end());
    std::sort(found.begin(), found.end());
    found.erase(std::unique(found.begin(), found.end()), found.end());
    return found;
  }

  // --- standing back

  void thin(size_t cell) {
    const Point at = middleOf(cell);
    bool better = true;
    while (better && densityAt(cell) > rule_.most_mm_per_mm2) {
      better = false;
      for (int turn : {0, 1})  // every second rung first
        for (int i : about(at)) {
          if (i % 2 != turn) continue;
          for (bool left : {true, false})
            better = standBack(static_cast<size_t>(i), left, at) || better;
          if (densityAt(cell) <= rule_.most_mm_per_mm2) return;
        }
    }
  }

  /// One step, if the end is near the lump and nothing is bared.
  bool standBack(size_t i, bool left, Point lump) {
    Rung& r = *rungs_[i];
    Point& end = left ? r.left : r.right;
    const double now = r.width_mm();
    if (distance(end, lump) > kReach_mm ||
        now - kStep_mm < std::max(kLeastLeft_mm, kLeastPart * lengths_[i]))
      return false;
    const Point way = unit((left ? r.right : r.left) - end);
    const Point side = quarterTurn(way) * (kThread_mm * 0.75);
    for (double mm = 0; mm <= kStep_mm + kKeptLap_mm + 1e-9; mm += kThread_mm / 2)
      for (Point beside : {Point{}, side, side * -1})
        if (!covered(end + way * mm + beside, i)) return false;
    const Point next = end + way * kStep_mm;
    lay(end, next, -1);
    end = next;
    return true;
  }

  bool covered(Point p, size_t but) {
    for (int j : about(p))
      if (static_cast<size_t>(j) != but &&
          pointSegmentDistance(p, rungs_[static_cast<size_t>(j)]->left,
                               rungs_[static_cast<size_t>(j)]->right) <= kThread_mm)
        return true;
    return false;
  }

  const std::vector<Rung*>& rungs_;
  LumpRule rule_;
  Point origin_;
  int columns_ = 0, rows_ = 0;
  std::vector<float> laid_;  // mm of thread, cell by cell
  std::vector<int> disc_;    // cells of a disc, as steps
  double cellArea_mm2_ = 1;
  std::vector<double> lengths_;  // of the rungs as they came
  std::unordered_map<int, std::vector<int>> near_, about_;
};

}  // namespace

void evenLumps(const std::vector<Rung*>& rungs, const LumpRule& rule) {
  if (rungs.empty()) return;
  LumpEvener(rungs, rule).run();
}

}  // namespace rt
