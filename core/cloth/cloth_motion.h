// How cloth moves while a stitch list is sewn on it, and where each needle point lies in the end.
#pragma once

#include <functional>

#include "cloth_law.h"
#include "judge.h"
#include "pattern.h"

namespace rt {

/// Median, 95 % and worst of some distances, mm; 0 for none.
struct Distances {
  double median_mm = 0, p95_mm = 0, worst_mm = 0;
};
Distances distancesOf(std::vector<double> mm);

/// What is asked of the cloth besides the needle points.
struct ClothPoint {
  Point at;         ///< Where it is now, mm.
  size_t from = 0;  ///< Rows that are sewn already.
};

struct ClothMotion {
  /// By row: how far a needle point, or a landing from which thread lies, lies in the end from
  /// where it was sewn, mm; (0, 0) for other rows.
  std::vector<Point> moved;
  std::vector<Point> points;  ///< Likewise for the places of cloth that were asked for.
};

/// A field's cloth is held at its edge. The layout is sewn row by row: what is sewn later lands on
/// cloth that has moved (each needle point moves on with the cloth from when it was sewn), and
/// lands on thread that holds it (the sheet is stiffened in steps). The sheet is solved on cells of
/// 2 mm, of larger ones where they would be over 9,000: with n rows and c cells the time grows as n
/// + c^1.5. A stitch besides draws its own ends together by the law's edge figures, a/2 · (1 -
/// exp(-length / l)) each: a column becomes narrower, points within a line stay. The needle stays
/// behind each move by a part of it. Throws Error for sewing outside the field.
ClothMotion clothMotion(const Pattern& pattern, const ClothLaw& law, const Field& field,
                        const std::vector<ClothPoint>& points = {});

/// The list with its needle points moved; cuts, stops and the end stay where the needle is.
Pattern movedRows(const Pattern& pattern, const std::vector<Point>& by);
/// The list as it will lie in the end: same rows.
Pattern asItWillLie(const Pattern& pattern, const ClothMotion& motion);
/// 95 % of the needle points lie within this of where `motion` says, mm: its scatter, and what the
/// law leaves unexplained of each movement.
double motionBound_mm(const Pattern& pattern, const ClothLaw& law, const ClothMotion& motion);
/// Of the needle points.
Distances movedBy(const Pattern& pattern, const ClothMotion& motion);

/// Throws Error where a needle point is not within the field.
void requireWithin(const Pattern& pattern, const Field& field);

}  // namespace rt
