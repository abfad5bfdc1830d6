// Reads job files of format 1. Part of this room.
#pragma once

#include "database.h"
#include "work.h"

namespace rt {

/// Throws Error; nothing is checked yet.
Work workOfFormat1(Database& db);

}  // namespace rt
