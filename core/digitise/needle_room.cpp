#include "needle_room.h"

#include <algorithm>
#include <cmath>

namespace rt {
namespace {

constexpr double kMostBack_mm = 0.5, kMostBack = 0.4;  // of a stitch
constexpr double kMostAside_mm = 0.2, kAside = 1.3;    // what it costs more than standing back
constexpr double kMostOn_mm = 0.3, kBeyond_mm = 0.2;   // within cover
constexpr double kSameHole_mm = 0.06;
constexpr double kBackStep_mm = 0.05;
constexpr double kWriting_mm = 0.03;    // what writing to 0.01 mm may add
constexpr double kStray_mm = 0.2;       // of a line that loses a point
constexpr double kSeenStray_mm = 0.06;  // the same where the line is seen
constexpr double kLongestRun_mm = 3.0;  // that may arise so

/// Points laid so far, by squares.
class Pierced {
 public:
  Pierced(const std::vector<Point>& ground, double room_mm) : room_(room_mm) {
    const Box box = boundsOf(ground).grown(1);
    const double most = 4.0 * static_cast<double>(ground.size()) + 100;
    square_ = std::max(2 * room_mm, std::sqrt(box.width() * box.height() / most));
    origin_ = box.corner(0);
    columns_ = static_cast<int>(box.width() / square_) + 1;
    rows_ = static_cast<int>(box.height() / square_) + 1;
    last_.assign(static_cast<size_t>(columns_) * static_cast<size_t>(rows_), -1);
    points_.reserve(ground.size());
  }

  void add(Point p) {
    int& last = last_[square(column(p.x), row(p.y))];
    points_.push_back({p, last});
    last = static_cast<int>(points_.size()) - 1;
  }

  /// Distance to the nearest point, the room at most.
  double nearest_mm(Point p) const {
    double least = room_ * room_;
    each(p, room_, [&](Point q) { least = std::min(least, squared(p - q)); });
    return std::sqrt(least);
  }
  bool hasRoom(Point p) const { return nearest_mm(p) >= room_; }

  /// Points within `reach_mm`.
  std::vector<Point> around(Point p, double reach_mm) const {
    std::vector<Point> out;
    each(p, reach_mm, [&](Point q) {
      if (squared(p - q) < reach_mm * reach_mm) out.push_back(q);
    });
    return out;
  }

 private:
  struct Pierce {
    Point at;
    int before;  // in the same square
  };
  static double squared(Point p) { return dot(p, p); }
  int column(double x) const {
    return std::clamp(static_cast<int>((x - origin_.x) / square_), 0, columns_ - 1);
  }
  int row(double y) const {
    return std::clamp(static_cast<int>((y - origin_.y) / square_), 0, rows_ - 1);
  }
  size_t square(int x, int y) const {
    return static_cast<size_t>(y) * static_cast<size_t>(columns_) + static_cast<size_t>(x);
  }
  template <class What>
  void each(Point p, double reach, What what) const {
    for (int y = row(p.y - reach); y <= row(p.y + reach); ++y)
      for (int x = column(p.x - reach); x <= column(p.x + reach); ++x)
        for (int i = last_[square(x, y)]; i >= 0; i = points_[static_cast<size_t>(i)].before)
          what(points_[static_cast<size_t>(i)].at);
  }

  double room_, square_;
  Point origin_;
  int columns_, rows_;
  std::vector<int> last_;
  std::vector<Pierce> points_;
};

/// Steps back along a stitch, on from it and to its sides, mm, in the order of what they cost.
std::vector<Point> stepsBack() {
  std::vector<Point> out;
  for (double back = -kMostOn_mm; back <= kMostBack_mm + 1e-9; back += kBackStep_mm)
    for (double side = -kMostAside_mm; side <= kMostAside_mm + 1e-9; side += kMostAside_mm / 2)
      out.push_back({back, side});
  std::stable_sort(out.begin(), out.end(), [](Point a, Point b) {
    return std::hypot(a.x, kAside * a.y) < std::hypot(b.x, kAside * b.y);
  });
  return out;
}

class Spreader {
 public:
  Spreader(const Strand& strand, double room_mm, const std::function<bool(Point)>& covered)
      : strand_(strand), room_(room_mm), covered_(covered), pierced_(strand.points, room_mm) {}

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
      return lay(meets ? p : moved(p, strand_.points[i + 1]), i);
    }
    if (!canGo(i)) lay(slid(p, strand_.points[i + 1]), i);
  }

  void lay(Point p, size_t i) {
    out_.add(p, strand_.kinds[i]);
    pierced_.add(p);
  }

  /// Back along its stitch, a little aside, or on where cover lies.
  Point moved(Point p, Point next) const {
    static const std::vector<Point> steps = stepsBack();
    return roomiest(p, steps, kMostBack * distance(out_.exit(), p), next);
  }

  /// Is the line the same without the point?
  bool canGo(size_t i) const {
    const Point from = out_.exit(), next = strand_.points[i + 1];
    return strand_.kinds[i + 1] == strand_.kinds[i] && distance(from, next) <= kLongestRun_mm &&
           pointSegmentDistance(strand_.points[i], from, next) <=
               (strand_.kinds[i] == Kind::Run ? kSeenStray_mm : kStray_mm);
  }

  Point slid(Point p, Point next) const {
    std::vector<Point> steps;
    for (double mm = 0; mm <= 2 * room_; mm += kBackStep_mm) steps.push_back({mm, 0});
    return roomiest(p, steps, 0.4 * distance(out_.exit(), p), next);
  }

  /// The first place with room among steps from `p`, back by `most_mm` at most, else the one with
  /// the most; the stitch to `next` stays within what satin is split at.
  Point roomiest(Point p, const std::vector<Point>& steps, double most_mm, Point next) const {
    const Point from = out_.exit(), way = unit(from - p), side = quarterTurn(way);
    const double longest = kSplitSatinOver_mm - kWriting_mm;
    const double on_mm = std::max(distance(p, next), longest),
                 here_mm = std::max(distance(from, p), longest);
    // a stitch that gets too short would be left out
    most_mm = std::min(most_mm, distance(from, p) - kShortestStitch_mm - kWriting_mm);
    const double farthest = std::max(kMostBack_mm + kMostAside_mm, 2 * room_);
    const std::vector<Point> near = pierced_.around(p, farthest + room_);
    Point best = p;
    double widest = 0;
    for (Point step : steps) {
      if (step.x > most_mm || (!covered_ && (step.x < 0 || step.y != 0))) continue;
      const Point at = p + way * step.x + side * step.y;
      double room = room_;
      for (Point q : near) room = std::min(room, distance(at, q));
      if (room <= widest || distance(at, next) > on_mm || distance(at, from) > here_mm) continue;
      if (step.x < 0 && !covered_(at - way * kBeyond_mm)) continue;
      if (step.y != 0 && !covered_(at + side * std::copysign(kBeyond_mm, step.y))) continue;
      widest = room, best = at;
      if (widest >= room_) break;
    }
    return best;
  }

  const Strand& strand_;
  double room_;
  const std::function<bool(Point)>& covered_;
  Pierced pierced_;
  Strand out_;
};

}  // namespace

Strand spreadOut(const Strand& strand, double room_mm, const std::function<bool(Point)>& covered) {
  return Spreader(strand, room_mm, covered).run();
}

}  // namespace rt
