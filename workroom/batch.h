// One layout sewn many times over: equal pieces, or pieces that differ by their text, nested in a
// frame.
#pragma once

#include "actions.h"
#include "nest.h"

namespace rt {

struct BatchWish {
  int count = 1;                       ///< Where no names are given.
  std::vector<std::string> names{};    ///< One piece each, in this order; their text replaces the
                                       ///< layout's own.
  std::string hoop = "field-200x140";  ///< Frame id, or WxH.
  double gap_mm = 5;
  bool turn = false;   ///< Pieces may be turned by 90°.
  bool baste = false;  ///< An outline around each, all of them first.
};

struct Batch {
  Job job;  ///< All pieces where they lie, hooping beside hooping, each frame held.
  int pieces = 0;
  int per_hooping = 0;  ///< That a clamping holds.
  int hoopings = 0;
  int free_places = 0;  ///< Left in the last one: so many more cost no hooping.
  double cloth_mm2 = 0, field_use = 0;
};

/// The layout of `one` as a batch in a job of its own (without an id). Colours are joined over each
/// hooping; the order text becomes that of all pieces, so that the proof reads them all. Throws
/// Error for an empty layout, names without lettering to set them in, a piece larger than the field
/// and counts that are none.
Batch batchOf(const Job& one, const BatchWish& wish, const Bench& bench);

/// Names from typed text or a file: one a line; of a CSV table the column `name`, or else the
/// first. Blank lines are left out. Throws Error for none and for more than a batch may have.
std::vector<std::string> namesFrom(const std::string& text);

}  // namespace rt
