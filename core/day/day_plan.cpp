#include "day_plan.h"

#include <algorithm>
#include <random>

#include "day_bounds.h"
#include "day_stock.h"
#include "error.h"

namespace rt {
namespace {

constexpr size_t kMostSearched = 2'000;   // hoopings: of more the best rule is taken
constexpr size_t kHistory = 60;           // of late acceptance
constexpr int kAfterProof = 4'000;        // tries for fewer threads and less waiting
constexpr int kWithoutGain = 60'000;      // tries that better nothing end a search …
constexpr int kRanksWithoutGain = 1'500;  // … and that of ranks

class Planner {
 public:
  Planner(const Day& day, const DayWish& wish)
      : wish_(wish), model_(day, wish.begun, wish.now.value_or(day.from)) {
    forced();
  }

  DayPlan run() {
    best_ = bestOfRules();
    bound_ = boundFor(best_.out.cost.left_out);
    betterRank();
    bound_ = boundFor(best_.out.cost.left_out);
    improve();
    return conclude();
  }

  DayPlan byRule() {
    best_ = byRank(dues());
    bound_ = boundFor(best_.out.cost.left_out);
    return conclude();
  }

 private:
  struct Try {
    DayOrder order;
    DayDecoded out;
  };

  const Day& day() const { return model_.day(); }

  // --- what cannot be done whatever the order

  void forced() {
    const auto& jobs = day().jobs;
    start_.out.assign(model_.pieces(), false);
    start_.machine.assign(model_.items().size(), -1);
    for (size_t i = 0; i < model_.items().size(); ++i)
      if (!model_.items()[i].machines.empty()) start_.machine[i] = model_.items()[i].machines[0];
    for (const DayTask& t : model_.begun())
      if (t.machine >= 0)
        start_.machine[static_cast<size_t>(model_.itemOf(t.job, t.piece, t.hooping))] = t.machine;
    std::vector<int> possible;
    for (const DayJob& job : jobs) {
      const bool can = std::all_of(job.hoopings.begin(), job.hoopings.end(),
                                   [&](const DayHooping& h) { return !lacking(h); });
      possible.push_back(can ? job.pieces : 0);
    }
    made_ = piecesInStock(day(), possible);
    for (size_t j = 0; j < jobs.size(); ++j)
      for (int p = made_[j]; p < jobs[j].pieces; ++p)
        start_.out[model_.pieceAt(static_cast<int>(j), p)] = true;
    // pieces that were begun stay in before those that were not
    for (const DayTask& t : model_.begun()) keepIn(t.job, t.piece);
  }
  void keepIn(int job, int piece) {
    const size_t at = model_.pieceAt(job, piece);
    if (!start_.out[at]) return;
    for (int p = 0; p < day().jobs[static_cast<size_t>(job)].pieces; ++p) {
      const size_t other = model_.pieceAt(job, p);
      if (start_.out[other] || begun(job, p)) continue;
      start_.out[other] = true;
      start_.out[at] = false;
      return;
    }
  }
  bool begun(int job, int piece) const {
    return std::any_of(model_.begun().begin(), model_.begun().end(),
                       [&](const DayTask& t) { return t.job == job && t.piece == piece; });
  }
  std::optional<DayLeftOut::Why> lacking(const DayHooping& h) const {
    const auto frame = day().frames.find(h.frame);
    if (frame == day().frames.end() || frame->second <= 0) return DayLeftOut::Why::NoFrame;
    for (const DayMachine& m : day().machines)
      if (std::find(m.frames.begin(), m.frames.end(), h.frame) != m.frames.end())
        return std::nullopt;
    return DayLeftOut::Why::NoMachine;
  }

  // --- rules to begin with

  std::vector<double> rankBy(const std::function<double(const DayItem&)>& of) const {
    std::vector<double> out;
    for (const DayItem& i : model_.items()) out.push_back(of(i));
    return out;
  }
  double due(const DayItem& i) const {
    const DayJob& job = day().jobs[static_cast<size_t>(i.job)];
    return static_cast<double>(job.due.value_or(model_.calendar().end() + kDay_s));
  }
  double work(const DayItem& i) const {
    double sum = 0;
    for (const DaySew& s : model_.hooping(i).sew) sum += s.s;
    return sum;
  }
  std::vector<double> dues() const {
    return rankBy([&](const DayItem& i) { return due(i); });
  }

  Try byRank(const std::vector<double>& rank) const {
    Try t{start_, {}};
    t.out = dispatched(model_, t.order, rank);
    return t;
  }

  Try bestOfRules() {
    const auto pieceWork = [&](const DayItem& i) {
      const DayJob& job = day().jobs[static_cast<size_t>(i.job)];
      double sum = 0;
      for (size_t h = static_cast<size_t>(i.hooping); h < job.hoopings.size(); ++h)
        for (const DaySew& s : job.hoopings[h].sew) sum += s.s;
      return sum;
    };
    const auto weight = [&](const DayItem& i) {
      return std::max(1e-6, day().jobs[static_cast<size_t>(i.job)].weight);
    };
    rank_ = dues();
    Try best = byRank(rank_);
    for (const auto& rank : {rankBy([&](const DayItem& i) { return due(i) - 2 * pieceWork(i); }),
                             rankBy([&](const DayItem& i) { return -pieceWork(i); }),
                             rankBy([&](const DayItem& i) { return pieceWork(i) / weight(i); }),
                             rankBy([&](const DayItem& i) { return due(i) - 1800 * weight(i); })}) {
      if (!goesOn()) break;
      Try other = byRank(rank);
      if (compared(other.out.cost, best.out.cost) < 0) best = std::move(other), rank_ = rank;
    }
    return best;
  }

  /// The rule's ranks bettered: pieces and hoopings before or after others, one at a time.
  void betterRank() {
    if (model_.items().size() < 2 || model_.items().size() > kMostSearched) return;
    std::vector<double> now = rank_;
    std::vector<DayCost> history(kHistory, best_.out.cost);
    DayCost cost = best_.out.cost;
    for (int round = 0, since = 0; since < kRanksWithoutGain && !proven(); ++round, ++since) {
      if (!goesOn()) return;
      std::vector<double> next = now;
      const size_t i = below(next.size()), other = below(next.size());
      const double to =
          next[other] + (below(2) ? 1e-3 : -1e-3) * static_cast<double>(1 + below(1000));
      for (size_t k = 0; k < next.size(); ++k)  // all of the piece, or this hooping alone
        if (k == i || (below(4) && samePiece(k, i))) next[k] = to;
      Try t = byRank(next);
      DayCost& then = history[static_cast<size_t>(round) % kHistory];
      if (compared(t.out.cost, cost) <= 0 || compared(t.out.cost, then) <= 0)
        cost = t.out.cost, now = std::move(next);
      if (compared(cost, then) < 0) then = cost;
      if (compared(t.out.cost, best_.out.cost) < 0) best_ = std::move(t), since = 0;
    }
  }
  bool samePiece(size_t a, size_t b) const {
    const DayItem &x = model_.items()[a], &y = model_.items()[b];
    return x.job == y.job && x.piece == y.piece;
  }

  // --- the search

  bool goesOn() const { return !wish_.goOn || wish_.goOn(); }
  bool proven() const {
    return forcedWeight() + 1e-9 >= best_.out.cost.left_out &&
           best_.out.cost.late_s <= bound_.late_s + 1e-6 && best_.out.cost.ends <= bound_.ends;
  }
  double forcedWeight() const {
    double sum = 0;
    for (size_t j = 0; j < day().jobs.size(); ++j)
      sum += day().jobs[j].weight * (day().jobs[j].pieces - made_[j]);
    return sum;
  }

  void improve() {
    if (best_.order.tokens.size() < 2 || model_.items().size() > kMostSearched) return;
    fillUp(best_.order);
    Try now = best_;
    std::vector<DayCost> history(kHistory, now.out.cost);
    int sinceGain = 0, sinceProof = 0;
    for (size_t round = 0; sinceGain < kWithoutGain; ++round) {
      if (!goesOn()) return;
      if (proven() && (done() || ++sinceProof > kAfterProof)) return;
      Try next{changed(now.order), {}};
      next.order.out = start_.out;
      next.out = decoded(model_, next.order);
      DayCost& then = history[round % kHistory];
      ++sinceGain;
      if (compared(next.out.cost, now.out.cost) <= 0 || compared(next.out.cost, then) <= 0)
        now = std::move(next);
      if (compared(now.out.cost, then) < 0) then = now.out.cost;
      if (compared(now.out.cost, best_.out.cost) >= 0) continue;
      const bool fewerOut = now.out.cost.left_out < best_.out.cost.left_out - 1e-9;
      best_ = now;
      sinceGain = 0;
      if (fewerOut) bound_ = boundFor(best_.out.cost.left_out);
    }
  }
  /// Nothing is left to better: no threads but those that must be, no waiting.
  bool done() const { return best_.out.cost.threads == 0 && best_.out.cost.waiting_s == 0; }

  /// A rule names as many tokens as it took: all that an item may take are there to be moved.
  void fillUp(DayOrder& order) const {
    std::vector<int> has(model_.items().size(), 0);
    for (int i : order.tokens) ++has[static_cast<size_t>(i)];
    for (size_t i = 0; i < has.size(); ++i)
      for (int k = has[i]; k < model_.mostTasks(i); ++k)
        order.tokens.push_back(static_cast<int>(i));
  }

  size_t below(size_t n) { return static_cast<size_t>(random_() % n); }

  DayOrder changed(const DayOrder& from) {
    DayOrder next = from;
    const size_t n = next.tokens.size();
    switch (below(8)) {
      case 0:
      case 1: {  // one task a little earlier or later
        const size_t a = below(n), reach = 1 + below(std::min<size_t>(n, 24));
        move(next.tokens, a, below(2) ? std::min(n - 1, a + reach) : a - std::min(a, reach));
        break;
      }
      case 2:  // anywhere
        move(next.tokens, below(n), below(n));
        break;
      case 3: {  // two change places
        std::swap(next.tokens[below(n)], next.tokens[below(n)]);
        break;
      }
      case 4:
        otherMachine(next);
        break;
      case 5:
        swapItems(next);
        break;
      default:
        shift(next);
        break;
    }
    return next;
  }
  static void move(std::vector<int>& tokens, size_t from, size_t to) {
    const int t = tokens[from];
    tokens.erase(tokens.begin() + static_cast<long>(from));
    tokens.insert(tokens.begin() + static_cast<long>(to), t);
  }
  void otherMachine(DayOrder& order) {
    const size_t i = below(model_.items().size());
    const auto& may = model_.items()[i].machines;
    if (may.size() < 2) return shift(order);
    order.machine[i] = may[below(may.size())];
    if (below(2)) shiftItem(order, static_cast<int>(i));
  }
  /// All tasks of two items change places, machines too where they may.
  void swapItems(DayOrder& order) {
    const int a = static_cast<int>(below(model_.items().size())),
              b = static_cast<int>(below(model_.items().size()));
    for (int& t : order.tokens) t = t == a ? b : t == b ? a : t;
    auto mayOn = [&](int i, int on) {
      const auto& may = model_.items()[static_cast<size_t>(i)].machines;
      return std::find(may.begin(), may.end(), on) != may.end();
    };
    int &on = order.machine[static_cast<size_t>(a)], &other = order.machine[static_cast<size_t>(b)];
    if (mayOn(a, other) && mayOn(b, on)) std::swap(on, other);
  }
  void shift(DayOrder& order) { shiftItem(order, static_cast<int>(below(model_.items().size()))); }
  /// All tasks of an item earlier or later by as many places.
  void shiftItem(DayOrder& order, int item) {
    const size_t n = order.tokens.size(), by = 1 + below(std::max<size_t>(2, n / 3));
    const bool later = below(2);
    std::vector<size_t> places;
    std::vector<int> rest;
    for (size_t k = 0; k < n; ++k)
      if (order.tokens[k] == item)
        places.push_back(later ? std::min(n - 1, k + by) : k - std::min(k, by));
      else
        rest.push_back(order.tokens[k]);
    std::vector<int> out;
    size_t r = 0, p = 0;
    for (size_t k = 0; k < n; ++k)
      if (p < places.size() && (places[p] <= k || r == rest.size()))
        out.push_back(item), ++p;
      else
        out.push_back(rest[r++]);
    order.tokens = std::move(out);
  }

  // --- what is proven, and what is said

  DayBound boundFor(double left_out) const {
    const double more = std::max(0.0, left_out - forcedWeight());
    std::vector<int> least;
    for (size_t j = 0; j < day().jobs.size(); ++j) {
      const double w = day().jobs[j].weight;
      const double off = w > 0 ? std::floor((more + 1e-9) / w) : more > 0 ? 1e9 : 0;
      // what stock leaves out of one job another choice might leave out of another
      const bool choice = forcedWeight() > 0;
      least.push_back(choice ? leastWith(j, left_out)
                             : std::max(0, made_[j] - static_cast<int>(std::min(off, 1e9))));
    }
    return dayBound(model_, least);
  }
  int leastWith(size_t j, double left_out) const {
    const double w = day().jobs[j].weight;
    if (w <= 0) return 0;
    return std::max(0, std::min(made_[j], day().jobs[j].pieces -
                                              static_cast<int>(std::floor((left_out + 1e-9) / w))));
  }

  DayPlan conclude() {
    DayPlan plan;
    plan.tasks = best_.out.tasks;
    std::stable_sort(plan.tasks.begin(), plan.tasks.end(), [](const DayTask& a, const DayTask& b) {
      return std::pair(a.span.from, a.span.to) < std::pair(b.span.from, b.span.to);
    });
    plan.cost = best_.out.cost;
    if (plan.tasks.empty()) plan.cost.ends = model_.now();
    plan.late_s = best_.out.late_s;
    plan.least_late_s = std::min(bound_.late_s, plan.cost.late_s);
    plan.least_ends = std::min(std::max(bound_.ends, model_.now()), plan.cost.ends);
    plan.proven = proven();
    for (const DayItem& i : model_.items())
      if (i.hooping == 0 && best_.out.out[model_.pieceAt(i.job, i.piece)])
        plan.left_out.push_back(whyOut(i));
    return plan;
  }

  DayLeftOut whyOut(const DayItem& i) const {
    const DayJob& job = day().jobs[static_cast<size_t>(i.job)];
    DayLeftOut out{i.job, i.piece, DayLeftOut::Why::Time, {}};
    for (const DayHooping& h : job.hoopings)
      if (const auto why = lacking(h)) {
        out.why = *why;
        out.what = h.frame;
        return out;
      }
    for (int a : job.after)
      for (int p = 0; p < day().jobs[static_cast<size_t>(a)].pieces; ++p)
        if (best_.out.out[model_.pieceAt(a, p)]) {
          out.why = DayLeftOut::Why::After;
          out.what = day().jobs[static_cast<size_t>(a)].id;
          return out;
        }
    if (!start_.out[model_.pieceAt(i.job, i.piece)]) return out;
    out.why = DayLeftOut::Why::Stock;
    for (const DayNeed& n : dayNeeds(day()))
      if (n.there && n.needed > *n.there && uses(job, n)) {
        out.what = n.thread ? n.thread->hex() : "backing";
        break;
      }
    return out;
  }
  static bool uses(const DayJob& job, const DayNeed& need) {
    for (const DayHooping& h : job.hoopings) {
      if (!need.thread && h.backing_mm2 > 0) return true;
      for (const DaySew& s : h.sew)
        if (need.thread && s.thread == *need.thread && s.metres > 0) return true;
    }
    return false;
  }

  const DayWish& wish_;
  DayModel model_;
  DayOrder start_;
  std::vector<int> made_;  // pieces of each job that are possible and in stock
  Try best_;
  DayBound bound_;
  std::vector<double> rank_;  // of the items, by the best rule
  std::mt19937_64 random_{20270302};
};

}  // namespace

DayPlan planDay(const Day& day, const DayWish& wish) {
  return Planner(day, wish).run();
}

DayPlan earliestDueFirst(const Day& day) {
  const DayWish wish;
  return Planner(day, wish).byRule();
}

}  // namespace rt
