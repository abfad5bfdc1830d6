// One layout sewn many times over: equal pieces, or pieces that differ by their text, nested in a
// frame.
#pragma once

#include <map>

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
  /// What is done with a name that would be lettered below its face's least height.
  enum class Long { SewSmall, TwoLines, LeaveOut };
  Long long_names = Long::SewSmall;
};

/// A name that comes out smaller than its face can be sewn well.
struct SmallName {
  std::string name;
  double height_mm = 0, least_mm = 0;  ///< Cap height that fits the place, and the face's least.
  friend bool operator==(const SmallName&, const SmallName&) = default;
};

/// The layout with each name in it, kept from one working out of a batch to the next: names are
/// typed letter by letter.
struct NamedCopies {
  Job one;
  std::map<std::string, Job> copies;  ///< By the text as it is set.
};

struct Batch {
  Job job;  ///< All pieces where they lie, hooping beside hooping, each frame held.
  int pieces = 0;
  int per_hooping = 0;  ///< That a clamping holds.
  int hoopings = 0;
  int free_places = 0;  ///< Left in the last one: so many more cost no hooping.
  double cloth_mm2 = 0, field_use = 0;
  std::vector<SmallName> small;       ///< Sewn below their face's least height.
  std::vector<std::string> left_out;  ///< Names that were asked to be left out.
};

/// The layout of `one` as a batch in a job of its own (without an id). Colours are joined over each
/// hooping; pieces are nested by the largest of them; the order text becomes that of all pieces, so
/// that the proof reads them all. Throws Error for an empty layout, names without lettering to set
/// them in, a piece larger than the field and counts that are none.
Batch batchOf(const Job& one, const BatchWish& wish, const Bench& bench,
              NamedCopies* known = nullptr);

/// Names from typed text or a file: one a line; of a CSV table the column `name`, or else the
/// first. Blank lines are left out; `blank` counts them. Throws Error for none and for more than a
/// batch may have.
std::vector<std::string> namesFrom(const std::string& text, int* blank = nullptr);

}  // namespace rt
