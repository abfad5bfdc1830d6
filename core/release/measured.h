// Where the cloth of a hooping lies, by all that is known of it now.
#pragma once

#include <optional>

#include "work.h"

namespace rt {

/// Names of the corners of a tag that is the only mark begin with this.
inline constexpr const char* kOneTag = "tag, ";

struct Measured {
  /// Against the place that the hooping was meant to have in its field: turn and offset are what is
  /// off. Unset: nothing says where the cloth lies.
  std::optional<Alignment> alignment;
  size_t marks = 0;  ///< That count.
  std::string
      problem;  ///< Why there is no alignment although something was tried; empty: nothing was.
  bool unread =
      false;  ///< The last photo could not be read: what was found before it counts no more.
};

/// Fits the marks that count, holds them against those that the last photo should have shown,
/// against resting on one mark, and against the field. `field` is the frame's, `limits` the shop's.
Measured measuredCloth(const Work& work, const MadePlan& plan, const Hooping& hooping,
                       const Field& field, const ShapeLimits& limits);

}  // namespace rt
