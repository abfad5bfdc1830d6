// What of a layout has to lie in one field. Part of the planner; not for other rooms.
#pragma once

#include <string>

#include "asked_cut.h"
#include "blocks.h"
#include "field_cover.h"

namespace rt {

/// A piece by its name, or a block that belongs to none: what a plan had better not cut.
struct Motif {
  std::string name;            ///< `block N` for one without a piece.
  std::vector<size_t> blocks;  ///< Indices, in sewing order.
  Box bounds;
  bool keep = false;  ///< Never to be cut.
  /// Bounds of its thread on each side of the cuts that are asked for; none where none meets it.
  std::vector<Box> parts;
  std::vector<size_t> crossed;  ///< Blocks with thread on more than one side.
};

std::vector<Motif> motifsOf(const Pattern& pattern, const std::vector<Block>& blocks,
                            const std::vector<std::string>& keep,
                            const std::vector<AskedCut>& cuts = {});

/// Needs and wholes of a layout. Thread that may be cut is gathered in cells of `cell_mm`, each
/// grown by half the overlap within its block: whoever holds all of them overlaps by that much
/// wherever thread goes on.
class ThreadUnits {
 public:
  ThreadUnits(const Pattern& pattern, const std::vector<Block>& blocks,
              const std::vector<Motif>& motifs, const std::vector<Hoop>& hoops, bool turn,
              double overlap_mm);

  /// Motifs that a field holds whole are cut into cells so many times as large: few are cut.
  CoverProblem problem(double cell_mm, double coarser = 1) const;
  /// The same with larger and larger cells until there are at most `most` needs.
  CoverProblem problemOf(size_t most) const;
  /// Boxes that every plan holds in one field each, however it cuts: stretches of thread as long as
  /// the overlap, with what their stitches share across (see docs/architecture.md). At most about
  /// `most`, those farthest out in their neighbourhood first.
  std::vector<Box> stretches(size_t most) const;
  double finestCell_mm() const { return cell_; }

 private:
  bool addParts(const Motif& motif, CoverProblem& to) const;
  void addBlock(size_t block, int whole, double cell_mm, CoverProblem& to) const;
  void addStretches(const Block& block, std::vector<Box>& to) const;

  const Pattern& pattern_;
  const std::vector<Block>& blocks_;
  const std::vector<Motif>& motifs_;
  const std::vector<Hoop>& hoops_;
  bool turn_;
  double overlap_, cell_ = 1;
  Box all_;
};

}  // namespace rt
