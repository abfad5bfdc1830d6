// Columns that meet: sewn in one go, every travel hidden under satin that follows.
#pragma once

#include "satin.h"

namespace rt {

/// A satin column between two joints.
struct ColumnEdge {
  int from = 0, to = 0;     ///< Joint indices; equal for a ring.
  std::vector<Point> line;  ///< Centre line, from joint to joint.
  double reach_from_mm = 0,
         reach_to_mm = 0;  ///< How far the satin goes past each joint (below 0: short of it).
  /// Columns of varying width bring their own needle points, from joint to joint: the satin, and
  /// the way out under it. Both empty: satin of the sewing's one width.
  std::vector<Point> satin, under;
  /// The same begun at the other side.
  std::vector<Point> mirrored, under_mirrored;
  double width_mm = 0;                    ///< Mean width of such a column; 0: the sewing's.
  bool owns_from = true, owns_to = true;  ///< Its satin covers that joint's ground.
  bool narrow = false;  ///< Too narrow for satin: `under` and `satin` are two runs side by side.
  int chain = -1;       ///< Columns that go on in one another have one number; -1: not told.
  double along_mm = 0;  ///< From the chain's beginning to this column's.
};

/// Joints and the columns between them.
struct ColumnGraph {
  std::vector<Point> joints;
  std::vector<ColumnEdge> edges;
  std::vector<int> owners;  ///< By joint: the chain that covers its ground; may be short.
};

struct ColumnSewing {
  double width_mm = 1.2;
  double least_column_mm = 1.0;  ///< Narrower columns become a double run.
  double run_step_mm = 2.0;      ///< Of the centre run under the satin.
  SatinOptions satin;
};

/// Lines (open or closed) cut where they cross, touch or turn sharply, and joined into columns that
/// go straight through joints where they can. `snap_mm` joins ends that nearly meet. Columns reach
/// past free ends by `cap_mm` (half the width gives square caps). At a joint one column owns the
/// place: the one that goes through, else the first, which reaches past it by half of `width_mm`;
/// the others end where their farther side has entered it by `lap_mm`, and leave out of every rung
/// what lies deeper in it (stroke_laps.h), so that no gap opens and no lump grows.
ColumnGraph columnGraph(const std::vector<std::vector<Point>>& lines, double snap_mm, double cap_mm,
                        double width_mm, double lap_mm = ColumnRule{}.stroke_lap_mm);

/// Sews each connected part as one strand. What lies beside the shortest way from entry to exit is
/// sewn in passing: out along a column's centre, all beyond it, satin on the way back. The way's
/// own columns are run along out and back, then covered in one sweep; what ends at a joint comes
/// before what owns it. So no travel is seen, bare or on finished satin. The strand starts at the
/// joint nearest `entry` and ends at the joint nearest `exit` (of that part). Parts come in order
/// of nearest next entry.
std::vector<Strand> sewColumns(const ColumnGraph& graph, const ColumnSewing& how, Point entry,
                               Point exit);

}  // namespace rt
