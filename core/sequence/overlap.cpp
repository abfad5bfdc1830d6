#include "overlap.h"

#include <algorithm>
#include <set>
#include <unordered_map>

namespace rt {
namespace {

constexpr double kCell_mm = 2.0;

struct Piece {
  int block = 0;
  Point a, b;
};

class Grid {
 public:
  /// Tests a segment against those of other blocks, notes new overlaps, and keeps it.
  void add(const Piece& piece, std::set<std::pair<int, int>>& pairs) {
    const double reach = kThreadWidth_mm / 2;
    const int left = cell(std::min(piece.a.x, piece.b.x) - reach);
    const int right = cell(std::max(piece.a.x, piece.b.x) + reach);
    const int top = cell(std::min(piece.a.y, piece.b.y) - reach);
    const int bottom = cell(std::max(piece.a.y, piece.b.y) + reach);
    for (int y = top; y <= bottom; ++y)
      for (int x = left; x <= right; ++x) {
        if (!crosses(piece, x, y)) continue;
        auto& here = cells_[key(x, y)];
        for (auto& [block, list] : here)
          if (block != piece.block && !pairs.count({block, piece.block}) && meets(piece, list))
            pairs.insert({block, piece.block});
        if (here.empty() || here.back().first != piece.block) here.push_back({piece.block, {}});
        here.back().second.push_back(piece);
      }
  }

 private:
  static int cell(double mm) { return static_cast<int>(std::floor(mm / kCell_mm)); }
  static int64_t key(int x, int y) {
    return (static_cast<int64_t>(y) << 32) ^ static_cast<uint32_t>(x);
  }
  static bool crosses(const Piece& p, int x, int y) {
    const Point middle{(x + 0.5) * kCell_mm, (y + 0.5) * kCell_mm};
    return pointSegmentDistance(middle, p.a, p.b) <= kCell_mm * 0.71 + kThreadWidth_mm / 2;
  }
  static bool meets(const Piece& piece, const std::vector<Piece>& list) {
    return std::any_of(list.begin(), list.end(), [&](const Piece& other) {
      return segmentDistance(piece.a, piece.b, other.a, other.b) < kThreadWidth_mm;
    });
  }

  std::unordered_map<int64_t, std::vector<std::pair<int, std::vector<Piece>>>> cells_;
};

}  // namespace

std::vector<std::pair<int, int>> overlappingBlocks(const Pattern& pattern,
                                                   const std::vector<Block>& blocks) {
  std::vector<int> blockOfRow(pattern.stitches.size(), -1);
  for (size_t b = 0; b < blocks.size(); ++b)
    std::fill(blockOfRow.begin() + static_cast<long>(blocks[b].first),
              blockOfRow.begin() + static_cast<long>(blocks[b].last), static_cast<int>(b));
  std::set<std::pair<int, int>> pairs;
  Grid grid;
  forEachSegment(pattern, [&](Point a, Point b, size_t row) {
    if (blockOfRow[row] >= 0) grid.add({blockOfRow[row], a, b}, pairs);
  });
  return {pairs.begin(), pairs.end()};
}

}  // namespace rt
