// The threads on the shelf, and which of them comes nearest to a colour.
#pragma once

#include <optional>

#include "pattern.h"
#include "thread_take.h"

namespace rt {

struct ShelfThread {
  std::string code, name;
  Colour colour;
  double metres = 0;  ///< On the cone or spool; 0: not said.
  friend bool operator==(const ShelfThread&, const ShelfThread&) = default;
};

/// Difference of two colours as people see it, CIEDE2000 (Sharma, Wu, Dalal 2005), sRGB under D65.
/// Under 1 is hardly seen, over 5 plain to see.
double colourDifference(Colour a, Colour b);

struct ShelfMatch {
  const ShelfThread* thread = nullptr;
  double difference = 0;
};
/// The nearest thread; none from an empty shelf.
std::optional<ShelfMatch> nearestThread(const std::vector<ShelfThread>& shelf, Colour colour);

/// The whole shelf, the nearest to a colour first; threads that are equally near as they stand.
std::vector<ShelfMatch> byNearness(const std::vector<ShelfThread>& shelf, Colour colour);
/// What a person means by `#rrggbb`, or by a thread's name or code, letter case aside. Throws Error
/// where no thread is called so.
Colour threadNamed(const std::vector<ShelfThread>& shelf, const std::string& text);

/// Every colour of the pattern exchanged for the nearest on the shelf; colours that come to the
/// same thread become one.
Pattern onShelf(const Pattern& pattern, const std::vector<ShelfThread>& shelf);

/// What a sewing takes of each thread, in order of first use.
struct ThreadNeed {
  Colour colour;
  size_t stitches = 0;
  double top_mm = 0;     ///< Laid length and twice the cloth's thickness a stitch.
  double bobbin_mm = 0;  ///< A part of the top's.
};
std::vector<ThreadNeed> threadNeeds(const Pattern& pattern, const ThreadTake& take);

/// The row at which a bobbin of `bobbin_mm` runs out; std::nullopt if it lasts.
std::optional<size_t> bobbinRunsOutAt(const Pattern& pattern, const ThreadTake& take,
                                      double bobbin_mm);

}  // namespace rt
