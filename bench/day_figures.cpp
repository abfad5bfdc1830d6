// Made-up days, planned beside the plain rule in the same run: how late, when they end, what is
// proven. rapt-thimble-days [SECONDS]
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <random>

#include "day_plan.h"

using namespace rt;

namespace {

class DayMaker {
 public:
  DayMaker(int hoopings, int machines, int hands, uint32_t seed) : random_(seed) {
    day_.from = kFirst + 8 * 3600;
    day_.hours = {{8 * 3600, 12 * 3600}, {12 * 3600 + 1800, 17 * 3600}};
    day_.days = 4;
    day_.hands = hands;
    day_.sews_alone = SewsAlone::Breaks;
    day_.frames = {
        {"large", std::max(2, machines / 2)}, {"middle", machines + 2}, {"small", machines}};
    for (int m = 0; m < machines; ++m) addMachine(m);
    for (int left = hoopings; left > 0;) left -= addJob(left);
  }
  Day day() const { return day_; }

 private:
  static constexpr DaySecond kFirst = 20'000 * kDay_s;
  int pick(int low, int high) {
    return low + static_cast<int>(random_() % static_cast<uint32_t>(high - low + 1));
  }
  Colour thread() { return {static_cast<uint32_t>(pick(1, 6))}; }
  void addMachine(int m) {
    DayMachine machine;
    machine.id = "m" + std::to_string(m);
    for (int n = std::array{1, 4, 6}[static_cast<size_t>(pick(0, 2))]; n > 0; --n)
      machine.needles.push_back(thread());
    machine.frames = {"middle", "small"};
    if (m % 2 == 0) machine.frames.push_back("large");
    machine.pace = 0.8 + 0.1 * pick(0, 3);
    day_.machines.push_back(std::move(machine));
  }
  int addJob(int left) {
    DayJob job;
    job.id = "j" + std::to_string(day_.jobs.size());
    const int hoopings = std::min(left, pick(1, 4));
    job.pieces = std::max(1, std::min(pick(1, 3), left / hoopings));
    job.weight = pick(1, 2);
    job.due = kFirst + pick(0, 2) * kDay_s + pick(10, 17) * 3600;
    for (int h = 0; h < hoopings; ++h) {
      DayHooping hooping;
      hooping.frame = std::array{"large", "middle", "small"}[static_cast<size_t>(pick(0, 2))];
      for (int s = pick(1, 4); s > 0; --s)
        hooping.sew.push_back({thread(), static_cast<double>(pick(120, 2400)), 1});
      job.hoopings.push_back(std::move(hooping));
    }
    day_.jobs.push_back(job);
    return hoopings * job.pieces;
  }

  Day day_;
  std::mt19937 random_;
};

void row(int hoopings, int machines, int hands, uint32_t seed, double seconds) {
  using Clock = std::chrono::steady_clock;
  const Day day = DayMaker(hoopings, machines, hands, seed).day();
  const DayPlan plain = earliestDueFirst(day);
  const auto begun = Clock::now();
  DayWish wish;
  wish.goOn = [&] { return std::chrono::duration<double>(Clock::now() - begun).count() < seconds; };
  const DayPlan plan = planDay(day, wish);
  const double took = std::chrono::duration<double>(Clock::now() - begun).count();
  auto hours = [&](DaySecond at) { return static_cast<double>(at - day.from) / 3600; };
  std::printf("%4d %3d %3d  %9.0f %7.1f  %9.0f %7.1f %5d %6.0f  %9.0f %7.1f %4zu %6.1f s\n",
              hoopings, machines, hands, plain.cost.late_s / 60, hours(plain.cost.ends),
              plan.cost.late_s / 60, hours(plan.cost.ends), plan.cost.threads,
              static_cast<double>(plan.cost.waiting_s) / 60, plan.least_late_s / 60,
              hours(plan.least_ends), plan.left_out.size(), took);
}

}  // namespace

int main(int argc, char** argv) {
  const double seconds = argc > 1 ? std::atof(argv[1]) : 5;
  std::printf(
      "hoop mach hand  late,min  ends,h  (plan) late  ends,h threads wait  (bound) late  ends,h "
      "out took\n");
  for (uint32_t seed = 1; seed <= 4; ++seed) row(12, 2, 1, seed, std::min(2.0, seconds));
  for (uint32_t seed = 1; seed <= 3; ++seed) row(40, 4, 2, seed, seconds);
  for (uint32_t seed = 1; seed <= 2; ++seed) row(120, 8, 2, seed, 2 * seconds);
}
