// What is known of cloths that move, and measured places of needle points; docs/formats.md.
#pragma once

#include <filesystem>

#include "cloth_learning.h"

namespace rt {

/// Starting values for a fabric of data/cloth.json, with their wide sigmas. Throws Error naming
/// the fabrics that have them.
ClothKnown startingCloth(const std::filesystem::path& data, const std::string& fabric);

/// `CLOTH.json`. Figures that are not in it are the fabric's starting values, those that this
/// program does not know stay out. Throws Error naming member and remedy.
ClothKnown readCloth(const std::filesystem::path& file, const std::filesystem::path& data);
std::string clothJson(const ClothKnown& known);

/// `row,x_mm,y_mm`: where needle points of `sewn` lie in the end, layout frame. Throws Error with
/// the line for rows that are none, that come twice, and for places beyond the field.
std::vector<ClothSight> readClothPoints(const std::filesystem::path& file, const Pattern& sewn,
                                        const Field& field);

}  // namespace rt
