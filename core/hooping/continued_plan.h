// A plan that begins with thread on the cloth: what is sewn stays, the rest is planned around it.
#pragma once

#include <cstdint>
#include <map>
#include <unordered_map>

#include "planner.h"

namespace rt {

/// Laid thread as a bag of segments, to a thousandth of a millimetre, without direction. Ties,
/// marks and basting are left out: they follow from how a layout is parted, not from what it is.
class ThreadBag {
 public:
  /// The thread of a list's first `rows` rows.
  void add(const Pattern& pattern, size_t rows = SIZE_MAX);
  bool empty() const { return total_ == 0; }
  size_t size() const { return total_; }
  /// Takes thread out that is there; how much of the pattern's was not.
  size_t missing(const Pattern& pattern) const;
  /// For each row of a list whether its thread is in the bag; every piece of thread serves once.
  std::vector<bool> rowsIn(const Pattern& pattern) const;
  /// Segments of this bag that the other does not have.
  size_t without(const ThreadBag& other) const;

 private:
  struct Key {
    int64_t ax, ay, bx, by;
    uint32_t rgb;
    friend auto operator<=>(const Key&, const Key&) = default;
  };
  struct Hash {
    size_t operator()(const Key& key) const;
  };
  template <class Use>
  static void each(const Pattern& pattern, size_t rows, Use&& use);
  std::unordered_map<Key, int, Hash> count_;
  size_t total_ = 0;
};

/// How far a setting was sewn.
struct SewnRows {
  size_t rows = 0;  ///< Rows before it are sewn.
  bool done = false;
};

/// A setting of the earlier plan that stands in the new one.
struct KeptSetting {
  std::string setting;  ///< Its id, in both plans.
  bool cut_short =
      false;  ///< Its layout changed while it was under way: it ends where it was sewn.
  friend bool operator==(const KeptSetting&, const KeptSetting&) = default;
};

struct ContinuedPlan {
  HoopingPlan plan;
  std::vector<KeptSetting> kept;
  /// Names of pieces (or blocks) whose sewing is a run of its own in a clamping that stays.
  std::vector<std::string> added;
  int added_to = 0;           ///< That clamping; 0: none, or several.
  size_t lost_stitches = 0;   ///< Lie on the cloth; the layout has them no more.
  size_t fresh_hoopings = 0;  ///< Clampings that had to be added.
};

/// What is sewn is on the cloth, whatever is planned. Settings that were begun stay (one whose rest
/// changed ends where it was sewn), those that were not stay where the layout still holds all of
/// their thread. Other thread that lies whole in a clamping that stays, the one in the frame first,
/// is a run of its own there, never before what it lies on; the rest is planned as `planHoopings`
/// does. `sewn` is by setting id, `clamped` the id of the hooping in the frame (empty: none).
/// `lower_bound` counts what is sewn as given. Throws Error as planHoopings does.
ContinuedPlan continuedPlan(const Pattern& layout, const HoopingPlan& base,
                            const std::map<std::string, SewnRows>& sewn, const std::string& clamped,
                            const PlanOptions& options, const Watch& watch = {});

}  // namespace rt
