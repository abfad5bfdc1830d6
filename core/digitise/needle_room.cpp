#include "needle_room.h"

#include <algorithm>
#include <unordered_map>

namespace rt {
namespace {

constexpr double kMostBack_mm = 0.9, kMostBack = 0.4;  // of a stitch
constexpr double kSameHole_mm = 0.06;
constexpr double kBackStep_mm = 0.05;
constexpr double kWriting_mm = 0.03;    // what writing to 0.01 mm may add
constexpr double kStray_mm = 0.2;       // of a line that loses a point
constexpr double kSeenStray_mm = 0.06;  // the same where the line is seen
constexpr double kLongestRun_mm = 3.0;  // that may arise so

/// Points laid so far, in squares as wide as the room that each wants.
class Pierced {
 public:
  explicit Pierced(double room_mm) : room_(room_mm) {}

  void add(Point p) { squares_[key(square(p.x), square(p.y))].push_back(p); }

  /// Distance to the nearest point, the room at most.
  double nearest_mm(Point p) const {
    double least = room_;
    const int x = square(p.x), y = square(p.y);
    for (int row = y - 1; row <= y + 1; ++row)
      for (int column = x - 1; column <= x + 1; ++column)
        if (const auto found = squares_.find(key(column, row)); found != squares_.end())
          for (Point q : found->second) least = std::min(least, distance(p, q));
    return least;
  }
  bool hasRoom(Point p) const { return nearest_mm(p) >= room_; }

 private:
  int square(double mm) const { return static_cast<int>(std::floor(mm / room_)); }
  static uint64_t key(int x, int y) {
    return static_cast<uint64_t>(static_cast<uint32_t>(x)) << 32 | static_cast<uint32_t>(y);
  }
  double room_;
  std::unordered_map<uint64_t, std::vector<Point>> squares_;
};

class Spreader {
 public:
  Spreader(const Strand& strand, double room_mm)
      : strand_(strand), room_(room_mm), pierced_(room_mm) {}

  Strand run() {
    for (size_t i = 0; i < strand_.points.size(); ++i) place(i);
    return std::move(out_);
  }

 private:
  void place(size_t i) {
    const Point p = strand_.points[i];
    const bool end = i == 0 || i + 1 == strand_.points.size();
    if (end || pierced_.hasRoom(p) || distance(out_.exit(), p) < room_) return lay(p, i);
    if (strand_.kinds[i] == Kind::Satin) {
      // where two stretches of a column meet, the later one's last stitch uses the hole that is
      // there
      const bool meets =
          pierced_.nearest_mm(p) < kSameHole_mm && strand_.kinds[i + 1] != Kind::Satin;
      return lay(meets ? p : stoodBack(p, strand_.points[i + 1]), i);
    }
    if (!canGo(i)) lay(slid(p, strand_.points[i + 1]), i);
  }

  void lay(Point p, size_t i) {
    out_.add(p, strand_.kinds[i]);
    pierced_.add(p);
  }

  Point stoodBack(Point p, Point next) const {
    const Point from = out_.exit(), way = unit(from - p);
    return roomiest(p, way, std::min(kMostBack_mm, kMostBack * distance(from, p)), next);
  }

  /// Is the line the same without the point?
  bool canGo(size_t i) const {
    const Point from = out_.exit(), next = strand_.points[i + 1];
    return strand_.kinds[i + 1] == strand_.kinds[i] && distance(from, next) <= kLongestRun_mm &&
           pointSegmentDistance(strand_.points[i], from, next) <=
               (strand_.kinds[i] == Kind::Run ? kSeenStray_mm : kStray_mm);
  }

  Point slid(Point p, Point next) const {
    const Point way = unit(p - out_.exit());
    return roomiest(p, way * -1, std::min(2 * room_, 0.4 * distance(out_.exit(), p)), next);
  }

  /// The first place with room along `way`, else the one with the most; the stitch to `next` stays
  /// within what satin is split at.
  Point roomiest(Point p, Point way, double most_mm, Point next) const {
    const double longest = std::max(distance(p, next), kSplitSatinOver_mm - kWriting_mm);
    // a stitch that gets too short would be left out
    most_mm = std::min(most_mm, distance(out_.exit(), p) - kShortestStitch_mm - kWriting_mm);
    Point best = p;
    double widest = pierced_.nearest_mm(p);
    for (double mm = kBackStep_mm; mm <= most_mm && widest < room_; mm += kBackStep_mm) {
      const Point at = p + way * mm;
      if (distance(at, next) > longest) break;
      if (const double d = pierced_.nearest_mm(at); d > widest) widest = d, best = at;
    }
    return best;
  }

  const Strand& strand_;
  double room_;
  Pierced pierced_;
  Strand out_;
};

}  // namespace

Strand spreadOut(const Strand& strand, double room_mm) {
  return Spreader(strand, room_mm).run();
}

}  // namespace rt
