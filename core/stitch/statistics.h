// What a stitch list amounts to.
#pragma once

#include "time_model.h"

namespace rt {

struct Statistics {
  size_t stitches = 0, jumps = 0, trims = 0, stops = 0;  ///< Rows of each op.
  size_t colour_changes = 0;               ///< Changes of thread between two sewn rows.
  std::vector<Colour> colours;             ///< Of sewn rows, in order of first use.
  Box bounds;                              ///< Of all laid thread, both ends of every segment.
  double thread_mm = 0;                    ///< Laid thread.
  double longest_mm = 0, shortest_mm = 0;  ///< Over sewn segments longer than 0; 0 without any.
  double sewing_time_s = 0;                ///< One needle, hooping not counted.
};

Statistics statisticsOf(const Pattern& pattern, const TimeModel& model);

/// Thread that comes off the cone: laid length plus twice the cloth's thickness a stitch (the top
/// thread goes down and up again at each needle point).
double topThread_mm(const Statistics& statistics, double cloth_mm);

}  // namespace rt
