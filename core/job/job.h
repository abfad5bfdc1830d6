// A whole job as one value: what undo keeps, files store and stations show.
#pragma once

#include "cloth_law.h"
#include "fabric.h"
#include "hand_order.h"
#include "hidden.h"
#include "piece.h"
#include "planner.h"
#include "proof.h"

namespace rt {

enum class Holding { Hooped, Floated };

/// What the customer wants sewn on what.
struct Brief {
  std::string item, order_text;
  std::string customer = {};  ///< As a quote addresses them; may have several lines.
  std::string fabric = "woven-cotton";
  Holding holding = Holding::Hooped;  ///< Item in the hoop, or laid on hooped stabiliser.
  std::string backing = "tear-away";
  bool topper = false;
  int needle_nm = 75;                                  ///< Needle size, hundredths of a mm.
  int thread_weight = 40;                              ///< The higher, the finer: metres per gram.
  double place_width_mm = 200, place_height_mm = 140;  ///< The place on the item.
  double centre_line_deg = 0;  ///< Of the garment's centre line against the layout's.
  friend bool operator==(const Brief&, const Brief&) = default;
};

struct PlanSettings {
  std::string hoop = "field-200x140";        ///< Id or WxH.
  std::vector<std::string> more_hoops = {};  ///< Frames that may be mixed in.
  double overlap_mm = 10;
  bool turn = false;
  TieStyle style = TieStyle::Star;
  SewingOrder order = SewingOrder::FromMiddle;
  MarkSchool school = MarkSchool::DrawnLines;
  std::vector<std::string> keep = {};  ///< Names of pieces that are never cut.
  std::vector<AskedCut> cuts = {};     ///< Lines along which pieces may be parted.
  std::vector<PinnedFrame> pinned = {};
  /// Places of the frames in the order in which a person wants them; empty: as planned.
  std::vector<Point> order_by_hand = {};
  friend bool operator==(const PlanSettings&, const PlanSettings&) = default;
};

/// The machine waits for a person: lay the fabric, add the topper, take a tag off.
struct OperatorStop {
  int piece = 0;  ///< Id of the piece that it comes before, or in.
  std::string note;
  int blocks_before = 0;  ///< Blocks of the piece that are sewn before the wait.
  friend bool operator==(const OperatorStop&, const OperatorStop&) = default;
};

/// How the pieces become one sewing.
struct SequenceSettings {
  bool fewest_colours = false;   ///< Blocks in the order of fewest colour changes.
  double hidden_margin_mm = 0;   ///< Covered stitches go, but for this margin; 0: they stay.
  int needles = 1;               ///< Of the machine.
  bool shortest_travel = false;  ///< Blocks that may change places do so for less travel.
  /// Fills under lettering stay whole, their rows this many times as far apart; 0: they are taken
  /// like all others.
  double thin_under_letters = 0;
  std::vector<Colour> colours_by_hand;  ///< Colour after colour as wished; empty: as they come.
  std::vector<OperatorStop> stops;
  /// Needle points go where this cloth brings them to their places; unset: they are sewn as drawn.
  std::optional<ClothKnown> cloth = {};
  friend bool operator==(const SequenceSettings&, const SequenceSettings&) = default;
};

/// One step of a test swatch: what was varied, and to which value.
struct SwatchStep {
  std::string row;   ///< `fill`, `satin`, `column`, `letter`, `overlap`.
  int step = 1;      ///< As labelled in stitches, from 1.
  double value = 0;  ///< mm/mm², or mm for widths and heights.
  friend bool operator==(const SwatchStep&, const SwatchStep&) = default;
};

/// What a person edits, and undo takes back. What follows from it is derived; what happened is in
/// the record.
struct Job {
  std::string id, title;
  Brief brief;
  std::vector<Piece> pieces;
  std::vector<Zone> zones;
  SequenceSettings sequence;
  PlanSettings plan_settings;
  double tolerance_mm = 0.5;       ///< Largest 95 % error of an alignment that is ready.
  std::vector<SwatchStep> swatch;  ///< Of a test swatch: what each step tries; else empty.
  std::string proof_accepted;      ///< Key of the proof that was accepted; empty: none.
  int next_piece_id = 1;
  friend bool operator==(const Job&, const Job&) = default;
};

/// A piece and the one that it would be sewn after although that lies on it.
struct Covered {
  std::string top, under;
  friend bool operator==(const Covered&, const Covered&) = default;
};
/// Why a piece cannot be sewn at another place of the list: the piece whose sewing overlaps it and
/// would be passed; unset if nothing forbids it. Places count from 0.
std::optional<Covered> whyNotMoved(const Job& job, size_t from, size_t to);

/// The whole layout as it will be sewn: pieces in order with their stops, then colours and hidden
/// stitches as the settings say, then needle points as the cloth asks (see clothAround).
Pattern sewnLayout(const Job& job);
/// The same thread where it lies in a window; elsewhere covered stitches may still be there, and
/// the order is that of the pieces. For weighing a place, at a part of the work; cover is kept in
/// cells of `raster_mm`.
Pattern sewnNear(const Job& job, const Box& window, double raster_mm = HiddenOptions{}.raster_mm);
/// Changes whenever `sewnLayout` may, and with the number of needles. Only for this run of the
/// program.
size_t sequencePrint(const Job& job);
/// The order of colours that a wish makes of the job's pieces, before hidden stitches go.
HandOrder coloursTried(const Job& job, const std::vector<Colour>& wish);
/// A wait without a note before the block that is sewn at a row of the sewn layout or of a hooping;
/// std::nullopt past the last.
std::optional<OperatorStop> stopAt(const Job& job, const Pattern& sewn, size_t row);
/// `heron`, or `block 3 of heron`; "" for a piece that is gone.
std::string placeOf(const Job& job, const OperatorStop& stop);
/// A number that no group of pieces has yet.
int freeGroup(const Job& job);

/// A number that changes whenever the layout's stitches do.
size_t printOf(const Pattern& layout);

/// The sewn text against the order text, letter by letter; text pieces as they are sewn or as they
/// are read from the top, whichever differs less.
std::vector<ProofMark> proofMarks(const Job& job);
/// Changes whenever the order text, a text or its face does.
std::string proofKey(const Job& job);
/// Whether the proof was accepted as it stands now, or there is nothing to read.
bool proofAccepted(const Job& job);

}  // namespace rt
