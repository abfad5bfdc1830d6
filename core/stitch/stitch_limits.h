// Lengths that hold for any stitch, whoever made it.
#pragma once

namespace rt {

/// Shortest stitch worth making: under it needle holes run into each other and thread piles up, mm
/// (shop practice).
inline constexpr double kShortestStitch_mm = 0.4;
/// What a line of thread covers on the cloth, mm: the usual weight.
inline constexpr double kThreadWidth_mm = 0.4;
/// No stitch is longer: most machines make a move of it, mm (shop practice; the maker's manual
/// comes first).
inline constexpr double kLongestStitch_mm = 12.0;
/// Longer satin stitches catch and are split, mm (shop practice).
inline constexpr double kSplitSatinOver_mm = 7.0;
/// A move without sewing that is longer than this ends a block and wants a trim, mm.
inline constexpr double kLongestLooseMove_mm = 3.0;

}  // namespace rt
