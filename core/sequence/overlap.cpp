#include "overlap.h"

#include <algorithm>
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
  explicit Grid(size_t blocks) : later_(blocks) {}
  /// Tests a segment against those of earlier blocks, notes new overlaps, and keeps it. Blocks come
  /// in their order.
  void add(const Piece& piece) {
    const double reach = kThreadWidth_mm / 2;
    const int left = cell(std::min(piece.a.x, piece.b.x) - reach);
    const int right = cell(std::max(piece.a.x, piece.b.x) + reach);
    const int top = cell(std::min(piece.a.y, piece.b.y) - reach);
    const int bottom = cell(std::max(piece.a.y, piece.b.y) + reach);
    for (int y = top; y <= bottom; ++y)
      for (int x = left; x <= right; ++x) {
        if (!crosses(piece, x, y)) continue;
        auto& here = cells_[key(x, y)];
        for (auto& [block, list] : here) {
          std::vector<int>& over = later_[static_cast<size_t>(block)];
          if (block == piece.block || (!over.empty() && over.back() == piece.block)) continue;
          if (meets(piece, list)) over.push_back(piece.block);
        }
        if (here.empty() || here.back().first != piece.block) here.push_back({piece.block, {}});
        here.back().second.push_back(piece);
      }
  }

  std::vector<std::pair<int, int>> pairs() const {
    std::vector<std::pair<int, int>> out;
    for (size_t b = 0; b < later_.size(); ++b)
      for (int over : later_[b]) out.emplace_back(static_cast<int>(b), over);
    return out;
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
    const double left = std::min(piece.a.x, piece.b.x), right = std::max(piece.a.x, piece.b.x);
    const double top = std::min(piece.a.y, piece.b.y), bottom = std::max(piece.a.y, piece.b.y);
    return std::any_of(list.begin(), list.end(), [&](const Piece& other) {
      if (std::max(other.a.x, other.b.x) < left - kThreadWidth_mm ||
          std::min(other.a.x, other.b.x) > right + kThreadWidth_mm ||
          std::max(other.a.y, other.b.y) < top - kThreadWidth_mm ||
          std::min(other.a.y, other.b.y) > bottom + kThreadWidth_mm)
        return false;
      return segmentDistance(piece.a, piece.b, other.a, other.b) < kThreadWidth_mm;
    });
  }

  std::unordered_map<int64_t, std::vector<std::pair<int, std::vector<Piece>>>> cells_;
  std::vector<std::vector<int>> later_;  // per block: those that lie on it, in their order
};

}  // namespace

std::vector<std::pair<int, int>> overlappingBlocks(const Pattern& pattern,
                                                   const std::vector<Block>& blocks) {
  std::vector<int> blockOfRow(pattern.stitches.size(), -1);
  for (size_t b = 0; b < blocks.size(); ++b)
    std::fill(blockOfRow.begin() + static_cast<long>(blocks[b].first),
              blockOfRow.begin() + static_cast<long>(blocks[b].last), static_cast<int>(b));
  Grid grid(blocks.size());
  forEachSegment(pattern, [&](Point a, Point b, size_t row) {
    if (blockOfRow[row] >= 0) grid.add({blockOfRow[row], a, b});
  });
  return grid.pairs();
}

}  // namespace rt
