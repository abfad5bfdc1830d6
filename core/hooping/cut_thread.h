// Where the thread of a block that no field holds whole goes from one field to the next. Part of
// the planner; not for other rooms.
#pragma once

#include <span>
#include <unordered_map>

#include "seam_path.h"

namespace rt {

/// What is sewn where two fields or more reach: for each small cell, which layers with their place
/// in the sewing order. A layer is named by its first row, so that layers compare as they are sewn.
class SewnLayers {
 public:
  void add(Point a, Point b, size_t layer, int place);
  struct Range {
    int soonest = 0, latest = 1 << 20;
  };
  /// Places in the sewing order at which thread of `layer` may lie here: not before what lies
  /// under it, not after what lies over it.
  Range range(Point a, Point b, size_t layer) const;

 private:
  struct Entry {
    size_t layer;
    int place;
  };
  template <class Use>
  static void eachCell(Point a, Point b, Use&& use);
  std::unordered_map<int64_t, std::vector<Entry>> cells_;
};

/// One stitch of a block that is cut.
struct Link {
  size_t row = 0;
  Point from, to;
  std::vector<int> holders;  ///< Fields that hold it whole.
  Kind kind = Kind::Unknown;
};

/// The field of each link of one layer: the least sum of changes of field, of stitches on the wrong
/// side of the seam and of stitches out of order, by dynamic programming along the thread.
/// `order[f]` is the place of field f in the sewing order.
std::vector<int> partLinks(std::span<const Link> links, const SeamPaths& paths,
                           const SewnLayers& layers, const std::vector<int>& order);

}  // namespace rt
