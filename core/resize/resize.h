// Sizing a finished stitch list.
#pragma once

#include "recognise.h"
#include "relay.h"

namespace rt {

/// Stitches may be kept up to this change of size; beyond it density leaves the usual range.
inline constexpr double kKeepUpTo = 0.10;

struct ResizedBlock {
  Kind kind = Kind::Run;
  double spacing_before_mm = 0, spacing_after_mm = 0;
  size_t stitches_before = 0, stitches_after = 0;
};

/// What a person should know of a resized design, for people above the core to put in words.
struct ResizeWarning {
  enum class What {
    ShortStitches,   ///< `count` are under the shortest that is worth making.
    LongStitches,    ///< `count` are over the longest that machines sew.
    ColumnsAsRuns,   ///< `count` columns are narrower than `limit_mm`.
    DensityChanged,  ///< Every stitch was kept: the size by `change`, thread per area to `density`.
  };
  What what = What::ShortStitches;
  size_t count = 0;
  double limit_mm = 0;
  double change = 0, density = 1;  ///< As parts of what was.
  friend bool operator==(const ResizeWarning&, const ResizeWarning&) = default;
};

struct Resized {
  Pattern pattern;
  std::vector<ResizedBlock> blocks;
  std::vector<ResizeWarning> warnings;
};

/// Scales about the layout's origin and keeps every stitch: density changes by 1/scale, holes by
/// 1/scale². Throws Error unless both scales are finite, over 0 and up to 100.
Resized resizeKeeping(const Pattern& pattern, double scale_x, double scale_y);

struct RespaceOptions {
  double scale_x = 1, scale_y = 1;  ///< About the layout's origin; over 0, up to 100.
  /// Factor on every spacing: 1 keeps what was there, over 1 opens it.
  double spacing_factor = 1;
  /// A factor for each block instead; blocks with 1 stay stitch for stitch when the size stays.
  std::vector<double> block_factors;
  double built_in_pull_mm = 0;   ///< Pull compensation in the design; its change is made good.
  double least_column_mm = 1.0;  ///< Columns that shrink under it become runs.
};

/// Scales and sews every block again: columns and rows at the spacing that they had, runs at their
/// stitch length. Outlines, order, colours, trims and stops stay; ends that were tied, or that a
/// cut follows, are tied. Throws Error like resizeKeeping.
Resized resizeRespacing(const Pattern& pattern, const RespaceOptions& options);

/// Which way to size: stitches are kept up to ±10 % in both directions.
bool respacingAdvised(double scale_x, double scale_y);

/// The density setting that gives a design back its thread per area where a machine sizes it and
/// keeps the stitches: 100·r % (thread per area falls with 1/r).
double machineDensity_percent(double scale_x, double scale_y);

}  // namespace rt
