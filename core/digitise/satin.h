// Satin columns along a centre line.
#pragma once

#include <functional>
#include <optional>

#include "strand.h"

namespace rt {

struct SatinOptions {
  double spacing_mm = 0.40;  ///< Along the centre line, between two points on the same edge.
  double pull_mm = 0.20;     ///< Added to the width in all, half on each side.
  double split_over_mm = kSplitSatinOver_mm;  ///< Longer stitches get a point in between.
  ColumnRule rule = {};
};

/// Adds a stitch across a column, with points in between where it would be longer than
/// `split_over_mm`; their places vary with `rung` so that no line of holes shows. An empty strand
/// begins at `to`.
void addAcross(Strand& strand, Point to, int rung, double split_over_mm);

/// Zigzag over the line from its first point to its last, starting and ending at the edges.
/// `width_mm` is the finished width. The line is taken as smooth: split it at corners first. It
/// begins at the left edge, or `fromRight`.
/// `cut` gives, of a rung's middle and of its needle point, where that comes to lie; nothing: the
/// needle point is left out.
using RungCut = std::function<std::optional<Point>(Point middle, Point edge)>;
Strand satinAlong(std::span<const Point> line, double width_mm, const SatinOptions& options,
                  bool fromRight = false, const RungCut& cut = {});

/// The line made longer at both ends in its end directions, or cut shorter where below 0.
std::vector<Point> extended(std::span<const Point> line, double start_mm, double end_mm);

/// A smooth curve through the points (centripetal Catmull-Rom; Yuksel et al. 2011), about
/// `step_mm` between its points. Ends and given points are kept.
std::vector<Point> smoothed(std::span<const Point> line, double step_mm);

}  // namespace rt
