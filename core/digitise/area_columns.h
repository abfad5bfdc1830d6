// Satin columns from the outline of strokes: letters, stems, leaves.
#pragma once

#include "column_graph.h"
#include "medial_axis.h"

namespace rt {

struct AreaColumnOptions {
  SatinOptions satin;
  /// Needle points stand this far inside the outline before pull compensation, so that thread of
  /// twice this width ends at the drawn edge, mm.
  double inset_mm = 0.10;
  double least_column_mm = 0.8;  ///< Narrower columns become two runs side by side.
  double zigzag_from_mm =
      2.3;  ///< Columns from this width get a zigzag underlay, not a centre run.
  AxisOptions axis;
};

/// Columns along the medial axis of an area, with the needle points of their satin. At a joint the
/// two branches that go straightest on are one column, which owns the place; where none goes on,
/// the widest runs through to the outline. The others end inside the owner by the rule's lap, so
/// that no gap opens. Every rung is cut exactly by the outline; it reaches no farther than the
/// stroke is wide, so that a column does not run out into its neighbours. Empty for an area without
/// an axis.
ColumnGraph areaColumns(const Area& area, const AreaColumnOptions& options);

/// Widths of an area's strokes, from its medial axis, mm.
struct StrokeWidths {
  double median_mm = 0, most_mm = 0;
  double length_mm = 0;  ///< Of the axis in all.
};
StrokeWidths strokeWidths(const MedialAxis& axis);

}  // namespace rt
