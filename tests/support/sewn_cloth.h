// Thread laid on cloth in sewing order, looked at cell by cell: what is seen, what is bare, what
// lies across what.
#pragma once

#include <functional>
#include <vector>

#include "letter.h"
#include "pattern.h"
#include "polygon.h"

namespace rt::testing {

/// A sewn stitch: from a to b.
struct Laid {
  Point a, b;
  Kind kind = Kind::Unknown;
  uint32_t block = 0;
  bool link = false;
  bool isCover() const { return !link && (kind == Kind::Satin || kind == Kind::Fill); }
};

/// What a master would see, over one drawn shape and its thread.
struct SewnFigures {
  /// A way that is seen, and how much of it.
  struct Seen {
    Laid stitch;
    size_t index = 0;  ///< Among all stitches.
    double mm = 0;
  };
  std::vector<Seen> seen;  ///< Ways of 0.25 mm and more.
  double ways_mm = 0;      ///< Runs, underlay and links seen across finished cover (over 25°).
  double stray_mm = 0;     ///< The same over bare cloth, beside the shape or on it.
  double ties_mm = 0;      ///< Ties seen across finished cover or on bare cloth.
  double bare_mm2 = 0;     ///< Of the shape: bare and over 1 mm wide.
  double widest_mm = 0;    ///< The widest bare place inside the shape.
  double open_edge = 0;    ///< Share of the edge whose needle points stand over 0.50 mm apart.
  double edge_vary = 0;    ///< Coefficient of variation of their distances.
  double edge_rms_mm = 0;  ///< Of the thread's edge from the outline.
  double ragged_mm = 0;    ///< The same, less what changes over more than 1 mm.
  double peak = 0;         ///< Highest density over the median where there is cover.
  double over9 = 0, over12 = 0;  ///< Shares of the covered area, over 9 and 12 mm/mm².
  double longest_mm = 0;         ///< Longest stitch of cover.
  double far_underlay =
      0;  ///< Share of cover in stitches over 2 mm that lies over 1.25 mm from underlay.
  double near_points = 0;  ///< Share of needle points within 0.3 mm of an earlier one.
  double near_per_cm2 = 0;
  double thread_mm = 0, area_mm2 = 0;
};

inline constexpr double kThread_mm = 0.4;

/// The shapes of a text as its face draws them, upright, where `letter` sews them.
Area drawnText(const std::string& text, const Face& face, const LetterOptions& options);

SewnFigures sewnFigures(const Area& shape, const Pattern& pattern);

}  // namespace rt::testing
