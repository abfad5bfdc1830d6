// Stitches as plain values: what every reader makes and every writer takes.
#pragma once

#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "geometry.h"

namespace rt {

enum class Op : uint8_t { Stitch, Jump, Trim, Stop, End };
enum class Kind : uint8_t { Unknown, Run, Satin, Fill, Underlay, Tie, Basting, Mark };

/// The exchange files' words: `stitch`, `satin`; empty for Kind::Unknown.
std::string_view name(Op op);
std::string_view name(Kind kind);

/// A thread's colour, 0xRRGGBB.
struct Colour {
  uint32_t rgb = 0;
  friend bool operator==(const Colour&, const Colour&) = default;
  /// `#rrggbb`, lower case.
  std::string hex() const;
  /// Reads `#rrggbb`, in either case; std::nullopt for anything else.
  static std::optional<Colour> parsed(std::string_view text);
};

/// One row of a stitch list. What a row means is defined in docs/formats.md.
struct Stitch {
  Point at;             ///< mm, x right, y down.
  uint32_t block = 0;   ///< The maker's block number; nothing is computed from it.
  uint16_t thread = 0;  ///< Index into Pattern::threads.
  uint16_t piece = 0;   ///< Index into Pattern::pieces; 0 is "none".
  Op op = Op::Stitch;
  Kind kind = Kind::Unknown;
  friend bool operator==(const Stitch&, const Stitch&) = default;
};

/// A stitch list. Copied freely; equality is by content.
struct Pattern {
  std::string title;
  std::vector<Colour> threads;          ///< In order of first mention.
  std::vector<std::string> pieces{""};  ///< pieces[0] is always the unnamed piece.
  std::vector<Stitch> stitches;

  /// Index of the colour, added when new. Throws Error past 65,535 colours.
  uint16_t threadIndex(Colour colour);
  /// Index of the name, added when new. Throws Error past 65,535 names.
  uint16_t pieceIndex(std::string_view piece);
  Colour colourOf(const Stitch& stitch) const { return threads[stitch.thread]; }
  friend bool operator==(const Pattern&, const Pattern&) = default;
};

Pattern transformed(Pattern pattern, const Transform& by);
/// Every thread exchanged for what `to` makes of it; colours that come to the same one become one.
/// Throws Error like `threadIndex`.
template <class To>
Pattern rethreaded(Pattern pattern, To&& to) {
  const std::vector<Colour> before = std::exchange(pattern.threads, {});
  std::vector<uint16_t> index;
  for (Colour c : before) index.push_back(pattern.threadIndex(to(c)));
  for (Stitch& s : pattern.stitches)
    if (s.thread < index.size()) s.thread = index[s.thread];
  return pattern;
}
/// Bounds of laid thread, both ends of every sewn segment; empty without any. mm
Box threadBounds(const Pattern& pattern);
/// Appends the rows of `tail` (its `end` row left out), matching threads by colour and pieces by
/// name; an `end` row of `head` is taken off first.
void append(Pattern& head, const Pattern& tail);
/// Cuts the thread where the last row lies, unless the list is empty or ends in a trim.
void cutThread(Pattern& pattern);
/// Rows of one kind.
size_t countRows(std::span<const Stitch> rows, Op op);

/// Follows the rows of a list and says, row by row, where sewn thread begins.
///
/// After a jump the thread lies from the landing; after a change of thread, a trim or at the start,
/// a stitch with no jump before it starts there and lays none.
class NeedleWalk {
 public:
  struct Step {
    bool sewn = false;   ///< The row lays thread from `from` to the row's point.
    bool fresh = false;  ///< The thread begins here, cut loose from what was sewn before.
    bool colourChange = false;
    Point from;  ///< Where the thread lies from; the row's own point if not sewn.
  };
  Step next(const Stitch& stitch);

 private:
  Point last_;
  bool connected_ = false, landed_ = false, cut_ = true;
  int thread_ = -1;
};

/// Calls `use(from, to, row)` for each sewn segment, zero-length ones included.
template <class Use>
void forEachSegment(const Pattern& pattern, Use&& use) {
  NeedleWalk walk;
  for (size_t row = 0; row < pattern.stitches.size(); ++row) {
    const NeedleWalk::Step step = walk.next(pattern.stitches[row]);
    if (step.sewn) use(step.from, pattern.stitches[row].at, row);
  }
}

}  // namespace rt
