// Drawings from outside may nest without end. Part of the readers of this room.
#pragma once

#include <pugixml.hpp>
#include <string>

namespace rt {

/// Elements deeper than this are no drawing that a person or program made for sewing.
inline constexpr int kDeepestElement = 200;

/// Throws Error if elements nest deeper. Walks without recursion: readers that follow may recurse.
void requireShallow(const pugi::xml_node& root, const std::string& where);

}  // namespace rt
