// job FILE VERB …: the edits that lay pieces out.
#include "compose_actions.h"
#include "error.h"
#include "job_verbs.h"
#include "outlines.h"

namespace rt::cli {
namespace {

constexpr std::array<const char*, 9> kAnchors{"top-left",    "top",    "top-right",
                                              "left",        "centre", "right",
                                              "bottom-left", "bottom", "bottom-right"};
constexpr std::array<const char*, 6> kEdges{"left", "middle-across", "right",
                                            "top",  "middle-down",   "bottom"};
constexpr std::array<const char*, 3> kParts{"colour", "trim", "region"};
constexpr std::array<const char*, 3> kKinds{"satin", "fill", "run"};

/// The place of a word in its list; the parser let no other through.
template <class Words>
size_t placeIn(const Words& words, const std::string& word) {
  return static_cast<size_t>(std::find(words.begin(), words.end(), word) - words.begin());
}

template <class Words>
CLI::Validator among(const Words& words) {
  return CLI::IsMember(std::vector<std::string>(words.begin(), words.end()));
}

void addRepeats(Verbs& verbs, const std::shared_ptr<JobWords>& w) {
  CLI::App* grid =
      verbs.onPiece("repeat", "Repeat a piece in columns and rows",
                    [](Job job, const JobWords& words, const Bench&) {
                      return actions::repeatedInGrid(
                          std::move(job), words.id,
                          {words.columns, words.rows, words.gap, words.gap_down, words.alternate});
                    });
  grid->add_option("--columns", w->columns, "Beside one another");
  grid->add_option("--rows", w->rows, "Below one another");
  grid->add_option("--gap", w->gap, "Between neighbours, mm");
  grid->add_option("--gap-down", w->gap_down, "Between rows, mm");
  grid->add_flag("--alternate", w->alternate, "Mirror every second one");
  CLI::App* line = verbs.onPiece("repeat-toward", "Repeat a piece from where it stands to a place",
                                 [](Job job, const JobWords& words, const Bench&) {
                                   return actions::repeatedToward(
                                       std::move(job), words.id,
                                       {words.x.value_or(0), words.y.value_or(0)}, words.count);
                                 });
  CLI::App* ring =
      verbs.onPiece("repeat-around", "Repeat a piece on a circle about a place",
                    [](Job job, const JobWords& words, const Bench&) {
                      return actions::repeatedAround(std::move(job), words.id,
                                                     {words.x.value_or(0), words.y.value_or(0)},
                                                     words.span, words.count);
                    });
  for (CLI::App* c : {line, ring}) {
    c->add_option("--x", w->x, "Of the place, mm");
    c->add_option("--y", w->y, "Of the place, mm");
    c->add_option("--count", w->count, "In all");
  }
  ring->add_option("--span", w->span, "Degrees, clockwise as seen");
}

void addFrames(Verbs& verbs, const std::shared_ptr<JobWords>& w) {
  CLI::App* border = verbs.onPiece(
      "border", "A frame of whole repeats", [](Job job, const JobWords& words, const Bench&) {
        BorderOptions o;
        if (words.width) o.width_mm = *words.width;
        if (words.height) o.height_mm = *words.height;
        o.band_mm = words.band;
        o.corner = words.mitred ? BorderCorner::Mitred : BorderCorner::Turned;
        return actions::bordered(std::move(job), words.id, o);
      });
  border->add_option("--width", w->width, "Of the outer edge, mm");
  border->add_option("--height", w->height, "Of the outer edge, mm");
  border->add_option("--band", w->band, "Height of the repeat, mm");
  border->add_flag("--mitred", w->mitred, "Cut the corners on the diagonal");
  verbs.onPiece("baste", "A basting outline around a piece, sewn before all else",
                [](Job job, const JobWords& words, const Bench& b) {
                  return actions::bastedAround(std::move(job), words.id, b.shop.practice);
                });
  verbs.edit("baste-place", "A basting outline around the item's place, sewn before all else",
             [](Job job, const JobWords&, const Bench& b) {
               return actions::bastedAroundPlace(std::move(job), b.shop.practice);
             });
  verbs.onPiece("outline", "Placement line, wait and tack-down before a piece",
                [](Job job, const JobWords& words, const Bench& b) {
                  return outlinedFirst(std::move(job), words.id, b.shop.practice);
                });
}

void addPlacing(Verbs& verbs, const std::shared_ptr<JobWords>& w) {
  verbs
      .onPiece("anchor", "Lay a piece at one of nine places of the item's place",
               [](Job job, const JobWords& words, const Bench&) {
                 return actions::anchored(std::move(job), words.id,
                                          static_cast<Anchor>(placeIn(kAnchors, words.anchor)));
               })
      ->add_option("--at", w->anchor, "Which of the nine")
      ->required()
      ->check(among(kAnchors));
  CLI::App* flush = verbs.onPieces(
      "flush", "Bring pieces flush with another", [](Job job, const JobWords& words, const Bench&) {
        return actions::flush(std::move(job), words.ids, words.other,
                              static_cast<actions::Edge>(placeIn(kEdges, words.edge)));
      });
  flush->add_option("--with", w->other, "The piece that stays")->required();
  flush->add_option("--edge", w->edge, "Which edge or middle")->required()->check(among(kEdges));
  verbs
      .onPieces("spread", "Even gaps between pieces",
                [](Job job, const JobWords& words, const Bench&) {
                  return actions::evenlySpread(std::move(job), words.ids,
                                               words.axis == "down" ? Axis::Y : Axis::X);
                })
      ->add_option("--axis", w->axis, "across or down")
      ->check(CLI::IsMember({"across", "down"}));
  CLI::App* match = verbs.onPiece("match", "As wide, or as high, as another piece",
                                  [](Job job, const JobWords& words, const Bench& b) {
                                    return actions::asLargeAs(std::move(job), words.id, words.other,
                                                              !words.by_height, b);
                                  });
  match->add_option("--like", w->other, "The other piece")->required();
  match->add_flag("--by-height", w->by_height, "By its height, not by its width");
}

void addDesigns(Verbs& verbs, const std::shared_ptr<JobWords>& w) {
  verbs
      .onPiece("apart", "Take a finished design apart",
               [](Job job, const JobWords& words, const Bench&) {
                 return actions::takenApart(std::move(job), words.id,
                                            static_cast<ApartBy>(placeIn(kParts, words.part)));
               })
      ->add_option("--by", w->part, "colour, trim or region")
      ->check(among(kParts));
  verbs.onPiece("respace", "Sew a design read from a file anew at its size",
                [](Job job, const JobWords& words, const Bench& b) {
                  return actions::respaced(std::move(job), words.id, b);
                });
  verbs.onPiece("as-read", "Back to the stitches as read",
                [](Job job, const JobWords& words, const Bench&) {
                  return actions::asRead(std::move(job), words.id);
                });
  CLI::App* kind = verbs.onPiece(
      "block", "Say what a block of a design read from a file is",
      [](Job job, const JobWords& words, const Bench& b) {
        constexpr std::array<Kind, 3> kSewn{Kind::Satin, Kind::Fill, Kind::Run};
        if (words.block < 1)
          throw Error("there is no block " + std::to_string(words.block), "--number",
                      "count from 1");
        return actions::blockIs(std::move(job), words.id, static_cast<size_t>(words.block - 1),
                                kSewn[placeIn(kKinds, words.sewn_as)], b);
      });
  kind->add_option("--number", w->block, "Of the block, from 1")->required();
  kind->add_option("--is", w->sewn_as, "satin, fill or run")->required()->check(among(kKinds));
}

}  // namespace

void addLayoutVerbs(Verbs& verbs, const std::shared_ptr<JobWords>& words) {
  addPlacing(verbs, words);
  addRepeats(verbs, words);
  addFrames(verbs, words);
  addDesigns(verbs, words);
}

}  // namespace rt::cli
