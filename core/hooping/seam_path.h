// Where the overlap of two fields is parted. Part of the planner; not for other rooms.
#pragma once

#include <map>

#include "asked_cut.h"
#include "blocks.h"
#include "frame.h"
#include "hooping_rule.h"

namespace rt {

/// For every two fields that overlap, the path across their strip that crosses the least thread: a
/// shortest path on a grid of crossings.
class SeamPaths {
 public:
  /// `cut[row]` says whose thread counts: that which may be cut. Where a line of `asked` passes the
  /// strip the path keeps to it.
  SeamPaths(const Pattern& pattern, const std::vector<PlacedField>& fields,
            const std::vector<bool>& cut, const CutRule& rule,
            const std::vector<AskedCut>& asked = {});
  const CutRule& rule() const { return rule_; }

  /// Which of the fields that hold a point sews it. `earlier[i]` is the place of field i in sewing
  /// order; `bias_mm` shifts the path in favour of the field that is sewn first.
  int owner(Point p, const std::vector<int>& holders, const std::vector<int>& order,
            double bias_mm) const;

 private:
  /// For each row of the strip's grid, where the path passes.
  struct Path {
    bool vertical = true;    ///< The path runs along y and parts x.
    bool firstIsLow = true;  ///< The first field has the smaller coordinates.
    double from = 0, step = 1, low = 0, high = 0;
    std::vector<double> at;
    double where(Point p) const;
  };
  Path seek(const std::vector<std::pair<Point, Point>>& segments, const Box& strip,
            Point way) const;

  CutRule rule_;
  std::vector<AskedCut> asked_;
  std::map<std::pair<int, int>, Path> paths_;
};

}  // namespace rt
