// Where the layout lies and what to do about it, in words for people.
#pragma once

#include "judge.h"

namespace rt {

/// One sentence without its full stop, what to do included.
std::string inWords(const AlignmentNote& note);
/// Why a mark was not used, to follow its id.
std::string inWords(const LeftOut& mark);
/// All notes, reasons first.
std::vector<std::string> adviceOf(const Alignment& alignment);
/// `Turned 2.3°, 1.1 mm left, 0.4 mm down: ready, worst corner 0.20 mm`.
std::string headlineOf(const Alignment& alignment);

}  // namespace rt
