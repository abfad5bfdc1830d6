#include "field_cover.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "cover_candidates.h"
#include "integer_program.h"

namespace rt {
namespace {

constexpr double kTurnCost = 0.003;   // of a frame turned: only between plans that are equal else
constexpr double kOtherCost = 0.001;  // of another frame than the first one named
constexpr double kSettingCost = 200;  // over any weight of parted wholes

std::vector<CoverItem> itemsOf(const CoverProblem& problem) {
  std::vector<CoverItem> items;
  for (const CoverNeed& n : problem.needs) items.push_back({n.box, n.core});
  for (const CoverWhole& w : problem.wholes) items.push_back({w.box, w.box});
  return items;
}

/// What stands chosen: settings of candidates.
struct Chosen {
  std::vector<std::pair<size_t, size_t>> settings;  // candidate, field
  size_t clampings() const {
    std::vector<size_t> of;
    for (const auto& [c, f] : settings) of.push_back(c);
    std::sort(of.begin(), of.end());
    return static_cast<size_t>(std::unique(of.begin(), of.end()) - of.begin());
  }
};

class Cover {
 public:
  Cover(const CoverProblem& problem, const std::vector<Hoop>& hoops, bool turn,
        const CoverLimits& limits)
      : problem_(problem),
        limits_(limits),
        items_(itemsOf(problem)),
        candidates_(candidatesFor(items_, hoops, turn, limits.most_candidates, thinned_)) {}

  /// Takes, again and again, the clamping that holds most of what is open; then drops settings
  /// that are not needed.
  Chosen greedy() const {
    Chosen chosen;
    ItemSet held(items_.size());
    while (!served(held)) {
      const size_t next = mostGain(held);
      if (next == candidates_.size()) break;
      for (size_t f = 0; f < candidates_[next].holds.size(); ++f)
        chosen.settings.push_back({next, f});
      held |= candidates_[next].all;
    }
    prune(chosen);
    return chosen;
  }

  /// Fewer clampings than `than`, if there are.
  IntegerProgram::Outcome fewer(size_t than, Chosen& chosen, const Watch& watch) const {
    Program p = program();
    for (int c : p.clamping) p.ip.setCost(c, 1);
    p.ip.row(-INFINITY, static_cast<double>(than) - 1, countTerms(p));
    return run(p, chosen, watch);
  }

  /// Fewest settings and least parted with just so many clampings; settings are counted as if each
  /// clamping had to hold all that it can, and counted again once the clampings stand.
  IntegerProgram::Outcome finest(size_t clampings, Chosen& chosen, const Watch& watch) const {
    Program p = program();
    for (size_t c = 0; c < candidates_.size(); ++c) {
      const Clamping& k = candidates_[c].clamping;
      const double handling = (k.turn_deg != 0 ? kTurnCost : 0) + kOtherCost * k.hoop;
      p.ip.setCost(p.clamping[c], handling + kSettingCost * (settingsOf(candidates_[c]) - 1));
    }
    for (size_t w = 0; w < problem_.wholes.size(); ++w)
      p.ip.setCost(p.wholes[w], -problem_.wholes[w].weight);
    p.ip.row(-INFINITY, static_cast<double>(clampings), countTerms(p));
    Chosen better;
    const auto outcome = run(p, better, watch);
    if (!better.settings.empty()) needed(better, watch);
    needed(chosen, watch);
    if (!better.settings.empty() && cost(better) < cost(chosen)) chosen = better;
    refine(chosen, clampings, watch);
    return outcome;
  }

  /// Frames of several settings: clampings and settings chosen together, among places near those
  /// that stand.
  void refine(Chosen& chosen, size_t clampings, const Watch& watch) const {
    const std::vector<size_t> pool = nearby(chosen);
    if (pool.empty()) return;
    IntegerProgram ip;
    std::vector<int> clamping, wholes;
    std::vector<std::vector<int>> settings;
    std::vector<std::vector<std::pair<int, double>>> holders(items_.size());
    std::vector<std::pair<int, double>> all;
    for (size_t c : pool) {
      const Clamping& k = candidates_[c].clamping;
      clamping.push_back(ip.column((k.turn_deg != 0 ? kTurnCost : 0) + kOtherCost * k.hoop));
      all.push_back({clamping.back(), 1});
      settings.emplace_back();
      for (const ItemSet& held : candidates_[c].holds) {
        const int column = ip.column(kSettingCost);
        settings.back().push_back(column);
        ip.row(-INFINITY, 0, {{column, 1}, {clamping.back(), -1}});
        held.each([&](size_t item) { holders[item].push_back({column, 1}); });
      }
    }
    ip.row(-INFINITY, static_cast<double>(clampings), all);
    for (const CoverWhole& w : problem_.wholes) wholes.push_back(ip.column(-w.weight, false));
    for (size_t n : strictest()) {
      if (const int w = problem_.needs[n].whole; w >= 0)
        holders[n].push_back({wholes[static_cast<size_t>(w)], 1});
      ip.row(1, INFINITY, holders[n]);
    }
    for (size_t w = 0; w < problem_.wholes.size(); ++w) {
      auto& terms = holders[problem_.needs.size() + w];
      terms.push_back({wholes[w], -1});
      ip.row(0, INFINITY, terms);
      if (problem_.wholes[w].must) ip.row(1, 1, {{wholes[w], 1}});
    }
    const IntegerProgram::Solution s = ip.solve(limits_.most_branches / 3, watch);
    if (s.values.empty()) return;
    Chosen found;
    for (size_t i = 0; i < pool.size(); ++i)
      for (size_t f = 0; f < settings[i].size(); ++f)
        if (s.values[static_cast<size_t>(settings[i][f])] > 0.5)
          found.settings.push_back({pool[i], f});
    if (serves(found) && found.clampings() <= clampings && cost(found) < cost(chosen))
      chosen = std::move(found);
  }

  /// The chosen candidates and, of the same frame, those whose places lie nearest to each; none
  /// where every frame has one setting.
  std::vector<size_t> nearby(const Chosen& chosen) const {
    constexpr size_t kNear = 14;
    std::vector<size_t> pool;
    bool several = false;
    const auto add = [&](size_t c) {
      if (std::find(pool.begin(), pool.end(), c) == pool.end()) pool.push_back(c);
    };
    for (const auto& [c, f] : chosen.settings) add(c);
    const std::vector<size_t> own = pool;
    for (size_t c : own) {
      const Clamping& k = candidates_[c].clamping;
      several = several || candidates_[c].holds.size() > 1;
      std::vector<std::pair<double, size_t>> near;
      for (size_t o = 0; o < candidates_.size(); ++o) {
        const Clamping& other = candidates_[o].clamping;
        if (o != c && other.hoop == k.hoop && other.turn_deg == k.turn_deg)
          near.push_back({distance(other.origin, k.origin), o});
      }
      std::sort(near.begin(), near.end());
      for (size_t i = 0; i < std::min(kNear, near.size()); ++i) add(near[i].second);
    }
    return several ? pool : std::vector<size_t>{};
  }

  double parted(const Chosen& chosen) const {
    double sum = 0;
    for (size_t w = 0; w < problem_.wholes.size(); ++w)
      if (!heldTogether(chosen, problem_.needs.size() + w)) sum += problem_.wholes[w].weight;
    return sum;
  }

  CoverAnswer answer(const Chosen& chosen) const {
    CoverAnswer out;
    std::vector<size_t> of;
    for (const auto& [c, f] : chosen.settings) {
      const auto at = std::find(of.begin(), of.end(), c);
      if (at == of.end()) {
        of.push_back(c);
        out.clampings.push_back(candidates_[c].clamping);
        out.clampings.back().fields.clear();
      }
      out.clampings[static_cast<size_t>(std::find(of.begin(), of.end(), c) - of.begin())]
          .fields.push_back(candidates_[c].clamping.fields[f]);
    }
    out.parted = parted(chosen);
    return out;
  }

  bool thinned() const { return thinned_; }
  bool serves(const Chosen& chosen) const {
    ItemSet held(items_.size());
    for (const auto& [c, f] : chosen.settings) held |= candidates_[c].holds[f];
    return served(held);
  }

 private:
  struct Program {
    IntegerProgram ip;
    std::vector<int> clamping;  // column a candidate
    std::vector<int> wholes;
  };

  /// How many of its fields hold all that it holds: taken one by one, those first that add most.
  static double settingsOf(const Candidate& c) {
    ItemSet open = c.all;
    int taken = 0;
    while (!open.empty()) {
      size_t best = 0, most = 0;
      for (size_t f = 0; f < c.holds.size(); ++f)
        if (const size_t n = c.holds[f].countIn(open); n > most) most = n, best = f;
      if (most == 0) break;
      c.holds[best].each([&](size_t item) { open.remove(item); });
      ++taken;
    }
    return taken;
  }

  /// Of the fields of the chosen clampings the fewest that do, then those that part least.
  void needed(Chosen& chosen, const Watch& watch) const {
    if (chosen.settings.empty()) return;
    IntegerProgram ip;
    std::vector<int> columns, wholes;
    for (size_t i = 0; i < chosen.settings.size(); ++i) columns.push_back(ip.column(kSettingCost));
    for (const CoverWhole& w : problem_.wholes) wholes.push_back(ip.column(-w.weight, false));
    for (size_t item = 0; item < items_.size(); ++item) {
      std::vector<std::pair<int, double>> terms;
      for (size_t i = 0; i < chosen.settings.size(); ++i)
        if (candidates_[chosen.settings[i].first].holds[chosen.settings[i].second].has(item))
          terms.push_back({columns[i], 1});
      if (item >= problem_.needs.size()) {
        const size_t w = item - problem_.needs.size();
        terms.push_back({wholes[w], -1});
        ip.row(0, INFINITY, std::move(terms));
        if (problem_.wholes[w].must) ip.row(1, 1, {{wholes[w], 1}});
      } else {
        if (const int w = problem_.needs[item].whole; w >= 0)
          terms.push_back({wholes[static_cast<size_t>(w)], 1});
        ip.row(1, INFINITY, std::move(terms));
      }
    }
    const IntegerProgram::Solution s = ip.solve(limits_.most_branches, watch);
    if (s.values.empty()) return prune(chosen);
    Chosen kept;
    for (size_t i = 0; i < chosen.settings.size(); ++i)
      if (s.values[static_cast<size_t>(columns[i])] > 0.5)
        kept.settings.push_back(chosen.settings[i]);
    if (serves(kept) && kept.clampings() <= chosen.clampings()) chosen = kept;
  }

  /// Large programs take longer a branch.
  int branches() const {
    const double size =
        static_cast<double>(candidates_.size()) * static_cast<double>(items_.size());
    return std::clamp(static_cast<int>(limits_.most_branches * 2e5 / std::max(size, 1.0)), 30,
                      limits_.most_branches);
  }

  bool served(const ItemSet& held) const {
    for (size_t n = 0; n < problem_.needs.size(); ++n) {
      const int w = problem_.needs[n].whole;
      if (!held.has(n) && (w < 0 || !held.has(problem_.needs.size() + static_cast<size_t>(w))))
        return false;
    }
    for (size_t w = 0; w < problem_.wholes.size(); ++w)
      if (problem_.wholes[w].must && !held.has(problem_.needs.size() + w)) return false;
    return true;
  }

  size_t mostGain(const ItemSet& held) const {
    size_t best = candidates_.size(), most = 0;
    for (size_t c = 0; c < candidates_.size(); ++c) {
      const size_t gain = candidates_[c].all.count() - candidates_[c].all.countIn(held);
      if (gain > most) most = gain, best = c;
    }
    return best;
  }

  void prune(Chosen& chosen) const {
    for (size_t i = chosen.settings.size(); i-- > 0;) {
      Chosen without = chosen;
      without.settings.erase(without.settings.begin() + static_cast<long>(i));
      if (serves(without)) chosen = without;
    }
  }

  bool heldTogether(const Chosen& chosen, size_t item) const {
    return std::any_of(chosen.settings.begin(), chosen.settings.end(), [&](const auto& s) {
      return candidates_[s.first].holds[s.second].has(item);
    });
  }

  double cost(const Chosen& chosen) const {
    return kSettingCost * static_cast<double>(chosen.settings.size()) + parted(chosen);
  }

  Program program() const {
    Program p;
    for (size_t c = 0; c < candidates_.size(); ++c) p.clamping.push_back(p.ip.column(0));
    // kept whole or not follows from the fields: it need not be branched on
    for (size_t w = 0; w < problem_.wholes.size(); ++w) p.wholes.push_back(p.ip.column(0, false));
    addHolding(p);
    return p;
  }

  void addHolding(Program& p) const {
    std::vector<std::vector<std::pair<int, double>>> holders(items_.size());
    for (size_t c = 0; c < candidates_.size(); ++c)
      candidates_[c].all.each([&](size_t item) { holders[item].push_back({p.clamping[c], 1}); });
    for (size_t n : strictest()) {
      auto terms = holders[n];
      if (problem_.needs[n].whole >= 0)
        terms.push_back({p.wholes[static_cast<size_t>(problem_.needs[n].whole)], 1});
      p.ip.row(1, INFINITY, std::move(terms));
    }
    for (size_t w = 0; w < problem_.wholes.size(); ++w) {
      auto terms = holders[problem_.needs.size() + w];
      terms.push_back({p.wholes[w], -1});
      p.ip.row(0, INFINITY, std::move(terms));
      if (problem_.wholes[w].must) p.ip.row(1, 1, {{p.wholes[w], 1}});
    }
  }

  /// Needs that do not follow from another: whoever serves that one serves this one too.
  std::vector<size_t> strictest() const {
    const size_t n = problem_.needs.size();
    std::vector<ItemSet> holders(n, ItemSet(candidates_.size()));
    for (size_t c = 0; c < candidates_.size(); ++c)
      candidates_[c].all.each([&](size_t item) {
        if (item < n) holders[item].add(c);
      });
    std::vector<size_t> order(n), kept;
    std::iota(order.begin(), order.end(), size_t{0});
    std::vector<size_t> many(n);
    for (size_t i = 0; i < n; ++i) many[i] = holders[i].count();
    std::stable_sort(order.begin(), order.end(), [&](size_t a, size_t b) {
      const bool free = problem_.needs[a].whole < 0, other = problem_.needs[b].whole < 0;
      return many[a] != many[b] ? many[a] < many[b] : free && !other;
    });
    for (size_t i : order) {
      const int whole = problem_.needs[i].whole;
      const bool follows = std::any_of(kept.begin(), kept.end(), [&](size_t k) {
        return (problem_.needs[k].whole < 0 || problem_.needs[k].whole == whole) &&
               holders[k].within(holders[i]);
      });
      if (!follows) kept.push_back(i);
    }
    return kept;
  }

  std::vector<std::pair<int, double>> countTerms(const Program& p) const {
    std::vector<std::pair<int, double>> terms;
    for (int c : p.clamping) terms.push_back({c, 1});
    return terms;
  }

  IntegerProgram::Outcome run(const Program& p, Chosen& chosen, const Watch& watch) const {
    const IntegerProgram::Solution s = p.ip.solve(branches(), watch);
    if (s.values.empty()) return s.outcome;
    Chosen found;
    for (size_t c = 0; c < candidates_.size(); ++c)
      if (s.values[static_cast<size_t>(p.clamping[c])] > 0.5)
        for (size_t f = 0; f < candidates_[c].holds.size(); ++f) found.settings.push_back({c, f});
    if (!serves(found)) return IntegerProgram::Outcome::GivenUp;
    chosen = std::move(found);
    return s.outcome;
  }

  const CoverProblem& problem_;
  CoverLimits limits_;
  std::vector<CoverItem> items_;
  bool thinned_ = false;
  std::vector<Candidate> candidates_;
};

/// Whether one clamping can hold both boxes.
bool together(const Box& a, const Box& b, const std::vector<PlacedField>& fields) {
  for (const PlacedField& f : fields)
    for (const PlacedField& g : fields) {
      // where the frame's origin may lie so that f holds a and g holds b
      const double left = std::max(a.right - f.box.right, b.right - g.box.right);
      const double right = std::min(a.left - f.box.left, b.left - g.box.left);
      const double top = std::max(a.bottom - f.box.bottom, b.bottom - g.box.bottom);
      const double bottom = std::min(a.top - f.box.top, b.top - g.box.top);
      if (left <= right + 2 * kSame_mm && top <= bottom + 2 * kSame_mm) return true;
    }
  return false;
}

/// Fields of every frame and turn as rectangles; a rail's field grown to all that it reaches.
std::vector<std::vector<PlacedField>> framesOf(const std::vector<Hoop>& hoops, bool turn) {
  std::vector<std::vector<PlacedField>> out;
  for (const Hoop& h : hoops)
    for (int turned : {0, 90}) {
      if (turned != 0 && !turn) continue;
      std::vector<PlacedField> fields = fieldsOf(h, turned);
      if (h.rail) {
        fields[0].box.add(fields[1].box);
        fields.pop_back();
      }
      for (PlacedField& f : fields) f.shape = HoopShape::Rectangle;
      out.push_back(std::move(fields));
    }
  return out;
}

/// Boxes of which no clamping holds two: four sweeps from the sides.
int apart(const std::vector<Box>& boxes, const std::vector<Hoop>& hoops, bool turn) {
  const auto frames = framesOf(hoops, turn);
  int most = boxes.empty() ? 0 : 1;
  for (int sweep = 0; sweep < 6; ++sweep) {
    std::vector<const Box*> order;
    for (const Box& b : boxes) order.push_back(&b);
    auto key = [&](const Box& b) {
      switch (sweep) {
        case 0:
          return b.left + b.top;
        case 1:
          return b.top - b.right;
        case 2:
          return b.left + 1e-4 * b.top;
        case 3:
          return b.top + 1e-4 * b.left;
        case 4:
          return -b.right - 1e-4 * b.bottom;
        default:
          return -b.bottom - 1e-4 * b.right;
      }
    };
    std::stable_sort(order.begin(), order.end(),
                     [&](const Box* a, const Box* b) { return key(*a) < key(*b); });
    std::vector<const Box*> picked;
    for (const Box* b : order)
      if (std::none_of(picked.begin(), picked.end(), [&](const Box* p) {
            return std::any_of(frames.begin(), frames.end(),
                               [&](const auto& f) { return together(*p, *b, f); });
          }))
        picked.push_back(b);
    most = std::max(most, static_cast<int>(picked.size()));
  }
  return most;
}

/// Rows of a cover without those that hold wherever another one does.
std::vector<std::vector<std::pair<int, double>>> withoutFollowers(
    std::vector<std::vector<std::pair<int, double>>> rows) {
  std::stable_sort(rows.begin(), rows.end(),
                   [](const auto& a, const auto& b) { return a.size() < b.size(); });
  std::vector<std::vector<std::pair<int, double>>> kept;
  for (auto& row : rows)
    if (std::none_of(kept.begin(), kept.end(), [&](const auto& k) {
          return std::includes(row.begin(), row.end(), k.begin(), k.end());
        }))
      kept.push_back(std::move(row));
  return kept;
}

}  // namespace

bool fitsSomeField(const Box& box, const std::vector<Hoop>& hoops, bool turn) {
  for (const Hoop& h : hoops)
    for (int turned : {0, 90}) {
      if (turned != 0 && !turn) continue;
      for (PlacedField f : fieldsOf(h, turned)) {
        f.box = f.box.moved(box.centre() - f.box.centre());
        if (f.holds(box)) return true;
      }
    }
  return false;
}

double partedBy(const std::vector<Clamping>& clampings, const CoverProblem& problem) {
  double sum = 0;
  for (const CoverWhole& w : problem.wholes) {
    const bool held = std::any_of(clampings.begin(), clampings.end(), [&](const Clamping& c) {
      return std::any_of(c.fields.begin(), c.fields.end(),
                         [&](const PlacedField& f) { return f.holds(w.box); });
    });
    if (!held) sum += w.weight;
  }
  return sum;
}

CoverAnswer coverNeeds(const CoverProblem& problem, const std::vector<Hoop>& hoops, bool turn,
                       const CoverLimits& limits, size_t below, const Watch& watch) {
  using Outcome = IntegerProgram::Outcome;
  const Cover cover(problem, hoops, turn, limits);
  Chosen chosen = cover.greedy();
  bool have = cover.serves(chosen) && chosen.clampings() < below;
  const size_t than = have ? chosen.clampings() : below;
  bool fewest = than <= 1;
  if (!fewest) {
    const Outcome outcome = cover.fewer(than, chosen, watch);
    have = have || outcome == Outcome::Best || outcome == Outcome::Good;
    fewest = outcome == Outcome::Best || outcome == Outcome::None;
  }
  if (!have) return {{}, fewest && !cover.thinned(), false, 0};
  const Outcome fine = cover.finest(chosen.clampings(), chosen, watch);
  CoverAnswer out = cover.answer(chosen);
  out.fewest = fewest && !cover.thinned();
  out.best = out.fewest && fine == Outcome::Best;
  return out;
}

int fewestClampings(const std::vector<Box>& boxes, const std::vector<Hoop>& hoops, bool turn,
                    const CoverLimits& limits, int known, const Watch& watch) {
  if (boxes.empty()) return 1;
  int least = std::max(1, apart(boxes, hoops, turn));
  if (least >= known) return known;
  std::vector<Hoop> rectangles = hoops;  // an oval holds no more than the rectangle around it
  for (Hoop& h : rectangles) h.field.shape = HoopShape::Rectangle;
  bool thinned = false;
  std::vector<CoverItem> items;
  for (const Box& b : boxes) items.push_back({b, b});
  const std::vector<Candidate> candidates =
      candidatesFor(items, rectangles, turn, limits.most_candidates, thinned);
  if (thinned) return least;  // a bound over some of the places would prove nothing
  IntegerProgram ip;
  std::vector<std::vector<std::pair<int, double>>> holders(boxes.size());
  std::vector<std::pair<int, double>> all;
  for (const Candidate& c : candidates) {
    const int column = ip.column(1);
    all.push_back({column, 1});
    c.all.each([&](size_t item) { holders[item].push_back({column, 1}); });
  }
  for (auto& terms : withoutFollowers(std::move(holders))) ip.row(1, INFINITY, std::move(terms));
  if (const auto relaxed = ip.relaxed())
    least = std::max(least, static_cast<int>(std::ceil(*relaxed - 1e-6)));
  while (least < known) {
    IntegerProgram fewer = ip;
    fewer.row(-INFINITY, least, all);
    if (fewer.solve(limits.most_branches, watch).outcome != IntegerProgram::Outcome::None) break;
    ++least;
  }
  return std::min(least, known);
}

}  // namespace rt
