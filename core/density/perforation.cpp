#include "perforation.h"

#include <algorithm>
#include <map>
#include <set>

namespace rt {
namespace {

constexpr double kSameHole_mm = 0.08;
constexpr double kOffLine_mm = 0.12;  // a hole beside the line by more is not of it
constexpr double kSector_deg = 15;    // a hole belongs to one line in each sector of directions

/// Needle holes by square.
class Holes {
 public:
  Holes(const Pattern& pattern, double reach_mm) : reach_(reach_mm) {
    for (const Stitch& s : pattern.stitches)
      if (s.op == Op::Stitch && near(s.at, kSameHole_mm).empty()) {
        squares_[squareOf(s.at)].push_back(static_cast<int>(at.size()));
        at.push_back(s.at);
        edge.push_back(s.kind == Kind::Satin || s.kind == Kind::Fill);
      }
  }
  std::vector<Point> at;
  std::vector<bool> edge;  // of satin or a fill, by hole

  std::vector<int> near(Point p, double within_mm) const {
    std::vector<int> out;
    const auto [cx, cy] = squareOf(p);
    for (int y = cy - 1; y <= cy + 1; ++y)
      for (int x = cx - 1; x <= cx + 1; ++x)
        if (const auto found = squares_.find({x, y}); found != squares_.end())
          for (int i : found->second)
            if (distance(at[static_cast<size_t>(i)], p) <= within_mm) out.push_back(i);
    return out;
  }

 private:
  std::pair<int, int> squareOf(Point p) const {
    return {static_cast<int>(std::floor(p.x / reach_)), static_cast<int>(std::floor(p.y / reach_))};
  }
  double reach_;
  std::map<std::pair<int, int>, std::vector<int>> squares_;
};

class LineFinder {
 public:
  LineFinder(const Pattern& pattern, const PerforationLimit& limit)
      : limit_(limit), holes_(pattern, limit.hole_distance_mm) {}

  std::vector<HoleLine> run() {
    std::vector<HoleLine> lines;
    for (int i = 0; i < static_cast<int>(holes_.at.size()); ++i)
      for (int j : holes_.near(at(i), limit_.hole_distance_mm)) {
        if (i == j || !tears(i, j) || taken_.count({i, sector(at(j) - at(i))})) continue;
        const HoleLine line = through(i, j);
        if (line.length_mm >= limit_.length_mm.check) lines.push_back(line);
      }
    std::stable_sort(lines.begin(), lines.end(), [](const HoleLine& a, const HoleLine& b) {
      return a.length_mm > b.length_mm;
    });
    return lines;
  }

 private:
  Point at(int i) const { return holes_.at[static_cast<size_t>(i)]; }

  /// Are two holes so near that what is between them tears?
  bool tears(int i, int j) const {
    const bool edge = holes_.edge[static_cast<size_t>(i)] && holes_.edge[static_cast<size_t>(j)];
    return distance(at(i), at(j)) <= (edge ? limit_.edge_distance_mm : limit_.hole_distance_mm);
  }

  static int sector(Point d) {
    const double angle = degrees(std::atan2(d.y, d.x));
    return static_cast<int>(std::floor((angle < 0 ? angle + 180 : angle) / kSector_deg)) % 12;
  }

  /// The line through two neighbours, both ways as far as it goes.
  HoleLine through(int i, int j) {
    std::vector<int> line{i, j};
    grow(line);
    std::reverse(line.begin(), line.end());
    grow(line);
    const int s = sector(at(line.back()) - at(line.front()));
    for (int k : line) taken_.insert({k, s});
    taken_.insert({i, sector(at(j) - at(i))});
    return {at(line.front()), at(line.back()), line.size(),
            distance(at(line.front()), at(line.back()))};
  }

  void grow(std::vector<int>& line) const {
    while (true) {
      const Point last = at(line.back()), first = at(line.front());
      const Point way = unit(last - first);
      int best = -1;
      double least = limit_.hole_distance_mm;
      for (int k : holes_.near(last, limit_.hole_distance_mm)) {
        const Point d = at(k) - last;
        const double along = dot(d, way);
        if (along <= kSameHole_mm || !tears(line.back(), k) ||
            std::abs(cross(way, at(k) - first)) > kOffLine_mm)
          continue;
        if (along < least) least = along, best = k;
      }
      if (best < 0) return;
      line.push_back(best);
    }
  }

  PerforationLimit limit_;
  Holes holes_;
  std::set<std::pair<int, int>> taken_;  // hole, sector
};

}  // namespace

std::vector<HoleLine> holeLines(const Pattern& pattern, const PerforationLimit& limit) {
  return LineFinder(pattern, limit).run();
}

}  // namespace rt
