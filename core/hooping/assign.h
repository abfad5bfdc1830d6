// Which setting sews which stitch. Part of the planner; not for other rooms.
#pragma once

#include "cut_thread.h"
#include "sewing_order.h"
#include "thread_units.h"

namespace rt {

/// For each row that is a stitch, the field that sews it; -1 for other rows.
struct Assignment {
  std::vector<int> row_field;
  std::vector<std::pair<size_t, size_t>>
      turned;  ///< Blocks (under, over) sewn the wrong way round.
};

/// Splits a layout over placed fields. What the order does not change is found once.
class Assigner {
 public:
  Assigner(const Pattern& pattern, const std::vector<Block>& blocks,
           const std::vector<Motif>& motifs, const std::vector<ClampedField>& fields,
           const CutRule& rule, const std::vector<AskedCut>& asked = {});

  /// How often thread that only one field holds lies on thread that only another does.
  const Precedence& precedence() const { return before_; }

  /// Whole motifs, then whole blocks, where a field holds them; other thread is parted along the
  /// paths of least thread, with as few cuts as that allows, each layer so that it is sewn no
  /// sooner than what lies under it. `order[i]` is the i-th field to be sewn.
  Assignment assign(const std::vector<int>& order) const;

 private:
  /// What has one home: a motif that is held whole, or a block.
  struct Item {
    size_t first = 0;  ///< First block.
    Box bounds;
    std::vector<int> homes;
    size_t motif = 0;
  };
  /// A stitch inside two fields or more.
  struct Shared {
    size_t row = 0;
    Point from, to;
  };

  std::vector<int> holding(const Box& box) const;
  void findItems();
  void findShared();
  void findOverlaps();
  std::vector<int> findHomes(const std::vector<int>& position) const;
  void partBlock(const std::vector<Link>& links, const SeamPaths& paths,
                 const std::vector<int>& position, SewnLayers& layers,
                 std::vector<int>& row_field) const;
  std::vector<std::pair<size_t, size_t>> turnedOver(const std::vector<int>& row_field,
                                                    const std::vector<int>& order) const;

  const Pattern& pattern_;
  const std::vector<Block>& blocks_;
  const std::vector<Motif>& motifs_;
  const std::vector<ClampedField>& fields_;
  CutRule rule_;
  std::vector<AskedCut> asked_;
  std::vector<PlacedField> places_;
  std::vector<Point> from_;  // per row, where its thread lies from
  std::vector<int> block_;   // per row; -1: none
  std::vector<int> item_;    // per block; -1: it is cut
  std::vector<Item> items_;
  std::vector<Shared> shared_;
  std::vector<std::pair<int, int>> overlaps_;  // of blocks, within what two fields hold
  Precedence before_;
};

}  // namespace rt
