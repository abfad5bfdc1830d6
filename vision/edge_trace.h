// An edge of the item, a seam or a hem, found in a flattened picture along a rough stroke.
#pragma once

#include "photo.h"

namespace rt {

/// The path near a stroke along which brightness changes most: places every millimetre, each moved
/// across the stroke by up to `reach_mm`, chosen together by dynamic programming so that neighbours
/// stay beside one another. Where nothing stands out the stroke itself is followed. Empty for a
/// stroke of no length or one that leaves the picture.
std::vector<Point> edgeAlong(const FlatPicture& picture, const std::vector<Point>& stroke,
                             double reach_mm);

}  // namespace rt
