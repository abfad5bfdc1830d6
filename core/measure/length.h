// Lengths as people type and read them.
#pragma once

#include <string>
#include <string_view>

namespace rt {

inline constexpr double kInch_mm = 25.4;

enum class Unit { Millimetre, Centimetre, Inch };

/// Reads a length or a simple sum of lengths: `104 mm`, `4.1 in`, `7 3/8"`, `3-5/16 in`,
/// `7 3/8 in - 2 mm`. A term without a unit takes the unit of the next term that has one, else of
/// the last one that had, else `fallback`. Result in mm. Throws Error on anything else.
double parseLength_mm(std::string_view text, Unit fallback = Unit::Millimetre);

/// "104 mm", with as many of `decimals` digits as say something.
std::string formatMillimetres(double mm, int decimals = 1);
/// The nearest sixteenth, in lowest terms: `4 1/16 in`; "≈ " before it where it is off by over 0.05
/// mm; under half a sixteenth a decimal.
std::string formatInches(double mm);
/// Plain decimal with at most `decimals` digits and no trailing zeros.
std::string formatNumber(double value, int decimals);

}  // namespace rt
