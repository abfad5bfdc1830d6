// How thread is made fast and how columns are laid at one another: shop practice that no cloth
// changes. The figures live in data/practice.json; what stands here is what ships.
#pragma once

namespace rt {

/// Tie stitches, mm.
struct TieRule {
  double start_mm = 0.6;  ///< To the side and back, under what follows.
  double end_mm = 0.5;    ///< Along thread that lies there already.
  friend bool operator==(const TieRule&, const TieRule&) = default;
};

/// Columns at joints and in bends.
struct ColumnRule {
  double lap_mm = 0.4;         ///< How deep a column enters the one that it ends at.
  double stroke_lap_mm = 0.5;  ///< The same where both are drawn lines of one width.
  double ring_lap_mm = 0.4;    ///< A ring's satin goes on past its beginning.
  /// An outer edge may open by this factor before the rungs in a bend come closer.
  double open_edge = 1.10;
  /// Where rungs come nearer than this part of the spacing, needle points stand back …
  double crowded = 0.95;
  double stand_back = 0.75;         ///< … by at most this part of the column's width,
  double stand_back_from_mm = 1.2;  ///< in columns from this width.
  /// Where columns meet and in bends rungs stand back until no more closed layers lie there, …
  double most_layers = 1.3;  ///< … counted without underlay.
  /// Drawn lines from this width are two runs side by side; thinner ones are a thread's own width.
  double two_runs_from_mm = 0.65;
  friend bool operator==(const ColumnRule&, const ColumnRule&) = default;
};

struct SewingRules {
  TieRule ties;
  ColumnRule columns;
  double bobbin_share = 0.4;  ///< What the bobbin gives, as a part of the top thread.
  friend bool operator==(const SewingRules&, const SewingRules&) = default;
};

}  // namespace rt
