#include "layers.h"

#include <algorithm>

namespace rt {
namespace {

/// Length of the part of a segment that lies in the disc around `c`.
double lengthInDisc(Point a, Point b, Point c, double radius) {
  const Point d = b - a, f = a - c;
  const double dd = dot(d, d);
  if (dd <= 0) return 0;
  const double half = dot(f, d) / dd, rest = half * half - (dot(f, f) - radius * radius) / dd;
  if (rest <= 0) return 0;
  const double root = std::sqrt(rest);
  const double t0 = std::clamp(-half - root, 0.0, 1.0), t1 = std::clamp(-half + root, 0.0, 1.0);
  return (t1 - t0) * std::sqrt(dd);
}

}  // namespace

Layers::Layers(const Pattern& pattern) : pattern_(pattern), blocks_(blocksOf(pattern)) {}

std::vector<size_t> Layers::at(Point p) const {
  std::vector<size_t> out;
  const double least = kCovered_mm_per_mm2 * kPi * kDisc_mm * kDisc_mm;
  for (size_t i = 0; i < blocks_.size(); ++i)
    if (blocks_[i].bounds.grown(kDisc_mm).contains(p) && threadAt(blocks_[i], p) >= least)
      out.push_back(i);
  return out;
}

double Layers::threadAt(const Block& block, Point p) const {
  double sum = 0;
  Point last = block.entry;
  for (size_t row = block.first; row < block.last; ++row) {
    const Stitch& s = pattern_.stitches[row];
    const Point from = last;
    last = s.at;
    if (s.op != Op::Stitch || s.kind == Kind::Underlay || s.kind == Kind::Tie) continue;
    if (std::max(from.x, s.at.x) < p.x - kDisc_mm || std::min(from.x, s.at.x) > p.x + kDisc_mm)
      continue;
    sum += lengthInDisc(from, s.at, p, kDisc_mm);
  }
  return sum;
}

}  // namespace rt
