// How much a job may hold. What a program may make, save and open is one thing: these bounds are
// asked where a job is edited, where a photo is taken in, and where a file is read.
#pragma once

#include <cstddef>

namespace rt::job_limits {

inline constexpr double kFarthest_mm = 100'000;  ///< From the layout's cross, as in stitch lists.
inline constexpr size_t kMostPieces = 5'000, kMostZones = 2'000, kMostCorners = 10'000;
inline constexpr size_t kMostStitches = 20'000'000;
inline constexpr size_t kLongestText = 100'000, kLongestDrawing = 64u << 20;  ///< Bytes.
inline constexpr size_t kMostHoopings = 2'000, kMostPlans = 1'000;
inline constexpr size_t kMostFacts = 200'000, kMostScans = 2'000;
inline constexpr size_t kMostScanBytes = 64u << 20;  ///< Of one photo, packed.
inline constexpr size_t kMostWaits = 100'000;
inline constexpr double kMostPull_mm = 5;  ///< Of pull compensation.
inline constexpr size_t kMostCurvePoints = 1'000;
inline constexpr size_t kMostSwaps = 10'000;  ///< Threads of a drawing that are not as drawn.
inline constexpr size_t kMostShared = 32;     ///< More than the plane of a photo has parameters.

}  // namespace rt::job_limits
