// What every reader of files holds places to. Part of this room.
#pragma once

namespace rt {

/// Of a place in a file from the layout's cross: farther is no cloth.
inline constexpr double kFarthest_mm = 100000;

}  // namespace rt
