// The day's planner: plans keep every rule, bounds are never above what can be reached, tiny days
// are as good as a full search.
#include <QtTest>
#include <set>

#include "day_bounds.h"
#include "day_plan.h"
#include "day_stock.h"
#include "error.h"
#include "random_pattern.h"
#include "run.h"

namespace test_day {

using namespace rt;
using What = DayTask::What;
using testing::between;

constexpr DaySecond kMorning = 20'000 * kDay_s + 8 * 3600;

/// The rules of a day, told again from what a plan says alone. Gives the first that is broken.
class DayRules {
 public:
  DayRules(const Day& day, const DayPlan& plan, DaySecond now)
      : day_(day), plan_(plan), now_(now), midnight_(day.from - day.from % kDay_s) {}

  QString broken() {
    for (const DayTask& t : plan_.tasks) {
      if (t.begun) continue;
      if (t.span.from < now_) return "begins before now: " + told(t);
      if (!lengthRight(t)) return "length: " + told(t);
      if (t.hand >= 0 && !handThere(t)) return "hand is not there: " + told(t);
      if (t.machine >= 0 && t.what != What::Sew && isShut(t)) return "machine shut: " + told(t);
      const DayJob& job = day_.jobs[size_t(t.job)];
      if (job.from && t.span.from < *job.from) return "cloth is not there: " + told(t);
    }
    for (const DayTask& a : plan_.tasks)
      for (const DayTask& b : plan_.tasks) {
        if (&a == &b || !(a.span.from < b.span.to && b.span.from < a.span.to)) continue;
        if (a.hand >= 0 && a.hand == b.hand) return "hand twice: " + told(a) + told(b);
        if (a.machine >= 0 && a.machine == b.machine) return "machine twice: " + told(a) + told(b);
      }
    for (const QString& wrong : {courses(), machines(), frames(), chains(), costs()})
      if (!wrong.isEmpty()) return wrong;
    return {};
  }

 private:
  static QString told(const DayTask& t) {
    return QString("%1 j%2 p%3 h%4 [%5 %6] ")
        .arg(QString::fromUtf8(name(t.what).data()))
        .arg(t.job)
        .arg(t.piece)
        .arg(t.hooping)
        .arg(t.span.from - kMorning)
        .arg(t.span.to - kMorning);
  }
  const DayHooping& hooping(const DayTask& t) const {
    return day_.jobs[size_t(t.job)].hoopings[size_t(t.hooping)];
  }
  bool inHours(DaySecond at) const {
    const DaySecond days = (at - midnight_) / kDay_s, s = (at - midnight_) % kDay_s;
    return days < day_.days &&
           std::any_of(day_.hours.begin(), day_.hours.end(),
                       [&](const DaySpan& h) { return h.from <= s && s < h.to; });
  }
  bool maySew(int machine, DaySecond at) const {
    for (const DayClosed& c : day_.closed)
      if (c.machine == machine && c.span.from <= at && at < c.span.to) return false;
    if (day_.sews_alone == SewsAlone::Always) return true;
    if (inHours(at)) return true;
    const DaySecond days = (at - midnight_) / kDay_s, s = (at - midnight_) % kDay_s;
    return day_.sews_alone == SewsAlone::Breaks && days < day_.days &&
           s >= day_.hours.front().from && s < day_.hours.back().to;
  }
  bool lengthRight(const DayTask& t) const {
    const DaySecond length = t.span.to - t.span.from;
    switch (t.what) {
      case What::Hoop:
        return length == std::ceil(hooping(t).hoop_s.value_or(day_.times.hoop_s));
      case What::Mount:
        return length == std::ceil(day_.times.mount_s);
      case What::Thread:
        return length == std::ceil(day_.times.thread_s);
      case What::Off:
        return length == std::ceil(day_.times.off_s);
      case What::Unhoop:
        return length == std::ceil(hooping(t).unhoop_s.value_or(day_.times.unhoop_s));
      case What::Sew:
        break;
    }
    const DaySecond s = DaySecond(
        std::ceil(hooping(t).sew[size_t(t.step)].s / day_.machines[size_t(t.machine)].pace - 1e-9));
    DaySecond sewn = 0;
    for (DaySecond at = t.span.from; at < t.span.to; ++at) sewn += maySew(t.machine, at);
    return sewn == s &&
           (s == 0 || (maySew(t.machine, t.span.from) && maySew(t.machine, t.span.to - 1)));
  }
  bool handThere(const DayTask& t) const {
    for (DaySecond at = t.span.from; at < t.span.to; ++at) {
      if (!inHours(at)) return false;
      for (const DayClosed& c : day_.closed)
        if (c.hand == t.hand && c.span.from <= at && at < c.span.to) return false;
    }
    return true;
  }
  bool isShut(const DayTask& t) const {
    return std::any_of(day_.closed.begin(), day_.closed.end(), [&](const DayClosed& c) {
      return c.machine == t.machine && c.span.from < t.span.to && t.span.from < c.span.to;
    });
  }

  std::vector<const DayTask*> of(int job, int piece, int h) const {
    std::vector<const DayTask*> out;
    for (const DayTask& t : plan_.tasks)
      if (t.job == job && t.piece == piece && t.hooping == h) out.push_back(&t);
    std::stable_sort(out.begin(), out.end(), [](auto* a, auto* b) {
      return std::tuple(a->span.from, a->span.to, a->what) <
             std::tuple(b->span.from, b->span.to, b->what);
    });
    return out;
  }
  bool isOut(int job, int piece) const {
    return std::any_of(plan_.left_out.begin(), plan_.left_out.end(),
                       [&](const DayLeftOut& o) { return o.job == job && o.piece == piece; });
  }

  /// Every piece has all its tasks in their order, or none.
  QString courses() const {
    for (size_t j = 0; j < day_.jobs.size(); ++j)
      for (int p = 0; p < day_.jobs[j].pieces; ++p)
        for (size_t h = 0; h < day_.jobs[j].hoopings.size(); ++h) {
          const auto tasks = of(int(j), p, int(h));
          const bool out = isOut(int(j), p);
          if (out && tasks.empty()) continue;
          if (out) return "a piece left out has tasks";
          QString words;
          int steps = 0, machine = -1;
          for (const DayTask* t : tasks) {
            words += QString::fromUtf8(name(t->what).data()).left(1);
            if (t->what == What::Sew && t->step != steps++) return "steps out of order";
            if (t->machine >= 0 && machine >= 0 && t->machine != machine) return "machine changes";
            if (t->machine >= 0) machine = t->machine;
          }
          QString bare = words;
          bare.remove('t');
          if (bare != "hm" + QString(steps, 's') + "ou" ||
              steps != int(day_.jobs[j].hoopings[h].sew.size()))
            return "course " + words;
          if (words.startsWith("ht") || words.endsWith("tou") || words.endsWith("tu"))
            return "threading at no time " + words;
          for (size_t k = 1; k < tasks.size(); ++k)
            if (tasks[k]->span.from < tasks[k - 1]->span.to) return "tasks overlap";
        }
    return {};
  }

  /// One mounted hooping at a time, and every step has its thread.
  QString machines() const {
    for (size_t m = 0; m < day_.machines.size(); ++m) {
      std::vector<const DayTask*> tasks;
      for (const DayTask& t : plan_.tasks)
        if (t.machine == int(m)) tasks.push_back(&t);
      std::stable_sort(tasks.begin(), tasks.end(), [](auto* a, auto* b) {
        return std::tuple(a->span.from, a->span.to) < std::tuple(b->span.from, b->span.to);
      });
      auto needles = day_.machines[m].needles;
      const std::tuple<int, int, int> kNothing{-1, -1, -1};
      std::tuple<int, int, int> on = kNothing;
      for (const DayTask* t : tasks) {
        const std::tuple key{t->job, t->piece, t->hooping};
        if (t->what == What::Mount) {
          if (on != kNothing) return "mounted twice";
          const auto& f = day_.machines[m].frames;
          if (std::find(f.begin(), f.end(), hooping(*t).frame) == f.end())
            return "frame does not fit";
          on = key;
        } else if (on != key) {
          return "works on what is not mounted";
        }
        if (t->what == What::Thread) needles[size_t(t->needle)] = t->thread;
        if (t->what == What::Sew &&
            std::find(needles.begin(), needles.end(), hooping(*t).sew[size_t(t->step)].thread) ==
                needles.end())
          return "thread is on no needle";
        if (t->what == What::Off) on = kNothing;
      }
    }
    return {};
  }

  QString frames() const {
    std::map<std::string, std::vector<std::pair<DaySecond, int>>> edges;
    for (const DayTask& t : plan_.tasks) {
      if (t.what == What::Hoop) edges[hooping(t).frame].emplace_back(t.span.from, 1);
      if (t.what == What::Unhoop) edges[hooping(t).frame].emplace_back(t.span.to, -1);
    }
    for (auto& [frame, list] : edges) {
      std::sort(list.begin(), list.end());
      int taken = 0;
      for (const auto& [_, by] : list)
        if ((taken += by) > day_.frames.at(frame)) return "too many frames";
    }
    return {};
  }

  QString chains() const {
    auto endOf = [&](int job, int piece, int h) {
      DaySecond end = 0;
      for (const DayTask* t : of(job, piece, h)) end = std::max(end, t->span.to);
      return end;
    };
    for (const DayTask& t : plan_.tasks) {
      if (t.what != What::Hoop) continue;
      if (t.hooping > 0 && t.span.from < endOf(t.job, t.piece, t.hooping - 1))
        return "hooped too early";
      for (int a : day_.jobs[size_t(t.job)].after)
        for (int p = 0; p < day_.jobs[size_t(a)].pieces; ++p)
          if (isOut(a, p) ||
              t.span.from < endOf(a, p, int(day_.jobs[size_t(a)].hoopings.size()) - 1))
            return "before the job that it waits for";
    }
    return {};
  }

  QString costs() const {
    double late = 0, out = 0;
    DaySecond ends = plan_.tasks.empty() ? now_ : 0;
    int threads = 0;
    for (const DayTask& t : plan_.tasks)
      ends = std::max(ends, t.span.to), threads += t.what == What::Thread;
    for (size_t j = 0; j < day_.jobs.size(); ++j) {
      DaySecond end = 0;
      bool whole = true;
      for (int p = 0; p < day_.jobs[j].pieces; ++p)
        if (isOut(int(j), p)) whole = false, out += day_.jobs[j].weight;
      for (const DayTask& t : plan_.tasks)
        if (t.job == int(j) && t.what == What::Unhoop) end = std::max(end, t.span.to);
      if (whole && day_.jobs[j].due && end > *day_.jobs[j].due)
        late += day_.jobs[j].weight * double(end - *day_.jobs[j].due);
    }
    if (std::abs(late - plan_.cost.late_s) > 1e-6) return "lateness told wrong";
    if (std::abs(out - plan_.cost.left_out) > 1e-9) return "weight left out told wrong";
    if (ends != plan_.cost.ends) return "end told wrong";
    if (threads != plan_.cost.threads) return "threads told wrong";
    if (plan_.least_late_s > plan_.cost.late_s + 1e-6 || plan_.least_ends > plan_.cost.ends)
      return "a bound is above the plan";
    return {};
  }

  const Day& day_;
  const DayPlan& plan_;
  DaySecond now_, midnight_;
};

Day randomDay(std::mt19937& random, int jobs, int machines, bool small) {
  auto pick = [&](int low, int high) { return low + int(random() % unsigned(high - low + 1)); };
  Day day;
  day.from = kMorning + pick(0, 3) * 600;
  day.hours = {{8 * 3600, 12 * 3600}, {12 * 3600 + 1800, 17 * 3600}};
  day.days = small ? 2 : 3;
  day.hands = pick(1, 2);
  day.sews_alone = SewsAlone(pick(0, 2));
  day.frames = {{"a", pick(1, 3)}, {"b", pick(1, 3)}};
  const Colour threads[] = {{0x2f5d50}, {0x5f7f3a}, {0x8a5a2b}, {0x111111}};
  for (int m = 0; m < machines; ++m) {
    DayMachine machine;
    machine.id = "m" + std::to_string(m);
    for (int n = pick(1, 3); n > 0; --n)
      machine.needles.push_back(random() % 2 ? std::nullopt : std::optional(threads[random() % 4]));
    machine.frames =
        random() % 3 ? std::vector<std::string>{"a", "b"} : std::vector<std::string>{"a"};
    machine.pace = m % 2 ? 0.8 : 1.0;
    day.machines.push_back(machine);
  }
  for (int j = 0; j < jobs; ++j) {
    DayJob job;
    job.id = "j" + std::to_string(j);
    job.weight = pick(1, 3);
    job.pieces = small ? 1 : pick(1, 3);
    if (random() % 2) job.due = day.from + pick(1, 8) * 3600;
    if (random() % 6 == 0) job.from = day.from + pick(1, 4) * 1800;
    if (j > 0 && random() % 5 == 0) job.after = {pick(0, j - 1)};
    for (int h = small ? 1 : pick(1, 3); h > 0; --h) {
      DayHooping hooping;
      hooping.frame = random() % 2 ? "a" : "b";
      hooping.backing_mm2 = 40'000;
      for (int s = small ? 1 : pick(1, 4); s > 0; --s)
        hooping.sew.push_back(
            {threads[random() % 4], between(random, 60, 3000), between(random, 2, 40)});
      job.hoopings.push_back(hooping);
    }
    day.jobs.push_back(job);
  }
  if (random() % 3 == 0) day.closed.push_back({0, -1, {day.from + 3600, day.from + 7200}});
  if (random() % 3 == 0) day.closed.push_back({-1, 0, {day.from + 9000, day.from + 12000}});
  if (!small && random() % 4 == 0) day.stock.metres = {{threads[0], 60}};
  return day;
}

/// So many tries, whatever the clock says.
DayWish tries(int many) {
  DayWish wish;
  wish.goOn = [left = many]() mutable { return left-- > 0; };
  return wish;
}

class TestDay : public QObject {
  Q_OBJECT

  static bool started(const DayTask& t, DaySecond at) { return t.span.from < at; }

 private slots:
  void plansKeepEveryRule() {
    std::mt19937 random = testing::seeded(2801);
    for (int round = 0; round < 60; ++round) {
      const Day day = randomDay(random, 1 + round % 5, 1 + round % 3, false);
      const DayPlan plan = planDay(day, tries(150)), plain = earliestDueFirst(day);
      QVERIFY2(DayRules(day, plan, day.from).broken().isEmpty(),
               qPrintable(
                   QString("round %1: %2").arg(round).arg(DayRules(day, plan, day.from).broken())));
      QVERIFY(DayRules(day, plain, day.from).broken().isEmpty());
      QVERIFY(compared(plan.cost, plain.cost) <= 0);
    }
  }

  /// All orders of all tasks, on all machines.
  void tinyDaysAreAsGoodAsAFullSearch() {
    std::mt19937 random = testing::seeded(2802);
    for (int round = 0; round < 40; ++round) {
      const Day day = randomDay(random, 2, 1 + round % 2, true);
      const DayModel model(day, {}, day.from);
      DayOrder order;
      bool impossible = false;
      for (size_t i = 0; i < model.items().size(); ++i) {
        impossible = impossible || model.items()[i].machines.empty();
        for (int k = 0; k < model.mostTasks(i); ++k) order.tokens.push_back(int(i));
      }
      if (impossible) continue;
      order.out.assign(model.pieces(), false);
      std::optional<DayCost> best;
      for (int on : model.items()[0].machines)
        for (int other : model.items()[1].machines) {
          order.machine = {on, other};
          std::sort(order.tokens.begin(), order.tokens.end());
          do {
            const DayCost cost = decoded(model, order).cost;
            if (!best || compared(cost, *best) < 0) best = cost;
          } while (std::next_permutation(order.tokens.begin(), order.tokens.end()));
        }
      const DayPlan plan = planDay(day, tries(6000));
      QVERIFY2(compared(plan.cost, *best) <= 0, qPrintable(QString::number(round)));
      QVERIFY(plan.least_late_s <= best->late_s + 1e-6);
      if (best->late_s <= plan.cost.late_s + 1e-6) QVERIFY(plan.least_ends <= best->ends);
    }
  }

  /// What was begun stays; the rest keeps every rule from the event on.
  void theRestIsPlannedFromAnEvent() {
    std::mt19937 random = testing::seeded(2803);
    for (int round = 0; round < 40; ++round) {
      Day day = randomDay(random, 1 + round % 4, 1 + round % 3, false);
      const DayPlan first = planDay(day, tries(40));
      DayWish wish = tries(60);
      wish.now = day.from + DaySecond(between(random, 600, 20'000));
      for (const DayTask& t : first.tasks)
        if (started(t, *wish.now)) wish.begun.push_back(t);
      requireSound(day, wish.begun, *wish.now);
      if (!day.machines.empty()) day.closed.push_back({0, -1, {*wish.now, *wish.now + 3000}});
      const DayPlan then = planDay(day, wish);
      for (DayTask t : wish.begun) {
        t.begun = true;
        QVERIFY(std::find(then.tasks.begin(), then.tasks.end(), t) != then.tasks.end());
      }
      const QString broken = DayRules(day, then, *wish.now).broken();
      if (broken == "a piece left out has tasks") continue;  // begun, and no time any more
      QVERIFY2(broken.isEmpty(), qPrintable(QString("round %1: %2").arg(round).arg(broken)));
    }
  }

  void whatContradictsItselfIsRefused() {
    std::mt19937 random = testing::seeded(2804);
    const Day day = randomDay(random, 2, 2, false);
    const DayPlan plan = planDay(day, tries(10));
    const DaySecond now = plan.cost.ends + 1;
    requireSound(day, plan.tasks, now);
    auto twice = plan.tasks;
    twice.push_back(twice.front());
    QVERIFY_THROWS_EXCEPTION(Error, requireSound(day, twice, now));
    QVERIFY_THROWS_EXCEPTION(Error, requireSound(day, plan.tasks, plan.tasks.back().span.from));
    auto without = plan.tasks;
    without.erase(without.begin());
    QVERIFY_THROWS_EXCEPTION(Error, requireSound(day, without, now));
  }

  /// Stock leaves out the least weight: against all ways of leaving out.
  void stockLeavesOutTheLeast() {
    std::mt19937 random = testing::seeded(2805);
    for (int round = 0; round < 200; ++round) {
      Day day = randomDay(random, 3, 1, false);
      day.stock.metres = {{Colour{0x2f5d50}, between(random, 0, 120)},
                          {Colour{0x5f7f3a}, between(random, 0, 120)}};
      day.stock.backing_mm2 = between(random, 0, 400'000);
      std::vector<int> all;
      for (const DayJob& j : day.jobs) all.push_back(j.pieces);
      const std::vector<int> made = piecesInStock(day, all);
      auto weight = [&](const std::vector<int>& n) {
        double sum = 0;
        for (size_t j = 0; j < n.size(); ++j) sum += day.jobs[j].weight * n[j];
        return sum;
      };
      auto fits = [&](const std::vector<int>& n) {
        Day part = day;
        for (size_t j = 0; j < n.size(); ++j) {
          part.jobs[j].pieces = n[j];
          for (int a : day.jobs[j].after)
            if (n[j] > 0 && n[size_t(a)] < day.jobs[size_t(a)].pieces) return false;
        }
        for (const DayNeed& need : dayNeeds(part))
          if (need.there && need.needed > *need.there + 1e-6) return false;
        return true;
      };
      QVERIFY(fits(made));
      for (int a = 0; a <= all[0]; ++a)
        for (int b = 0; b <= all[1]; ++b)
          for (int c = 0; c <= all[2]; ++c)
            if (fits({a, b, c})) QVERIFY(weight({a, b, c}) <= weight(made) + 1e-9);
    }
  }

  void theSameDayIsPlannedAlike() {
    std::mt19937 random = testing::seeded(2806);
    const Day day = randomDay(random, 3, 2, false);
    QVERIFY(planDay(day, tries(300)).tasks == planDay(day, tries(300)).tasks);
  }
};

RT_TEST(TestDay)

}  // namespace test_day
#include "test_day.moc"
