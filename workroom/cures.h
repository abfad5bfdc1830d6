// Cures for a heavy place that change the layout, each tried before it is offered.
#pragma once

#include "findings.h"
#include "making.h"

namespace rt {

/// A job with one thing changed, and what that leads to.
struct Cure {
  std::string title;    ///< "Re-space the wing to 0.36 mm"
  std::string detail;   ///< What it was, what it costs or saves.
  double result = 0;    ///< Peak near the finding after it, mm/mm².
  double over_mm2 = 0;  ///< Area over the check limit there after it.
  Verdict verdict = Verdict::Sew;
  Job job;  ///< The changed job.
};

/// Tries, for the pieces that lie under a density finding: taking out what later sewing covers,
/// sewing one again with wider spacing or without underlay, moving the topmost away by the shortest
/// way along one of eight directions, or all of them out of a thick zone, a backing that holds
/// more, and enlarging with the stitches kept; where none of these passes, leaving the topmost out.
/// Only cures are given that pass, that lift the verdict, or that leave less
/// than two fifths of the area over the limit; best first.
/// For a keep-out finding: the shortest of 16 ways out of the zone, to 0.5 mm.
/// Throws Stopped when the watch says so.
std::vector<Cure> curesFor(const Job& job, const Finding& finding, const Bench& bench,
                           const Watch& watch = {});

}  // namespace rt
