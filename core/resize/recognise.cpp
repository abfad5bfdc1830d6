#include "recognise.h"

#include <algorithm>
#include <array>

namespace rt {
namespace {

constexpr double kTieStitch_mm = 0.9;
constexpr size_t kMostTies = 4;
constexpr double kReturns_mm = 0.05;  // cover never comes back to the very same hole

/// Points after the first that are only a tie-in: short stitches to and fro, then a longer one.
size_t tieLength(const std::vector<Point>& p) {
  double longest = 0;
  for (size_t k = 1; k + 1 < p.size() && k <= kMostTies; ++k) {
    const double mm = distance(p[k - 1], p[k]);
    if (mm > kTieStitch_mm) return 0;
    longest = std::max(longest, mm);
    const bool back = k >= 2 && distance(p[k], p[0]) < 0.3;
    const bool exactly = k >= 2 && distance(p[k], p[0]) < kReturns_mm;
    if (exactly || (back && distance(p[k], p[k + 1]) > 1.5 * longest)) return k;
  }
  return 0;
}

void dropTies(std::vector<Point>& p) {
  for (int end = 0; end < 2; ++end) {
    if (const size_t n = tieLength(p); n > 0)
      p.erase(p.begin() + 1, p.begin() + static_cast<long>(n) + 1);
    std::reverse(p.begin(), p.end());
  }
}

}  // namespace

Recognised recognise(std::span<const Point> points, Kind hint) {
  Recognised out;
  double most = 0;
  for (const Section& s : sectionsOf(points, hint))
    if (s.thread_mm > most) {
      most = s.thread_mm;
      out = {s.kind, s.spacing_mm, s.stitch_mm, s.angle_deg};
    }
  return out;
}

std::vector<std::vector<Point>> needlePoints(const Pattern& pattern, const Block& block) {
  std::vector<std::vector<Point>> lists{{block.entry}};
  Point landing = block.entry;
  bool moved = false;
  for (size_t row = block.first; row < block.last; ++row) {
    const Stitch& s = pattern.stitches[row];
    if (s.op == Op::Jump) {
      landing = s.at;
      moved = true;
      continue;
    }
    if (s.op != Op::Stitch) continue;
    if (moved && row > block.first && distance(landing, lists.back().back()) > kSame_mm &&
        (lists.back().size() > 1 || lists.size() > 1)) {
      lists.push_back({landing});
    }
    moved = false;
    if (s.kind != Kind::Tie && distance(s.at, lists.back().back()) > kSame_mm)
      lists.back().push_back(s.at);
  }
  for (auto& list : lists) dropTies(list);
  return lists;
}

Kind declaredKind(const Pattern& pattern, const Block& block) {
  std::array<size_t, 8> count{};
  for (size_t row = block.first; row < block.last; ++row)
    if (pattern.stitches[row].op == Op::Stitch)
      count[static_cast<size_t>(pattern.stitches[row].kind)] += 1;
  const size_t runs = count[static_cast<size_t>(Kind::Run)],
               satins = count[static_cast<size_t>(Kind::Satin)],
               fills = count[static_cast<size_t>(Kind::Fill)];
  // a column has runs under it: a block is a run only where it is nothing else
  if (satins + fills == 0) return runs > 0 ? Kind::Run : Kind::Unknown;
  return satins >= fills ? Kind::Satin : Kind::Fill;
}

Recognised recognisedBlock(const Pattern& pattern, const Block& block) {
  const Kind hint = declaredKind(pattern, block);
  Recognised out;
  size_t most = 0;
  for (const std::vector<Point>& list : needlePoints(pattern, block))
    if (list.size() > most) most = list.size(), out = recognise(list, hint);
  return out;
}

}  // namespace rt
