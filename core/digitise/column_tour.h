// In which order columns that hang together are sewn. Part of the column maker; not for other
// rooms.
#pragma once

#include "column_graph.h"

namespace rt {

/// One step of a tour: along `edge`, begun at the joint `node`.
struct TourStep {
  enum class What {
    Travel,  ///< On along its centre; it is covered later, on the way.
    Under,   ///< Out over what belongs under its satin; it is covered from its other end.
    Cover,
  };
  What what = What::Travel;
  int edge = 0, node = 0;
};

struct ColumnTour {
  int from = 0;  ///< The joint at which it begins.
  std::vector<TourStep> steps;
  double away_mm = 0;  ///< Its beginning from the entry and its end from the exit.
};

/// Joints connected to `from`.
std::vector<int> connectedJoints(const ColumnGraph& graph, int from);

/// Does the edge own the joint at that end?
bool ownsJoint(const ColumnEdge& edge, int joint);
/// The joint at its other end.
int otherJoint(const ColumnEdge& edge, int joint);

/// A tour over the part of a graph that holds `part`'s joints: each edge under and covered once.
/// What lies beside the way from the first joint to the last is sewn in passing; what ends at a
/// joint comes before what owns it wherever that can be. Where the part has few joints, where it
/// begins and ends is chosen among those near `entry` and `exit`, so that the fewest columns are
/// begun on finished ground; one on a wide column counts as much as 30 mm of distance.
ColumnTour columnTour(const ColumnGraph& graph, const std::vector<int>& part, Point entry,
                      Point exit);
/// The best of them, at most `most`, the best one first.
std::vector<ColumnTour> columnTours(const ColumnGraph& graph, const std::vector<int>& part,
                                    Point entry, Point exit, size_t most);

}  // namespace rt
