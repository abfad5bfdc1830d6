#include "day_decoder.h"

#include <algorithm>
#include <cmath>
#include <deque>
#include <limits>

namespace rt {
namespace {

constexpr DaySecond kNever = std::numeric_limits<DaySecond>::max() / 4;
constexpr int kLookedAt = 64;  // hoopings that a rule chooses the next from
constexpr int kHoopedAhead =
    2;  // hoopings that wait at the table for a machine, by the greedy rule

DaySecond whole(double s) {
  return static_cast<DaySecond>(std::ceil(s - 1e-9));
}

}  // namespace

std::string_view name(DayTask::What what) {
  constexpr std::string_view kNames[] = {"hoop", "mount", "thread", "sew", "off", "unhoop"};
  return kNames[static_cast<size_t>(what)];
}

int compared(const DayCost& a, const DayCost& b) {
  auto by = [](double x, double y) { return x < y - 1e-6 ? -1 : x > y + 1e-6 ? 1 : 0; };
  if (const int c = by(a.left_out, b.left_out)) return c;
  if (const int c = by(a.late_s, b.late_s)) return c;
  if (a.ends != b.ends) return a.ends < b.ends ? -1 : 1;
  if (a.threads != b.threads) return a.threads < b.threads ? -1 : 1;
  return a.waiting_s < b.waiting_s ? -1 : a.waiting_s > b.waiting_s;
}

namespace {

std::vector<DayTask> inOrder(std::vector<DayTask> tasks) {
  std::stable_sort(tasks.begin(), tasks.end(), [](const DayTask& a, const DayTask& b) {
    return std::tuple(a.span.from, a.span.to, a.what) < std::tuple(b.span.from, b.span.to, b.what);
  });
  return tasks;
}

}  // namespace

DayModel::DayModel(const Day& day, std::vector<DayTask> begun, DaySecond now)
    : day_(day),
      calendar_(day),
      begun_(inOrder(std::move(begun))),
      now_(now),
      mount_(whole(day.times.mount_s)),
      thread_(whole(day.times.thread_s)),
      off_(whole(day.times.off_s)) {
  std::map<std::string, int> kinds;
  for (const auto& [frame, many] : day.frames) {
    kinds[frame] = static_cast<int>(frames_.size());
    frames_.push_back(many);
  }
  for (size_t j = 0; j < day.jobs.size(); ++j) {
    const DayJob& job = day.jobs[j];
    firstItem_.push_back(items_.size());
    firstPiece_.push_back(pieceCount_);
    pieceCount_ += static_cast<size_t>(job.pieces);
    for (int p = 0; p < job.pieces; ++p)
      for (size_t h = 0; h < job.hoopings.size(); ++h) {
        const DayHooping& hooping = job.hoopings[h];
        DayItem item;
        item.job = static_cast<int>(j);
        item.piece = p;
        item.hooping = static_cast<int>(h);
        item.before = h > 0 ? static_cast<int>(items_.size()) - 1 : -1;
        item.last = h + 1 == job.hoopings.size();
        const auto kind = kinds.find(hooping.frame);
        item.frame = kind == kinds.end() ? -1 : kind->second;
        item.hoop_s = whole(hooping.hoop_s.value_or(day.times.hoop_s));
        item.unhoop_s = whole(hooping.unhoop_s.value_or(day.times.unhoop_s));
        for (size_t m = 0; m < day.machines.size(); ++m)
          if (const auto& f = day.machines[m].frames;
              std::find(f.begin(), f.end(), hooping.frame) != f.end())
            item.machines.push_back(static_cast<int>(m));
        items_.push_back(std::move(item));
      }
  }
}

int DayModel::itemOf(int job, int piece, int hooping) const {
  const DayJob& j = day_.jobs[static_cast<size_t>(job)];
  return static_cast<int>(firstItem_[static_cast<size_t>(job)]) +
         piece * static_cast<int>(j.hoopings.size()) + hooping;
}

DaySecond DayModel::sews_s(const DayItem& item, size_t step, int machine) const {
  return whole(hooping(item).sew[step].s / day_.machines[static_cast<size_t>(machine)].pace);
}

int DayModel::mostTasks(size_t item) const {
  return 4 + static_cast<int>(hooping(items_[item]).sew.size());
}

namespace {

enum class Stage { Table, Hooped, Mounted, Off, Done };

/// What has become of an item so far.
struct ItemState {
  Stage stage = Stage::Table;
  DaySecond ready = 0;  // of its next task
  size_t step = 0;      // of sewing that comes next
  int machine = -1;
  int frameTaken = -1;  // among the intervals of its frame
  bool sewnAny = false;
};

struct MachineState {
  int item = -1;  // that is mounted
  DaySecond free = 0;
  std::vector<std::optional<Colour>> needles;
  int hooped = 0;        // hoopings at the table that are meant for it
  DaySecond queued = 0;  // of sewing of these and of what is mounted
};

/// One step of a machine's coming work.
struct Coming {
  int item;
  size_t step;
  Colour thread;
};

class Decoder {
 public:
  explicit Decoder(const DayModel& model)
      : m_(model),
        items_(model.items().size()),
        machines_(model.day().machines.size()),
        frames_(model.frameKinds()),
        pieceDone_(model.pieces(), kNever),
        jobLeft_(model.day().jobs.size()),
        jobDone_(model.day().jobs.size(), 0),
        coming_(machines_.size()) {
    for (size_t f = 0; f < frames_.size(); ++f)
      frames_[f].assign(static_cast<size_t>(std::clamp<int>(m_.frames(static_cast<int>(f)), 1,
                                                            static_cast<int>(items_.size()) + 1)),
                        m_.now());
    for (int h = 0; h < m_.day().hands; ++h) hands_.push_back(m_.calendar().hand(h));
    for (size_t i = 0; i < machines_.size(); ++i) {
      machines_[i].needles = m_.day().machines[i].needles;
      machines_[i].free = m_.now();
    }
    for (size_t j = 0; j < jobLeft_.size(); ++j) jobLeft_[j] = m_.day().jobs[j].pieces;
    for (ItemState& s : items_) s.ready = m_.now();
    for (const DayTask& t : m_.begun()) happened(t);
  }

  DayDecoded run(const DayOrder& order) {
    out_.out = order.out;
    look(order);
    std::deque<int> waiting;
    for (int item : order.tokens) {
      if (!advance(item, order)) {
        waiting.push_back(item);
        continue;
      }
      retry(waiting, order);
    }
    finish(order);
    return conclude();
  }

  DayDecoded dispatch(DayOrder& order, const std::vector<double>& rank) {
    out_.out = order.out;
    for (int i = 0; i < static_cast<int>(items_.size()); ++i)
      if (state(i).stage == Stage::Hooped) queue(i, order.machine[static_cast<size_t>(i)]);
    for (int i = 0; i < static_cast<int>(items_.size()); ++i)
      (state(i).stage == Stage::Table ? table_ : going_).push_back(i);
    std::stable_sort(table_.begin(), table_.end(), [&](int a, int b) {
      return rank[static_cast<size_t>(a)] < rank[static_cast<size_t>(b)];
    });
    order.tokens.clear();
    look(order);
    while (true) {
      const std::optional<int> next = firstOf(order, rank);
      if (!next) break;
      if (!advance(*next, order)) break;
      order.tokens.push_back(*next);
    }
    return conclude();
  }

 private:
  const DayItem& item(int i) const { return m_.items()[static_cast<size_t>(i)]; }
  ItemState& state(int i) { return items_[static_cast<size_t>(i)]; }
  MachineState& machine(int i) { return machines_[static_cast<size_t>(i)]; }
  size_t pieceOf(int i) const { return m_.pieceAt(item(i).job, item(i).piece); }
  bool isOut(int i) const { return out_.out[pieceOf(i)]; }
  const std::vector<DaySew>& sews(int i) const { return m_.hooping(item(i)).sew; }

  // --- what has happened

  void happened(const DayTask& t) {
    out_.tasks.push_back(t);
    out_.tasks.back().begun = true;
    const int i = m_.itemOf(t.job, t.piece, t.hooping);
    ItemState& s = state(i);
    s.ready = std::max(m_.now(), t.span.to);
    if (t.hand >= 0) occupyHand(t.hand, t.span);
    if (t.machine >= 0) machine(t.machine).free = std::max(machine(t.machine).free, t.span.to);
    switch (t.what) {
      case DayTask::What::Hoop:
        s.stage = Stage::Hooped;
        s.frameTaken = taken(i);
        break;
      case DayTask::What::Mount:
        s.stage = Stage::Mounted;
        s.machine = t.machine;
        machine(t.machine).item = i;
        queue(i, t.machine);
        --machine(t.machine).hooped;
        break;
      case DayTask::What::Thread:
        machine(t.machine).needles[static_cast<size_t>(t.needle)] = t.thread;
        break;
      case DayTask::What::Sew:
        machine(t.machine).queued -= m_.sews_s(item(i), static_cast<size_t>(t.step), t.machine);
        s.step = static_cast<size_t>(t.step) + 1;
        s.sewnAny = true;
        break;
      case DayTask::What::Off:
        s.stage = Stage::Off;
        machine(t.machine).item = -1;
        break;
      case DayTask::What::Unhoop:
        released(i, t.span.to);
        done(i, t.span.to);
        break;
    }
  }

  void occupyHand(int hand, DaySpan span) {
    DaySpans& free = hands_[static_cast<size_t>(hand)];
    free = without(free, {span});
  }

  // --- frames

  /// The one that came back first; which of those that are there is all the same.
  int taken(int i) {
    auto& ends = frames_[static_cast<size_t>(item(i).frame)];
    const auto first = std::min_element(ends.begin(), ends.end());
    *first = kNever;
    return static_cast<int>(first - ends.begin());
  }
  void released(int i, DaySecond at) {
    frames_[static_cast<size_t>(item(i).frame)][static_cast<size_t>(state(i).frameTaken)] = at;
  }
  /// When a frame of the item's kind is there for good; kNever while others hold all.
  DaySecond frameFree(int i) const {
    const auto& ends = frames_[static_cast<size_t>(item(i).frame)];
    return *std::min_element(ends.begin(), ends.end());
  }

  // --- the next task of an item

  /// The earliest place of a hand's task, and whose hand.
  struct Place {
    DaySecond at = kNever;
    int hand = -1;
  };
  Place placeFor(DaySecond ready, DaySecond length, int at_machine) const {
    Place best;
    for (size_t h = 0; h < hands_.size(); ++h) {
      DaySecond from = ready;
      while (true) {
        const std::optional<DaySecond> at = firstFit(hands_[h], from, length);
        if (!at) break;
        const std::optional<DaySecond> later =
            at_machine < 0 ? std::nullopt : shut(at_machine, *at, length);
        if (!later) {
          if (*at < best.at) best = {*at, static_cast<int>(h)};
          break;
        }
        from = *later;
      }
    }
    return best;
  }
  /// When the machine is mended, if it is out of order in that span.
  std::optional<DaySecond> shut(int at_machine, DaySecond from, DaySecond length) const {
    for (const DaySpan& c : m_.calendar().closed(at_machine))
      if (c.from < from + std::max<DaySecond>(length, 1) && from < c.to) return c.to;
    return std::nullopt;
  }

  /// When an item's next task may begin for all that is known; kNever: not yet.
  DaySecond readyAt(int i, const DayOrder& order) {
    const ItemState& s = state(i);
    if (s.stage == Stage::Done || isOut(i)) return kNever;
    if (s.stage == Stage::Hooped) {
      const int on = order.machine[static_cast<size_t>(i)];
      if (machine(on).item >= 0) return kNever;
      return std::max(s.ready, machine(on).free);
    }
    if (s.stage != Stage::Table) return s.ready;
    DaySecond at = s.ready;
    if (const int before = item(i).before; before >= 0) {
      if (state(before).stage != Stage::Done) return kNever;
      at = std::max(at, state(before).ready);
    }
    const DayJob& job = m_.day().jobs[static_cast<size_t>(item(i).job)];
    if (job.from) at = std::max(at, *job.from);
    for (int a : job.after) {
      if (jobLeft_[static_cast<size_t>(a)] > 0) return kNever;
      at = std::max(at, jobDone_[static_cast<size_t>(a)]);
    }
    const DaySecond frame = frameFree(i);
    return frame == kNever ? kNever : std::max(at, frame);
  }

  DaySecond lengthOf(int i) {
    switch (state(i).stage) {
      case Stage::Table:
        return item(i).hoop_s;
      case Stage::Hooped:
        return m_.mount_s();
      case Stage::Mounted:
        return state(i).step < sews(i).size() ? m_.thread_s() : m_.off_s();
      default:
        return item(i).unhoop_s;
    }
  }

  /// Does an item's next hand's task, and the sewing that follows by itself. False: not yet.
  bool advance(int i, const DayOrder& order) {
    ItemState& s = state(i);
    if (s.stage == Stage::Done || isOut(i)) return true;
    if (s.stage == Stage::Mounted && !sewsOn(i)) return drop(i);  // begun before: it goes on
    const DaySecond ready = readyAt(i, order);
    if (ready == kNever) return false;
    const int on = s.stage == Stage::Hooped    ? order.machine[static_cast<size_t>(i)]
                   : s.stage == Stage::Mounted ? s.machine
                                               : -1;
    const DaySecond length = lengthOf(i);
    const Place place = placeFor(ready, length, on);
    if (place.hand < 0) return drop(i);
    const DaySpan span{place.at, place.at + length};
    take(hands_[static_cast<size_t>(place.hand)], span);
    DayTask t = task(i, span);
    t.hand = place.hand;
    switch (s.stage) {
      case Stage::Table:
        t.what = DayTask::What::Hoop;
        s.stage = Stage::Hooped;
        s.frameTaken = taken(i);
        queue(i, order.machine[static_cast<size_t>(i)]);
        break;
      case Stage::Hooped:
        --machine(on).hooped;
        t.what = DayTask::What::Mount;
        t.machine = s.machine = on;
        s.stage = Stage::Mounted;
        machine(on).item = i;
        break;
      case Stage::Mounted:
        t.machine = on;
        if (s.step < sews(i).size()) {
          thread(i, t);
        } else {
          t.what = DayTask::What::Off;
          s.stage = Stage::Off;
          machine(on).item = -1;
        }
        break;
      default:
        t.what = DayTask::What::Unhoop;
        released(i, span.to);
        break;
    }
    s.ready = span.to;
    if (on >= 0) machine(on).free = span.to;
    out_.tasks.push_back(t);
    if (t.what == DayTask::What::Unhoop) {
      done(i, span.to);
      return true;
    }
    return s.stage != Stage::Mounted || sewsOn(i) || drop(i);
  }

  void done(int i, DaySecond at) {
    state(i).stage = Stage::Done;
    state(i).ready = at;
    if (!item(i).last) return;
    const size_t j = static_cast<size_t>(item(i).job);
    pieceDone_[pieceOf(i)] = at;
    --jobLeft_[j];
    jobDone_[j] = std::max(jobDone_[j], at);
  }

  DayTask task(int i, DaySpan span) const {
    DayTask t;
    t.job = item(i).job;
    t.piece = item(i).piece;
    t.hooping = item(i).hooping;
    t.span = span;
    return t;
  }

  // --- threads

  /// The threads that each machine will ask for, item by item as they are mounted.
  void look(const DayOrder& order) {
    std::vector<int> seen(items_.size(), 0);
    for (int i : order.tokens)
      if (++seen[static_cast<size_t>(i)] == 2) lookAt(i, order);
  }
  void lookAt(int i, const DayOrder& order) {
    auto& list = coming_[static_cast<size_t>(order.machine[static_cast<size_t>(i)])];
    for (size_t k = 0; k < sews(i).size(); ++k) list.push_back({i, k, sews(i)[k].thread});
  }

  /// Where in the coming work a thread is asked for next, from an item's step on.
  size_t nextUse(int on, int i, size_t step, Colour thread) const {
    const auto& list = coming_[static_cast<size_t>(on)];
    const auto& own = sews(i);
    for (size_t k = step; k < own.size(); ++k)
      if (own[k].thread == thread) return k - step;
    size_t at = 0;
    while (at < list.size() && list[at].item != i) ++at;
    while (at < list.size() && list[at].item == i) ++at;
    for (; at < list.size(); ++at)
      if (list[at].thread == thread) return own.size() + at;
    return std::numeric_limits<size_t>::max();
  }

  bool holds(int on, Colour thread) const {
    const auto& needles = machines_[static_cast<size_t>(on)].needles;
    return std::find(needles.begin(), needles.end(), std::optional(thread)) != needles.end();
  }

  /// The needle whose thread is asked for last (Belady 1966), empty ones first.
  std::pair<size_t, size_t> lastUsed(int on, int i, size_t step) const {
    const auto& needles = machines_[static_cast<size_t>(on)].needles;
    size_t best = 0, last = 0;
    for (size_t n = 0; n < needles.size(); ++n) {
      const size_t use =
          needles[n] ? nextUse(on, i, step, *needles[n]) : std::numeric_limits<size_t>::max();
      if (n == 0 || use > last || (use == last && !needles[n] && needles[best]))
        best = n, last = use;
    }
    return {best, last};
  }

  /// The step whose thread is put on next: before the first sewing those of later steps too, as
  /// long as no thread of a step between goes for it.
  std::optional<size_t> toThread(int i) {
    const ItemState& s = state(i);
    const auto& own = sews(i);
    for (size_t k = s.step; k < own.size(); ++k) {
      if (holds(s.machine, own[k].thread)) {
        if (s.sewnAny) return std::nullopt;
        continue;
      }
      if (k == s.step) return k;
      if (s.sewnAny) return std::nullopt;
      if (lastUsed(s.machine, i, s.step).second >= k - s.step) return k;
      return std::nullopt;
    }
    return std::nullopt;
  }

  void thread(int i, DayTask& t) {
    ItemState& s = state(i);
    const size_t step = *toThread(i);
    const size_t needle = lastUsed(s.machine, i, s.step).first;
    t.what = DayTask::What::Thread;
    t.step = static_cast<int>(step);
    t.needle = static_cast<int>(needle);
    t.thread = sews(i)[step].thread;
    machine(s.machine).needles[needle] = t.thread;
    ++out_.cost.threads;
  }

  /// Sews until a hand is needed. False: there is no time.
  bool sewsOn(int i) {
    ItemState& s = state(i);
    while (s.step < sews(i).size() && !toThread(i)) {
      const auto span = sewnWithin(m_.calendar().sewing(s.machine), s.ready,
                                   m_.sews_s(item(i), s.step, s.machine));
      if (!span) return false;
      DayTask t = task(i, *span);
      t.what = DayTask::What::Sew;
      t.machine = s.machine;
      t.step = static_cast<int>(s.step);
      t.thread = sews(i)[s.step].thread;
      out_.tasks.push_back(t);
      s.ready = machine(s.machine).free = span->to;
      machine(s.machine).queued -= m_.sews_s(item(i), s.step, s.machine);
      ++s.step;
      s.sewnAny = true;
    }
    return true;
  }

  // --- what finds no time

  /// The piece is left out, with all jobs after its own; the plan is then made anew.
  bool drop(int i) {
    dropped_ = true;
    leaveOut(item(i).job, pieceOf(i));
    return true;
  }
  void leaveOut(int job, size_t piece) {
    out_.out[piece] = true;
    for (size_t j = 0; j < m_.day().jobs.size(); ++j) {
      const auto& after = m_.day().jobs[j].after;
      if (std::find(after.begin(), after.end(), job) == after.end()) continue;
      for (int p = 0; p < m_.day().jobs[j].pieces; ++p)
        if (const size_t at = m_.pieceAt(static_cast<int>(j), p); !out_.out[at])
          leaveOut(static_cast<int>(j), at);
    }
  }

  // --- going through the order

  void retry(std::deque<int>& waiting, const DayOrder& order) {
    for (bool moved = true; moved;) {
      moved = false;
      for (auto it = waiting.begin(); it != waiting.end(); ++it)
        if (advance(*it, order)) {
          waiting.erase(it);
          moved = true;
          break;
        }
    }
  }

  /// Whatever the order did not name.
  void finish(const DayOrder& order) {
    for (bool moved = true; moved;) {
      moved = false;
      for (int i = 0; i < static_cast<int>(items_.size()); ++i)
        while (state(i).stage != Stage::Done && !isOut(i) && advance(i, order)) moved = true;
    }
    for (int i = 0; i < static_cast<int>(items_.size()); ++i)
      if (state(i).stage != Stage::Done && !isOut(i)) drop(i);
  }

  /// The item whose next task can begin first; of equals the one at the farthest stage, then by
  /// rank: of those under way, and of the first of the others. Chooses a machine for these.
  std::optional<int> firstOf(DayOrder& order, const std::vector<double>& rank) {
    std::optional<int> best;
    std::tuple<DaySecond, int, double> least;
    auto offer = [&](int i) {
      const ItemState& s = state(i);
      const DaySecond ready = readyAt(i, order);
      if (ready == kNever) return false;
      const int on = s.stage == Stage::Hooped    ? order.machine[static_cast<size_t>(i)]
                     : s.stage == Stage::Mounted ? s.machine
                                                 : -1;
      const Place place = placeFor(ready, lengthOf(i), on);
      const int pressing = s.stage == Stage::Mounted  ? 0
                           : s.stage == Stage::Hooped ? 1
                           : s.stage == Stage::Table  ? 3
                                                      : 2;
      const std::tuple key{place.at, pressing, rank[static_cast<size_t>(i)]};
      if (!best || key < least) best = i, least = key;
      return true;
    };
    std::erase_if(going_, [&](int i) { return state(i).stage == Stage::Done || isOut(i); });
    for (int i : going_) offer(i);
    std::erase_if(table_, [&](int i) { return state(i).stage != Stage::Table || isOut(i); });
    const bool full = std::all_of(machines_.begin(), machines_.end(),
                                  [](const MachineState& m) { return m.hooped >= kHoopedAhead; });
    int looked = 0;
    for (int i : table_) {
      if (full) break;
      if (item(i).before >= 0 && state(item(i).before).stage != Stage::Done) continue;
      const int on = leastBusy(i);
      if (machine(on).hooped >= kHoopedAhead) continue;
      order.machine[static_cast<size_t>(i)] = on;
      if (offer(i) && ++looked >= kLookedAt) break;
    }
    if (best && state(*best).stage == Stage::Table) going_.push_back(*best);
    return best;
  }
  /// Counts what an item will take of a machine.
  void queue(int i, int on) {
    ++machine(on).hooped;
    for (size_t step = state(i).step; step < sews(i).size(); ++step)
      machine(on).queued += m_.sews_s(item(i), step, on);
  }
  /// The machine that would be done with it first.
  int leastBusy(int i) {
    int best = item(i).machines.front();
    DaySecond least = kNever;
    for (int on : item(i).machines) {
      DaySecond until = machine(on).free + machine(on).queued;
      for (size_t step = 0; step < sews(i).size(); ++step)
        until +=
            m_.sews_s(item(i), step, on) + (holds(on, sews(i)[step].thread) ? 0 : m_.thread_s());
      if (until < least) least = until, best = on;
    }
    return best;
  }

  // --- what came of it

  DayDecoded conclude() {
    const auto& jobs = m_.day().jobs;
    out_.late_s.assign(jobs.size(), 0);
    std::erase_if(out_.tasks, [&](const DayTask& t) {
      return !t.begun && out_.out[m_.pieceAt(t.job, t.piece)];
    });
    for (size_t j = 0; j < jobs.size(); ++j) {
      DaySecond end = 0;
      bool whole = true;
      for (int p = 0; p < jobs[j].pieces; ++p) {
        const size_t at = m_.pieceAt(static_cast<int>(j), p);
        if (out_.out[at]) {
          out_.cost.left_out += jobs[j].weight;
          whole = false;
        } else {
          end = std::max(end, pieceDone_[at]);
        }
      }
      if (whole && jobs[j].due && end > *jobs[j].due && jobs[j].pieces > 0)
        out_.late_s[j] = static_cast<double>(end - *jobs[j].due);
      out_.cost.late_s += jobs[j].weight * out_.late_s[j];
    }
    out_.cost.threads = 0;
    for (const DayTask& t : out_.tasks) {
      out_.cost.ends = std::max(out_.cost.ends, t.span.to);
      out_.cost.threads += t.what == DayTask::What::Thread;
    }
    waits();
    return std::move(out_);
  }

  /// From a mount's end to its off's begin, less the machine's tasks between.
  void waits() {
    std::map<std::tuple<int, int, int>, DaySecond> since;
    for (const DayTask& t : out_.tasks) {
      const std::tuple key{t.job, t.piece, t.hooping};
      if (t.what == DayTask::What::Mount) since[key] = t.span.to;
      if (t.what == DayTask::What::Thread || t.what == DayTask::What::Sew ||
          t.what == DayTask::What::Off)
        if (auto at = since.find(key); at != since.end()) {
          out_.cost.waiting_s += std::max<DaySecond>(0, t.span.from - at->second);
          at->second = std::max(at->second, t.span.to);
        }
    }
  }

 public:
  bool dropped() const { return dropped_; }

 private:
  const DayModel& m_;
  std::vector<ItemState> items_;
  std::vector<MachineState> machines_;
  std::vector<std::vector<DaySecond>> frames_;  // by kind, of each: when it is there again
  std::vector<DaySecond> pieceDone_;
  std::vector<int> jobLeft_;
  std::vector<DaySecond> jobDone_;
  std::vector<std::vector<Coming>> coming_;  // by machine
  std::vector<DaySpans> hands_;
  std::vector<int> going_, table_;  // of a rule: items under way, and not begun, by rank
  DayDecoded out_;
  bool dropped_ = false;
};

}  // namespace

DayDecoded decoded(const DayModel& model, const DayOrder& order) {
  DayOrder now = order;
  while (true) {
    Decoder decoder(model);
    DayDecoded out = decoder.run(now);
    if (!decoder.dropped()) return out;
    now.out = out.out;  // their tasks took room: once more without them
  }
}

DayDecoded dispatched(const DayModel& model, DayOrder& order, const std::vector<double>& rank) {
  while (true) {
    Decoder decoder(model);
    DayDecoded out = decoder.dispatch(order, rank);
    if (!decoder.dropped()) return out;
    order.out = out.out;
  }
}

}  // namespace rt
