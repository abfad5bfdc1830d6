// Why a place is heavy: what lies there, and of which kind it is.
#pragma once

#include <map>
#include <string>
#include <unordered_map>

#include "fabric.h"
#include "pattern.h"

namespace rt {

enum class CauseKind {
  Close,          ///< One cover, sewn too close: drawn so, or sized down.
  Overlap,        ///< Covers on one another.
  ThickZone,      ///< It would pass on plain cloth.
  ShortStitches,  ///< Stitches under 0.6 mm lay most of the thread.
  NarrowColumn,   ///< A satin narrower than the fabric's least column.
  TiePile,        ///< Tie-ins and tie-offs lie on one another.
  Other           ///< Not a heavy place.
};
/// `close`, `overlap`, `thick-zone`, `short-stitches`, `narrow-column`, `tie-pile`, `other`.
std::string_view name(CauseKind kind);

/// What a heavy place comes from.
struct Cause {
  CauseKind kind = CauseKind::Other;
  /// What it would be on plain cloth; differs from `kind` only in thick zones.
  CauseKind plain = CauseKind::Other;
  bool over_thick = false;          ///< A thick zone lowers the limit there.
  std::vector<std::string> pieces;  ///< Whose thread lies there, most first.
  int covers = 0;                   ///< Blocks with thread there, underlay and ties left out.
  friend bool operator==(const Cause&, const Cause&) = default;
};
/// Stitches under this count as short where thread piles up, mm.
inline constexpr double kShortAtPile_mm = 0.6;

/// Which stitches pass where, for looking up what lies at a place. Keeps a reference to the
/// pattern.
class ThreadIndex {
 public:
  explicit ThreadIndex(const Pattern& pattern);
  /// `value` is the density there and `limit` what it broke on plain cloth, mm/mm².
  Cause causeAt(Point p, double value, double limit, const Fabric& fabric,
                const std::vector<Zone>& zones) const;

 private:
  struct Share;
  std::vector<size_t> rowsNear(Point p) const;
  Share shareAt(Point p, double narrow_mm) const;

  const Pattern& pattern_;
  std::unordered_map<size_t, Point> from_;
  std::vector<uint32_t> block_;  ///< Of each row, from 1; 0: none.
  std::vector<bool> tie_;        ///< Declared, or a few short stitches at an end.
  std::map<std::pair<int, int>, std::vector<size_t>> rows_;
  std::vector<size_t> long_;
};

}  // namespace rt
