// Accented letters for stroke faces, put together from a letter and a mark. Part of lettering.
#pragma once

#include "face.h"

namespace rt {

/// Adds what Western and Central European languages need beyond ASCII: letters with acute, grave,
/// circumflex, diaeresis, tilde, ring, caron, breve, double acute, dot, cedilla, ogonek and stroke,
/// and ä ö ü ß æ œ ø. Letters that are there already stay as they are; those whose base is missing
/// are left out. `cap_units` is the height of H.
void addAccented(std::map<char32_t, StrokeGlyph>& glyphs, double cap_units);

}  // namespace rt
