#include "cover_candidates.h"

#include <algorithm>
#include <numeric>
#include <unordered_map>

namespace rt {

bool ItemSet::empty() const {
  return std::all_of(words_.begin(), words_.end(), [](uint64_t w) { return w == 0; });
}
size_t ItemSet::count() const {
  size_t n = 0;
  for (uint64_t w : words_) n += static_cast<size_t>(__builtin_popcountll(w));
  return n;
}
size_t ItemSet::countIn(const ItemSet& other) const {
  size_t n = 0;
  for (size_t i = 0; i < words_.size(); ++i)
    n += static_cast<size_t>(__builtin_popcountll(words_[i] & other.words_[i]));
  return n;
}
bool ItemSet::within(const ItemSet& other) const {
  for (size_t i = 0; i < words_.size(); ++i)
    if ((words_[i] & ~other.words_[i]) != 0) return false;
  return true;
}
bool ItemSet::meets(const ItemSet& other) const {
  for (size_t i = 0; i < words_.size(); ++i)
    if ((words_[i] & other.words_[i]) != 0) return true;
  return false;
}
ItemSet& ItemSet::operator|=(const ItemSet& other) {
  for (size_t i = 0; i < words_.size(); ++i) words_[i] |= other.words_[i];
  return *this;
}
ItemSet& ItemSet::operator&=(const ItemSet& other) {
  for (size_t i = 0; i < words_.size(); ++i) words_[i] &= other.words_[i];
  return *this;
}
size_t ItemSet::print() const {
  size_t h = 1469598103934665603ull;
  for (uint64_t w : words_) h = (h ^ w) * 1099511628211ull;
  return h;
}

namespace {

constexpr size_t kMostCompared = 60000;        // candidates held against each other
constexpr size_t kMostPlacesAlong = 2000;      // along one axis; more are drawn together
constexpr size_t kMostPlacesOfSettings = 200;  // the same for frames of several settings
constexpr size_t kMostSettingsCompared = 5000;

/// What lies between two edges along one axis, for every place of the frame and each field.
struct Along {
  double at = 0;
  std::vector<ItemSet> inside, tight;  // by field; tight: its low edge is touched
};

/// Whether the fields together hold all of a box.
bool holdTogether(const std::vector<PlacedField>& fields, const Box& what) {
  std::vector<Box> left{what};
  for (const PlacedField& f : fields) {
    const Box b = f.box.grown(kSame_mm);
    std::vector<Box> rest;
    for (const Box& w : left) {
      const Box in = w.intersection(b);
      if (in.empty()) {
        rest.push_back(w);
        continue;
      }
      // what sticks out to each side
      if (w.left < in.left) rest.push_back({w.left, w.top, in.left, w.bottom});
      if (w.right > in.right) rest.push_back({in.right, w.top, w.right, w.bottom});
      if (w.top < in.top) rest.push_back({in.left, w.top, in.right, in.top});
      if (w.bottom > in.bottom) rest.push_back({in.left, in.bottom, in.right, w.bottom});
    }
    left = std::move(rest);
  }
  return left.empty();
}

class Places {
 public:
  /// `cores`: what fields of one clamping hold together counts by its core.
  Places(const std::vector<CoverItem>& items, const std::vector<PlacedField>& fields, bool alongX,
         bool cores)
      : items_(items), fields_(fields), x_(alongX), cores_(cores) {}

  std::vector<Along> all(bool& thinned, const std::vector<double>& more) const {
    std::vector<double> at = more;
    for (const PlacedField& f : fields_)
      for (const CoverItem& i : items_)
        for (const Box& b : {i.box, i.core})
          if (high(b) - low(b) <= high(f.box) - low(f.box) + kSame_mm)
            at.push_back(low(b) - low(f.box));
    std::sort(at.begin(), at.end());
    at.erase(std::unique(at.begin(), at.end(), [](double a, double b) { return b - a < 1e-5; }),
             at.end());
    // places that differ by less than matters are one: the lowest, which holds all their low edges
    const size_t most = cores_ ? kMostPlacesOfSettings : kMostPlacesAlong;
    for (double same = 0.05; at.size() > most; same *= 1.5) {
      thinned = true;
      std::vector<double> kept;
      for (double a : at)
        if (kept.empty() || a - kept.back() >= same) kept.push_back(a);
      at = std::move(kept);
    }
    std::vector<Along> out;
    for (size_t i = 0; i < at.size(); ++i)
      out.push_back(place(at[i], i + 1 < at.size() ? at[i + 1] - at[i] : INFINITY));
    return out;
  }

 private:
  double low(const Box& b) const { return x_ ? b.left : b.top; }
  double high(const Box& b) const { return x_ ? b.right : b.bottom; }

  /// Tight is what the next place would lose.
  Along place(double at, double toNext) const {
    Along a{at, {}, {}};
    for (const PlacedField& f : fields_) {
      ItemSet inside(items_.size()), tight(items_.size());
      const double from = at + low(f.box) - 2e-5, to = at + high(f.box) + kSame_mm;
      for (size_t i = 0; i < items_.size(); ++i) {
        const Box& b = cores_ ? items_[i].core : items_[i].box;
        if (low(b) < from || high(b) > to) continue;
        inside.add(i);
        if (low(b) < from + toNext ||
            (cores_ && low(items_[i].box) >= from && low(items_[i].box) < from + toNext))
          tight.add(i);
      }
      a.inside.push_back(std::move(inside));
      a.tight.push_back(std::move(tight));
    }
    return a;
  }

  const std::vector<CoverItem>& items_;
  const std::vector<PlacedField>& fields_;
  bool x_, cores_;
};

class Collector {
 public:
  explicit Collector(const std::vector<CoverItem>& items) : items_(items) {}

  void frame(const Hoop& hoop, int index, int turn, bool& thinned) {
    if (hoop.rail) return onRail(hoop, index, turn, thinned);
    const std::vector<PlacedField> fields = fieldsOf(hoop, turn);
    const bool oval = hoop.field.shape == HoopShape::Oval;
    std::vector<double> moreX, moreY;
    if (oval) centred(fields, moreX, moreY);
    const bool cores = fields.size() > 1;
    const std::vector<Along> xs = Places(items_, fields, true, cores).all(thinned, moreX);
    const std::vector<Along> ys = Places(items_, fields, false, cores).all(thinned, moreY);
    for (const Along& x : xs)
      for (const Along& y : ys) consider(index, turn, fields, x, y, oval);
  }

  std::vector<Candidate> finish(size_t most, bool& thinned) {
    std::stable_sort(found_.begin(), found_.end(), [](const Candidate& a, const Candidate& b) {
      const size_t n = a.all.count(), m = b.all.count();
      return n != m ? n > m : a.holds.size() < b.holds.size();
    });
    size_t settings = 0;
    for (const Candidate& c : found_) settings += c.holds.size();
    const size_t compared = settings > found_.size() ? kMostSettingsCompared : kMostCompared;
    if (found_.size() > compared) {
      thinned = true;
      thin(found_, compared);
    }
    std::vector<Candidate> kept;
    for (Candidate& c : found_) {
      const bool beaten = std::any_of(kept.begin(), kept.end(),
                                      [&](const Candidate& k) { return dominates(k, c); });
      if (!beaten) kept.push_back(std::move(c));
    }
    size_t columns = 0;
    for (const Candidate& c : kept) columns += c.holds.size();
    if (columns > most) {
      thinned = true;
      thin(kept, std::max<size_t>(1, most * kept.size() / columns));
    }
    return kept;
  }

 private:
  static bool dominates(const Candidate& k, const Candidate& c) {
    if (!c.all.within(k.all)) return false;
    if (k.holds.size() == 1) return true;
    if (k.holds.size() != c.holds.size() || k.clamping.hoop != c.clamping.hoop ||
        k.clamping.turn_deg != c.clamping.turn_deg)
      return false;
    for (size_t f = 0; f < k.holds.size(); ++f)
      if (!c.holds[f].within(k.holds[f])) return false;
    return true;
  }

  /// Those that hold most stay, and for every item the first few that hold it.
  static void thin(std::vector<Candidate>& kept, size_t most) {
    std::vector<Candidate> out;
    std::vector<int> served;
    for (size_t i = 0; i < kept.size(); ++i) {
      bool needed = out.size() < most;
      kept[i].all.each([&](size_t item) {
        if (item >= served.size()) served.resize(item + 1, 0);
        if (served[item] < 4) needed = true;
      });
      if (!needed) continue;
      kept[i].all.each([&](size_t item) { ++served[item]; });
      out.push_back(std::move(kept[i]));
    }
    kept = std::move(out);
  }

  /// For ovals: places with pairs of items in the middle.
  void centred(const std::vector<PlacedField>& fields, std::vector<double>& xs,
               std::vector<double>& ys) const {
    const Point c = fields.front().box.centre();
    for (size_t i = 0; i < items_.size(); ++i)
      for (size_t j = i; j < std::min(items_.size(), i + 12); ++j) {
        Box both = items_[i].box;
        both.add(items_[j].box);
        xs.push_back(both.centre().x - c.x);
        ys.push_back(both.centre().y - c.y);
      }
  }

  void consider(int index, int turn, const std::vector<PlacedField>& fields, const Along& x,
                const Along& y, bool oval) {
    ItemSet all(items_.size());
    std::vector<ItemSet> holds;
    bool left = oval, top = oval;
    for (size_t f = 0; f < fields.size(); ++f) {
      ItemSet in = x.inside[f];
      in &= y.inside[f];
      left = left || in.meets(x.tight[f]);
      top = top || in.meets(y.tight[f]);
      holds.push_back(std::move(in));
    }
    if (!left || !top) return;
    Clamping clamping{index, turn, {x.at, y.at}, {}};
    for (size_t f = 0; f < fields.size(); ++f) {
      PlacedField field = fields[f];
      field.box = field.box.moved(clamping.origin);
      if (oval) {
        const ItemSet boxed = holds[f];
        boxed.each([&](size_t i) {
          if (!field.holds(fields.size() > 1 ? items_[i].core : items_[i].box)) holds[f].remove(i);
        });
      }
      clamping.fields.push_back(field);
      all |= holds[f];
    }
    if (fields.size() > 1) dropUnheld(clamping, holds, all);
    keep(std::move(clamping), std::move(holds), std::move(all));
  }

  /// Of items that a field holds by their core those whose rest lies outside the clamping.
  void dropUnheld(const Clamping& clamping, std::vector<ItemSet>& holds, ItemSet& all) const {
    const ItemSet before = all;
    before.each([&](size_t i) {
      if (items_[i].box == items_[i].core || holdTogether(clamping.fields, items_[i].box)) return;
      all.remove(i);
      for (ItemSet& h : holds) h.remove(i);
    });
  }

  void keep(Clamping clamping, std::vector<ItemSet> holds, ItemSet all) {
    if (all.empty()) return;
    size_t print = holds.size();
    for (const ItemSet& h : holds) print = print * 31 + h.print();
    auto& same = byPrint_[print];
    for (size_t at : same)
      if (found_[at].holds == holds) return;
    same.push_back(found_.size());
    found_.push_back({std::move(clamping), std::move(holds), std::move(all)});
  }

  /// The field slides: any place whose low edge touches an item, or either end of the rail.
  void onRail(const Hoop& hoop, int index, int turn, bool& thinned) {
    const std::vector<PlacedField> ends = fieldsOf(hoop, turn);
    PlacedField reach = ends[0];
    reach.box.add(ends[1].box);
    const bool slidesX = ends[0].box.left != ends[1].box.left;
    std::vector<double> none;
    const std::vector<PlacedField> whole{reach};
    const std::vector<Along> xs = Places(items_, whole, true, false).all(thinned, none);
    const std::vector<Along> ys = Places(items_, whole, false, false).all(thinned, none);
    for (const Along& x : xs)
      for (const Along& y : ys) {
        ItemSet in = x.inside[0];
        in &= y.inside[0];
        if (!in.meets(x.tight[0]) || !in.meets(y.tight[0])) continue;
        slide(Clamping{index, turn, {x.at, y.at}, {}}, ends, in, slidesX);
      }
  }

  void slide(Clamping clamping, const std::vector<PlacedField>& ends, const ItemSet& reach,
             bool slidesX) {
    const Box low = ends[0].box.moved(clamping.origin), high = ends[1].box.moved(clamping.origin);
    std::vector<double> starts;
    const double from = slidesX ? std::min(low.left, high.left) : std::min(low.top, high.top);
    const double to = slidesX ? std::max(low.left, high.left) : std::max(low.top, high.top);
    reach.each([&](size_t i) {
      starts.push_back(std::clamp(slidesX ? items_[i].core.left : items_[i].core.top, from, to));
    });
    std::sort(starts.begin(), starts.end());
    starts.erase(std::unique(starts.begin(), starts.end()), starts.end());
    std::vector<ItemSet> holds;
    ItemSet all(items_.size());
    for (double start : starts) {
      PlacedField field = ends[0];
      field.box = slidesX ? low.moved({start - low.left, 0}) : low.moved({0, start - low.top});
      ItemSet in(items_.size());
      reach.each([&](size_t i) {
        if (field.holds(items_[i].core)) in.add(i);
      });
      if (in.empty() || (!holds.empty() && in.within(holds.back()))) continue;
      if (!holds.empty() && holds.back().within(in)) holds.pop_back(), clamping.fields.pop_back();
      all |= in;
      holds.push_back(std::move(in));
      clamping.fields.push_back(field);
    }
    keep(std::move(clamping), std::move(holds), std::move(all));
  }

  const std::vector<CoverItem>& items_;
  std::vector<Candidate> found_;
  std::unordered_map<size_t, std::vector<size_t>> byPrint_;
};

}  // namespace

bool hold(const std::vector<PlacedField>& fields, const Box& box, const Box& core) {
  const auto oneHolds = [&](const Box& what) {
    return std::any_of(fields.begin(), fields.end(),
                       [&](const PlacedField& f) { return f.holds(what); });
  };
  return oneHolds(box) || (fields.size() > 1 && oneHolds(core) && holdTogether(fields, box));
}

std::vector<Candidate> candidatesFor(const std::vector<CoverItem>& items,
                                     const std::vector<Hoop>& hoops, bool turn, size_t most,
                                     bool& thinned) {
  Collector collector(items);
  for (size_t h = 0; h < hoops.size(); ++h) {
    collector.frame(hoops[h], static_cast<int>(h), 0, thinned);
    const bool square = hoops[h].field.width_mm == hoops[h].field.height_mm &&
                        hoops[h].settings.empty() && !hoops[h].rail;
    if (turn && !square) collector.frame(hoops[h], static_cast<int>(h), 90, thinned);
  }
  return collector.finish(most, thinned);
}

}  // namespace rt
