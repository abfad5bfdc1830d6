// What of a drawing's shapes is seen, so that thread is not laid under thread.
#pragma once

#include "shape.h"

namespace rt {

/// The shapes (in painting order) without what later ones hide, except for a little under their
/// edges. A line may come apart into several. A shape of which next to nothing is seen is left
/// out, and named in `hidden`.
std::vector<Shape> withoutHidden(std::span<const Shape> shapes, std::vector<std::string>& hidden);

}  // namespace rt
