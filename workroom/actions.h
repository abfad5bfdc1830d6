// Edits of a job, each a pure function from job to job: the window and the command line do the
// same.
#pragma once

#include "making.h"

namespace rt::actions {

/// A piece by its id. Throws Error naming the ids that are there.
const Piece& pieceOf(const Job& job, int id);
Piece& pieceOf(Job& job, int id);

/// Puts a made piece on top of the layout under a new id; gives the id.
Job added(Job job, Piece piece, int* id = nullptr);
Job removed(Job job, int id);
/// Moves pieces by a way. Unknown ids are an Error.
Job moved(Job job, const std::vector<int>& ids, Point by);
/// The centre of a piece's thread goes to a place.
Job centredAt(Job job, int id, Point at);
/// A piece's placement as it shall be; pieces that this program made are made again at their size.
/// Throws Error like `settled`.
Job placed(Job job, int id, const Placement& place, const Bench& bench);
/// To a width or height (0: not asked), in proportion if only one is given or it is turned.
Job sized(Job job, int id, double width_mm, double height_mm, bool in_proportion,
          const Bench& bench);
Job turned(Job job, int id, double turn_deg, const Bench& bench);
Job mirrored(Job job, int id, const Bench& bench);
/// To a place of the sewing order, counted from 0. Throws Error where that would turn over an
/// overlap, unless it is `on_purpose`.
Job sewnAt(Job job, int id, size_t position, bool on_purpose);
/// Groups pieces under a new number, or takes them apart.
Job grouped(Job job, const std::vector<int>& ids);
Job ungrouped(Job job, const std::vector<int>& ids);
/// The text of a piece sewn again with other settings. Throws Error for a piece without text.
Job relettered(Job job, int id, const TextSource& source, const Bench& bench,
               std::vector<std::string>* warnings = nullptr);
/// A piece made again from its source as it is now. Throws Error where that cannot be sewn.
Job remadeAs(Job job, const Piece& piece, const Bench& bench);
/// A placement kept by stretching what is there, where it cannot be made again.
Job stretchedTo(Job job, int id, const Placement& place);
/// Another fabric: its usual backing and topper come with it, and what is made here is sewn again
/// with its spacing and pull.
Job onFabric(Job job, const std::string& fabric, const Bench& bench);
Job withZone(Job job, Zone zone);
Job withoutZone(Job job, const std::string& name);
Job withoutZone(Job job, size_t index);
Job titled(Job job, const std::string& title);
/// Another brief; the fabric is changed by `onFabric`. What is made here is sewn again where
/// another thread asks for other spacing. Throws Error for a place without a size.
Job briefed(Job job, Brief brief, const Bench& bench);
/// Needle points go where this cloth brings them to their places, and what is made here is sewn
/// again without pull compensation where something was learned of it; none: as drawn. Throws Error
/// for a cloth of another fabric.
Job onClothKnown(Job job, std::optional<ClothKnown> cloth, const Bench& bench);
/// Other settings of the sewing order. Throws Error for counts and margins that cannot be.
Job sequencedWith(Job job, SequenceSettings settings);
/// Colour after colour as wished; none: as the pieces come.
Job colouredAs(Job job, std::vector<Colour> wish);
/// All that is sewn in one thread is sewn in another; `piece`: of that piece alone. The order of
/// colours by hand follows. Throws Error where nothing is sewn in it.
Job threadedAs(Job job, Colour from, Colour to, std::optional<int> piece = std::nullopt);
/// The largest error at which an alignment is ready, 0.05 to 10 mm.
Job toleratedAt(Job job, double tolerance_mm);
/// A wait with a note; one at the same place is replaced.
Job waiting(Job job, const OperatorStop& stop);
Job proofAccepted(Job job);
/// Other settings for the plan. Throws Error for an overlap that is none, or an empty frame.
Job plannedWith(Job job, PlanSettings settings);
/// A hooping's frame held so far from where it lies; the rest is planned around it. What is held
/// stays at its place in the order that was asked for, and the first stays the first.
Job heldAt(Job job, const Hooping& hooping, Point by);
/// … and let go again.
Job letGo(Job job, const Hooping& hooping);
/// Pieces that the line crosses are parted along it, if at all. Throws Error for a line of no
/// length.
Job cutAlong(Job job, const AskedCut& line);
/// The line number `which`, from 1, is asked for no more. Throws Error for one that there is not.
Job withoutCut(Job job, int which);
/// Hoopings of its plan in another order: `order` names each by its number, from 1, once. Empty: as
/// planned. Throws Error for numbers that are not the plan's.
Job hoopedInOrder(Job job, const HoopingPlan& plan, const std::vector<int>& order);

/// What `changed` made of `base`, done to `now`, which may have gone on meanwhile: pieces by id,
/// brief, sequence and the rest field by field. Throws Error naming a piece that both changed.
Job merged(const Job& base, const Job& changed, const Job& now);

}  // namespace rt::actions
