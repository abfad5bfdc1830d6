#include "strip_cover.h"

#include <algorithm>
#include <cmath>

namespace rt {
namespace {

/// From where strips are laid.
struct Sweep {
  bool columns = false, fromRight = false, fromBottom = false;
};

/// Fields of one size in strips.
class Strips {
 public:
  Strips(const CoverProblem& problem, const PlacedField& field, const Sweep& sweep)
      : sweep_(sweep) {
    for (const CoverWhole& w : problem.wholes)
      if (w.must) open_.push_back(turned(w.box));
    for (const CoverNeed& n : problem.needs) open_.push_back(turned(n.box));
    width_ = sweep.columns ? field.box.height() : field.box.width();
    height_ = sweep.columns ? field.box.width() : field.box.height();
  }

  /// Places of the field's box; nothing if a need fits it nowhere.
  std::optional<std::vector<Box>> run() {
    std::vector<Box> out;
    while (!open_.empty()) {
      double top = INFINITY;
      for (const Box& b : open_) top = std::min(top, b.top);
      std::vector<Box> strip, later;
      for (const Box& b : open_)
        (b.bottom <= top + height_ + kSame_mm ? strip : later).push_back(b);
      if (strip.empty()) return std::nullopt;
      std::sort(strip.begin(), strip.end(),
                [](const Box& a, const Box& b) { return a.left < b.left; });
      for (size_t i = 0; i < strip.size();) {
        const Box place{strip[i].left, top, strip[i].left + width_, top + height_};
        out.push_back(back(place));
        std::vector<Box> left;
        for (size_t k = i; k < strip.size(); ++k)
          if (!place.grown(kSame_mm).contains(strip[k])) left.push_back(strip[k]);
        if (left.size() == strip.size() - i) return std::nullopt;
        strip = std::move(left);
        i = 0;
      }
      open_ = std::move(later);
    }
    return out;
  }

 private:
  static Box swapped(const Box& b) { return {b.top, b.left, b.bottom, b.right}; }
  Box mirrored(const Box& b) const {
    return {sweep_.fromRight ? -b.right : b.left, sweep_.fromBottom ? -b.bottom : b.top,
            sweep_.fromRight ? -b.left : b.right, sweep_.fromBottom ? -b.top : b.bottom};
  }
  Box turned(const Box& b) const { return sweep_.columns ? swapped(mirrored(b)) : mirrored(b); }
  Box back(const Box& b) const { return mirrored(sweep_.columns ? swapped(b) : b); }
  Sweep sweep_;
  double width_ = 0, height_ = 0;
  std::vector<Box> open_;
};

constexpr int kMostRounds = 8;

/// Where a field's low edges may lie, both ways.
struct Play {
  double left, right, top, bottom;
};

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
  const Box& boxOf(size_t c) const { return clampings_[c].fields.front().box; }
  bool heldByOthers(size_t c, const Box& what) const {
    for (size_t k = 0; k < clampings_.size(); ++k)
      if (k != c && boxOf(k).grown(kSame_mm).contains(what)) return true;
    return false;
  }

  /// What a field alone holds it has to hold on.
  Play playOf(size_t c) const {
    const Box& own = boxOf(c);
    Box alone;
    const auto add = [&](const Box& what) {
      if (own.grown(kSame_mm).contains(what) && !heldByOthers(c, what)) alone.add(what);
    };
    for (const CoverNeed& n : problem_.needs) add(n.box);
    for (const CoverWhole& w : problem_.wholes)
      if (w.must) add(w.box);
    if (alone.empty()) return {own.left, own.left, own.top, own.top};
    return {alone.right - own.width(), alone.left, alone.bottom - own.height(), alone.top};
  }

  /// To where it holds most of what no other field does; whether that is more than before.
  bool move(size_t c) {
    const Box own = boxOf(c);
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
      const Box at = Box{x, y, x + own.width(), y + own.height()}.grown(kSame_mm);
      double sum = 0;
      for (const CoverWhole* w : open)
        if (at.contains(w->box)) sum += w->weight;
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

}  // namespace

std::vector<Clamping> coverInStrips(const CoverProblem& problem, const std::vector<Hoop>& hoops,
                                    bool turn) {
  std::vector<Clamping> best;
  double least = INFINITY;
  for (size_t h = 0; h < hoops.size(); ++h) {
    if (!hoops[h].settings.empty() || hoops[h].rail || hoops[h].field.shape == HoopShape::Oval)
      continue;
    for (int turned : {0, 90})
      for (int from = 0; from < 8; ++from) {
        if (turned != 0 && !turn) continue;
        const PlacedField field = fieldsOf(hoops[h], turned)[0];
        const Sweep sweep{(from & 1) != 0, (from & 2) != 0, (from & 4) != 0};
        const auto boxes = Strips(problem, field, sweep).run();
        if (!boxes) continue;
        std::vector<Clamping> found;
        for (const Box& b : *boxes)
          found.push_back(
              {static_cast<int>(h), turned, b.centre(), {{b, turned, HoopShape::Rectangle}}});
        if (found.size() <= best.size() || best.empty()) Mover(found, problem).run();
        const double cost = static_cast<double>(found.size()) * 1e4 + partedBy(found, problem);
        if (cost < least) least = cost, best = std::move(found);
      }
  }
  return best;
}

}  // namespace rt
