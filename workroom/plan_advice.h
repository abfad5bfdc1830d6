// Small changes that would save a hooping or a cut.
#pragma once

#include "making.h"
#include "watch.h"

namespace rt {

/// A change that was tried with the planner, and what it gains.
struct PlanAdvice {
  enum class What { TurnFrames, OtherFrame, MovePiece, LessOverlap, SmallerPiece, SmallerLayout };
  What what = What::TurnFrames;
  std::string name;    ///< Of the frame or the piece.
  Point by;            ///< Of a moved piece, mm.
  double mm = 0;       ///< Of another overlap.
  double percent = 0;  ///< By which it is smaller.
  int hoopings = 0;    ///< With it.
  int cut = 0;         ///< Pieces cut with it.
  Job job;             ///< The job with it.
  friend bool operator==(const PlanAdvice&, const PlanAdvice&) = default;
};

/// What to do, in a few words: "move heron 4 mm left".
std::string inWords(const PlanAdvice& advice);

/// Up to four changes that beat the plan (fewer hoopings, else fewer pieces cut), best first:
/// frames turned, another frame of the shelf, a cut piece moved by up to 8 mm, a smaller overlap
/// down to 6 mm, the layout or a cut piece up to 2 % smaller. Each is planned in full. Throws
/// Stopped; told Enough it gives what it found so far.
std::vector<PlanAdvice> planAdvice(const Job& job, const HoopingPlan& plan, const Bench& bench,
                                   const Watch& watch);

/// Pieces that the plan cuts though one of the job's frames would hold them whole; in the plan's
/// order.
std::vector<std::string> canBeWhole(const Job& job, const HoopingPlan& plan, const Bench& bench);

}  // namespace rt
