// Pieces made from files and text, and made again when their settings change.
#pragma once

#include <filesystem>

#include "job.h"
#include "shop_data.h"

namespace rt {

/// What making a piece needs from the shop.
struct Bench {
  std::filesystem::path data;
  ShopData shop;
};

Bench openBench();

/// Factors of a job's needle, thread, backing and topper on its fabric's limits.
LimitFactors limitFactorsOf(const Brief& brief, const Bench& bench);
/// The job's fabric with these factors in its limits. Throws Error for an unknown fabric.
Fabric clothOf(const Brief& brief, const Bench& bench);
/// The same as pieces of a job are sewn for: where its needle points go by what was learned of the
/// cloth, nothing is added against pull besides.
Fabric clothOf(const Job& job, const Bench& bench);
Fabric sewnOn(Fabric cloth, const SequenceSettings& settings);

/// What the planner is asked for a job's settings. Throws Error for a hoop that is not there.
PlanOptions planOptionsOf(const Job& job, const Bench& bench);

struct Made {
  Piece piece;
  std::vector<std::string> warnings;
};

/// A piece from any file that can be laid out: stitch list, stitch drawing or artwork. Stitches
/// keep the place they were drawn at; artwork is centred. Throws Error.
Made pieceFromFile(const std::filesystem::path& path, const Fabric& fabric, const Bench& bench);
Made pieceFromText(const TextSource& source, const Fabric& fabric, const Bench& bench);
/// The letters of a text or monogram where they stand in its piece's own frame (before the text is
/// stretched). Throws Error like `letter`.
Lettering letteringOf(const TextSource& source, const Fabric& fabric, const Bench& bench);
/// Sews the piece again from its source; stitches that were read stay. Name, id and place are kept.
Made remade(const Piece& piece, const Fabric& fabric, const Bench& bench);

}  // namespace rt
