// What is missing of a measured frame, or cannot be, in words for people.
#pragma once

#include "measured_frame.h"

namespace rt {

/// One sentence, what to do included.
std::string inWords(const FrameDoubt& doubt);

}  // namespace rt
