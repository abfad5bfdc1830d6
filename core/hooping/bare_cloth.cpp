#include "bare_cloth.h"

#include <algorithm>

#include "polygon.h"

namespace rt {
namespace {

constexpr double kMostBareCells = 4e6;
constexpr float kFar = 1e12F;

/// Squared distance to the nearest blocked cell along one line (lower envelope of parabolas,
/// Felzenszwalb and Huttenlocher 2012).
void transform(float* line, int n, int stride, std::vector<float>& f, std::vector<int>& v,
               std::vector<float>& z) {
  f.resize(static_cast<size_t>(n)), v.resize(static_cast<size_t>(n)),
      z.resize(static_cast<size_t>(n) + 1);
  for (int q = 0; q < n; ++q) f[static_cast<size_t>(q)] = line[static_cast<long>(q) * stride];
  int k = 0;
  v[0] = 0, z[0] = -INFINITY, z[1] = INFINITY;
  const auto meet = [&](int q, int p) {
    return ((f[static_cast<size_t>(q)] + static_cast<float>(q) * static_cast<float>(q)) -
            (f[static_cast<size_t>(p)] + static_cast<float>(p) * static_cast<float>(p))) /
           static_cast<float>(2 * (q - p));
  };
  for (int q = 1; q < n; ++q) {
    float s = meet(q, v[static_cast<size_t>(k)]);
    while (k > 0 && s <= z[static_cast<size_t>(k)]) s = meet(q, v[static_cast<size_t>(--k)]);
    if (s <= z[static_cast<size_t>(k)]) {  // only for the first parabola
      v[0] = q, z[0] = -INFINITY, z[1] = INFINITY, k = 0;
      continue;
    }
    v[static_cast<size_t>(++k)] = q;
    z[static_cast<size_t>(k)] = s, z[static_cast<size_t>(k) + 1] = INFINITY;
  }
  k = 0;
  for (int q = 0; q < n; ++q) {
    while (z[static_cast<size_t>(k) + 1] < static_cast<float>(q)) ++k;
    const auto d = static_cast<float>(q - v[static_cast<size_t>(k)]);
    line[static_cast<long>(q) * stride] = d * d + f[static_cast<size_t>(v[static_cast<size_t>(k)])];
  }
}

}  // namespace

BareCloth::BareCloth(const Pattern& pattern, std::span<const KeepOut> keep_out, const Box& area)
    : area_(area) {
  cell_ = std::max(0.5, std::sqrt(area.width() * area.height() / kMostBareCells));
  columns_ = static_cast<int>(std::ceil(area.width() / cell_)) + 1;
  rows_ = static_cast<int>(std::ceil(area.height() / cell_)) + 1;
  away_.assign(static_cast<size_t>(columns_) * static_cast<size_t>(rows_), kFar);
  NeedleWalk walk;
  for (const Stitch& s : pattern.stitches) {
    const NeedleWalk::Step step = walk.next(s);
    if (s.op != Op::Stitch) continue;
    const Point a = step.sewn ? step.from : s.at;
    const int parts = static_cast<int>(distance(a, s.at) / cell_) + 1;
    for (int k = 0; k <= parts; ++k) block(mix(a, s.at, static_cast<double>(k) / parts));
  }
  for (const KeepOut& zone : keep_out) {
    const Box b = boundsOf(zone.polygon).intersection(area);
    for (double y = b.top; y <= b.bottom + cell_; y += cell_)
      for (double x = b.left; x <= b.right + cell_; x += cell_)
        if (contains(zone.polygon, Point{x, y})) block({x, y});
    for (size_t i = 0; i < zone.polygon.size(); ++i) {
      const Point p = zone.polygon[i], q = zone.polygon[(i + 1) % zone.polygon.size()];
      const int parts = static_cast<int>(std::min(1e5, distance(p, q) / cell_)) + 1;
      for (int k = 0; k <= parts; ++k) block(mix(p, q, static_cast<double>(k) / parts));
    }
  }
  measure();
}

void BareCloth::block(Point p) {
  if (!area_.contains(p)) return;
  const auto x = static_cast<size_t>((p.x - area_.left) / cell_ + 0.5);
  const auto y = static_cast<size_t>((p.y - area_.top) / cell_ + 0.5);
  away_[std::min(y, static_cast<size_t>(rows_) - 1) * static_cast<size_t>(columns_) +
        std::min(x, static_cast<size_t>(columns_) - 1)] = 0;
}

void BareCloth::measure() {
  std::vector<float> f, z;
  std::vector<int> v;
  for (int x = 0; x < columns_; ++x) transform(away_.data() + x, rows_, columns_, f, v, z);
  for (int y = 0; y < rows_; ++y)
    transform(away_.data() + static_cast<long>(y) * columns_, columns_, 1, f, v, z);
}

double BareCloth::clearance_mm(Point p) const {
  if (!area_.contains(p)) return INFINITY;
  const auto x = static_cast<size_t>((p.x - area_.left) / cell_ + 0.5);
  const auto y = static_cast<size_t>((p.y - area_.top) / cell_ + 0.5);
  const double cells = std::sqrt(static_cast<double>(
      away_[std::min(y, static_cast<size_t>(rows_) - 1) * static_cast<size_t>(columns_) +
            std::min(x, static_cast<size_t>(columns_) - 1)]));
  return std::max(0.0, (cells - 0.75) * cell_);
}

}  // namespace rt
