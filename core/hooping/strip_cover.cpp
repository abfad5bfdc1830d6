#include "strip_cover.h"

#include <algorithm>
#include <cmath>

#include "cover_candidates.h"

namespace rt {
namespace {

constexpr int kMostRounds = 8;
constexpr double kClampingCost = 1e4, kMoreSettings = 200;  // over any weight of parted wholes

/// A frame as one piece: what its settings reach together, without a gap.
struct Reach {
  Box box;                          // about the frame's origin
  std::vector<PlacedField> fields;  // likewise; of a rail its one field at the low end
  bool slides = false, alongX = false;

  static std::optional<Reach> of(const Hoop& hoop, int turn_deg) {
    Reach out;
    out.fields = fieldsOf(hoop, turn_deg);
    for (const PlacedField& f : out.fields) {
      if (f.shape == HoopShape::Oval) return std::nullopt;
      out.box.add(f.box);
    }
    if (!hoop.rail && !hold(out.fields, out.box, out.fields[0].box)) return std::nullopt;
    if (hoop.rail) {
      out.slides = true;
      out.alongX = out.fields[0].box.left != out.fields[1].box.left;
      const bool low = out.fields[0].box.left + out.fields[0].box.top <=
                       out.fields[1].box.left + out.fields[1].box.top;
      out.fields = {out.fields[low ? 0 : 1]};
    }
    return out;
  }

  /// Whether a clamping whose reach lies at `place` can hold it.
  bool holds(const Box& place, const CoverNeed& need) const {
    if (!PlacedField{place}.holds(need.box)) return false;
    if (slides)
      return need.core.width() <= fields[0].box.width() + kSame_mm &&
             need.core.height() <= fields[0].box.height() + kSame_mm;
    const Point by = place.corner(0) - box.corner(0);
    return std::any_of(fields.begin(), fields.end(), [&](const PlacedField& f) {
      return PlacedField{f.box.moved(by)}.holds(need.core);
    });
  }
};

/// From where strips are laid.
struct Sweep {
  bool columns = false, fromRight = false, fromBottom = false;
};

/// Frames of one kind in strips.
class Strips {
 public:
  Strips(const std::vector<CoverNeed>& needs, const Reach& reach, const Sweep& sweep)
      : reach_(reach), sweep_(sweep) {
    for (const CoverNeed& n : needs) open_.push_back({turned(n.box), &n});
    width_ = sweep.columns ? reach.box.height() : reach.box.width();
    height_ = sweep.columns ? reach.box.width() : reach.box.height();
  }

  /// Places of what the frame reaches; nothing if a need fits it nowhere.
  std::optional<std::vector<Box>> run() {
    std::vector<Box> out;
    while (!open_.empty()) {
      double top = INFINITY;
      for (const Open& o : open_) top = std::min(top, o.at.top);
      std::vector<Open> strip, later;
      for (const Open& o : open_)
        (o.at.bottom <= top + height_ + kSame_mm ? strip : later).push_back(o);
      if (strip.empty()) return std::nullopt;
      std::sort(strip.begin(), strip.end(),
                [](const Open& a, const Open& b) { return a.at.left < b.at.left; });
      while (!strip.empty()) {
        const double from = strip.front().at.left;
        out.push_back(back({from, top, from + width_, top + height_}));
        const size_t before = strip.size();
        std::erase_if(strip, [&](const Open& o) { return reach_.holds(out.back(), *o.need); });
        if (strip.size() == before) return std::nullopt;
      }
      open_ = std::move(later);
    }
    return out;
  }

 private:
  struct Open {
    Box at;  // as it is swept
    const CoverNeed* need;
  };
  static Box swapped(const Box& b) { return {b.top, b.left, b.bottom, b.right}; }
  Box mirrored(const Box& b) const {
    return {sweep_.fromRight ? -b.right : b.left, sweep_.fromBottom ? -b.bottom : b.top,
            sweep_.fromRight ? -b.left : b.right, sweep_.fromBottom ? -b.top : b.bottom};
  }
  Box turned(const Box& b) const { return sweep_.columns ? swapped(mirrored(b)) : mirrored(b); }
  Box back(const Box& b) const { return mirrored(sweep_.columns ? swapped(b) : b); }
  const Reach& reach_;
  Sweep sweep_;
  double width_ = 0, height_ = 0;
  std::vector<Open> open_;
};

/// Settings of clampings: each need is held by the first clamping that can.
class Settings {
 public:
  Settings(const std::vector<CoverNeed>& needs, const Reach& reach) : reach_(reach) {
    for (const CoverNeed& n : needs) open_.push_back(&n);
  }

  std::vector<PlacedField> at(const Box& place) {
    std::vector<const CoverNeed*> own;
    std::erase_if(open_, [&](const CoverNeed* n) {
      if (!reach_.holds(place, *n)) return false;
      own.push_back(n);
      return true;
    });
    const Point by = place.corner(0) - reach_.box.corner(0);
    return reach_.slides ? slid(own, place, by) : chosen(own, by);
  }

 private:
  /// As few places along the rail as hold all, each as far on as what is open allows: a core lies
  /// in one of them, and where the rest goes on from one to the next there is no gap.
  std::vector<PlacedField> slid(std::vector<const CoverNeed*> own, const Box& place,
                                Point by) const {
    const bool x = reach_.alongX;
    const auto low = [x](const Box& b) { return x ? b.left : b.top; };
    const auto high = [x](const Box& b) { return x ? b.right : b.bottom; };
    PlacedField field = reach_.fields[0];
    field.box = field.box.moved(by);
    const double last = high(place) - (high(field.box) - low(field.box));
    std::vector<PlacedField> out;
    while (!own.empty()) {
      double to = INFINITY;
      for (const CoverNeed* n : own) {
        const bool begun = !out.empty() && low(n->box) < high(field.box);
        const bool held = begun && field.holds(n->core);
        to = std::min(to, out.empty() ? low(n->box) : begun ? high(field.box) : low(n->core));
        if (!held) to = std::min(to, low(n->core));
      }
      to = std::clamp(to, low(place), std::max(low(place), last));
      if (!out.empty() && to <= low(field.box) + kSame_mm) break;  // it is as far on as it goes
      const double on = to - low(field.box);
      field.box = field.box.moved(x ? Point{on, 0} : Point{0, on});
      out.push_back(field);
      std::erase_if(own, [&](const CoverNeed* n) { return hold(out, n->box, n->core); });
    }
    return out;
  }

  /// Of the fixed settings those that hold most of what is open first; then what goes on from one
  /// into others.
  std::vector<PlacedField> chosen(std::vector<const CoverNeed*> own, Point by) const {
    std::vector<PlacedField> all = reach_.fields, out;
    for (PlacedField& f : all) f.box = f.box.moved(by);
    const std::vector<const CoverNeed*> whole = own;
    const auto take = [&](size_t i) {
      out.push_back(all[i]);
      all.erase(all.begin() + static_cast<long>(i));
    };
    while (!own.empty()) {
      size_t best = 0;
      long most = 0;
      for (size_t i = 0; i < all.size(); ++i) {
        const long n = std::count_if(own.begin(), own.end(), [&](const CoverNeed* need) {
          return all[i].holds(need->core);
        });
        if (n > most) most = n, best = i;
      }
      if (most == 0) break;
      take(best);
      std::erase_if(own, [&](const CoverNeed* n) { return out.back().holds(n->core); });
    }
    for (size_t i = all.size(); i-- > 0;)
      if (std::any_of(whole.begin(), whole.end(), [&](const CoverNeed* n) {
            return !hold(out, n->box, n->core) && !n->box.intersection(all[i].box).empty();
          }))
        take(i);
    return out;
  }

  const Reach& reach_;
  std::vector<const CoverNeed*> open_;
};

/// Where a field's low edges may lie, both ways.
struct Play {
  double left, right, top, bottom;
};

/// Moves clampings of one field so that less is parted.
class Mover {
 public:
  Mover(std::vector<Clamping>& clampings, const CoverProblem& problem)
      : clampings_(clampings), problem_(problem) {}

  void run() {
    bool better = true;
    for (int round = 0; round < kMostRounds && better; ++round) {
      better = false;
      for (size_t c = 0; c < clampings_.size(); ++c) better = move(c) || better;
    }
  }

 private:
  const PlacedField& fieldOf(size_t c) const { return clampings_[c].fields.front(); }
  bool heldByOthers(size_t c, const Box& what) const {
    for (size_t k = 0; k < clampings_.size(); ++k)
      for (const PlacedField& f : clampings_[k].fields)
        if (k != c && f.holds(what)) return true;
    return false;
  }

  /// What a field alone holds it has to hold on.
  Play playOf(size_t c) const {
    const Box& own = fieldOf(c).box;
    Box alone;
    const auto add = [&](const Box& what) {
      if (fieldOf(c).holds(what) && !heldByOthers(c, what)) alone.add(what);
    };
    for (const CoverNeed& n : problem_.needs) add(n.box);
    for (const CoverWhole& w : problem_.wholes)
      if (w.must) add(w.box);
    if (alone.empty()) return {own.left, own.left, own.top, own.top};
    return {alone.right - own.width(), alone.left, alone.bottom - own.height(), alone.top};
  }

  /// To where it holds most of what no other field does; whether that is more than before.
  bool move(size_t c) {
    if (clampings_[c].fields.size() != 1) return false;
    const Box own = fieldOf(c).box;
    const Play play = playOf(c);
    std::vector<const CoverWhole*> open;
    std::vector<double> xs{own.left}, ys{own.top};
    for (const CoverWhole& w : problem_.wholes) {
      if (heldByOthers(c, w.box)) continue;
      const double left = std::max(play.left, w.box.right - own.width()),
                   top = std::max(play.top, w.box.bottom - own.height());
      if (left > std::min(play.right, w.box.left) || top > std::min(play.bottom, w.box.top))
        continue;
      open.push_back(&w), xs.push_back(left), ys.push_back(top);
    }
    const auto worth = [&](double x, double y) {
      const PlacedField at{{x, y, x + own.width(), y + own.height()}};
      double sum = 0;
      for (const CoverWhole* w : open)
        if (at.holds(w->box)) sum += w->weight;
      return sum;
    };
    double most = worth(own.left, own.top);
    const double before = most;
    Point to{own.left, own.top};
    for (double x : xs)
      for (double y : ys)
        if (const double gain = worth(x, y); gain > most + 1e-9) most = gain, to = {x, y};
    if (most <= before + 1e-9) return false;
    const Point by = to - Point{own.left, own.top};
    clampings_[c].origin = clampings_[c].origin + by;
    for (PlacedField& f : clampings_[c].fields) f.box = f.box.moved(by);
    return true;
  }

  std::vector<Clamping>& clampings_;
  const CoverProblem& problem_;
};

double costOf(const std::vector<Clamping>& clampings, const CoverProblem& problem) {
  double cost = partedBy(clampings, problem);
  for (const Clamping& c : clampings)
    cost += kClampingCost + kMoreSettings * static_cast<double>(c.fields.size());
  return cost;
}

bool serve(const std::vector<Clamping>& clampings, const std::vector<CoverNeed>& needs) {
  return std::all_of(needs.begin(), needs.end(), [&](const CoverNeed& n) {
    return std::any_of(clampings.begin(), clampings.end(),
                       [&](const Clamping& c) { return hold(c.fields, n.box, n.core); });
  });
}

}  // namespace

std::vector<Clamping> coverInStrips(const CoverProblem& problem, const std::vector<Hoop>& hoops,
                                    bool turn) {
  std::vector<CoverNeed> needs = problem.needs;
  for (const CoverWhole& w : problem.wholes)
    if (w.must) needs.push_back({w.box, -1, w.box});
  std::vector<Clamping> best;
  for (size_t h = 0; h < hoops.size(); ++h)
    for (int turned : {0, 90}) {
      if (turned != 0 && !turn) continue;
      const auto reach = Reach::of(hoops[h], turned);
      if (!reach) continue;
      for (int from = 0; from < 8; ++from) {
        const Sweep sweep{(from & 1) != 0, (from & 2) != 0, (from & 4) != 0};
        const auto places = Strips(needs, *reach, sweep).run();
        if (!places || (!best.empty() && places->size() > best.size())) continue;
        Settings settings(needs, *reach);
        std::vector<Clamping> found;
        for (const Box& place : *places)
          found.push_back({static_cast<int>(h), turned, place.corner(0) - reach->box.corner(0),
                           settings.at(place)});
        if (!serve(found, needs)) continue;
        Mover(found, problem).run();
        if (best.empty() || costOf(found, problem) < costOf(best, problem)) best = std::move(found);
      }
    }
  return best;
}

}  // namespace rt
