#include "continued_plan.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "blocks.h"
#include "overlap.h"
#include "setting_writer.h"

namespace rt {
namespace {

constexpr double kPerMm = 1000;  // a thousandth of a millimetre is the same place

bool counts(Kind kind) {
  return kind != Kind::Tie && kind != Kind::Mark && kind != Kind::Basting;
}

/// Who sews a row: a clamping by its index (from 1), a setting that stays, or a fresh clamping;
/// rows that are no stitch are nobody's.
constexpr int kNobody = -1, kStays = 0, kFresh = 1 << 20;

/// The number in a mark's name; 0 without one.
int numberOf(const PlanMark& mark) {
  return mark.id.size() > 1 && mark.id[0] == 'M' ? std::atoi(mark.id.c_str() + 1) : 0;
}

}  // namespace

size_t ThreadBag::Hash::operator()(const Key& k) const {
  uint64_t h = 1469598103934665603ull;
  for (int64_t v : {k.ax, k.ay, k.bx, k.by, static_cast<int64_t>(k.rgb)})
    h = (h ^ static_cast<uint64_t>(v)) * 1099511628211ull;
  return static_cast<size_t>(h ^ (h >> 29));
}

template <class Use>
void ThreadBag::each(const Pattern& pattern, size_t rows, Use&& use) {
  forEachSegment(pattern, [&](Point from, Point to, size_t row) {
    const Stitch& s = pattern.stitches[row];
    if (row >= rows || !counts(s.kind)) return;
    Key key{std::llround(from.x * kPerMm), std::llround(from.y * kPerMm),
            std::llround(to.x * kPerMm), std::llround(to.y * kPerMm), pattern.colourOf(s).rgb};
    if (std::pair(key.bx, key.by) < std::pair(key.ax, key.ay)) {
      std::swap(key.ax, key.bx);
      std::swap(key.ay, key.by);
    }
    use(key, row);
  });
}

void ThreadBag::add(const Pattern& pattern, size_t rows) {
  each(pattern, rows, [&](const Key& key, size_t) {
    ++count_[key];
    ++total_;
  });
}

std::vector<bool> ThreadBag::rowsIn(const Pattern& pattern) const {
  std::unordered_map<Key, int, Hash> left = count_;
  std::vector<bool> in(pattern.stitches.size(), false);
  each(pattern, SIZE_MAX, [&](const Key& key, size_t row) {
    const auto it = left.find(key);
    if (it == left.end() || it->second == 0) return;
    --it->second;
    in[row] = true;
  });
  return in;
}

size_t ThreadBag::missing(const Pattern& pattern) const {
  const std::vector<bool> in = rowsIn(pattern);
  size_t out = 0;
  each(pattern, SIZE_MAX, [&](const Key&, size_t row) { out += in[row] ? 0 : 1; });
  return out;
}

size_t ThreadBag::without(const ThreadBag& other) const {
  size_t out = 0;
  for (const auto& [key, n] : count_) {
    const auto it = other.count_.find(key);
    out += static_cast<size_t>(std::max(0, n - (it == other.count_.end() ? 0 : it->second)));
  }
  return out;
}

namespace {

class Continuer {
 public:
  Continuer(const Pattern& layout, const HoopingPlan& base,
            const std::map<std::string, SewnRows>& sewn, const std::string& clamped,
            const PlanOptions& options, const Watch& watch)
      : layout_(layout),
        base_(base),
        sewn_(sewn),
        clamped_(clamped),
        options_(options),
        watch_(watch),
        blocks_(blocksOf(layout)),
        source_(layout),
        row_field_(layout.stitches.size(), kNobody) {
    for (size_t row = 0; row < layout.stitches.size(); ++row)
      if (layout.stitches[row].op == Op::Stitch) row_field_[row] = kStays;
  }

  ContinuedPlan run() {
    all_.add(layout_);
    keepSettings();
    findRest();
    findOverlaps();
    placeRest();
    writeRuns();
    planFresh();
    keepFindings();
    return std::move(out_);
  }

 private:
  SewnRows sewnOf(const PlanSetting& s) const {
    const auto it = sewn_.find(s.id);
    return it == sewn_.end() ? SewnRows{} : it->second;
  }

  void keepSettings() {
    ThreadBag onCloth;
    for (const Hooping& h : base_.hoopings) {
      Hooping kept = h;
      kept.settings.clear();
      for (const PlanSetting& s : h.settings) keepSetting(s, kept, onCloth);
      if (kept.settings.empty()) continue;
      kept.index = static_cast<int>(out_.plan.hoopings.size()) + 1;
      number_[h.index] = kept.index;
      out_.plan.hoopings.push_back(std::move(kept));
    }
    out_.lost_stitches = onCloth.without(all_);
  }

  void keepSetting(const PlanSetting& s, Hooping& to, ThreadBag& onCloth) {
    const SewnRows sewn = sewnOf(s);
    const bool begun = sewn.rows > 0 || sewn.done, whole = all_.missing(s.pattern) == 0;
    onCloth.add(s.pattern, sewn.rows);
    if (!begun && !whole) return;
    PlanSetting kept = s;
    const bool cut = begun && !sewn.done && !whole;
    if (cut) {
      kept.pattern.stitches.resize(std::min(sewn.rows, kept.pattern.stitches.size()));
      cutThread(kept.pattern);
      countSewing(kept);
    }
    kept.index = static_cast<int>(to.settings.size()) + 1;
    stays_.add(kept.pattern);
    out_.kept.push_back({s.id, cut});
    to.settings.push_back(std::move(kept));
  }

  /// Thread of the layout that no setting that stays sews.
  void findRest() {
    const std::vector<bool> in = stays_.rowsIn(layout_);
    rest_.assign(blocks_.size(), 0);
    home_.assign(blocks_.size(), kStays);
    for (size_t b = 0; b < blocks_.size(); ++b)
      for (size_t row = blocks_[b].first; row < blocks_[b].last; ++row)
        if (source_.steps[row].sewn && counts(layout_.stitches[row].kind) && !in[row]) ++rest_[b];
    in_ = in;
  }

  void findOverlaps() {
    if (std::all_of(rest_.begin(), rest_.end(), [](size_t n) { return n == 0; })) return;
    overlaps_ = overlappingBlocks(layout_, blocks_);
    findHomesThatStay();
  }

  /// For each block the clamping in which what of it stays is still to be sewn, the last of them;
  /// 0: none, or all is sewn.
  void findHomesThatStay() {
    stay_home_.assign(blocks_.size(), 0);
    for (const Hooping& h : out_.plan.hoopings)
      for (const PlanSetting& s : h.settings) {
        if (sewnOf(s).done) continue;
        ThreadBag bag;
        bag.add(s.pattern);
        const std::vector<bool> in = bag.rowsIn(layout_);
        for (size_t b = 0; b < blocks_.size(); ++b)
          if (std::find(in.begin() + static_cast<long>(blocks_[b].first),
                        in.begin() + static_cast<long>(blocks_[b].last),
                        true) != in.begin() + static_cast<long>(blocks_[b].last))
            stay_home_[b] = h.index;
      }
  }

  bool finished(const Hooping& h) const {
    return std::all_of(h.settings.begin(), h.settings.end(),
                       [&](const PlanSetting& s) { return sewnOf(s).done; });
  }

  /// The clamping that a block can be a run of: the one in the frame, else one still to be sewn.
  int clampingFor(size_t block, int earliest) const {
    const Box box = blocks_[block].bounds.grown(options_.rule.little_room_mm);
    const auto fits = [&](const Hooping& h) {
      return h.index >= earliest && h.settings.front().field.holds(box);
    };
    for (const Hooping& h : out_.plan.hoopings)
      if (h.id == clamped_ && fits(h)) return h.index;
    for (const Hooping& h : out_.plan.hoopings)
      if (!finished(h) && fits(h)) return h.index;
    return kFresh;
  }

  void placeRest() {
    for (size_t b = 0; b < blocks_.size(); ++b) {
      if (rest_[b] == 0) continue;
      int earliest = 1;
      bool onFresh = false;
      for (const auto& [under, over] : overlaps_) {
        if (static_cast<size_t>(over) != b) continue;
        const auto u = static_cast<size_t>(under);
        onFresh = onFresh || home_[u] == kFresh;
        earliest = std::max({earliest, home_[u], stay_home_[u]});
      }
      home_[b] = onFresh ? kFresh : clampingFor(b, earliest);
      giveRows(b);
    }
    doubtTurned();
  }

  /// A block of which nothing stays goes with its ties; of another the thread alone, which is tied
  /// where it was parted.
  void giveRows(size_t block) {
    const Block& b = blocks_[block];
    size_t stays = 0;
    for (size_t row = b.first; row < b.last; ++row) stays += in_[row] ? 1 : 0;
    for (size_t row = b.first; row < b.last; ++row) {
      const Stitch& s = layout_.stitches[row];
      if (s.op == Op::Stitch && !in_[row] && (stays == 0 || counts(s.kind)))
        row_field_[row] = home_[block];
    }
  }

  /// What lies under thread that is sewn before it, said by name.
  void doubtTurned() {
    std::set<std::pair<std::string, std::string>> said;
    for (const auto& [under, over] : overlaps_) {
      const auto u = static_cast<size_t>(under), o = static_cast<size_t>(over);
      if (rest_[u] == 0) continue;
      const bool later = rest_[o] == 0 ? (home_[u] == kFresh || home_[u] > stay_home_[o])
                                       : home_[o] != kFresh && home_[u] == kFresh;
      if (later && said.emplace(nameOf(u), nameOf(o)).second)
        out_.plan.doubts.push_back({PlanDoubt::What::TurnedOver, nameOf(u), nameOf(o), 0, 0, 0});
    }
  }

  std::string nameOf(size_t block) const {
    const std::string& piece = layout_.pieces[blocks_[block].piece];
    return piece.empty() ? "block " + std::to_string(block + 1) : piece;
  }

  /// A run of its own in a clamping that stays: one more setting at the place of its first.
  void writeRuns() {
    std::set<int> runs;
    for (size_t b = 0; b < blocks_.size(); ++b) {
      if (home_[b] <= 0 || home_[b] == kFresh) continue;
      runs.insert(home_[b]);
      if (std::find(out_.added.begin(), out_.added.end(), nameOf(b)) == out_.added.end())
        out_.added.push_back(nameOf(b));
    }
    out_.added_to = runs.size() == 1 ? *runs.begin() : 0;
    for (int index : runs) {
      Hooping& h = out_.plan.hoopings[static_cast<size_t>(index - 1)];
      PlanSetting run;
      run.index = static_cast<int>(h.settings.size()) + 1;
      run.id = freeId(h.id + "+");
      run.field = h.settings.front().field;
      run.pattern = writeSetting(
          source_, row_field_, index, run.field,
          base_.interlock_mm > 0 ? base_.interlock_mm : options_.rule.least_interlock_mm, {});
      countSewing(run);
      h.settings.push_back(std::move(run));
    }
  }

  std::string freeId(const std::string& begins) const {
    std::set<std::string> taken;
    for (const Hooping& h : base_.hoopings) {
      taken.insert(h.id);
      for (const PlanSetting& s : h.settings) taken.insert(s.id);
    }
    for (const Hooping& h : out_.plan.hoopings) {
      taken.insert(h.id);
      for (const PlanSetting& s : h.settings) taken.insert(s.id);
    }
    int n = 1;
    while (taken.contains(begins + std::to_string(n))) ++n;
    return begins + std::to_string(n);
  }

  void planFresh() {
    const bool any = std::find(home_.begin(), home_.end(), kFresh) != home_.end();
    int done = 0;
    for (const Hooping& h : out_.plan.hoopings) done += finished(h) ? 1 : 0;
    out_.plan.lower_bound = std::max(1, done);
    if (!any) return;
    const Box box = threadBounds(layout_).grown(2 * kLongestStitch_mm);
    PlacedField everywhere;
    everywhere.box = box;
    const Pattern rest =
        writeSetting(source_, row_field_, kFresh, everywhere, options_.rule.least_interlock_mm, {});
    PlanOptions options = options_;
    std::erase_if(options.keep, [&](const std::string& name) {
      return std::find(rest.pieces.begin(), rest.pieces.end(), name) == rest.pieces.end();
    });
    HoopingPlan fresh = planHoopings(rest, options, watch_);
    out_.fresh_hoopings = fresh.hoopings.size();
    out_.plan.lower_bound = done + fresh.lower_bound;
    takeIn(std::move(fresh));
  }

  void takeIn(HoopingPlan fresh) {
    const int shift = static_cast<int>(out_.plan.hoopings.size());
    int marks = 0;
    for (const Hooping& h : base_.hoopings)
      for (const PlanMark& m : h.marks) marks = std::max(marks, numberOf(m));
    for (Hooping& h : fresh.hoopings) {
      h.index += shift;
      h.id = freeId("n");
      for (PlanSetting& s : h.settings)
        s.id = h.id + (h.settings.size() > 1 ? "s" + std::to_string(s.index) : std::string());
      for (PlanMark& m : h.marks)  // other marks than those of these names before
        if (const int n = numberOf(m); n > 0) m.id = "M" + std::to_string(n + marks);
      out_.plan.hoopings.push_back(std::move(h));
    }
    for (Seam& s : fresh.seams) {
      s.first += shift, s.second += shift;
      out_.plan.seams.push_back(s);
    }
    for (Cutting& c : fresh.cuts) {
      c.first += shift, c.second += shift;
      out_.plan.cuts.push_back(c);
    }
    for (PlanDoubt& d : fresh.doubts) {
      if (d.first > 0) d.first += shift;
      if (d.second > 0) d.second += shift;
      out_.plan.doubts.push_back(d);
    }
    out_.plan.crossings = fresh.crossings;
    out_.plan.cut_stitches = fresh.cut_stitches;
    out_.plan.interlock_mm = fresh.interlock_mm;
  }

  /// What was found of the settings that stay still holds.
  void keepFindings() {
    HoopingPlan& plan = out_.plan;
    const auto stays = [&](int& index) {
      const auto it = number_.find(index);
      if (it == number_.end()) return false;
      index = it->second;
      return true;
    };
    for (Seam s : base_.seams)
      if (stays(s.first) && stays(s.second)) plan.seams.push_back(s);
    for (Cutting c : base_.cuts)
      if (stays(c.first) && stays(c.second)) plan.cuts.push_back(c);
    for (PlanDoubt d : base_.doubts)
      if ((d.first == 0 || stays(d.first)) && (d.second == 0 || stays(d.second)) &&
          d.what != PlanDoubt::What::EndedEarly)
        plan.doubts.push_back(d);
    for (const std::string& c : base_.crossings)
      if (std::find(plan.crossings.begin(), plan.crossings.end(), c) == plan.crossings.end())
        plan.crossings.push_back(c);
    plan.cut_stitches += base_.cut_stitches;
    plan.interlock_mm = std::max(plan.interlock_mm, base_.interlock_mm);
    plan.plain_grid = base_.plain_grid;
    for (const Seam& s : plan.seams)
      if (s.meets) plan.worst_seam_error_mm = std::max(plan.worst_seam_error_mm, s.error_mm);
  }

  const Pattern& layout_;
  const HoopingPlan& base_;
  const std::map<std::string, SewnRows>& sewn_;
  const std::string& clamped_;
  const PlanOptions& options_;
  const Watch& watch_;
  std::vector<Block> blocks_;
  ThreadSource source_;
  ThreadBag all_, stays_;
  std::vector<int> row_field_;  // per row: a clamping, kStays or kFresh
  std::vector<bool> in_;        // per row: sewn by a setting that stays
  std::vector<size_t> rest_;    // per block: segments that are left to sew
  std::vector<int> home_;       // per block, as row_field_
  std::vector<int> stay_home_;  // per block: where what stays of it is still to be sewn
  std::vector<std::pair<int, int>> overlaps_;
  std::map<int, int> number_;  // of hoopings, in the earlier plan and in this one
  ContinuedPlan out_;
};

}  // namespace

ContinuedPlan continuedPlan(const Pattern& layout, const HoopingPlan& base,
                            const std::map<std::string, SewnRows>& sewn, const std::string& clamped,
                            const PlanOptions& options, const Watch& watch) {
  return Continuer(layout, base, sewn, clamped, options, watch).run();
}

}  // namespace rt
