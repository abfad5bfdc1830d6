#include "day_bounds.h"

#include <algorithm>
#include <limits>
#include <set>

namespace rt {
namespace {

constexpr size_t kMostPrefixes = 40;  // of the jobs by due, that are looked at together

/// The first time at which the spans hold so many seconds together; nothing if they never do.
std::optional<DaySecond> filledAt(const std::vector<const DaySpans*>& all, DaySecond seconds,
                                  DaySecond from) {
  if (seconds <= 0) return from;
  std::vector<DaySecond> edges;
  for (const DaySpans* spans : all)
    for (const DaySpan& s : *spans)
      for (DaySecond e : {s.from, s.to})
        if (e > from) edges.push_back(e);
  std::sort(edges.begin(), edges.end());
  edges.erase(std::unique(edges.begin(), edges.end()), edges.end());
  DaySecond at = from;
  for (DaySecond edge : edges) {
    DaySecond rate = 0;
    for (const DaySpans* spans : all)
      for (const DaySpan& s : *spans) rate += s.from <= at && s.to >= edge;
    if (rate > 0 && rate * (edge - at) >= seconds) return at + (seconds + rate - 1) / rate;
    seconds -= rate * (edge - at);
    at = edge;
  }
  return std::nullopt;
}

class Bounder {
 public:
  Bounder(const DayModel& model, const std::vector<int>& least) : m_(model), least_(least) {
    for (int m = 0; m < static_cast<int>(model.day().machines.size()); ++m)
      open_.push_back(model.calendar().open(m));
    begunStages();
  }

  DayBound run() {
    const auto& jobs = m_.day().jobs;
    DayBound out;
    std::vector<size_t> dueOrder;
    std::vector<DaySecond>& ends = ends_;
    ends.assign(jobs.size(), 0);
    for (size_t j : inOrder()) {
      if (least_[j] <= 0) continue;
      ends[j] = endOf({j});
      out.ends = std::max(out.ends, ends[j]);
      if (jobs[j].due && least_[j] == jobs[j].pieces) {
        dueOrder.push_back(j);
        out.late_s +=
            jobs[j].weight * static_cast<double>(std::max<DaySecond>(0, ends[j] - *jobs[j].due));
      }
    }
    // all jobs due by a time together: one of them ends last
    std::sort(dueOrder.begin(), dueOrder.end(),
              [&](size_t a, size_t b) { return *jobs[a].due < *jobs[b].due; });
    std::vector<size_t> together;
    const size_t looked = std::max<size_t>(1, dueOrder.size() / kMostPrefixes);
    for (size_t n = 0; n < dueOrder.size(); ++n) {
      const size_t j = dueOrder[n];
      together.push_back(j);
      if (n % looked != 0 && n + 1 != dueOrder.size()) continue;
      const DaySecond end = endOf(together);
      double lightest = INFINITY, single = 0;
      for (size_t k : together) {
        lightest = std::min(lightest, jobs[k].weight);
        single +=
            jobs[k].weight * static_cast<double>(std::max<DaySecond>(0, ends[k] - *jobs[k].due));
      }
      const double last =
          lightest * static_cast<double>(std::max<DaySecond>(0, end - *jobs[j].due));
      out.late_s = std::max({out.late_s, last, single});
    }
    std::vector<size_t> all;
    for (size_t j = 0; j < jobs.size(); ++j)
      if (least_[j] > 0) all.push_back(j);
    if (!all.empty()) out.ends = std::max(out.ends, endOf(all));
    for (const DayTask& t : m_.begun()) out.ends = std::max(out.ends, t.span.to);
    return out;
  }

 private:
  /// What is left to do of an item that was begun: its tasks yet to come.
  struct Left {
    bool hoop = true, mount = true, off = true, unhoop = true;
    size_t step = 0;
    int machine = -1;
    DaySecond ready = 0, ended = 0;  // of the next task for all that was begun; of the last one
  };
  void begunStages() {
    left_.resize(m_.items().size());
    for (Left& l : left_) l.ready = m_.now();
    for (const DayTask& t : m_.begun()) {
      Left& l = left_[static_cast<size_t>(m_.itemOf(t.job, t.piece, t.hooping))];
      l.ready = std::max(l.ready, t.span.to);
      l.ended = std::max(l.ended, t.span.to);
      if (t.what == DayTask::What::Hoop) l.hoop = false;
      if (t.what == DayTask::What::Mount) l.mount = false, l.machine = t.machine;
      if (t.what == DayTask::What::Sew) l.step = static_cast<size_t>(t.step) + 1;
      if (t.what == DayTask::What::Off) l.off = false;
      if (t.what == DayTask::What::Unhoop) l.unhoop = false;
    }
  }

  const Left& leftOf(int i) const { return left_[static_cast<size_t>(i)]; }
  const DayItem& item(int i) const { return m_.items()[static_cast<size_t>(i)]; }

  /// Threads that must be put on between steps, whatever the needles hold before: what the steps
  /// ask for beyond the needles (fewest faults, Belady 1966, each needle's first thread being
  /// free).
  int threadsOf(int i, int machine) const {
    const auto& sews = m_.hooping(item(i)).sew;
    const size_t needles = m_.day().machines[static_cast<size_t>(machine)].needles.size();
    std::vector<Colour> held;
    int faults = 0;
    for (size_t k = leftOf(i).step; k < sews.size(); ++k) {
      if (std::find(held.begin(), held.end(), sews[k].thread) != held.end()) continue;
      if (held.size() < needles) {
        held.push_back(sews[k].thread);
        continue;
      }
      ++faults;
      auto nextUse = [&](Colour c) {
        size_t at = k;
        while (at < sews.size() && !(sews[at].thread == c)) ++at;
        return at;
      };
      *std::max_element(held.begin(), held.end(), [&](Colour a, Colour b) {
        return nextUse(a) < nextUse(b);
      }) = sews[k].thread;
    }
    return faults;
  }

  /// On a machine, from mounting to its off.
  DaySecond onMachine(int i, int machine) const {
    const Left& l = leftOf(i);
    if (!l.off) return 0;
    DaySecond sum =
        (l.mount ? m_.mount_s() : 0) + m_.off_s() + threadsOf(i, machine) * m_.thread_s();
    for (size_t k = l.step; k < m_.hooping(item(i)).sew.size(); ++k)
      sum += m_.sews_s(item(i), k, machine);
    return sum;
  }
  std::vector<int> machinesOf(int i) const {
    return leftOf(i).machine >= 0 ? std::vector<int>{leftOf(i).machine} : item(i).machines;
  }
  DaySecond leastOnMachine(int i) const {
    DaySecond least = std::numeric_limits<DaySecond>::max() / 4;
    for (int on : machinesOf(i)) least = std::min(least, onMachine(i, on));
    return least;
  }
  DaySecond handsTime(int i) const {
    const Left& l = leftOf(i);
    DaySecond sum = (l.hoop ? item(i).hoop_s : 0) + (l.mount ? m_.mount_s() : 0) +
                    (l.off ? m_.off_s() : 0) + (l.unhoop ? item(i).unhoop_s : 0);
    int threads = std::numeric_limits<int>::max();
    for (int on : machinesOf(i)) threads = std::min(threads, threadsOf(i, on));
    return l.off ? sum + threads * m_.thread_s() : sum;
  }

  // --- a piece by itself

  DaySecond handTask(DaySecond ready, DaySecond length) const {
    DaySecond best = std::numeric_limits<DaySecond>::max() / 4;
    for (int h = 0; h < m_.day().hands; ++h)
      if (const auto at = firstFit(m_.calendar().hand(h), ready, length))
        best = std::min(best, *at + length);
    return best;
  }
  DaySecond pieceEnd(const std::vector<int>& items, DaySecond from) const {
    DaySecond at = 0;
    for (int i : items) {
      const Left& l = leftOf(i);
      if (!l.unhoop) {
        at = std::max(at, l.ended);
        continue;
      }
      at = std::max({at, from, l.ready});
      if (l.hoop) at = handTask(at, item(i).hoop_s);
      if (l.off) {
        DaySecond best = std::numeric_limits<DaySecond>::max() / 4;
        for (int on : machinesOf(i)) best = std::min(best, sewnOn(i, on, at));
        at = best;
      }
      at = handTask(at, item(i).unhoop_s);
      if (at >= std::numeric_limits<DaySecond>::max() / 8) return m_.calendar().end();
    }
    return at;
  }
  DaySecond sewnOn(int i, int on, DaySecond at) const {
    const Left& l = leftOf(i);
    if (l.mount) at = handTask(at, m_.mount_s());
    if (at >= std::numeric_limits<DaySecond>::max() / 8) return at;
    DaySecond length = 0;
    for (size_t k = l.step; k < m_.hooping(item(i)).sew.size(); ++k)
      length += m_.sews_s(item(i), k, on);
    const auto span = sewnWithin(m_.calendar().sewing(on), at, length);
    if (!span) return std::numeric_limits<DaySecond>::max() / 4;
    return handTask(std::max(at, span->to), m_.off_s());
  }

  // --- jobs together

  /// Jobs so that each comes after those it waits for.
  std::vector<size_t> inOrder() const {
    const auto& jobs = m_.day().jobs;
    std::vector<size_t> out;
    std::vector<bool> seen(jobs.size(), false);
    for (bool moved = true; moved;) {
      moved = false;
      for (size_t j = 0; j < jobs.size(); ++j) {
        if (seen[j] || std::any_of(jobs[j].after.begin(), jobs[j].after.end(),
                                   [&](int a) { return !seen[static_cast<size_t>(a)]; }))
          continue;
        seen[j] = moved = true;
        out.push_back(j);
      }
    }
    return out;
  }
  /// Not before the jobs that it waits for are done, nor before its cloth is there.
  DaySecond startOf(size_t j) const {
    const DayJob& job = m_.day().jobs[j];
    DaySecond start = std::max(m_.now(), job.from.value_or(m_.now()));
    for (int a : job.after) start = std::max(start, ends_[static_cast<size_t>(a)]);
    return start;
  }

  /// A time before which not all least pieces of these jobs are done.
  DaySecond endOf(const std::vector<size_t>& jobs) const {
    DaySecond end = 0;
    std::vector<int> items;
    DaySecond from = std::numeric_limits<DaySecond>::max() / 4;
    for (size_t j : jobs) {
      const DaySecond start = startOf(j);
      from = std::min(from, start);
      for (const auto& piece : leastPieces(j)) {
        end = std::max(end, pieceEnd(piece, start));
        std::copy_if(piece.begin(), piece.end(), std::back_inserter(items),
                     [&](int i) { return leftOf(i).unhoop; });
      }
    }
    if (items.empty()) return end;
    from = std::max(from, m_.now());
    end = std::max(end, byHands(items, from));
    end = std::max(end, byMachines(items, from));
    end = std::max(end, byFrames(items, from));
    return end;
  }

  /// The pieces that are quickest done, so many as must be: all of a job are alike but for what was
  /// begun of them.
  std::vector<std::vector<int>> leastPieces(size_t j) const {
    const DayJob& job = m_.day().jobs[j];
    std::vector<std::pair<DaySecond, std::vector<int>>> pieces;
    for (int p = 0; p < job.pieces; ++p) {
      std::vector<int> items;
      DaySecond work = 0;
      for (size_t h = 0; h < job.hoopings.size(); ++h) {
        items.push_back(m_.itemOf(static_cast<int>(j), p, static_cast<int>(h)));
        work += handsTime(items.back()) + leastOnMachine(items.back());
      }
      pieces.emplace_back(work, std::move(items));
    }
    if (static_cast<size_t>(least_[j]) < pieces.size() && anyBegun(j)) return {};
    std::vector<std::vector<int>> out;
    for (int p = 0; p < least_[j]; ++p)
      out.push_back(std::move(pieces[static_cast<size_t>(p)].second));
    return out;
  }
  bool anyBegun(size_t j) const {
    return std::any_of(m_.begun().begin(), m_.begun().end(),
                       [&](const DayTask& t) { return t.job == static_cast<int>(j); });
  }

  DaySecond byHands(const std::vector<int>& items, DaySecond from) const {
    DaySecond sum = 0;
    for (int i : items) sum += handsTime(i);
    std::vector<const DaySpans*> hands;
    for (int h = 0; h < m_.day().hands; ++h) hands.push_back(&m_.calendar().hand(h));
    return filledAt(hands, sum, from).value_or(m_.calendar().end());
  }

  /// For every set of machines that some frame goes on: what can go nowhere else.
  DaySecond byMachines(const std::vector<int>& items, DaySecond from) const {
    std::set<std::vector<int>> sets;
    std::vector<int> every;
    for (int m = 0; m < static_cast<int>(open_.size()); ++m) every.push_back(m);
    sets.insert(every);
    for (int i : items) sets.insert(machinesOf(i));
    DaySecond best = from;
    for (const std::vector<int>& set : sets) {
      DaySecond sum = 0, head = std::numeric_limits<DaySecond>::max(), tail = head;
      for (int i : items) {
        const Left& l = leftOf(i);
        const std::vector<int> on = machinesOf(i);
        if (!l.off || !std::includes(set.begin(), set.end(), on.begin(), on.end())) continue;
        sum += leastOnMachine(i);
        head = std::min(head, l.hoop ? handTask(from, item(i).hoop_s) - from : 0);
        tail = std::min(tail, item(i).unhoop_s);
      }
      if (sum == 0) continue;
      std::vector<const DaySpans*> spans;
      for (int m : set) spans.push_back(&open_[static_cast<size_t>(m)]);
      const auto filled = filledAt(spans, sum, from + head);
      best = std::max(best, filled ? *filled + tail : m_.calendar().end());
    }
    return best;
  }

  DaySecond byFrames(const std::vector<int>& items, DaySecond from) const {
    std::map<int, DaySecond> taken;
    for (int i : items) {
      const Left& l = leftOf(i);
      if (!l.unhoop) continue;
      taken[item(i).frame] += (l.hoop ? item(i).hoop_s : 0) + leastOnMachine(i) + item(i).unhoop_s;
    }
    DaySecond best = from;
    for (const auto& [frame, sum] : taken)
      if (const int many = m_.frames(frame); many > 0)
        best = std::max(best, from + (sum + many - 1) / many);
    return best;
  }

  const DayModel& m_;
  const std::vector<int>& least_;
  std::vector<DaySpans> open_;   // by machine
  std::vector<DaySecond> ends_;  // by job, as far as they are known
  std::vector<Left> left_;       // by item
};

}  // namespace

DayBound dayBound(const DayModel& model, const std::vector<int>& least) {
  return Bounder(model, least).run();
}

}  // namespace rt
