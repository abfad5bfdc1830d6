#include "plain_grid.h"

#include <algorithm>
#include <set>

namespace rt {

PlainGrid plainGrid(const Pattern& pattern, const std::vector<Block>& blocks,
                    const std::vector<Motif>& motifs, const std::vector<Hoop>& hoops) {
  const Hoop& largest =
      *std::max_element(hoops.begin(), hoops.end(), [](const Hoop& a, const Hoop& b) {
        return a.field.width_mm * a.field.height_mm < b.field.width_mm * b.field.height_mm;
      });
  const double w = largest.field.width_mm, h = largest.field.height_mm;
  const Box bounds = threadBounds(pattern);
  PlainGrid grid;
  if (bounds.empty()) return grid;
  grid.columns = std::max(1, static_cast<int>(std::ceil((bounds.width() - kSame_mm) / w)));
  grid.rows = std::max(1, static_cast<int>(std::ceil((bounds.height() - kSame_mm) / h)));
  const Point corner = bounds.centre() - Point{grid.columns * w / 2, grid.rows * h / 2};
  std::vector<int> motifOf(blocks.size(), -1);
  for (size_t m = 0; m < motifs.size(); ++m)
    for (size_t b : motifs[m].blocks) motifOf[b] = static_cast<int>(m);
  std::vector<int> motifOfRow(pattern.stitches.size(), -1);
  for (size_t b = 0; b < blocks.size(); ++b)
    std::fill(motifOfRow.begin() + static_cast<long>(blocks[b].first),
              motifOfRow.begin() + static_cast<long>(blocks[b].last), motifOf[b]);
  std::vector<std::set<int>> cells(motifs.size());
  std::set<int> used;
  forEachSegment(pattern, [&](Point a, Point b, size_t row) {
    if (motifOfRow[row] < 0) return;
    // every place where the stitch crosses a grid line parts it; each part lies in one field
    std::vector<double> at{0, 1};
    const auto crossings = [&](double from, double to, double origin, double size) {
      const double low = (std::min(from, to) - origin) / size,
                   high = (std::max(from, to) - origin) / size;
      for (int k = static_cast<int>(std::ceil(low)); k <= static_cast<int>(std::floor(high)); ++k)
        if (from != to)
          at.push_back(std::clamp((origin + k * size - from) / (to - from), 0.0, 1.0));
    };
    crossings(a.x, b.x, corner.x, w);
    crossings(a.y, b.y, corner.y, h);
    std::sort(at.begin(), at.end());
    for (size_t i = 1; i < at.size(); ++i) {
      if (at[i] - at[i - 1] < 1e-9 && distance(a, b) > 0) continue;
      const Point m = mix(a, b, (at[i] + at[i - 1]) / 2) - corner;
      const int column = std::clamp(static_cast<int>(std::floor(m.x / w)), 0, grid.columns - 1);
      const int line = std::clamp(static_cast<int>(std::floor(m.y / h)), 0, grid.rows - 1);
      cells[static_cast<size_t>(motifOfRow[row])].insert(line * grid.columns + column);
      used.insert(line * grid.columns + column);
    }
  });
  grid.hoopings = static_cast<int>(used.size());
  for (const auto& c : cells) grid.crossings += c.size() > 1;
  return grid;
}

}  // namespace rt
