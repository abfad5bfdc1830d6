#include "sewing_order.h"

#include <algorithm>
#include <numeric>
#include <set>

namespace rt {
namespace {

constexpr size_t kTryAllUpTo = 8;
constexpr double kTurnedOver = 1e6, kAlone = 1e4, kBetween = 1e3;
constexpr double kFrameChange_mm = 60;  // of moving the cloth: what another frame costs the hands
constexpr double kInward = 2;           // times the millimetres that it goes against its school

class Orders {
 public:
  Orders(const std::vector<ClampedField>& fields, const std::vector<Clamping>& clampings,
         const Precedence& before, SewingOrder school)
      : fields_(fields), clampings_(clampings), before_(before), box_(clampings.size()) {
    for (const ClampedField& f : fields) {
      box_[static_cast<size_t>(f.clamping)].add(f.field.box);
      all_.add(f.field.box);
    }
    const size_t n = clampings.size();
    ask_.assign(n, std::vector<double>(n, 0));
    for (size_t i = 0; i < fields.size(); ++i)
      for (size_t j = 0; j < fields.size(); ++j) ask_[clampingOf(i)][clampingOf(j)] += before[i][j];
    rank(school);
    meet();
  }

  std::vector<std::vector<int>> best(size_t most) {
    most_ = most;
    std::vector<int> order(clampings_.size());
    std::iota(order.begin(), order.end(), 0);
    if (order.size() <= kTryAllUpTo) {
      do consider(order);
      while (std::next_permutation(order.begin(), order.end()));
    } else {
      grown();
    }
    std::vector<std::vector<int>> out;
    for (const auto& [cost, o] : kept_) out.push_back(flat(o));
    return out;
  }

 private:
  size_t clampingOf(size_t field) const { return static_cast<size_t>(fields_[field].clamping); }

  /// How late the school would sew a clamping, mm.
  void rank(SewingOrder school) {
    const bool wide = all_.width() >= all_.height();
    for (const Box& b : box_) {
      const Point c = b.centre() - all_.centre();
      rank_.push_back(school == SewingOrder::FromMiddle ? length(c)
                      : wide                            ? c.x + all_.width() / 2
                                                        : c.y + all_.height() / 2);
    }
  }

  void meet() {
    const size_t n = box_.size();
    meets_.assign(n, std::vector<bool>(n, false));
    for (size_t i = 0; i < n; ++i)
      for (size_t j = 0; j < n; ++j) {
        const Box s = box_[i].grown(1).intersection(box_[j].grown(1));
        // beside one another, not corner to corner
        meets_[i][j] =
            i != j && !s.empty() &&
            std::max(s.width(), s.height()) > 0.25 * std::min(box_[i].width(), box_[i].height());
      }
  }

  /// Whether one is sewn on either side of it.
  bool between(int one, const std::vector<bool>& done) const {
    bool left = false, right = false, above = false, below = false;
    const auto i = static_cast<size_t>(one);
    for (size_t j = 0; j < box_.size(); ++j) {
      if (!done[j] || !meets_[i][j]) continue;
      const Point d = box_[j].centre() - box_[i].centre();
      const bool sideways = std::abs(d.x) >= std::abs(d.y);
      left = left || (sideways && d.x < 0), right = right || (sideways && d.x > 0);
      above = above || (!sideways && d.y < 0), below = below || (!sideways && d.y > 0);
    }
    return (left && right) || (above && below);
  }

  double step(int last, int next, const std::vector<bool>& done) const {
    const auto n = static_cast<size_t>(next);
    double cost = 0;
    for (size_t d = 0; d < done.size(); ++d)
      if (done[d]) cost += kTurnedOver * ask_[n][d];
    if (last < 0) return cost + kInward * rank_[n];
    const auto l = static_cast<size_t>(last);
    bool beside = false, could = false;
    for (size_t j = 0; j < done.size(); ++j) {
      could = could || meets_[n][j];
      beside = beside || (meets_[n][j] && done[j]);
    }
    if (could && !beside) cost += kAlone;
    if (between(next, done)) cost += kBetween;
    cost += kInward * std::max(0.0, rank_[l] - rank_[n]);
    cost += distance(box_[l].centre(), box_[n].centre());
    if (clampings_[l].hoop != clampings_[n].hoop ||
        clampings_[l].turn_deg != clampings_[n].turn_deg)
      cost += kFrameChange_mm;
    return cost;
  }

  double costOf(const std::vector<int>& order) const {
    std::vector<bool> done(order.size());
    double cost = 0;
    int last = -1;
    for (int o : order) {
      cost += step(last, o, done);
      done[static_cast<size_t>(o)] = true;
      last = o;
    }
    return cost;
  }

  void consider(const std::vector<int>& order) {
    const double cost = costOf(order);
    if (kept_.size() >= most_ && cost >= kept_.rbegin()->first) return;
    kept_.insert({cost, order});
    if (kept_.size() > most_) kept_.erase(std::prev(kept_.end()));
  }

  /// From each first clamping on, always the cheapest next; then single ones moved about.
  void grown() {
    const size_t n = clampings_.size();
    for (size_t first = 0; first < n; ++first) {
      std::vector<int> order{static_cast<int>(first)};
      std::vector<bool> done(n);
      done[first] = true;
      while (order.size() < n) {
        int next = -1;
        double least = INFINITY;
        for (size_t c = 0; c < n; ++c) {
          if (done[c]) continue;
          const double cost = step(order.back(), static_cast<int>(c), done);
          if (cost < least) least = cost, next = static_cast<int>(c);
        }
        done[static_cast<size_t>(next)] = true;
        order.push_back(next);
      }
      consider(order);
    }
    for (int round = 0; round < 3; ++round) {
      const std::vector<int> from = kept_.begin()->second;
      for (size_t i = 0; i < n && n <= 40; ++i)
        for (size_t j = 0; j < n; ++j) {
          if (i == j) continue;
          std::vector<int> moved = from;
          const int one = moved[i];
          moved.erase(moved.begin() + static_cast<long>(i));
          moved.insert(moved.begin() + static_cast<long>(j), one);
          consider(moved);
        }
      if (kept_.begin()->second == from) break;
    }
  }

  /// Settings of each clamping in place: what lies under first, then a short way.
  std::vector<int> flat(const std::vector<int>& order) const {
    std::vector<int> out;
    for (int clamping : order) {
      std::vector<int> own;
      for (size_t f = 0; f < fields_.size(); ++f)
        if (fields_[f].clamping == clamping) own.push_back(static_cast<int>(f));
      std::sort(own.begin(), own.end(), [&](int a, int b) {
        const Point p = at(a), q = at(b);
        return std::pair(p.x + p.y, p.x) < std::pair(q.x + q.y, q.x);
      });
      std::vector<int> best = own;
      if (own.size() <= 5) {
        std::sort(own.begin(), own.end());
        double least = innerCost(best, out);
        do
          if (const double c = innerCost(own, out); c < least - kSame_mm) least = c, best = own;
        while (std::next_permutation(own.begin(), own.end()));
      }
      out.insert(out.end(), best.begin(), best.end());
    }
    return out;
  }

  Point at(int field) const { return fields_[static_cast<size_t>(field)].field.box.centre(); }

  double innerCost(const std::vector<int>& own, const std::vector<int>& sewn) const {
    double cost = sewn.empty() ? 0 : 0.01 * distance(at(sewn.back()), at(own.front()));
    for (size_t i = 0; i < own.size(); ++i) {
      if (i > 0) cost += distance(at(own[i - 1]), at(own[i]));
      for (size_t j = i + 1; j < own.size(); ++j)
        cost += kTurnedOver * before_[static_cast<size_t>(own[j])][static_cast<size_t>(own[i])];
    }
    return cost;
  }

  const std::vector<ClampedField>& fields_;
  const std::vector<Clamping>& clampings_;
  const Precedence& before_;
  std::vector<Box> box_;
  Box all_;
  std::vector<std::vector<double>> ask_;
  std::vector<std::vector<bool>> meets_;
  std::vector<double> rank_;
  size_t most_ = 1;
  std::set<std::pair<double, std::vector<int>>> kept_;
};

}  // namespace

std::vector<std::vector<int>> ordersToTry(const std::vector<ClampedField>& fields,
                                          const std::vector<Clamping>& clampings,
                                          const Precedence& before, SewingOrder school,
                                          size_t most) {
  return Orders(fields, clampings, before, school).best(most);
}

}  // namespace rt
