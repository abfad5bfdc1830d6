// What the rungs of drawn lines of one width leave to the column that owns the ground. Part of the
// column maker; not for other rooms.
#pragma once

#include "column_graph.h"

namespace rt {

/// Where two columns cover the same ground, one has it: at a joint its owner, elsewhere the chain
/// that comes first, and of a chain that crosses itself the earlier pass. The rungs of the other
/// end where they have gone into it by the lap. Keeps a reference to the graph.
class StrokeLaps {
 public:
  /// `half_mm`: half of the sewn width of all columns.
  StrokeLaps(const ColumnGraph& graph, double half_mm, double lap_mm);
  /// For a column's rungs; empty where it keeps them whole.
  RungCut cutOf(int edge) const;

 private:
  struct Stretch {
    Point a, b;
    double along_mm;  // of its chain
  };
  struct Ground {  // of another column that has priority
    bool same_chain = false;
    std::vector<Stretch> stretches;
  };
  bool has(const ColumnEdge& owner, const ColumnEdge& other) const;
  bool yields(const ColumnEdge& e, int chain) const;
  std::optional<Point> cut(const std::vector<Ground>& grounds, const ColumnEdge& e, Point middle,
                           Point end) const;

  const ColumnGraph& graph_;
  double half_, deep_;
  std::vector<Box> boxes_;    // by edge
  std::vector<double> ring_;  // by chain: its length where it closes smoothly, else 0
};

}  // namespace rt
