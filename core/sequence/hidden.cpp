#include "hidden.h"

#include <algorithm>
#include <set>

#include "error.h"
#include "length.h"
#include "ties.h"

namespace rt {
namespace {

constexpr double kLeastPart_mm = 1.0;
constexpr double kLeastPerCut_mm = 3.0;  // thread freed for each cut that it takes
/// Hidden rows that are taken out together, at the least: the ways that are tried.
constexpr size_t kStretches[] = {0, 30, 90};
constexpr double kLinkStitch_mm = 7.0;    // of a way under the cover
constexpr double kLongestLink_mm = 40.0;  // longer ways are cut, cover or not
constexpr double kMostCells = 6e6;        // of the raster; larger layouts take coarser cells …
constexpr double kMostWork = 2e8;  // … and so do many blocks that lie far apart in themselves

/// Yes or no for each cell of a lattice over a box.
class Raster {
 public:
  Raster(const Box& box, double cell_mm)
      : left_(box.left),
        top_(box.top),
        cell_(cell_mm),
        columns_(std::max(1, static_cast<int>(std::ceil(box.width() / cell_mm)))),
        rows_(std::max(1, static_cast<int>(std::ceil(box.height() / cell_mm)))),
        cells_(static_cast<size_t>(columns_) * static_cast<size_t>(rows_), 0) {}

  int columns() const { return columns_; }
  int rows() const { return rows_; }
  double cell() const { return cell_; }
  int column(double x) const { return static_cast<int>(std::floor((x - left_) / cell_)); }
  int row(double y) const { return static_cast<int>(std::floor((y - top_) / cell_)); }
  Point middle(int c, int r) const { return {left_ + (c + 0.5) * cell_, top_ + (r + 0.5) * cell_}; }
  bool in(int c, int r) const { return c >= 0 && r >= 0 && c < columns_ && r < rows_; }
  uint8_t& at(int c, int r) {
    return cells_[static_cast<size_t>(r) * static_cast<size_t>(columns_) + static_cast<size_t>(c)];
  }
  bool get(int c, int r) const {
    return in(c, r) && cells_[static_cast<size_t>(r) * static_cast<size_t>(columns_) +
                              static_cast<size_t>(c)] != 0;
  }
  bool holds(Point p) const { return get(column(p.x), row(p.y)); }

  /// Sets the cells whose middle is within `reach_mm` of the segment.
  void draw(Point a, Point b, double reach_mm) {
    const int top = std::max(0, row(std::min(a.y, b.y) - reach_mm));
    const int bottom = std::min(rows_ - 1, row(std::max(a.y, b.y) + reach_mm));
    for (int r = top; r <= bottom; ++r) {
      // the part of the segment that can reach this row bounds the columns to try
      const double y = middle(0, r).y;
      double low = std::min(a.x, b.x), high = std::max(a.x, b.x);
      if (const double dy = b.y - a.y; std::abs(dy) > kSame_mm) {
        const double t0 = std::clamp((y - reach_mm - a.y) / dy, 0.0, 1.0);
        const double t1 = std::clamp((y + reach_mm - a.y) / dy, 0.0, 1.0);
        const double x0 = a.x + (b.x - a.x) * t0, x1 = a.x + (b.x - a.x) * t1;
        low = std::min(x0, x1);
        high = std::max(x0, x1);
      }
      const int first = std::max(0, column(low - reach_mm));
      const int last = std::min(columns_ - 1, column(high + reach_mm));
      for (int c = first; c <= last; ++c)
        if (pointSegmentDistance(middle(c, r), a, b) <= reach_mm) at(c, r) = 1;
    }
  }

  /// Sets all within `limit` cells of a set one.
  void grow(double limit) { cells_ = reached(true, limit); }
  /// Takes away all within `limit` cells of one that is not set.
  void shrink(double limit) {
    const std::vector<uint8_t> edge = reached(false, limit);
    for (size_t i = 0; i < cells_.size(); ++i) cells_[i] = !edge[i];
  }

  /// Cells with one that is `value` within `limit` cells, middle to middle. Outside there is none.
  std::vector<uint8_t> reached(bool value, double limit) const;

 private:
  double left_, top_, cell_;
  int columns_, rows_;
  std::vector<uint8_t> cells_;
};

constexpr int kMostReach = 127;  // cells: squares and their sums stay within 16 bits

/// Distance in cells up or down to the nearest cell that is `value`, `most` at most.
std::vector<int16_t> upright(const std::vector<uint8_t>& cells, int columns, int rows, bool value,
                             int most) {
  std::vector<int16_t> out(cells.size());
  for (size_t i = 0; i < cells.size(); ++i)
    out[i] = (cells[i] != 0) == value ? int16_t{0} : static_cast<int16_t>(most);
  const auto from = [&](int16_t* line, const int16_t* before) {
    for (int c = 0; c < columns; ++c)
      line[c] = std::min<int16_t>(line[c], static_cast<int16_t>(before[c] + 1));
  };
  const auto row = [&](int r) {
    return out.data() + static_cast<size_t>(r) * static_cast<size_t>(columns);
  };
  for (int r = 1; r < rows; ++r) from(row(r), row(r - 1));
  for (int r = rows - 1; r-- > 0;) from(row(r), row(r + 1));
  return out;
}

/// A distance transform in two passes: up and down, then for each row the nearest of the columns
/// within reach. Exact, and as only short reaches are asked for, quicker than one that goes on.
std::vector<uint8_t> Raster::reached(bool value, double limit) const {
  const int reach = std::min(kMostReach, static_cast<int>(std::floor(limit)));
  const int far = reach + 1;
  const std::vector<int16_t> up = upright(cells_, columns_, rows_, value, far);
  const auto bar = static_cast<int16_t>(std::floor(limit * limit));
  const auto wide = static_cast<size_t>(columns_);
  std::vector<int16_t> padded(wide + 2 * static_cast<size_t>(reach),
                              static_cast<int16_t>(far * far));
  std::vector<int16_t> least(wide);
  std::vector<uint8_t> out(cells_.size());
  for (int r = 0; r < rows_; ++r) {
    const int16_t* line = up.data() + static_cast<size_t>(r) * wide;
    int16_t* in = padded.data() + reach;
    for (size_t c = 0; c < wide; ++c) in[c] = static_cast<int16_t>(line[c] * line[c]);
    std::copy(in, in + wide, least.begin());
    for (int d = 1; d <= reach; ++d) {
      const auto more = static_cast<int16_t>(d * d);
      const int16_t *left = in - d, *right = in + d;
      for (size_t c = 0; c < wide; ++c)
        least[c] = std::min<int16_t>(
            least[c], static_cast<int16_t>(std::min<int16_t>(left[c], right[c]) + more));
    }
    uint8_t* to = out.data() + static_cast<size_t>(r) * wide;
    for (size_t c = 0; c < wide; ++c) to[c] = least[c] <= bar;
  }
  return out;
}

using Segments = std::vector<std::pair<Point, Point>>;

/// What lies under finished sewing, filled from the last block to the first. What is hidden is
/// worked out only where a block is asked about: most blocks lie on nothing.
class Cover {
 public:
  Cover(const Box& all, const HiddenOptions& options, double cell)
      : options_(options),
        thread_(all, cell),
        hidden_(all, cell),
        stale_(all, kTile_mm),
        wanted_(all, kTile_mm) {}

  /// Only where these segments and the ways between them may lead will be asked about.
  void want(const Segments& segments) {
    Box all;
    for (const auto& [a, b] : segments) all.add(a), all.add(b);
    forTiles(all.grown(reach_mm()), [&](int c, int r) { wanted_.at(c, r) = 1; });
  }

  /// Adds the thread of a block.
  void add(const Segments& segments) {
    for (const auto& [a, b] : segments) {
      bool any = false;
      forTiles(boxOf(a, b).grown(reach_mm()), [&](int c, int r) {
        any |= wanted_.get(c, r);
        stale_.at(c, r) = 1;
      });
      if (any) thread_.draw(a, b, kThreadWidth_mm / 2);
    }
  }

  /// Brings what is hidden up to date where a block was sewn.
  void refresh(const Segments& segments) {
    std::set<std::pair<int, int>> wanted;  // rows of tiles, so that neighbours go together
    for (const auto& [a, b] : segments)
      forTiles(boxOf(a, b), [&](int c, int r) {
        if (!stale_.get(c, r)) return;
        stale_.at(c, r) = 0;
        wanted.emplace(r, c);
      });
    Box run;
    std::pair<int, int> last{-2, -2};
    for (const auto& [r, c] : wanted) {
      if (!run.empty() && (r != last.first || c != last.second + 1)) measure(run), run = {};
      run.add(Box::around(stale_.middle(c, r), kTile_mm, kTile_mm));
      last = {r, c};
    }
    if (!run.empty()) measure(run);
  }

  bool hides(Point p) const { return hidden_.holds(p); }
  double cell() const { return hidden_.cell(); }

 private:
  static constexpr double kTile_mm = 6;

  /// How far off a thread can hide a place.
  double reach_mm() const { return options_.gap_mm + options_.margin_mm + 3 * thread_.cell(); }

  static Box boxOf(Point a, Point b) {
    return {std::min(a.x, b.x), std::min(a.y, b.y), std::max(a.x, b.x), std::max(a.y, b.y)};
  }

  template <class Use>
  void forTiles(const Box& box, Use use) const {
    for (int r = std::max(0, stale_.row(box.top));
         r <= std::min(stale_.rows() - 1, stale_.row(box.bottom)); ++r)
      for (int c = std::max(0, stale_.column(box.left));
           c <= std::min(stale_.columns() - 1, stale_.column(box.right)); ++c)
        use(c, r);
  }

  /// Gaps up to gap_mm close and open edges come back, then the margin goes off.
  void measure(const Box& inner) {
    const double cell = thread_.cell(), close = options_.gap_mm / 2;
    Raster part(inner.grown(reach_mm()), cell);
    copy(thread_, part);
    if (close > 0) {
      part.grow(close / cell);
      part.shrink(close / cell);
    }
    part.shrink(options_.margin_mm / cell);
    for (int r = 0; r < part.rows(); ++r)
      for (int c = 0; c < part.columns(); ++c) {
        const Point p = part.middle(c, r);
        if (!part.get(c, r) || !inner.contains(p)) continue;
        const int hc = hidden_.column(p.x), hr = hidden_.row(p.y);
        if (hidden_.in(hc, hr)) hidden_.at(hc, hr) = 1;
      }
  }

  static void copy(const Raster& from, Raster& to) {
    for (int r = 0; r < to.rows(); ++r)
      for (int c = 0; c < to.columns(); ++c)
        if (from.holds(to.middle(c, r))) to.at(c, r) = 1;
  }
  HiddenOptions options_;
  Raster thread_, hidden_;
  Raster stale_;   // tiles in which something was sewn since they were measured
  Raster wanted_;  // tiles that may be measured
};

/// Places that are made here keep 0.01 mm, as all that is made.
Point made(Point p) {
  return {std::round(p.x * 100) / 100, std::round(p.y * 100) / 100};
}

/// Thread of one block that stays visible, as unbroken parts.
struct Part {
  std::vector<Stitch> rows;  ///< The first is where it starts; the others are sewn.
  double mm = 0;
};

class Remover {
 public:
  Remover(const Pattern& source, const Cover& cover, const Block& block)
      : source_(source), cover_(cover), block_(block) {}

  /// True if anything was hidden. Stretches of fewer than `least` hidden rows stay as they are
  /// sewn.
  bool split(size_t least = 0) {
    parts_.clear();
    part_ = {};
    hidden_ = 0;
    keep_.assign(block_.last - block_.first, false);
    if (least > 0) keepShort(least);
    NeedleWalk walk;
    for (size_t row = block_.first; row < block_.last; ++row) {
      const Stitch& s = source_.stitches[row];
      const NeedleWalk::Step step = walk.next(s);
      if (s.op != Op::Stitch) continue;
      if (!step.sewn) {
        close();
        if (!cover_.hides(s.at) || keep_[row - block_.first]) open(s, s.at);
        continue;
      }
      addSegment(step.from, s, keep_[row - block_.first]);
    }
    close();
    return hidden_ > 0;
  }
  const std::vector<Part>& parts() const { return parts_; }

 private:
  void open(Stitch like, Point at) {
    like.at = at;
    part_.rows.push_back(like);
  }
  void close() {
    if (part_.rows.size() > 1 && part_.mm >= kLeastPart_mm) parts_.push_back(part_);
    part_ = {};
  }
  void sew(Stitch s, Point to) {
    s.at = to;
    part_.mm += distance(part_.rows.back().at, to);
    part_.rows.push_back(s);
  }

  /// Rows between visible ones that are too few to be worth a cut.
  void keepShort(size_t least) {
    const size_t rows = block_.last - block_.first;
    std::vector<bool> under(rows, false);
    for (size_t i = 0; i < rows; ++i)
      under[i] = cover_.hides(source_.stitches[block_.first + i].at);
    for (size_t i = 0; i < rows;) {
      size_t end = i;
      while (end < rows && under[end]) ++end;
      const bool between = i > 0 && end < rows;
      // the stitch that comes out again begins under the cover
      if (between && end - i < least)
        for (size_t k = i; k <= end; ++k) keep_[k] = true;
      i = std::max(end, i + 1);
    }
  }

  /// A segment is cut where it goes under the cover and where it comes out again.
  void addSegment(Point from, const Stitch& s, bool keep) {
    if (keep) {
      if (part_.rows.empty()) open(s, from);
      return sew(s, s.at);
    }
    const double mm = distance(from, s.at);
    const int steps = std::max(1, static_cast<int>(std::ceil(mm / cover_.cell())));
    bool under = cover_.hides(from);
    if (!under && part_.rows.empty()) open(s, from);
    for (int k = 1; k <= steps; ++k) {
      const Point p = k == steps ? s.at : mix(from, s.at, static_cast<double>(k) / steps);
      const bool now = cover_.hides(p);
      if (now) hidden_ += 1;
      if (!under && now) {
        cutAt(s, p);
      } else if (under && !now) {
        close();
        open(s, made(mix(from, s.at, static_cast<double>(k - 1) / steps)));
      }
      under = now;
    }
    if (!under) sew(s, s.at);
  }
  void cutAt(const Stitch& s, Point p) {
    if (distance(part_.rows.back().at, p) >= kShortestStitch_mm) sew(s, made(p));
    close();
  }

  const Pattern& source_;
  const Cover& cover_;
  const Block& block_;
  std::vector<Part> parts_;
  Part part_;
  std::vector<bool> keep_;  // per row of the block: sewn though it lies under the cover
  size_t hidden_ = 0;
};

/// Parts of one block in sewing order, joined again.
class Joiner {
 public:
  Joiner(Cover& cover, const Block& block, double tie_mm, std::vector<Stitch>& out)
      : cover_(cover), block_(block), tie_mm_(tie_mm), out_(out) {}

  void run(std::vector<Part> parts) {
    Point at = parts.front().rows.front().at;
    while (!parts.empty()) {
      const size_t next = nearest(parts, at);
      sew(parts[next]);
      at = out_.back().at;
      parts.erase(parts.begin() + static_cast<long>(next));
    }
    if (distance(at, block_.exit) > kSame_mm) endTie();
  }

 private:
  /// The next part in line if the way to it is free, else the nearest that a free way leads to,
  /// else the earliest.
  size_t nearest(const std::vector<Part>& parts, Point at) {
    if (!sewing_) return 0;
    size_t best = parts.size();
    double least = INFINITY;
    for (size_t i = 0; i < parts.size(); ++i) {
      const Point to = parts[i].rows.front().at;
      const double mm = distance(at, to);
      if (mm < least && freeWay(at, to)) least = mm, best = i;
    }
    return best < parts.size() ? best : 0;
  }
  bool freeWay(Point a, Point b) {
    const double mm = distance(a, b);
    if (mm <= 1.0) return true;  // a stitch between neighbouring rows, under the margin
    if (mm > kLongestLink_mm) return false;
    cover_.refresh({{a, b}});  // a way may lead where the block itself was never sewn
    const int steps = static_cast<int>(std::ceil(mm / 0.3));
    for (int k = 1; k < steps; ++k)
      if (const Point p = mix(a, b, static_cast<double>(k) / steps);
          !cover_.hides(p) && distance(p, a) > 0.5 && distance(p, b) > 0.5)
        return false;
    return true;
  }

  void sew(const Part& part) {
    const Stitch& first = part.rows.front();
    if (!sewing_) {
      row(first, first.at, Op::Jump, Kind::Unknown);
      if (distance(first.at, block_.entry) > kSame_mm)
        tieIn(part);
      else
        row(first, first.at, Op::Stitch, first.kind);
    } else if (freeWay(out_.back().at, first.at)) {
      link(out_.back().at, first);
    } else if (distance(out_.back().at, first.at) <= kLongestLooseMove_mm) {
      row(first, first.at, Op::Jump, Kind::Unknown);
      row(first, first.at, Op::Stitch, Kind::Tie);
    } else {
      cut();
      row(first, first.at, Op::Jump, Kind::Unknown);
      tieIn(part);
    }
    for (size_t i = 1; i < part.rows.size(); ++i) out_.push_back(part.rows[i]);
    before_ = part.rows[part.rows.size() - 2].at;
    sewing_ = true;
  }
  void link(Point from, const Stitch& to) {
    const double mm = distance(from, to.at);
    if (mm < kShortestStitch_mm) return;
    const int parts = static_cast<int>(std::ceil(mm / kLinkStitch_mm));
    for (int k = 1; k <= parts; ++k)
      row(to, k == parts ? to.at : made(mix(from, to.at, static_cast<double>(k) / parts)),
          Op::Stitch, Kind::Run);
  }
  void tieIn(const Part& part) {
    const Stitch& s = part.rows.front();
    rt::tieIn([&](Point at) { row(s, at == s.at ? at : made(at), Op::Stitch, Kind::Tie); }, s.at,
              part.rows[1].at, tie_mm_);
  }
  void endTie() {
    const Stitch last = out_.back();
    tieOff([&](Point at) { row(last, at == last.at ? at : made(at), Op::Stitch, Kind::Tie); },
           last.at, before_, tie_mm_);
  }
  void cut() {
    endTie();
    row(out_.back(), out_.back().at, Op::Trim, Kind::Unknown);
  }
  void row(Stitch like, Point at, Op op, Kind kind) {
    like.at = at;
    like.op = op;
    like.kind = kind;
    out_.push_back(like);
  }

  Cover& cover_;
  const Block& block_;
  double tie_mm_;
  std::vector<Stitch>& out_;
  bool sewing_ = false;
  Point before_;
};

std::vector<Segments> segmentsOf(const Pattern& pattern, const std::vector<Block>& blocks) {
  std::vector<Segments> out(blocks.size());
  size_t block = 0;
  forEachSegment(pattern, [&](Point a, Point b, size_t row) {
    while (block < blocks.size() && row >= blocks[block].last) ++block;
    if (block < blocks.size() && row >= blocks[block].first) out[block].emplace_back(a, b);
  });
  return out;
}

double seconds(std::vector<Stitch> rows, const TimeModel& time) {
  Pattern p;
  p.stitches = std::move(rows);
  return sewingTime_s(p, time);
}

/// A cut costs a machine longer than a few stitches: what frees less thread for each is left alone.
bool frees(const Block& block, const std::vector<Stitch>& left) {
  Pattern rest;
  rest.stitches = left;
  double mm = block.thread_mm;
  forEachSegment(rest, [&](Point a, Point b, size_t) { mm -= distance(a, b); });
  return mm > kLeastPerCut_mm * static_cast<double>(countRows(left, Op::Trim) + 1);
}

/// What is left of a block, the quickest to sew of a few ways to take hidden thread out: all of it,
/// or longer stretches only, as each takes a cut. Unset where none is quicker than the block as it
/// is.
std::optional<std::vector<Stitch>> quickest(const Pattern& pattern, Cover& cover,
                                            const Block& block, double tie_mm,
                                            const TimeModel& time) {
  Remover remover(pattern, cover, block);
  std::vector<Stitch> whole(pattern.stitches.begin() + static_cast<long>(block.first),
                            pattern.stitches.begin() + static_cast<long>(block.last));
  const size_t stitches = countRows(whole, Op::Stitch);
  double best_s = seconds(std::move(whole), time);
  std::optional<std::vector<Stitch>> best;
  for (size_t least : kStretches) {
    if (!remover.split(least)) break;
    std::vector<Stitch> left;
    if (!remover.parts().empty()) Joiner(cover, block, tie_mm, left).run(remover.parts());
    if (left.empty()) return left;
    const double left_s = seconds(left, time);
    if (left_s < best_s && countRows(left, Op::Stitch) <= stitches && frees(block, left))
      best_s = left_s, best = left;
    if (countRows(left, Op::Trim) == 0) break;  // no cut that a longer stretch would spare
  }
  return best;
}

Unhidden measured(const Pattern& before, Pattern after, size_t cut) {
  Unhidden out;
  auto count = [](const Pattern& p, size_t& stitches, double& mm) {
    for (const Stitch& s : p.stitches) stitches += s.op == Op::Stitch;
    forEachSegment(p, [&](Point a, Point b, size_t) { mm += distance(a, b); });
  };
  count(before, out.stitches_before, out.thread_before_mm);
  count(after, out.stitches_after, out.thread_after_mm);
  out.blocks_cut = cut;
  out.pattern = std::move(after);
  return out;
}

/// What is left of each block that lost something.
struct Rest {
  explicit Rest(size_t blocks) : left(blocks), changed(blocks, false) {}
  std::vector<std::vector<Stitch>> left;
  std::vector<bool> changed;
  size_t cut = 0;
};

/// Cells get coarser for layouts that are large, for many blocks that lie far apart in themselves,
/// and for margins that are wide.
double cellFor(const Box& all, const std::vector<Block>& blocks, const HiddenOptions& options) {
  double work = 0;
  for (const Block& b : blocks) {
    const Box box = b.bounds.grown(2 * options.margin_mm + 2);
    work += box.width() * box.height();
  }
  return std::max({options.raster_mm, std::sqrt(all.width() * all.height() / kMostCells),
                   std::sqrt(work / kMostWork), options.margin_mm / kMostReach});
}

/// From the last block to the first: each loses what the later ones cover.
Rest restOf(const Pattern& pattern, const std::vector<Block>& blocks, const HiddenOptions& options,
            const Box& all) {
  const std::vector<Segments> segments = segmentsOf(pattern, blocks);
  Cover cover(all, options, cellFor(all, blocks, options));
  const double tie_mm = tieLengthOf(pattern);
  const auto asked = [&](size_t b) { return options.asked.empty() || options.asked[b]; };
  for (size_t b = 0; b < blocks.size(); ++b)
    if (asked(b)) cover.want(segments[b]);
  Rest rest(blocks.size());
  for (size_t b = blocks.size(); b-- > 0;) {
    if (asked(b)) cover.refresh(segments[b]);
    if (asked(b))
      if (auto left = quickest(pattern, cover, blocks[b], tie_mm, options.time)) {
        rest.left[b] = std::move(*left);
        rest.changed[b] = true;
        ++rest.cut;
      }
    const bool open = std::find(options.open_pieces.begin(), options.open_pieces.end(),
                                blocks[b].piece) != options.open_pieces.end();
    if (!open && blocks[b].kind != Kind::Basting && blocks[b].kind != Kind::Mark && b > 0)
      cover.add(segments[b]);
  }
  return rest;
}

/// The pattern with what is left of its blocks.
Pattern withRest(const Pattern& pattern, const std::vector<Block>& blocks, const Rest& rest) {
  Pattern out = pattern;
  out.stitches.clear();
  size_t row = 0;
  bool gone = false;  // rows between blocks follow the block before them
  for (size_t b = 0; b <= blocks.size(); ++b) {
    const size_t next = b < blocks.size() ? blocks[b].first : pattern.stitches.size();
    for (; row < next; ++row)
      if (pattern.stitches[row].op != Op::Trim || !gone)
        out.stitches.push_back(pattern.stitches[row]);
    if (b == blocks.size()) break;
    // a block that is gone no longer parts its neighbours
    if (gone && !out.stitches.empty() && out.stitches.back().op == Op::Stitch &&
        out.stitches.back().thread == blocks[b].thread)
      cutThread(out);
    gone = rest.changed[b] && rest.left[b].empty();
    for (row = blocks[b].first; row < blocks[b].last && !rest.changed[b]; ++row)
      out.stitches.push_back(pattern.stitches[row]);
    out.stitches.insert(out.stitches.end(), rest.left[b].begin(), rest.left[b].end());
    row = blocks[b].last;
  }
  return out;
}

}  // namespace

Unhidden withoutHidden(const Pattern& pattern, const HiddenOptions& options) {
  if (!(options.margin_mm >= 0.3) || !(options.margin_mm <= 20))
    throw Error("a margin of " + formatNumber(options.margin_mm, 2) + " mm would show",
                "hidden margin", "give 0.3 to 20 mm; 1 mm is usual");
  const std::vector<Block> blocks = blocksOf(pattern);
  const Box all = threadBounds(pattern).grown(1);
  if (all.empty() || blocks.size() < 2) return measured(pattern, pattern, 0);
  const Rest rest = restOf(pattern, blocks, options, all);
  Pattern after = withRest(pattern, blocks, rest);
  // a rest may begin where it is far to go to
  if (sewingTime_s(after, options.time) > sewingTime_s(pattern, options.time))
    return measured(pattern, pattern, 0);
  return measured(pattern, std::move(after), rest.cut);
}

}  // namespace rt
