#include "causes.h"

#include <algorithm>
#include <array>
#include <set>

#include "blocks.h"
#include "density_map.h"

namespace rt {
namespace {

constexpr double kSquare_mm = 8;
constexpr int64_t kMostSquares = 64;  // longer threads are looked at every time
constexpr double kTieStitch_mm = 0.9;
constexpr size_t kTieRows = 4;
constexpr double kMostOfIt = 0.5;   // of the thread at a place
constexpr double kTieShare = 0.35;  // ties are few: this much of them is a pile

int square(double mm) {
  return static_cast<int>(std::floor(mm / kSquare_mm));
}

}  // namespace

std::string_view name(CauseKind kind) {
  constexpr std::array<std::string_view, 7> kNames{
      "close", "overlap", "thick-zone", "short-stitches", "narrow-column", "tie-pile", "other"};
  return kNames[static_cast<size_t>(kind)];
}

/// Thread at a place, shared out.
struct ThreadIndex::Share {
  double all = 0, ties = 0, shorts = 0, narrow = 0;
  std::map<std::pair<uint16_t, uint16_t>, double> pieces;
  std::set<uint32_t> covers;
};

ThreadIndex::ThreadIndex(const Pattern& pattern)
    : pattern_(pattern), block_(pattern.stitches.size(), 0), tie_(pattern.stitches.size(), false) {
  forEachSegment(pattern, [&](Point a, Point b, size_t row) {
    from_.emplace(row, a);
    const int x0 = square(std::min(a.x, b.x)), x1 = square(std::max(a.x, b.x));
    const int y0 = square(std::min(a.y, b.y)), y1 = square(std::max(a.y, b.y));
    if (static_cast<int64_t>(x1 - x0) * (y1 - y0) > kMostSquares) return long_.push_back(row);
    for (int y = y0; y <= y1; ++y)
      for (int x = x0; x <= x1; ++x) rows_[{x, y}].push_back(row);
  });
  uint32_t number = 0;
  for (const Block& b : blocksOf(pattern)) {
    ++number;
    for (size_t row = b.first; row < b.last; ++row) {
      block_[row] = number;
      const auto from = from_.find(row);
      const Kind kind = pattern.stitches[row].kind;
      const bool end = row < b.first + kTieRows || row + kTieRows >= b.last;
      tie_[row] =
          kind == Kind::Tie || (kind == Kind::Unknown && end && from != from_.end() &&
                                distance(from->second, pattern.stitches[row].at) < kTieStitch_mm);
    }
  }
}

std::vector<size_t> ThreadIndex::rowsNear(Point p) const {
  std::vector<size_t> near = long_;
  for (int y = square(p.y - kDisc_mm); y <= square(p.y + kDisc_mm); ++y)
    for (int x = square(p.x - kDisc_mm); x <= square(p.x + kDisc_mm); ++x)
      if (const auto found = rows_.find({x, y}); found != rows_.end())
        near.insert(near.end(), found->second.begin(), found->second.end());
  std::sort(near.begin(), near.end());
  near.erase(std::unique(near.begin(), near.end()), near.end());
  return near;
}

ThreadIndex::Share ThreadIndex::shareAt(Point p, double narrow_mm) const {
  Share share;
  for (size_t row : rowsNear(p)) {
    const Stitch& s = pattern_.stitches[row];
    const Point a = from_.at(row);
    if (pointSegmentDistance(p, a, s.at) >= kDisc_mm) continue;
    const double mm = std::min(distance(a, s.at), 2 * kDisc_mm);
    share.all += mm;
    share.pieces[{s.piece, s.thread}] += distance(a, s.at);
    if (tie_[row])
      share.ties += mm;
    else if (mm < kShortAtPile_mm)
      share.shorts += mm;
    if (s.kind != Kind::Underlay && !tie_[row]) share.covers.insert(block_[row]);
    // a column turns back at each needle point
    const auto before = row > 0 ? from_.find(row - 1) : from_.end();
    if (before != from_.end() && !tie_[row] && mm < narrow_mm &&
        dot(unit(a - before->second), unit(s.at - a)) < -0.5)
      share.narrow += mm;
  }
  return share;
}

Cause ThreadIndex::causeAt(Point p, double value, double limit, const Fabric& fabric,
                           const std::vector<Zone>& zones) const {
  Cause cause;
  const Share share = shareAt(p, fabric.least_column_mm);
  std::vector<std::pair<double, std::string>> most;
  for (const auto& [key, mm] : share.pieces) {
    const std::string& piece = pattern_.pieces[key.first];
    most.emplace_back(mm, piece.empty() ? pattern_.threads[key.second].hex() : piece);
  }
  std::sort(most.begin(), most.end(), std::greater<>());
  for (const auto& [mm, piece] : most)
    if (std::find(cause.pieces.begin(), cause.pieces.end(), piece) == cause.pieces.end())
      cause.pieces.push_back(piece);
  cause.covers = static_cast<int>(share.covers.size());
  if (cause.pieces.empty()) return cause;
  cause.kind = share.ties > kTieShare * share.all            ? CauseKind::TiePile
               : share.shorts > kMostOfIt * share.all        ? CauseKind::ShortStitches
               : share.narrow > kMostOfIt * share.all        ? CauseKind::NarrowColumn
               : cause.pieces.size() > 1 || cause.covers > 1 ? CauseKind::Overlap
                                                             : CauseKind::Close;
  cause.plain = cause.kind;
  cause.over_thick = limitFactorAt(zones, p) < 1;
  if (cause.over_thick && value <= limit) cause.kind = CauseKind::ThickZone;
  return cause;
}

}  // namespace rt
