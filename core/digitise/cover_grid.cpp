#include "cover_grid.h"

#include <algorithm>

namespace rt {
namespace {

constexpr double kMostCells = 4e6;
constexpr int kMostColumns = 65000;  // the ones beyond count as one

}  // namespace

CoverGrid::CoverGrid(const Box& bounds, double closed_mm)
    : origin_(bounds.corner(0)), closed_(closed_mm) {
  const double wide = bounds.width() / kCell_mm + 2, high = bounds.height() / kCell_mm + 2;
  const bool fits = wide * high <= kMostCells;  // else nothing is known to be covered
  columns_ = fits ? static_cast<int>(wide) : 0;
  rows_ = fits ? static_cast<int>(high) : 0;
  cells_.assign(static_cast<size_t>(columns_) * static_cast<size_t>(rows_), 0);
}

bool CoverGrid::within(Point cells) const {
  return cells.x >= 0 && cells.y >= 0 && cells.x < columns_ && cells.y < rows_;
}

size_t CoverGrid::cellAt(Point cells) const {
  return static_cast<size_t>(cells.y) * static_cast<size_t>(columns_) +
         static_cast<size_t>(cells.x);
}

bool CoverGrid::has(Point p) const {
  const Point at = (p - origin_) * (1 / kCell_mm);
  return within(at) && cells_[cellAt(at)] != 0;
}

void CoverGrid::markAlong(const Rung& rung, uint16_t mark) {
  const int parts = std::max(1, static_cast<int>(std::ceil(rung.width_mm() / (0.6 * kCell_mm))));
  // in cells: this is done for every 0.09 mm of every rung
  const Point step = (rung.right - rung.left) * (1 / (parts * kCell_mm));
  Point at = (rung.left - origin_) * (1 / kCell_mm);
  for (int k = 0; k <= parts; ++k, at = at + step)
    if (within(at))
      if (uint16_t& cell = cells_[cellAt(at)]; cell == 0) cell = mark;
}

void CoverGrid::add(const std::vector<Rung>& rungs, int column) {
  const auto mark = static_cast<uint16_t>(std::min(column, kMostColumns) + 1);
  for (size_t i = 0; i < rungs.size(); ++i) {
    markAlong(rungs[i], mark);
    if (i == 0) continue;
    const Rung &a = rungs[i - 1], &b = rungs[i];
    if (std::min({distance(a.middle(), b.middle()), distance(a.left, b.left),
                  distance(a.right, b.right)}) > closed_)
      continue;
    const double apart = std::max(distance(a.left, b.left), distance(a.right, b.right));
    const int parts = static_cast<int>(std::ceil(apart / (0.6 * kCell_mm)));
    for (int k = 1; k < parts; ++k) {
      const double t = static_cast<double>(k) / parts;
      markAlong({mix(a.left, b.left, t), mix(a.right, b.right, t)}, mark);
    }
  }
}

std::optional<Rung> CoverGrid::left(const Rung& rung, double lap_mm,
                                    const std::vector<int>& mates) const {
  const Point along = unit(rung.right - rung.left) * lap_mm, across = quarterTurn(along);
  auto covered = [&](Point p) {
    const Point at = (p - origin_) * (1 / kCell_mm);
    if (!within(at)) return false;
    const int column = static_cast<int>(cells_[cellAt(at)]) - 1;
    return column >= 0 && std::find(mates.begin(), mates.end(), column) == mates.end();
  };
  const BareStretch bare = bareStretch(rung, covered);
  if (!bare.rung) return std::nullopt;
  return withLaps(*bare.rung, rung, kReachMost * lap_mm, [&](Point p) {
    return covered(p) && covered(p + along) && covered(p - along) && covered(p + across) &&
           covered(p - across);
  });
}

}  // namespace rt
