// Pictures of every main view, made from the demo data.
#pragma once

#include <QString>

#include "desk.h"

namespace rt {

/// Renders the stations at 1280 × 800 into PNG files in `folder`. Returns the exit code.
int makeShots(const QString& folder);

/// Photographs the first hooping of every demo job, and the banner's second one with a wrong mark,
/// by the stand-in's camera, into JPEG files in `folder`. Returns the exit code.
int makeDemoScans(const QString& folder);

}  // namespace rt
