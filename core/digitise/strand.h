// Strands: sewing that goes on without a cut; the form in which every digitiser hands over its
// work.
#pragma once

#include <span>
#include <string>

#include "blocks.h"
#include "pattern.h"
#include "sewing_rules.h"

namespace rt {

/// Needle points in sewing order; kinds[i] is the kind of the stitch that ends at points[i].
struct Strand {
  std::vector<Point> points;
  std::vector<Kind> kinds;

  bool empty() const { return points.empty(); }
  Point entry() const { return points.front(); }
  Point exit() const { return points.back(); }
  void add(Point p, Kind kind);
  void add(const Strand& tail);
};

/// Adds running stitches along `line`, none longer than `step_mm`, its first point left out when
/// the strand is already there.
void runAlong(Strand& strand, std::span<const Point> line, double step_mm, Kind kind);

/// Adds running stitches along `line`, as long as `step_mm` allows and no stitch cuts a curve by
/// more than `stray_mm`; ends are kept.
void runWithin(Strand& strand, std::span<const Point> line, double step_mm, double stray_mm,
               Kind kind);

/// The strand rounded to 0.01 mm, without stitches under `shortest_mm` (ends stay where they are)
/// and with those over `longest_mm` split evenly.
Strand tidied(const Strand& strand, double longest_mm = kLongestStitch_mm,
              double shortest_mm = kShortestStitch_mm);

/// What a pattern is made of besides its strands.
struct ThreadUse {
  Colour colour;
  std::string piece;
  TieRule ties = {};
};

/// Appends strands to a pattern: moves up to 3 mm stay a jump, longer ones are tied off, trimmed
/// and tied in again; so are the start, the end and a change of thread.
void appendStrands(Pattern& pattern, std::span<const Strand> strands, const ThreadUse& use);

}  // namespace rt
