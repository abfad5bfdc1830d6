// Stitch drawings: SVG whose paths are sewn runs, format in docs/formats.md.
#pragma once

#include "stitch_csv.h"

namespace rt {

/// True for SVG text whose root says data-rapt="stitches".
bool isStitchSvg(std::string_view text);
/// Each path is an unbroken run whose vertices are needle points. Moves over 3 mm and changes of
/// colour between paths are trimmed. Throws Error with the element.
ReadResult readStitchSvg(std::string_view text, const std::string& where);
std::string writeStitchSvg(const Pattern& pattern, Digits digits = Digits::Hundredths);

}  // namespace rt
