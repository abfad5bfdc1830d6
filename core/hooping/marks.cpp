#include "marks.h"

#include <algorithm>
#include <array>

#include "bare_cloth.h"
#include "seam_budget.h"

namespace rt {
namespace {

constexpr double kLattice_mm = 2.0;
constexpr int kMostAlong = 60;   // lattice places along one side of a region
constexpr size_t kOwnMarks = 3;  // needle points that tell a wrong one

/// Places that may carry a mark, with how bare the cloth is there.
struct Spot {
  Point at;
  double clear_mm = 0;
};

double rounded(double mm) {
  return std::round(mm * 10) / 10;
}

class MarkPlacer {
 public:
  MarkPlacer(HoopingPlan& plan, const Pattern& pattern, const PlanOptions& options)
      : plan_(plan),
        options_(options),
        levels_mm_{kMarkArm_mm + options.rule.mark_room_mm, options.rule.mark_room_mm, 0},
        bare_(pattern, options.keep_out, areaOf(plan)) {}

  void run() {
    for (const Pair& p : neighbours(false)) share(p, {levels_mm_[0], levels_mm_[1]});
    // in a chain every later hooping needs two that were sewn before, whatever the setting, and at
    // the last even on sewing
    if (options_.style == TieStyle::Chain)
      for (double level : levels_mm_)
        for (const Pair& p : neighbours(true))
          if (sharedEarlier(p.j) < 2) share(p, {level});
    for (size_t h = 0; h < plan_.hoopings.size(); ++h) {
      const bool later = options_.style == TieStyle::Chain && h > 0;
      if (later && sharedEarlier(h) < 2) {
        plan_.doubts.push_back(
            {PlanDoubt::What::NoSharedMarks, "", "", plan_.hoopings[h].index, 0, 0});
        addOwn(h, 2, "drawn cross");
      } else if (!later) {
        addOwn(h, kOwnMarks, "cross");
      }
    }
    for (const Hooping& h : plan_.hoopings) {
      std::string ids;
      for (const PlanMark& m : h.marks)
        if (!m.clear && firstWith(m.id) == &h) ids += (ids.empty() ? "" : ", ") + m.id;
      if (!ids.empty())
        plan_.doubts.push_back({PlanDoubt::What::MarkOnSewing, ids, "", h.index, 0, 0});
    }
  }

 private:
  struct Pair {
    size_t i, j;
    Box strip;
  };

  static Box areaOf(const HoopingPlan& plan) {
    Box all;
    for (const Hooping& h : plan.hoopings)
      for (const PlanSetting& s : h.settings) all.add(s.field.box);
    return all;
  }

  const Hooping* firstWith(const std::string& id) const {
    for (const Hooping& h : plan_.hoopings)
      for (const PlanMark& m : h.marks)
        if (m.id == id) return &h;
    return nullptr;
  }

  size_t sharedEarlier(size_t h) const {
    size_t n = 0;
    for (const PlanMark& m : plan_.hoopings[h].marks) n += firstWith(m.id) != &plan_.hoopings[h];
    return n;
  }

  /// The field in which a hooping looks for its marks, and those in which it may sew them.
  bool finds(size_t h, Point p) const { return plan_.hoopings[h].settings[0].field.holds(p); }
  bool reaches(size_t h, Point p) const {
    if (options_.style == TieStyle::Star) return finds(h, p);
    const auto& settings = plan_.hoopings[h].settings;
    const Box arms = Box{p.x, p.y, p.x, p.y}.grown(kMarkArm_mm);
    return std::any_of(settings.begin(), settings.end(),
                       [&](const PlanSetting& s) { return s.field.holds(arms); });
  }

  /// Every two that reach the same cloth, those that share the longest strip first.
  std::vector<Pair> neighbours(bool anySetting) const {
    std::vector<Pair> out;
    for (size_t i = 0; i < plan_.hoopings.size(); ++i)
      for (size_t j = i + 1; j < plan_.hoopings.size(); ++j)
        for (const PlanSetting& s : plan_.hoopings[i].settings) {
          const Box strip = s.field.box.intersection(plan_.hoopings[j].settings[0].field.box);
          if (strip.empty() ||
              std::max(strip.width(), strip.height()) < options_.rule.marks_apart_mm)
            continue;
          out.push_back({i, j, strip});
          if (!anySetting) break;  // marks are looked for in first settings
        }
    std::stable_sort(out.begin(), out.end(), [](const Pair& a, const Pair& b) {
      return std::max(a.strip.width(), a.strip.height()) >
             std::max(b.strip.width(), b.strip.height());
    });
    return out;
  }

  template <class Holds>
  std::vector<Spot> spots(const Box& region, Holds&& holds) const {
    const double narrow = std::min(region.width(), region.height());
    const double edge =
        std::min(kMarkArm_mm + options_.rule.mark_room_mm, std::max(0.0, narrow / 2 - 1));
    const Box room = region.grown(-edge);
    const double dx = std::max(kLattice_mm, room.width() / kMostAlong);
    const double dy = std::max(kLattice_mm, room.height() / kMostAlong);
    std::vector<Spot> out;
    const int columns = static_cast<int>(room.width() / dx),
              rows = static_cast<int>(room.height() / dy);
    for (int r = 0; r <= rows; ++r)
      for (int c = 0; c <= columns; ++c) {
        // spread so that the outermost places are tried too
        const Point p{
            rounded(room.left + (columns ? room.width() * c / columns : room.width() / 2)),
            rounded(room.top + (rows ? room.height() * r / rows : room.height() / 2))};
        if (holds(p)) out.push_back({p, bare_.clearance_mm(p)});
      }
    return out;
  }

  /// Of many spots those farthest out to each of sixteen sides.
  static std::vector<Spot> outermost(const std::vector<Spot>& spots) {
    std::vector<Spot> out;
    for (int side = 0; side < 16 && !spots.empty(); ++side) {
      const Point way{std::cos(side * kPi / 8), std::sin(side * kPi / 8)};
      const Spot& far = *std::max_element(
          spots.begin(), spots.end(),
          [&](const Spot& a, const Spot& b) { return dot(a.at, way) < dot(b.at, way); });
      if (std::none_of(out.begin(), out.end(), [&](const Spot& s) { return s.at == far.at; }))
        out.push_back(far);
    }
    return out;
  }

  static std::vector<Spot> barer(const std::vector<Spot>& spots, double least_mm) {
    std::vector<Spot> out;
    for (const Spot& s : spots)
      if (s.clear_mm >= least_mm) out.push_back(s);
    return out;
  }

  const PlanMark* existing(Point at) const {
    for (const Hooping& h : plan_.hoopings)
      for (const PlanMark& m : h.marks)
        if (m.at == at) return &m;
    return nullptr;
  }

  bool alreadyShare(size_t i, size_t j) const {
    double far = 0;
    std::vector<Point> common;
    for (const PlanMark& m : plan_.hoopings[i].marks)
      for (const PlanMark& n : plan_.hoopings[j].marks)
        if (m.id == n.id) common.push_back(m.at);
    for (Point a : common)
      for (Point b : common) far = std::max(far, distance(a, b));
    return far >= options_.rule.marks_apart_mm;
  }

  void share(const Pair& pair, std::initializer_list<double> levels) {
    const auto& [i, j, strip] = pair;
    if (alreadyShare(i, j)) return;
    const auto both = [this, i = pair.i, j = pair.j](Point p) {
      return reaches(i, p) && finds(j, p);
    };
    const std::vector<Spot> all = spots(strip, both);
    for (double level : levels) {
      std::vector<Spot> open = outermost(barer(all, level));
      for (const Hooping& h : plan_.hoopings)
        for (const PlanMark& m : h.marks)
          if (both(m.at) && (m.clear || level == 0)) open.push_back({m.at, INFINITY});
      if (takeFarthest(i, j, open, level)) return;
    }
  }

  /// Two of the spots far apart, with as few new marks as that allows.
  bool takeFarthest(size_t i, size_t j, const std::vector<Spot>& open, double level) {
    double most = 0;
    for (const Spot& a : open)
      for (const Spot& b : open) most = std::max(most, distance(a.at, b.at));
    if (most < options_.rule.marks_apart_mm) return false;
    const double enough = std::max(options_.rule.marks_apart_mm, 0.7 * most);
    const Spot *first = nullptr, *second = nullptr;
    double best = -1;
    for (size_t a = 0; a < open.size(); ++a)
      for (size_t b = a + 1; b < open.size(); ++b) {
        const double far = distance(open[a].at, open[b].at);
        if (far < enough) continue;
        const int there = (existing(open[a].at) != nullptr) + (existing(open[b].at) != nullptr);
        const double value = there * 1e4 + far;
        if (value > best) best = value, first = &open[a], second = &open[b];
      }
    for (const Spot* s : {first, second}) {
      const PlanMark mark = markAt(s->at, level > 0, "cross");
      give(plan_.hoopings[i], mark);
      give(plan_.hoopings[j], mark);
    }
    return true;
  }

  PlanMark markAt(Point at, bool clear, const std::string& kind) {
    if (const PlanMark* there = existing(at)) return *there;
    return {"M" + std::to_string(++number_), kind, at, clear};
  }
  static void give(Hooping& h, const PlanMark& mark) {
    if (std::none_of(h.marks.begin(), h.marks.end(),
                     [&](const PlanMark& m) { return m.id == mark.id; }))
      h.marks.push_back(mark);
  }

  /// Marks of its own until there are `enough`, each as far as it goes from those there are.
  void addOwn(size_t h, size_t enough, const std::string& kind) {
    Hooping& hooping = plan_.hoopings[h];
    const std::vector<Spot> all =
        spots(hooping.settings[0].field.box, [&](Point p) { return finds(h, p); });
    for (double level : levels_mm_) {
      const std::vector<Spot> open = level > 0 ? barer(all, level) : barest(all);
      while (hooping.marks.size() < enough && addFarthest(hooping, open, level, kind)) {
      }
      // two clear ones are better than a third on sewing
      if (hooping.marks.size() >= (level >= options_.rule.mark_room_mm ? 2U : enough)) return;
    }
  }

  /// Where no place is clear: the best of each quarter.
  std::vector<Spot> barest(std::vector<Spot> all) const {
    std::stable_sort(all.begin(), all.end(),
                     [](const Spot& a, const Spot& b) { return a.clear_mm > b.clear_mm; });
    if (all.size() > 40) all.resize(std::max<size_t>(40, all.size() / 4));
    return all;
  }

  bool addFarthest(Hooping& hooping, const std::vector<Spot>& open, double level,
                   const std::string& kind) {
    const Point middle = hooping.settings[0].field.box.centre();
    const Spot* best = nullptr;
    double most = 0;
    for (const Spot& s : open) {
      double far = hooping.marks.empty() ? distance(s.at, middle) : INFINITY;
      for (const PlanMark& m : hooping.marks) far = std::min(far, distance(s.at, m.at));
      if (far > most + kSame_mm) most = far, best = &s;
    }
    if (!best || (!hooping.marks.empty() && most < options_.rule.marks_apart_mm / 2)) return false;
    give(hooping, markAt(best->at, level > 0, kind));
    return true;
  }

  HoopingPlan& plan_;
  const PlanOptions& options_;
  /// How bare a spot has to be: an arm and more; the mark's middle at least; anything.
  std::array<double, 3> levels_mm_;
  BareCloth bare_;
  int number_ = 0;
};

}  // namespace

void placeMarks(HoopingPlan& plan, const Pattern& pattern, const PlanOptions& options) {
  MarkPlacer(plan, pattern, options).run();
}

}  // namespace rt
