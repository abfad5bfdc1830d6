#include "strand.h"

#include <algorithm>

#include "ties.h"

namespace rt {
namespace {

double rounded(double mm) {
  const double r = std::round(mm * 100) / 100;
  return r == 0 ? 0 : r;  // no -0
}

Point rounded(Point p) {
  return {rounded(p.x), rounded(p.y)};
}

/// Appends one finished strand's rows.
class Sewer {
 public:
  Sewer(Pattern& pattern, const ThreadUse& use)
      : pattern_(pattern),
        ties_(use.ties),
        thread_(pattern.threadIndex(use.colour)),
        piece_(pattern.pieceIndex(use.piece)) {
    for (const Stitch& s : pattern.stitches) block_ = std::max(block_, s.block);
  }

  /// A strand of two points or more.
  void sew(const Strand& strand) {
    const bool near = sewing_ && distance(last_, strand.entry()) <= kLongestLooseMove_mm;
    if (!near) {
      cut();
      block_ += 1;
      row(strand.entry(), Op::Jump, Kind::Unknown);
      tieIn([this](Point p) { tieRow(p); }, strand.entry(), strand.points[1], ties_.start_mm);
    } else if (distance(last_, strand.entry()) > 0) {
      row(strand.entry(), Op::Jump, Kind::Unknown);
      row(strand.entry(), Op::Stitch, Kind::Tie);
    }
    for (size_t i = 1; i < strand.points.size(); ++i)
      row(strand.points[i], Op::Stitch, strand.kinds[i]);
    before_ = strand.points[strand.points.size() - 2];
    last_ = strand.exit();
    sewing_ = true;
  }

  void cut() {
    if (sewing_) {
      const Point tie = endTie();
      tieOff([this](Point p) { tieRow(p); }, last_, last_ + tie, std::hypot(tie.x, tie.y));
      row(last_, Op::Trim, Kind::Unknown);
    }
    sewing_ = false;
  }

 private:
  /// How the end is tied: along the thread that lies there, so that the tie is not seen on it; a
  /// shorter one where a thin column has no room.
  Point endTie() const {
    constexpr size_t kLookBack = 60, kWays = 14;
    constexpr double kShort = 0.6, kUnseen_mm = 0.05;
    std::vector<std::pair<Point, Point>> laid;
    const auto& rows = pattern_.stitches;
    for (size_t i = rows.size(); i > 1 && laid.size() < kLookBack; --i) {
      if (rows[i - 1].op != Op::Stitch || rows[i - 1].block != block_) break;
      if (distance(rows[i - 2].at, rows[i - 1].at) > kSame_mm)
        laid.emplace_back(rows[i - 2].at, rows[i - 1].at);
    }
    Point best = unit(before_ - last_) * ties_.end_mm;
    double least = seen(best, laid);
    for (double length : {ties_.end_mm, kShort * ties_.end_mm}) {
      if (least < kUnseen_mm) break;
      for (size_t i = 0; i < std::min(kWays, laid.size()); ++i)
        for (double side : {1.0, -1.0}) {
          const Point tie = unit(laid[i].second - laid[i].first) * (side * length);
          if (const double s = seen(tie, laid); s < least - 1e-6) least = s, best = tie;
        }
    }
    return best;
  }

  /// How much of a tie crosses thread, or lies on bare cloth, mm.
  double seen(Point tie, const std::vector<std::pair<Point, Point>>& laid) const {
    constexpr double kReach_mm = 0.22, kOn_mm = 0.12;
    constexpr double kCrossing = 0.4;  // sine of about 24 degrees
    constexpr double kBare = 2;        // on bare cloth it is seen more than across its own thread
    const double length = std::hypot(tie.x, tie.y);
    const Point way = unit(tie);
    double sum = 0;
    for (double mm = 0.1; mm <= length + 1e-9; mm += 0.1) {
      const Point at = last_ + way * mm;
      bool on = false, crossed = false;
      for (const auto& [a, b] : laid) {
        const double away = pointSegmentDistance(at, a, b);
        on = on || away < kOn_mm;
        crossed = crossed || (away < kReach_mm && std::abs(cross(unit(b - a), way)) > kCrossing);
      }
      sum += !on ? kBare * 0.1 : crossed ? 0.1 : 0;
    }
    return sum;
  }

  void tieRow(Point at) { row(rounded(at), Op::Stitch, Kind::Tie); }

  void row(Point at, Op op, Kind kind) {
    pattern_.stitches.push_back({at, block_, thread_, piece_, op, kind});
  }

  Pattern& pattern_;
  TieRule ties_;
  uint16_t thread_, piece_;
  uint32_t block_ = 0;
  bool sewing_ = false;
  Point last_, before_;
};

}  // namespace

void Strand::add(Point p, Kind kind) {
  points.push_back(p);
  kinds.push_back(kind);
}

void Strand::add(const Strand& tail) {
  points.insert(points.end(), tail.points.begin(), tail.points.end());
  kinds.insert(kinds.end(), tail.kinds.begin(), tail.kinds.end());
}

void runAlong(Strand& strand, std::span<const Point> line, double step_mm, Kind kind) {
  const std::vector<Point> points = resample(line, step_mm);
  for (size_t i = 0; i < points.size(); ++i)
    if (i > 0 || strand.empty() || distance(strand.exit(), points[0]) > kSame_mm)
      strand.add(points[i], kind);
}

namespace {

/// Do even stitches along the line stay near it?
bool evenStitchesFit(std::span<const Point> line, const std::vector<Point>& even, double stray_mm) {
  const std::vector<Point> fine = resample(line, 0.3);
  const double total = polylineLength(line);
  for (size_t i = 1; i + 1 < fine.size(); ++i) {
    const double at = total * static_cast<double>(i) / static_cast<double>(fine.size() - 1);
    const auto k = std::min(static_cast<size_t>(at / total * static_cast<double>(even.size() - 1)),
                            even.size() - 2);
    if (pointSegmentDistance(fine[i], even[k], even[k + 1]) > stray_mm) return false;
  }
  return true;
}

}  // namespace

void runWithin(Strand& strand, std::span<const Point> line, double step_mm, double stray_mm,
               Kind kind) {
  if (line.empty()) return;
  const std::vector<Point> even = resample(line, step_mm);
  if (even.size() < 2 || evenStitchesFit(line, even, stray_mm)) {
    for (size_t i = 0; i < even.size(); ++i)
      if (i > 0 || strand.empty() || distance(strand.exit(), even[0]) > kSame_mm)
        strand.add(even[i], kind);
    return;
  }
  const std::vector<Point> fine = resample(line, std::min(step_mm, 0.3));
  if (strand.empty() || distance(strand.exit(), fine[0]) > kSame_mm) strand.add(fine[0], kind);
  size_t last = 0;
  double along = 0;
  for (size_t i = 1; i < fine.size(); ++i) {  // as long as a stitch stays near the line
    along += distance(fine[i - 1], fine[i]);
    const bool end = i + 1 == fine.size();
    bool strays = end || along + distance(fine[i], fine[i + 1]) > step_mm + kSame_mm;
    for (size_t k = last + 1; k <= i && !strays; ++k)
      strays = pointSegmentDistance(fine[k], fine[last], fine[i + 1]) > stray_mm;
    if (!strays || (!end && along < kShortestStitch_mm)) continue;
    strand.add(fine[i], kind);
    last = i;
    along = 0;
  }
}

Strand tidied(const Strand& strand, double longest_mm, double shortest_mm) {
  Strand out;
  for (size_t i = 0; i < strand.points.size(); ++i) {
    const Point p = rounded(strand.points[i]);
    const bool last = i + 1 == strand.points.size();
    if (!out.empty() && distance(out.exit(), p) < shortest_mm) {
      if (!last || out.points.size() < 2) continue;
      // the end stays: what came just before it goes
      while (out.points.size() > 1 && distance(out.exit(), p) < shortest_mm) {
        out.points.pop_back();
        out.kinds.pop_back();
      }
      if (distance(out.exit(), p) < shortest_mm) continue;
    }
    if (!out.empty()) {
      const Point from = out.exit();
      const int parts = static_cast<int>(std::ceil(distance(from, p) / longest_mm - 1e-9));
      for (int k = 1; k < parts; ++k)
        out.add(rounded(mix(from, p, static_cast<double>(k) / parts)), strand.kinds[i]);
    }
    out.add(p, strand.kinds[i]);
  }
  return out;
}

void appendStrands(Pattern& pattern, std::span<const Strand> strands, const ThreadUse& use) {
  while (!pattern.stitches.empty() && pattern.stitches.back().op == Op::End)
    pattern.stitches.pop_back();
  Sewer sewer(pattern, use);
  for (const Strand& strand : strands) {
    const Strand ready = tidied(strand, kLongestStitch_mm - 0.1);
    if (ready.points.size() >= 2) sewer.sew(ready);
  }
  sewer.cut();
}

}  // namespace rt
