// What a stitch takes of the top thread and of the bobbin.
#pragma once

#include "sewing_rules.h"

namespace rt {

struct ThreadTake {
  double cloth_mm = 0;  ///< Thickness; each stitch takes top thread down through it and up again.
  double bobbin_share = SewingRules{}.bobbin_share;  ///< Of the top thread.
  double top_mm(double laid_mm) const { return laid_mm + 2 * cloth_mm; }
  double bobbin_mm(double laid_mm) const { return bobbin_share * top_mm(laid_mm); }
  friend bool operator==(const ThreadTake&, const ThreadTake&) = default;
};

}  // namespace rt
