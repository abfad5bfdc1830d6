// What is wrong with a layout's weight on the cloth, and the verdict.
#pragma once

#include <string>

#include "causes.h"
#include "fabric.h"
#include "regions.h"

namespace rt {

enum class Verdict { Sew, Check, Stop };
std::string_view name(Verdict verdict);

enum class FindingKind { Density, Holes, ShortStitches, LongStitches, KeepOut, Perforation };
/// `density`, `holes`, `short-stitches`, `long-stitches`, `keep-out`, `perforation`.
std::string_view name(FindingKind kind);

/// A change that cures a finding, with what it was computed to lead to.
struct Remedy {
  /// `scale`, `respace`, `thin`, `move`, `remove-hidden`, `drop`.
  std::string kind;
  double value = 0;   ///< The scale, the new spacing in mm, or the margin in mm.
  Point move_mm;      ///< For `move`.
  double result = 0;  ///< Peak after it where the finding lies, in the finding's unit.
  int block = -1;     ///< What is re-spaced, thinned or dropped; with `move`: -1 is everything.
  std::string piece;  ///< The block's, if it has a name.
  Colour thread;      ///< The block's.
  double before = 0;  ///< Its spacing before, mm.
  Verdict verdict = Verdict::Sew;  ///< Of the finding's kind there, after it.
  friend bool operator==(const Remedy&, const Remedy&) = default;
};

/// One place to look at.
struct Finding {
  FindingKind kind = FindingKind::Density;
  Verdict severity = Verdict::Check;
  Point at;
  Box bounds;
  double area_mm2 = 0;          ///< Of the part over the check limit.
  double value = 0, limit = 0;  ///< Peak and the limit it broke, in the kind's unit.
  Cause cause;                  ///< What lies at the worst place.
  size_t count = 0, of = 0;     ///< Stitches (of all sewn) or holes that it is made of.
  double apart_mm = 0;          ///< Of a line's holes.
  std::string zone;             ///< That sewing enters.
  std::vector<Remedy> remedies;
  std::vector<Box> places;  ///< All places of a finding that stands for several, worst first.
  friend bool operator==(const Finding&, const Finding&) = default;
};

/// A region under this size does not count against the design, mm².
inline constexpr double kLeastRegion_mm2 = 1.0;

struct DensityReport {
  DensitySummary summary;
  double limit_mm_per_mm2 = 0;        ///< Stop limit after zones, where the worst place lies.
  double check_limit_mm_per_mm2 = 0;  ///< Check limit there.
  double over_limit_mm2 = 0;          ///< Area of samples over the stop limit.
  std::vector<Finding> findings;      ///< Worst first.
  Verdict verdict = Verdict::Sew;
};

/// Judges a layout against a fabric and its zones, from a map made of it. Remedies come from
/// `remedyScale` and from the window, as they cost further maps.
DensityReport judge(const Pattern& pattern, const DensityMap& map, const Fabric& fabric,
                    const std::vector<Zone>& zones);

/// Map and judgement in one, sampled over the pattern's bounds.
struct Weighing {
  Frame frame;
  DensityMap map;
  DensityReport report;
};
Weighing weigh(const Pattern& pattern, const Fabric& fabric, const std::vector<Zone>& zones,
               double cell_mm = 0.25);

/// The thread that touches a window, for weighing a part of a layout.
Pattern cropped(const Pattern& pattern, const Box& window);

/// Smallest enlargement (stitches kept) that leaves no density or hole region over the check
/// limit, to 0.01; found by trying, as thread per area falls with 1/r and holes with 1/r². Value 0
/// if even 4 is not enough.
Remedy remedyScale(const Pattern& pattern, const Fabric& fabric, const std::vector<Zone>& zones);

}  // namespace rt
