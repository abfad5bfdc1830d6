#include "remedies.h"

#include <algorithm>
#include <map>

#include "blocks.h"
#include "error.h"
#include "hidden.h"
#include "length.h"
#include "resize.h"

namespace rt {
namespace {

constexpr size_t kMostPlaces = 12;  // of a finding in many places, the worst are tried
constexpr double kAround_mm = 2.0;
constexpr int kWays = 16;
constexpr double kMoveStep_mm = 0.5;
constexpr double kLeastShare_mm = 2.0;  // thread that a block must have there to matter

bool touches(const Box& a, const std::vector<Box>& places) {
  return std::any_of(places.begin(), places.end(),
                     [&](const Box& p) { return a.overlaps(p.grown(kAround_mm)); });
}

std::vector<Box> placesOf(const Finding& f) {
  std::vector<Box> places = f.places.empty() ? std::vector{f.bounds} : f.places;
  if (places.size() > kMostPlaces) places.resize(kMostPlaces);
  return places;
}

/// A pattern with some blocks only, each cut loose from the others.
Pattern onlyBlocks(const Pattern& p, const std::vector<Block>& blocks,
                   const std::vector<size_t>& which) {
  Pattern out;
  out.threads = p.threads;
  out.pieces = p.pieces;
  for (size_t i : which) {
    const Block& b = blocks[i];
    Stitch jump = p.stitches[b.first];
    jump.op = Op::Jump;
    jump.at = b.entry;
    cutThread(out);
    out.stitches.push_back(jump);
    out.stitches.insert(out.stitches.end(), p.stitches.begin() + static_cast<long>(b.first),
                        p.stitches.begin() + static_cast<long>(b.last));
  }
  return out;
}

std::vector<Zone> moved(std::vector<Zone> zones, Point by) {
  for (Zone& z : zones)
    for (Point& p : z.polygon_mm) p = p + by;
  return zones;
}

class Doctor {
 public:
  Doctor(const Pattern& pattern, const Finding& finding, const Fabric& fabric,
         const std::vector<Zone>& zones, const RemedyOptions& options)
      : p_(pattern), f_(finding), fabric_(fabric), zones_(zones), o_(options) {
    blocks_ = blocksOf(p_);
    const std::vector<Box> places = placesOf(f_);
    for (size_t i = 0; i < blocks_.size(); ++i) {
      if (!touches(blocks_[i].bounds, places)) continue;
      const double mm = threadAt(blocks_[i], places);
      if (mm < kLeastShare_mm) continue;
      here_.push_back(i);
      share_[i] = mm;
    }
    part_ = onlyBlocks(p_, blocks_, here_);
  }

  std::vector<Remedy> run() {
    if (f_.kind == FindingKind::KeepOut) {
      moveOutOf([&](Point by) { return keepsOut(by); });
      return std::move(out_);
    }
    if (here_.empty()) return {};
    hidden();
    respaceHeaviest();
    thinLowest();
    if (here_.size() > 1) moveLast();
    if (limitFactorAt(zones_, f_.at) < 1) moveOutOfThick();
    if (here_.size() > 1) dropLast();
    std::stable_sort(out_.begin(), out_.end(),
                     [](const Remedy& a, const Remedy& b) { return a.verdict < b.verdict; });
    return std::move(out_);
  }

 private:
  double threadAt(const Block& b, const std::vector<Box>& places) const {
    double mm = 0;
    Point last = b.entry;
    for (size_t row = b.first; row < b.last; ++row) {
      const Stitch& s = p_.stitches[row];
      if (s.op == Op::Stitch && std::any_of(places.begin(), places.end(), [&](const Box& box) {
            return box.grown(kDisc_mm).contains(mix(last, s.at, 0.5));
          }))
        mm += distance(last, s.at);
      if (s.op == Op::Stitch || s.op == Op::Jump) last = s.at;
    }
    return mm;
  }

  bool helps(const PlaceWeight& w) const { return w.verdict < f_.severity; }

  void give(Remedy remedy, const PlaceWeight& after) {
    remedy.result = after.peak;
    remedy.verdict = after.verdict;
    out_.push_back(std::move(remedy));
  }

  void name(Remedy& remedy) const {
    const Block& b = blocks_[static_cast<size_t>(remedy.block)];
    remedy.piece = p_.pieces[b.piece];
    remedy.thread = p_.threads[b.thread];
  }

  void hidden() {
    const Unhidden u = withoutHidden(part_, {o_.hidden_margin_mm});
    const PlaceWeight after = weighPlaces(u.pattern, f_, fabric_, zones_);
    if (u.stitches_after >= u.stitches_before || !helps(after)) return;
    Remedy r;
    r.kind = "remove-hidden";
    r.value = o_.hidden_margin_mm;
    give(std::move(r), after);
  }

  /// The part with one block re-spaced; blocks of the part are those of `here_`, in order.
  PlaceWeight respaced(size_t block, double factor) const {
    RespaceOptions o;
    o.block_factors.assign(here_.size(), 1);
    const auto at = std::find(here_.begin(), here_.end(), block);
    o.block_factors[static_cast<size_t>(at - here_.begin())] = factor;
    o.least_column_mm = 0;
    return weighPlaces(resizeRespacing(part_, o).pattern, f_, fabric_, zones_);
  }

  double spacingOf(size_t block) const {
    const Recognised r = recognisedBlock(p_, blocks_[block]);
    return r.kind == Kind::Run ? 0 : r.spacing_mm;
  }

  /// The least opening, to a hundredth, that passes, or else that lifts the verdict.
  bool respace(size_t block, const char* kind) {
    const double spacing = spacingOf(block);
    if (spacing <= 0) return false;
    for (Verdict want : {Verdict::Sew, Verdict::Check}) {
      if (want >= f_.severity || respaced(block, o_.most_spacing).verdict > want) continue;
      int low = 100, high = static_cast<int>(o_.most_spacing * 100);
      while (high - low > 1) {
        const int middle = (low + high) / 2;
        (respaced(block, middle / 100.0).verdict <= want ? high : low) = middle;
      }
      Remedy r;
      r.kind = kind;
      r.block = static_cast<int>(block);
      r.value = spacing * high / 100.0;
      r.before = spacing;
      name(r);
      give(std::move(r), respaced(block, high / 100.0));
      return true;
    }
    return false;
  }

  void respaceHeaviest() {
    std::vector<size_t> order = here_;
    std::stable_sort(order.begin(), order.end(),
                     [&](size_t a, size_t b) { return share_.at(a) > share_.at(b); });
    for (size_t i = 0; i < std::min(order.size(), o_.most_blocks); ++i)
      if (respace(order[i], "respace")) done_.push_back(order[i]);
  }

  void thinLowest() {
    if (here_.size() < 2 || std::find(done_.begin(), done_.end(), here_[0]) != done_.end()) return;
    respace(here_[0], "thin");
  }

  static Point way(int k) { return Transform::turning(k * 360.0 / kWays).turn({1, 0}); }

  /// All blocks of the last piece there, or the last block if none has a name.
  std::vector<bool> lastPiece() const {
    const Block& last = blocks_[here_.back()];
    std::vector<bool> of(blocks_.size());
    for (size_t i = 0; i < blocks_.size(); ++i)
      of[i] = last.piece != 0 ? blocks_[i].piece == last.piece : i == here_.back();
    return of;
  }

  void moveLast() {
    const std::vector<bool> moving = lastPiece();
    if (std::all_of(here_.begin(), here_.end(), [&](size_t i) { return moving[i]; })) return;
    std::vector<size_t> rest, gone;
    for (size_t i = 0; i < blocks_.size(); ++i) (moving[i] ? gone : rest).push_back(i);
    const Pattern still = onlyBlocks(p_, blocks_, rest), goes = onlyBlocks(p_, blocks_, gone);
    const Box area = threadBounds(goes);
    for (double mm = 1; mm <= o_.farthest_move_mm; mm *= 1.25)
      for (int k = 0; k < kWays; ++k) {
        const Point by = way(k) * (std::round(mm / kMoveStep_mm) * kMoveStep_mm);
        Finding there = f_;  // a move that only carries the heavy place along is no cure
        there.places = {area.moved(by)};
        Pattern both = cropped(still, area.moved(by).grown(kAround_mm));
        append(both, transformed(goes, Transform::moving(by)));
        const PlaceWeight after = weighPlaces(both, there, fabric_, zones_);
        if (!helps(after)) continue;
        Remedy r;
        r.kind = "move";
        r.block = static_cast<int>(here_.back());
        r.move_mm = by;
        r.value = length(by);
        name(r);
        return give(std::move(r), after);
      }
  }

  void dropLast() {
    std::vector<size_t> rest = here_;
    rest.pop_back();
    const PlaceWeight after = weighPlaces(onlyBlocks(p_, blocks_, rest), f_, fabric_, zones_);
    if (!helps(after)) return;
    Remedy r;
    r.kind = "drop";
    r.block = static_cast<int>(here_.back());
    r.value = static_cast<double>(here_.back() + 1);
    name(r);
    give(std::move(r), after);
  }

  // --- everything out of a zone

  PlaceWeight keepsOut(Point by) const {
    PlaceWeight w;
    const std::vector<Zone> zones = moved(zones_, by * -1);
    for (const Zone& z : zones) {
      if (z.kind != ZoneKind::KeepOut) continue;
      const ZoneEntry entry(z);
      forEachSegment(p_, [&](Point a, Point b, size_t) { w.peak += entry.of(a, b).has_value(); });
    }
    w.verdict = w.peak > 0 ? Verdict::Stop : Verdict::Sew;
    return w;
  }

  /// Out of the thick zone, but not into one that must be kept clear.
  void moveOutOfThick() {
    const double kept = keepsOut({}).peak;
    moveOutOf([&](Point by) {
      PlaceWeight w = weighPlaces(part_, f_, fabric_, moved(zones_, by * -1));
      if (helps(w) && keepsOut(by).peak > kept) w.verdict = Verdict::Stop;
      return w;
    });
  }

  template <class Try>
  void moveOutOf(Try&& tried) {
    Point best;
    double least = o_.farthest_move_mm + 1;
    PlaceWeight after;
    for (int k = 0; k < kWays; ++k)
      for (double mm = kMoveStep_mm; mm < least && mm <= o_.farthest_move_mm; mm += kMoveStep_mm) {
        const PlaceWeight w = tried(way(k) * mm);
        if (!helps(w)) continue;
        best = way(k) * mm;
        least = mm;
        after = w;
      }
    if (least > o_.farthest_move_mm) return;
    Remedy r;
    r.kind = "move";
    r.move_mm = best;
    r.value = least;
    give(std::move(r), after);
  }

  const Pattern& p_;
  const Finding& f_;
  const Fabric& fabric_;
  const std::vector<Zone>& zones_;
  RemedyOptions o_;
  std::vector<Block> blocks_;
  std::vector<size_t> here_, done_;  // blocks with thread there, in sewing order
  std::map<size_t, double> share_;
  Pattern part_;
  std::vector<Remedy> out_;
};

/// The rows of one block changed by `edit`; a dropped block takes its trim with it.
Pattern editedBlocks(const Pattern& pattern, const std::vector<bool>& which,
                     const std::vector<Block>& blocks, const Transform* by) {
  Pattern out = pattern;
  std::vector<bool> gone(pattern.stitches.size());
  for (size_t i = 0; i < blocks.size(); ++i) {
    if (!which[i]) continue;
    for (size_t row = blocks[i].first; row < blocks[i].last; ++row) {
      if (by)
        out.stitches[row].at = (*by)(out.stitches[row].at);
      else
        gone[row] = true;
    }
    const size_t next = blocks[i].last;
    if (next >= gone.size() || pattern.stitches[next].op != Op::Trim) continue;
    if (by)
      out.stitches[next].at = (*by)(out.stitches[next].at);
    else
      gone[next] = true;
  }
  size_t row = 0;
  std::erase_if(out.stitches, [&](const Stitch&) { return gone[row++]; });
  return out;
}

}  // namespace

PlaceWeight weighPlaces(const Pattern& pattern, const Finding& finding, const Fabric& fabric,
                        const std::vector<Zone>& zones) {
  const bool holes = finding.kind == FindingKind::Holes;
  const Limit& limit = holes ? fabric.holes_per_mm2 : fabric.density_mm_per_mm2;
  const Measure measure = holes ? Measure::Holes : Measure::Thread;
  PlaceWeight out;
  for (const Box& place : placesOf(finding)) {
    const Box window = place.grown(kAround_mm);
    const Pattern part = cropped(pattern, window.grown(kDisc_mm));
    DensityMap map(frameFor(window, 0.25).lattice);
    map.add(part);
    for (bool stop : {false, true}) {
      auto at = [&](Point p) {
        return window.contains(p) ? (stop ? limit.stop : limit.check) * limitFactorAt(zones, p)
                                  : INFINITY;
      };
      for (const Region& r : regionsOver(map, measure, at)) {
        out.peak = std::max(out.peak, r.peak);
        if (r.area_mm2 >= kLeastRegion_mm2)
          out.verdict = std::max(out.verdict, stop ? Verdict::Stop : Verdict::Check);
      }
    }
    if (out.verdict == Verdict::Sew)  // below all limits the peak is still told
      for (const Region& r :
           regionsOver(map, measure, [&](Point p) { return window.contains(p) ? 0.0 : INFINITY; }))
        out.peak = std::max(out.peak, r.peak);
  }
  return out;
}

std::vector<Remedy> remediesFor(const Pattern& pattern, const Finding& finding,
                                const Fabric& fabric, const std::vector<Zone>& zones,
                                const RemedyOptions& options) {
  const bool known = finding.kind == FindingKind::Density || finding.kind == FindingKind::Holes ||
                     finding.kind == FindingKind::KeepOut;
  return known ? Doctor(pattern, finding, fabric, zones, options).run() : std::vector<Remedy>{};
}

Pattern applied(const Pattern& pattern, const Remedy& remedy) {
  if (remedy.kind == "scale")
    return transformed(pattern, Transform::scaling(remedy.value, remedy.value));
  if (remedy.kind == "remove-hidden") return withoutHidden(pattern, {remedy.value}).pattern;
  const std::vector<Block> blocks = blocksOf(pattern);
  std::vector<bool> which(blocks.size(), remedy.block < 0);
  const auto block = static_cast<size_t>(std::max(0, remedy.block));
  if (remedy.block >= 0 && block >= blocks.size())
    throw Error("the remedy is for another design", "block " + std::to_string(remedy.block + 1),
                "weigh the design again");
  if (remedy.block >= 0) which[block] = true;
  if (remedy.kind == "move") {
    if (remedy.block >= 0 && blocks[block].piece != 0)
      for (size_t i = 0; i < blocks.size(); ++i) which[i] = blocks[i].piece == blocks[block].piece;
    const Transform by = Transform::moving(remedy.move_mm);
    return remedy.block < 0 ? transformed(pattern, by) : editedBlocks(pattern, which, blocks, &by);
  }
  if (remedy.kind == "drop") return editedBlocks(pattern, which, blocks, nullptr);
  RespaceOptions o;
  o.least_column_mm = 0;
  o.block_factors.assign(blocks.size(), 1);
  const double now = recognisedBlock(pattern, blocks[block]).spacing_mm;
  o.block_factors[block] = now > 0 ? remedy.value / now : 1;
  return resizeRespacing(pattern, o).pattern;
}

}  // namespace rt
