// Fewest rectangles of given sizes that cover all boxes.
#pragma once

#include <vector>

#include "geometry.h"

namespace rt {

/// A field that may be used any number of times.
struct FieldSize {
  double width_mm = 0, height_mm = 0;
  int hoop = 0;      ///< Caller's index.
  int turn_deg = 0;  ///< 0 or 90: the caller's hoop turned to give this size.
};

struct PlacedField {
  FieldSize size;
  Box box;
};

struct Cover {
  std::vector<PlacedField> fields;
  int lower_bound = 0;  ///< No cover has fewer.
  bool proven = false;  ///< `fields` is a fewest cover.
};

/// Least number of fields that boxes which no one field can hold together ask for.
int leastFields(const std::vector<Box>& units, const std::vector<FieldSize>& sizes);

/// Each unit lies wholly in at least one field. Depth-first with deepening: the leftmost uncovered
/// unit must touch some field's left edge, so that only the height is open; cut off by
/// `leastFields`. After `most_nodes` steps the best cover so far is given, not proven.
/// Every unit must fit some size.
Cover coverBoxes(std::vector<Box> units, const std::vector<FieldSize>& sizes,
                 int most_nodes = 20000);

}  // namespace rt
