// The stations down the thread.
#pragma once

#include "station.h"

namespace rt {

/// One of each, in the order of the thread. The caller takes them over.
std::vector<StationPanel*> makeStations(const StationContext& context);

}  // namespace rt
