// Colours in an order given by hand.
#pragma once

#include <string>

#include "pattern.h"

namespace rt {

/// Sewing in one thread between two changes of colour.
struct ColourRun {
  Colour colour;
  size_t blocks = 0, stitches = 0;
  std::string piece;  ///< Of its first block.
};
std::vector<ColourRun> colourRuns(const Pattern& pattern);

/// Sewing that a wish would bring before what it has to follow.
struct HeldBack {
  std::string piece, before_piece;  ///< May be "".
  Colour thread, before_thread;
  bool lies_on =
      false;  ///< It lies on what comes before; else a wait, a mark or basting is between.
  friend bool operator==(const HeldBack&, const HeldBack&) = default;
};

/// Blocks in an order of colours given by hand.
struct HandOrder {
  Pattern pattern;
  std::optional<HeldBack> why;  ///< What forbids it; unset where it is as wished.
};
/// Colour after colour as wished (a colour may stand several times): each takes all its blocks that
/// are free by then. What the wish does not name, or an overlap holds back, follows in its old
/// order. Stops, trims, basting and marks as with `orderColours`. No overlap is turned over.
HandOrder inColourOrder(const Pattern& pattern, const std::vector<Colour>& wish);

}  // namespace rt
