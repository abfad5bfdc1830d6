#include "setting_writer.h"

#include <algorithm>

#include "marks.h"
#include "stitch_limits.h"
#include "ties.h"

namespace rt {
namespace {

constexpr size_t kMostBeyond = 12;  // stitches of interlock, for dense columns

class SettingWriter {
 public:
  SettingWriter(const ThreadSource& source, const std::vector<int>& row_field, int field,
                const PlacedField& within, double interlock_mm)
      : source_(source),
        rows_(source.pattern.stitches),
        row_field_(row_field),
        field_(field),
        within_(within),
        beyond_(interlock_mm / 2) {
    out_.title = source.pattern.title;
    out_.threads = source.pattern.threads;
    out_.pieces = source.pattern.pieces;
  }

  void sewAll() {
    for (size_t row = 0; row < rows_.size(); ++row) {
      if (rows_[row].op == Op::Trim) trimmed_ = true;
      if (rows_[row].op == Op::Stop) stop_ = rows_[row];
      if (row_field_[row] == field_) sew(row);
    }
    endThread();
  }

  void addMark(const PlanMark& mark) {
    cut();
    const Point arms[] = {{-1, 0}, {1, 0}, {0, 0}, {0, -1}, {0, 1}};
    bool first = true;
    if (out_.stitches.empty() && !rows_.empty()) thread_ = rows_[0].thread, piece_ = 0, block_ = 0;
    piece_ = 0;
    for (Point arm : arms) {
      const Point p = mark.at + arm * kMarkArm_mm;
      if (first) row(p, Op::Jump, Kind::Unknown);
      if (!first) row(mark.at, Op::Stitch, Kind::Mark);
      row(p, Op::Stitch, Kind::Mark);
      first = false;
    }
  }

  Pattern finish() {
    if (!out_.stitches.empty()) {
      cut();
      row(out_.stitches.back().at, Op::End, Kind::Unknown);
    }
    return std::move(out_);
  }

 private:
  void sew(size_t index) {
    const NeedleWalk::Step& step = source_.steps[index];
    const bool goesOn =
        last_ && *last_ + 1 == index && !step.fresh && distance(at_, step.from) <= kSame_mm;
    if (!goesOn) begin(index);
    out_.stitches.push_back(rows_[index]);
    at_ = rows_[index].at;
    last_ = index;
    trimmed_ = false;
  }

  /// The stitch before or after `index` on the same thread, small jumps passed over.
  std::optional<size_t> neighbour(size_t index, int way) const {
    for (size_t r = index; way < 0 ? r > 0 : r + 1 < rows_.size();) {
      r = way < 0 ? r - 1 : r + 1;
      if (rows_[r].op == Op::Jump) continue;
      if (rows_[r].op != Op::Stitch || rows_[r].thread != rows_[index].thread) return std::nullopt;
      return r;
    }
    return std::nullopt;
  }
  /// Thread of row `index` goes on from another setting's.
  bool comesFromElsewhere(size_t index) const {
    const auto before = neighbour(index, -1);
    return before && row_field_[*before] >= 0 && row_field_[*before] != field_;
  }
  bool goesElsewhere(size_t index) const {
    const auto after = neighbour(index, 1);
    return after && row_field_[*after] >= 0 && row_field_[*after] != field_;
  }

  void begin(size_t index) {
    const NeedleWalk::Step& step = source_.steps[index];
    const Stitch& s = rows_[index];
    const bool cutIn = comesFromElsewhere(index);
    const std::vector<Point> before = cutIn ? beyondStart(index) : std::vector<Point>{};
    const Point start = before.empty() ? step.from : before.front();
    const bool cutOut = last_ && goesElsewhere(*last_);
    const std::vector<Point> after = cutOut ? beyondEnd(*last_) : std::vector<Point>{};
    const Point end = after.empty() ? at_ : after.back();
    const bool sameThread = last_ && rows_[*last_].thread == s.thread;
    const bool near = sameThread && distance(end, start) <= kLongestLooseMove_mm &&
                      !(trimmed_ && step.fresh) && !stop_;
    if (near) {
      for (Point p : after) row(p, Op::Stitch, Kind::Tie);
      take(s);
      join(end, start, cutIn || cutOut);
    } else {
      endThread();
      take(s);
      if (stop_) out_.stitches.push_back(*stop_);
      row(start, Op::Jump, Kind::Unknown);
      if (cutIn) tie(start, before.size() > 1 ? before[1] : before.empty() ? s.at : step.from);
    }
    for (size_t i = 1; i < before.size(); ++i) row(before[i], Op::Stitch, Kind::Tie);
    if (!before.empty()) row(step.from, Op::Stitch, Kind::Tie);
    stop_.reset();
    trimmed_ = false;
  }

  void take(const Stitch& s) { thread_ = s.thread, piece_ = s.piece, block_ = s.block; }

  /// Rows of a fill that was cut lie side by side: a tie leads from one to the next.
  void join(Point from, Point to, bool atCut) {
    if (distance(from, to) <= kSame_mm) return;
    const bool stitch = atCut && distance(from, to) >= kShortestStitch_mm;
    row(to, stitch ? Op::Stitch : Op::Jump, stitch ? Kind::Tie : Kind::Unknown);
  }

  /// Needle points beyond the last stitch `index`, along what the other setting sews next: until
  /// the thread has moved on by half the interlock.
  std::vector<Point> beyondEnd(size_t index) const {
    std::vector<Point> out;
    const Point middle = mix(source_.steps[index].from, rows_[index].at, 0.5);
    Point at = rows_[index].at;
    for (size_t next = index + 1; next < rows_.size() && out.size() < kMostBeyond; ++next) {
      if (rows_[next].op != Op::Stitch || source_.steps[next].fresh) break;
      if (!extend(out, at, rows_[next].at, middle)) break;
      at = out.back();
    }
    return out;
  }
  /// The same before the first stitch `index`, outermost first.
  std::vector<Point> beyondStart(size_t index) const {
    std::vector<Point> out;
    const Point middle = mix(source_.steps[index].from, rows_[index].at, 0.5);
    Point at = source_.steps[index].from;
    for (size_t before = index; before-- > 0 && out.size() < kMostBeyond;) {
      if (rows_[before].op != Op::Stitch || !source_.steps[before].sewn) break;
      if (!extend(out, at, source_.steps[before].from, middle)) break;
      at = out.back();
      if (source_.steps[before].fresh) break;
    }
    std::reverse(out.begin(), out.end());
    return out;
  }

  /// Adds the next point, or as much of the way there as is wanted; false when no more is. A
  /// stitch across a column moves on by its middle, one along a row by its end.
  bool extend(std::vector<Point>& out, Point at, Point to, Point middle) const {
    const double mm = distance(at, to), moved = distance(mix(at, to, 0.5), middle);
    if (beyond_ <= 0 || mm <= kSame_mm) return false;
    const bool column = mm > 1 && moved <= mm / 3;
    if (!column && !out.empty()) return false;
    if (column && !out.empty() && moved > beyond_) return false;
    const Point p =
        column ? to : mix(at, to, std::min(1.0, std::max(beyond_, kShortestStitch_mm) / mm));
    if (!within_.holds(p)) return false;
    out.push_back(p);
    return column;
  }

  /// Three short stitches that begin at a place where the needle is not yet, toward where the
  /// thread lies.
  void tie(Point at, Point toward) {
    tieIn([this](Point p) { row(p, Op::Stitch, Kind::Tie); }, at, toward, source_.tie_mm);
  }
  /// The same where the needle is; aside once more, as nothing sewn later holds a cut end.
  void tieEnd(Point at, Point toward) {
    tieOff([this](Point p) { row(p, Op::Stitch, Kind::Tie); }, at, toward, source_.tie_mm);
    row(tiePoint(at, toward, source_.tie_mm), Op::Stitch, Kind::Tie);
  }

  /// Ends the thread in hand: beyond the cut, tied off, trimmed.
  void endThread() {
    if (last_ && goesElsewhere(*last_)) {
      const std::vector<Point> after = beyondEnd(*last_);
      const Point back = after.size() > 1 ? after[after.size() - 2]
                         : !after.empty() ? at_
                                          : source_.steps[*last_].from;
      for (Point p : after) row(p, Op::Stitch, Kind::Tie);
      const Point end = after.empty() ? at_ : after.back();
      tieEnd(end, back);
    }
    if (last_) cut();
    last_.reset();
  }

  void cut() {
    if (out_.stitches.empty() || out_.stitches.back().op == Op::Trim) return;
    row(out_.stitches.back().at, Op::Trim, Kind::Unknown);
  }

  void row(Point at, Op op, Kind kind) {
    out_.stitches.push_back({at, block_, thread_, piece_, op, kind});
  }

  const ThreadSource& source_;
  const std::vector<Stitch>& rows_;
  const std::vector<int>& row_field_;
  int field_;
  PlacedField within_;
  double beyond_;
  Pattern out_;
  std::optional<size_t> last_;  // row of the layout that the thread in hand ends with
  std::optional<Stitch> stop_;
  Point at_;
  uint16_t thread_ = 0, piece_ = 0;
  uint32_t block_ = 0;
  bool trimmed_ = false;
};

/// Leaves unused threads and pieces out.
Pattern compact(const Pattern& full) {
  Pattern out;
  out.title = full.title;
  std::vector<int> thread(full.threads.size(), -1), piece(full.pieces.size(), -1);
  out.stitches.reserve(full.stitches.size());
  for (Stitch s : full.stitches) {
    int& t = thread[s.thread];
    int& p = piece[s.piece];
    if (t < 0) t = out.threadIndex(full.threads[s.thread]);
    if (p < 0) p = out.pieceIndex(full.pieces[s.piece]);
    s.thread = static_cast<uint16_t>(t), s.piece = static_cast<uint16_t>(p);
    out.stitches.push_back(s);
  }
  return out;
}

}  // namespace

ThreadSource::ThreadSource(const Pattern& layout) : pattern(layout), tie_mm(tieLengthOf(layout)) {
  steps.reserve(layout.stitches.size());
  NeedleWalk walk;
  for (const Stitch& s : layout.stitches) steps.push_back(walk.next(s));
}

Pattern writeSetting(const ThreadSource& source, const std::vector<int>& row_field, int field,
                     const PlacedField& within, double interlock_mm,
                     const std::vector<PlanMark>& marks) {
  SettingWriter writer(source, row_field, field, within, interlock_mm);
  writer.sewAll();
  for (const PlanMark& m : marks) writer.addMark(m);
  return compact(writer.finish());
}

void countSewing(PlanSetting& setting) {
  setting.stitches = 0, setting.thread_mm = 0;
  NeedleWalk walk;
  for (const Stitch& s : setting.pattern.stitches) {
    const NeedleWalk::Step step = walk.next(s);
    if (s.op != Op::Stitch || s.kind == Kind::Tie || s.kind == Kind::Mark ||
        s.kind == Kind::Basting)
      continue;
    setting.stitches += 1;
    if (step.sewn) setting.thread_mm += distance(step.from, s.at);
  }
}

}  // namespace rt
