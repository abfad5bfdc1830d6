// Stitch lists as CSV (`*.stitches.csv`), format in docs/formats.md.
#pragma once

#include "pattern.h"

namespace rt {

struct ReadResult {
  Pattern pattern;
  std::vector<std::string> warnings;
};

/// Reads a stitch list. `where` names the file in errors. Throws Error with file and line; one pass
/// over the text, no allocation per row.
ReadResult readStitchCsv(std::string_view text, const std::string& where);
/// Numbers with two digits after the point; an `end` row is added if there is none.
/// How places are written: made ones to 0.01 mm; those that were read and only put in another order
/// with the digits that they came with, up to six.
enum class Digits { Hundredths, AsRead };
std::string writeStitchCsv(const Pattern& pattern, Digits digits = Digits::Hundredths);

}  // namespace rt
