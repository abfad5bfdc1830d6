#include "day_stock.h"

#include <algorithm>
#include <functional>

namespace rt {
namespace {

constexpr long kMostNodes = 400'000;  // of the search; the best found by then is taken

/// What one piece of a job takes of the things that are listed.
std::vector<double> takes(const DayJob& job, const DayStock& stock) {
  std::vector<double> out;
  for (const auto& [thread, there] : stock.metres) {
    double sum = 0;
    for (const DayHooping& h : job.hoopings)
      for (const DaySew& s : h.sew)
        if (s.thread == thread) sum += s.metres;
    out.push_back(sum);
  }
  double backing = 0;
  for (const DayHooping& h : job.hoopings) backing += h.backing_mm2;
  out.push_back(stock.backing_mm2 ? backing : 0);
  return out;
}

/// Jobs so that each comes after those it waits for.
std::vector<size_t> inOrder(const std::vector<DayJob>& jobs) {
  std::vector<size_t> out;
  std::vector<bool> seen(jobs.size());
  std::function<void(size_t)> visit = [&](size_t j) {
    if (seen[j]) return;
    seen[j] = true;
    for (int a : jobs[j].after) visit(static_cast<size_t>(a));
    out.push_back(j);
  };
  for (size_t j = 0; j < jobs.size(); ++j) visit(j);
  return out;
}

class StockSearch {
 public:
  StockSearch(const Day& day, const std::vector<int>& possible)
      : day_(day), possible_(possible), order_(inOrder(day.jobs)), now_(day.jobs.size(), 0) {
    for (const auto& [_, metres] : day.stock.metres) left_.push_back(metres);
    left_.push_back(day.stock.backing_mm2.value_or(0));
    for (const DayJob& j : day.jobs) takes_.push_back(takes(j, day.stock));
    rest_.assign(order_.size() + 1, 0);
    for (size_t k = order_.size(); k-- > 0;)
      rest_[k] = rest_[k + 1] + day.jobs[order_[k]].weight * possible[order_[k]];
  }

  std::vector<int> run() {
    go(0, 0);
    return best_;
  }

 private:
  void go(size_t k, double weight) {
    if (++nodes_ > kMostNodes && !best_.empty()) return;
    if (!best_.empty() && weight + rest_[k] <= most_ + 1e-9) return;
    if (k == order_.size()) {
      most_ = weight, best_ = now_;
      return;
    }
    const size_t j = order_[k];
    int most = possible_[j];
    for (int a : day_.jobs[j].after)
      if (now_[static_cast<size_t>(a)] < day_.jobs[static_cast<size_t>(a)].pieces) most = 0;
    for (size_t r = 0; r < left_.size(); ++r)
      if (takes_[j][r] > 0)
        most = std::min(
            most, static_cast<int>(std::floor(std::min(left_[r] / takes_[j][r] + 1e-9, 1e6))));
    for (int n = most; n >= 0; --n) {
      use(j, n);
      now_[j] = n;
      go(k + 1, weight + day_.jobs[j].weight * n);
      use(j, -n);
    }
    now_[j] = 0;
  }
  void use(size_t j, int n) {
    for (size_t r = 0; r < left_.size(); ++r) left_[r] -= n * takes_[j][r];
  }

  const Day& day_;
  const std::vector<int>& possible_;
  std::vector<size_t> order_;
  std::vector<std::vector<double>> takes_;  // by job, of each thing
  std::vector<double> left_, rest_;
  std::vector<int> now_, best_;
  double most_ = -1;
  long nodes_ = 0;
};

}  // namespace

std::vector<DayNeed> dayNeeds(const Day& day) {
  std::vector<DayNeed> out;
  double backing = 0;
  for (const DayJob& job : day.jobs)
    for (const DayHooping& h : job.hoopings) {
      backing += job.pieces * h.backing_mm2;
      for (const DaySew& s : h.sew) {
        auto need = std::find_if(out.begin(), out.end(),
                                 [&](const DayNeed& n) { return n.thread == s.thread; });
        if (need == out.end()) need = out.insert(out.end(), {s.thread, 0, {}});
        need->needed += job.pieces * s.metres;
      }
    }
  for (DayNeed& n : out)
    for (const auto& [thread, metres] : day.stock.metres)
      if (n.thread == thread) n.there = metres;
  if (backing > 0 || day.stock.backing_mm2) out.push_back({{}, backing, day.stock.backing_mm2});
  return out;
}

std::vector<int> piecesInStock(const Day& day, const std::vector<int>& possible) {
  return StockSearch(day, possible).run();
}

}  // namespace rt
