// How a layout is parted and where its marks may lie: shop practice. The figures live in
// data/practice.json; what stands here is what ships.
#pragma once

namespace rt {

/// Where a cut runs.
struct CutRule {
  double path_edge_mm = 6;        ///< From the sides of a wide strip: cloth may lie crooked.
  double room_mm = 3;             ///< From a field's edge, where another field holds it as well.
  double beside_mm = 10;          ///< Farther from a line that was asked for a cut is not along it.
  double underlay_beyond_mm = 2;  ///< Underlay is parted so far from its cover's cut.
  friend bool operator==(const CutRule&, const CutRule&) = default;
};

struct HoopingRule {
  CutRule cut;
  double least_interlock_mm = 1;  ///< Thread that both sides of a cut sew: a stitch or two.
  /// From sewing to a field's edge where it can be: a turn of 2° takes 6 mm at 170 mm from the
  /// middle.
  double edge_room_mm = 10;
  double little_room_mm = 2;   ///< From sewing to a field's edge: less is doubted.
  double meet_mm = 3;          ///< Thread of two settings this near to one another meets.
  double mark_room_mm = 3;     ///< From a mark's arms to thread, to a zone, to the edge.
  double marks_apart_mm = 25;  ///< Two marks nearer to one another hold no angle.
  friend bool operator==(const HoopingRule&, const HoopingRule&) = default;
};

}  // namespace rt
