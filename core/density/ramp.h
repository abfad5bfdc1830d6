// The colours that weight is shown in, on screen and in pictures.
#pragma once

#include "pattern.h"

namespace rt {

/// Even steps in lightness (CIE L* 92, 76, 60, 44, 28, 14) from straw over green to deep blue: told
/// apart by lightness alone, so safe for colour-blind eyes. The ramp ends 15 % over the stop limit.
Colour rampColour(double density_mm_per_mm2, double stop_mm_per_mm2);

}  // namespace rt
