// Edits of how pieces stand to one another: placing, repeating, bordering, basting, parting. Pure
// functions from job to job, as those in actions.h.
#pragma once

#include "actions.h"
#include "apart.h"
#include "border.h"
#include "neckline.h"

namespace rt::actions {

/// Takes one piece out and puts others in its place; new ones bring ids from the job's next on.
Job exchanged(Job job, int id, std::vector<Piece> pieces);

/// One of nine places of a piece on the same one of the item's place.
Job anchored(Job job, int id, Anchor anchor);
Job repeatedInGrid(Job job, int id, const RepeatOptions& options);
/// `count` in all, from where the piece stands to `to` (layout frame, mm).
Job repeatedToward(Job job, int id, Point to, int count);
Job repeatedAround(Job job, int id, Point centre, double span_deg, int count);
/// Whole repeats of a piece as a frame, moved as one; how well they fit goes to `fit`.
Job bordered(Job job, int id, const BorderOptions& options, Border* fit = nullptr);

/// Basting, sewn before all else: around a piece, or around the item's place.
Job bastedAround(Job job, int id, const ShopPractice& practice);
Job bastedAroundPlace(Job job, const ShopPractice& practice);

/// A finished design in parts. One part only: the job as it was.
Job takenApart(Job job, int id, ApartBy by);
/// The sewing inside a ring as a piece of its own, whose id goes to `part`; 0 where there is none,
/// and the job stays as it was.
Job lassoed(Job job, int id, const Ring& ring, int* part = nullptr);

/// A design read from a file at its size now: sewn anew, or with the stitches as read.
Job respaced(Job job, int id, const Bench& bench);
Job asRead(Job job, int id);
/// What a block of a design read from a file is; it is recognised otherwise.
Job blockIs(Job job, int id, size_t block, Kind kind, const Bench& bench);

/// A text piece bent along a curve as it was fitted. Throws Error for a piece without text.
Job followingCurve(Job job, int id, const NecklineFit& fit, const Bench& bench);
/// Height and gaps of a text, as letters are laid out by them.
LetterOptions gapsOf(const TextSource& text);
/// The same through points of the curve, the outer two ends of what lies flat, as far off it as
/// asked; gives how it was fitted. The letters keep their height, or become `as_large` as fits.
Job letteredAlong(Job job, int id, const std::vector<Point>& points, double away_mm, bool as_large,
                  const Bench& bench, NecklineFit* fit = nullptr);

enum class Edge { Left, MiddleAcross, Right, Top, MiddleDown, Bottom };
/// Pieces flush with the leading one, which stays.
Job flush(Job job, const std::vector<int>& ids, int lead, Edge edge);
/// Even gaps between the outermost two.
Job evenlySpread(Job job, const std::vector<int>& ids, Axis axis);
/// As wide, or as high, as another piece.
Job asLargeAs(Job job, int id, int other, bool by_width, const Bench& bench);

/// Everything larger or smaller about the layout's middle, sewn anew at its size where it is made
/// here. Throws Error for a factor that is not over 0.
Job scaledWhole(Job job, double factor, const Bench& bench);

}  // namespace rt::actions
