// Where the thread of a stitch list really lies in a photo, element by element.
#pragma once

#include "pattern.h"
#include "photo.h"
#include "plane.h"

namespace rt {

/// Needle points that are looked for together: a piece of an edge where stitches turn, or of a
/// line.
struct SewnElement {
  std::vector<size_t> rows;  ///< Needle points.
  size_t shape = 0;          ///< Unbroken sewing that they belong to, counted from 0.
  Box window;                ///< Where the photo tells of them, mm on the plane.
};

struct SewnPlace {
  size_t element = 0;
  Point by;                    ///< Mean of its needle points from where they were thought, mm.
  PlaceCovariance covariance;  ///< Along a straight edge it is wide.
};

/// Elements of about 4 mm: edges that lie level or upright to 25°, from a little inside to bare
/// cloth beyond, and lines. Sewing under other sewing of its shape, and edges without bare cloth
/// beyond, have none.
std::vector<SewnElement> sewnElements(const Pattern& pattern);

/// How far thread may lie from where it is thought to lie.
struct SewnSearch {
  double reach_mm = 0.9;  ///< Of an element.
  double clear_mm = 1.2;  ///< Of other shapes: so near to them nothing is told.
};

/// What of them the photo shows (see shiftOfSewn). `thought`: the list as it is thought to lie, in
/// the plane's frame; places are told from there.
std::vector<SewnPlace> sewnPlaces(const Photo& photo, const Plane& plane, const Pattern& thought,
                                  const std::vector<SewnElement>& elements,
                                  const SewnSearch& search);

}  // namespace rt
