// Tie stitches: the short way aside and back that keeps a thread's end from coming loose.
#pragma once

#include <algorithm>

#include "pattern.h"
#include "sewing_rules.h"

namespace rt {

/// Where a tie at `at` goes: `tie_mm` toward `toward`, never past it.
Point tiePoint(Point at, Point toward, double tie_mm);

/// How a finished design ties, so that ends made by cutting or re-spacing it look like its own: the
/// median length of its tie stitches, `otherwise` at most and where it has none.
double tieLengthOf(const Pattern& pattern, double otherwise = TieRule{}.start_mm);

/// Begins a thread: down at `at`, aside, back. `row(Point)` takes each needle point.
template <class Row>
void tieIn(Row&& row, Point at, Point toward, double tie_mm) {
  row(at);
  row(tiePoint(at, toward, tie_mm));
  row(at);
}

/// Ends a thread where the needle is: aside and back.
template <class Row>
void tieOff(Row&& row, Point at, Point toward, double tie_mm) {
  row(tiePoint(at, toward, tie_mm));
  row(at);
}

}  // namespace rt
