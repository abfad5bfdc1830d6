#include "clip.h"

#include <algorithm>

#include "strand.h"
#include "ties.h"

namespace rt {
namespace {

constexpr double kAlongTheCut_mm = 1.0;  // a link this short lies at the edge and does not show

/// The part [t0, t1] of a segment inside all half planes; empty where t0 > t1.
std::pair<double, double> inside(Point a, Point b, std::span<const HalfPlane> planes) {
  double t0 = 0, t1 = 1;
  for (const HalfPlane& plane : planes) {
    const double da = plane.depth_mm(a), db = plane.depth_mm(b);
    if (da < 0 && db < 0) return {1, 0};
    if (da < 0) t0 = std::max(t0, da / (da - db));
    if (db < 0) t1 = std::min(t1, da / (da - db));
  }
  return {t0, t1};
}

class Clipper {
 public:
  explicit Clipper(std::span<const HalfPlane> planes) : planes_(planes) {}

  void take(Point a, Point b, Kind kind) {
    const auto [t0, t1] = inside(a, b, planes_);
    if (t0 > t1) return;
    begin(mix(a, b, t0), kind);
    strands_.back().add(mix(a, b, t1), kind);
  }
  void cut() { open_ = false; }
  std::vector<Strand> take() { return std::move(strands_); }

 private:
  /// Goes on from where the last part ended, or starts a strand.
  void begin(Point p, Kind kind) {
    if (open_ && !strands_.empty() && distance(strands_.back().exit(), p) <= kAlongTheCut_mm) {
      if (distance(strands_.back().exit(), p) > kSame_mm) strands_.back().add(p, kind);
      return;
    }
    strands_.emplace_back();
    strands_.back().add(p, kind);
    open_ = true;
  }

  std::span<const HalfPlane> planes_;
  std::vector<Strand> strands_;
  bool open_ = false;
};

}  // namespace

Pattern clipped(const Pattern& pattern, std::span<const HalfPlane> planes) {
  Pattern out;
  const double tie_mm = tieLengthOf(pattern);
  const TieRule ties{tie_mm, std::min(tie_mm, TieRule{}.end_mm)};
  for (const Block& block : blocksOf(pattern)) {
    Clipper clipper(planes);
    Point last = block.entry;
    bool moved = false;
    for (size_t row = block.first; row < block.last; ++row) {
      const Stitch& s = pattern.stitches[row];
      if (s.op == Op::Jump) {
        last = s.at;
        moved = true;
        continue;
      }
      if (s.op != Op::Stitch) continue;
      if (moved) clipper.cut();
      moved = false;
      // ties stand at ends that are no longer ends
      if (s.kind != Kind::Tie) clipper.take(last, s.at, s.kind);
      last = s.at;
    }
    const std::vector<Strand> strands = clipper.take();
    appendStrands(out, strands, {pattern.threads[block.thread], pattern.pieces[block.piece], ties});
  }
  return out;
}

}  // namespace rt
