// Places of frames worth trying. Part of the planner; not for other rooms.
#pragma once

#include <cstdint>

#include "field_cover.h"

namespace rt {

/// A set of items by number.
class ItemSet {
 public:
  explicit ItemSet(size_t items = 0) : words_((items + 63) / 64) {}
  void add(size_t item) { words_[item / 64] |= uint64_t{1} << (item % 64); }
  void remove(size_t item) { words_[item / 64] &= ~(uint64_t{1} << (item % 64)); }
  bool has(size_t item) const { return (words_[item / 64] >> (item % 64)) & 1; }
  bool empty() const;
  size_t count() const;
  size_t countIn(const ItemSet& other) const;
  bool within(const ItemSet& other) const;
  bool meets(const ItemSet& other) const;
  ItemSet& operator|=(const ItemSet& other);
  ItemSet& operator&=(const ItemSet& other);
  friend bool operator==(const ItemSet&, const ItemSet&) = default;
  size_t print() const;  ///< A hash.
  template <class Use>
  void each(Use&& use) const {
    for (size_t w = 0; w < words_.size(); ++w)
      for (uint64_t left = words_[w]; left != 0; left &= left - 1)
        use(w * 64 + static_cast<size_t>(__builtin_ctzll(left)));
  }

 private:
  std::vector<uint64_t> words_;
};

/// A place of a frame: fields[i] holds the items of holds[i].
struct Candidate {
  Clamping clamping;
  std::vector<ItemSet> holds;
  ItemSet all;  ///< Of all its fields.
};

/// What a field has to hold: all of `box`; or `core`, if the fields of its clamping together hold
/// `box`.
struct CoverItem {
  Box box, core;
};

/// Whether the settings of a clamping hold `box`: one of them, or `core` in one and the rest
/// together, without a gap.
bool hold(const std::vector<PlacedField>& fields, const Box& box, const Box& core);

/// Items in order. What holds only part of what another place of as few settings
/// holds is left out. More than `most` are thinned, those that hold least first; `thinned` then
/// says so.
std::vector<Candidate> candidatesFor(const std::vector<CoverItem>& items,
                                     const std::vector<Hoop>& hoops, bool turn, size_t most,
                                     bool& thinned);

}  // namespace rt
