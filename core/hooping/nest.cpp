#include "nest.h"

#include <algorithm>
#include <functional>
#include <map>
#include <numeric>
#include <random>

#include "error.h"
#include "length.h"

namespace rt {
namespace {

constexpr double kEps_mm = 1e-7;
constexpr size_t kMostPieces = 20000;
constexpr long kMostSteps = 4'000'000;  // cuts that are tried in all
constexpr size_t kMostSumsAtTop = 40;
constexpr size_t kMostSums = 26;  // combinations of sides for which all five-block cuts are tried
constexpr unsigned kSeed = 20261;

/// A rectangle of a frame in which pieces may lie, and whose setting it is.
struct Room {
  Box box;
  HoopShape shape = HoopShape::Rectangle;
  int setting = 1;
};

/// The fields of a frame, each without what fields before it reach: a piece lies in one of them.
std::vector<Room> roomsOf(const Hoop& hoop) {
  std::vector<Room> rooms;
  std::vector<PlacedField> fields = fieldsOf(hoop, 0);
  if (hoop.rail) {  // slides anywhere: all of it is one room for pieces no longer than the field
    Box all = fields[0].box;
    all.add(fields[1].box);
    return {{all, HoopShape::Rectangle, 1}};
  }
  for (size_t i = 0; i < fields.size(); ++i) {
    Box b = fields[i].box;
    for (const Room& r : rooms) {
      const Box over = b.intersection(r.box);
      if (over.empty() || over.width() <= kEps_mm || over.height() <= kEps_mm) continue;
      // cut off on the side where that costs least
      const Box parts[] = {{b.left, b.top, over.left, b.bottom},
                           {over.right, b.top, b.right, b.bottom},
                           {b.left, b.top, b.right, over.top},
                           {b.left, over.bottom, b.right, b.bottom}};
      b = *std::max_element(std::begin(parts), std::end(parts), [](const Box& p, const Box& q) {
        return p.width() * p.height() < q.width() * q.height();
      });
    }
    if (b.width() > kEps_mm && b.height() > kEps_mm)
      rooms.push_back({b, hoop.field.shape, static_cast<int>(i) + 1});
  }
  return rooms;
}

void checkKind(const NestKind& k, const NestOptions& o) {
  const std::string where = k.name.empty() ? "piece" : "piece " + k.name;
  if (!(k.width_mm > 0 && k.height_mm > 0) || !std::isfinite(k.width_mm * k.height_mm))
    throw Error("a piece of " + formatNumber(k.width_mm, 1) + " x " + formatNumber(k.height_mm, 1) +
                    " mm cannot be laid",
                where, "give width and height over 0 mm");
  if (!(o.gap_mm >= 0) || !std::isfinite(o.gap_mm))
    throw Error("the gap must be 0 mm or more", "gap", "3 to 10 mm is usual");
}

[[noreturn]] void tooLarge(const NestKind& k, const Hoop& hoop) {
  throw Error("a piece of " + formatNumber(k.width_mm, 1) + " x " + formatNumber(k.height_mm, 1) +
                  " mm does not fit the field of " + formatNumber(hoop.field.width_mm, 1) + " x " +
                  formatNumber(hoop.field.height_mm, 1) + " mm",
              k.name.empty() ? "piece" : "piece " + k.name,
              "take a larger hoop or a smaller piece");
}

/// Equal rectangles of w × h, either way round, in a larger one; gaps already added to both.
class FiveBlocks {
 public:
  FiveBlocks(double w, double h, double width, double height) : w_(w), h_(h) {
    const double most = std::max(width, height);
    if (most / w * most / h > kMostPieces) return;  // so small that rows of one way round will do
    for (double a = 0; a <= most + kEps_mm; a += w)
      for (double b = a; b <= most + kEps_mm; b += h) sums_.push_back(b);
    std::sort(sums_.begin(), sums_.end());
    sums_.erase(
        std::unique(sums_.begin(), sums_.end(), [](double a, double b) { return b - a < kEps_mm; }),
        sums_.end());
  }

  bool worthCutting() const { return !sums_.empty(); }

  std::vector<Box> fill(double width, double height) {
    std::vector<Box> out;
    lay(floorOf(width), floorOf(height), {0, 0}, out);
    return out;
  }

 private:
  struct Best {
    int count = 0;
    int x1 = -1, x2 = 0, y1 = 0, y2 = 0;  // cuts, as indices of sums; -1: rows of one way round
    bool turned = false;
  };

  int floorOf(double mm) const {
    return static_cast<int>(std::upper_bound(sums_.begin(), sums_.end(), mm + kEps_mm) -
                            sums_.begin()) -
           1;
  }
  double at(int i) const { return sums_[static_cast<size_t>(i)]; }
  static int times(double room, double side) {
    return static_cast<int>(std::floor((room + kEps_mm) / side));
  }

  const Best& best(int l, int m) {
    const auto [it, fresh] = known_.try_emplace({l, m});
    if (!fresh) return it->second;
    const double width = at(l), height = at(m);
    Best b;
    b.count = times(width, w_) * times(height, h_);
    if (const int other = times(width, h_) * times(height, w_); other > b.count)
      b.count = other, b.turned = true;
    const int bound = static_cast<int>(std::floor(width * height / (w_ * h_) + 1e-9));
    if (b.count < bound && width > kEps_mm && height > kEps_mm) cut(l, m, bound, b);
    return known_[{l, m}] = b;
  }

  /// All five-block cuts where there are few; else one cut through, either way.
  void cut(int l, int m, int bound, Best& b) {
    const bool top = --depthLeft_ == kDepth - 1;
    if (sums_.size() <= (top ? kMostSumsAtTop : kMostSums)) {
      for (int x1 = 0; x1 <= l; ++x1)
        for (int x2 = x1; x2 <= l; ++x2)
          for (int y1 = 0; y1 <= m; ++y1)
            for (int y2 = y1; y2 <= m && b.count < bound; ++y2)
              attempt(l, m, {0, x1, x2, y1, y2}, b);
    } else {
      for (int x = 1; x < l && b.count < bound; ++x) attempt(l, m, {0, x, x, m, m}, b);
      for (int y = 1; y < m && b.count < bound; ++y) attempt(l, m, {0, l, l, y, y}, b);
    }
    ++depthLeft_;
  }

  void attempt(int l, int m, Best tried, Best& b) {
    if (stepsLeft_ <= 0) return;
    --stepsLeft_;
    const double width = at(l), height = at(m), x1 = at(tried.x1), x2 = at(tried.x2),
                 y1 = at(tried.y1), y2 = at(tried.y2);
    const std::pair<int, int> parts[] = {{tried.x1, tried.y2},
                                         {floorOf(width - x1), tried.y1},
                                         {tried.x2, floorOf(height - y2)},
                                         {floorOf(width - x2), floorOf(height - y1)},
                                         {floorOf(x2 - x1), floorOf(y2 - y1)}};
    // a cut that leaves all in one block says nothing
    if (std::find(std::begin(parts), std::end(parts), std::pair(l, m)) != std::end(parts)) return;
    for (const auto& p : parts)
      if (p.first > 0 && p.second > 0) tried.count += best(p.first, p.second).count;
    if (tried.count > b.count) b = tried;
  }

  void lay(int l, int m, Point from, std::vector<Box>& out) {
    const Best b = best(l, m);
    if (b.x1 < 0) {
      const double w = b.turned ? h_ : w_, h = b.turned ? w_ : h_;
      for (int r = 0; r < times(at(m), h); ++r)
        for (int c = 0; c < times(at(l), w); ++c)
          out.push_back(
              {from.x + c * w, from.y + r * h, from.x + (c + 1) * w, from.y + (r + 1) * h});
      return;
    }
    const double width = at(l), height = at(m), x1 = at(b.x1), x2 = at(b.x2), y1 = at(b.y1),
                 y2 = at(b.y2);
    const auto part = [&](double x, double y, double w, double h) {
      const int i = floorOf(w), j = floorOf(h);
      if (i > 0 && j > 0) lay(i, j, from + Point{x, y}, out);
    };
    part(0, 0, x1, y2);
    part(x1, 0, width - x1, y1);
    part(0, y2, x2, height - y2);
    part(x2, y1, width - x2, height - y1);
    part(x1, y1, x2 - x1, y2 - y1);
  }

  static constexpr int kDepth = 1 << 20;
  double w_, h_;
  int depthLeft_ = kDepth;
  long stepsLeft_ = kMostSteps;
  std::vector<double> sums_;
  std::map<std::pair<int, int>, Best> known_;
};

/// Rows across an oval, each as long as it is at its narrower edge, either way round; the rows as
/// a whole pushed up and down.
std::vector<Box> rowsInOval(double w, double h, double gap, bool turn, const Box& field) {
  const double a = field.width() / 2, b = field.height() / 2;
  const auto inRow = [&](double top, double height, double width) {
    const double far = std::max(std::abs(top), std::abs(top + height));
    if (far > b + kEps_mm) return 0;
    const double half = a * std::sqrt(std::max(0.0, 1 - far * far / (b * b)));
    return static_cast<int>(std::floor((2 * half + gap + kEps_mm) / (width + gap)));
  };
  std::vector<Box> best;
  std::vector<bool> ways;
  std::function<void(double, double)> grow = [&](double start, double top) {
    std::vector<Box> laid;
    double y = start;
    for (bool turned : ways) {
      const double pw = turned ? h : w, ph = turned ? w : h;
      const int n = inRow(y, ph, pw);
      const double left = -(n * (pw + gap) - gap) / 2;
      for (int i = 0; i < n; ++i)
        laid.push_back({left + i * (pw + gap), y, left + i * (pw + gap) + pw, y + ph});
      y += ph + gap;
    }
    if (laid.size() > best.size()) best = laid;
    if (ways.size() >= 12) return;
    for (bool turned : {false, true}) {
      if (turned && (!turn || w == h)) continue;
      const double ph = turned ? w : h;
      if (top + ph > b + kEps_mm) continue;
      ways.push_back(turned);
      grow(start, top + ph + gap);
      ways.pop_back();
    }
  };
  constexpr int kStarts = 60;  // places of the first row, from the oval's top to its middle
  for (int s = 0; s <= kStarts; ++s) {
    const double start = -b + b * s / kStarts;
    grow(start, start);
  }
  return best;
}

std::vector<NestPlace> fillRoom(const NestKind& k, const Room& room, const NestOptions& o) {
  const double w = k.width_mm, h = k.height_mm, g = o.gap_mm;
  const Box& b = room.box;
  std::vector<Box> boxes;
  if (room.shape == HoopShape::Oval) {
    boxes = rowsInOval(w, h, g, o.turn, b);
    for (Box& one : boxes) one = one.moved(b.centre());
  } else if (!o.turn) {
    const int columns = static_cast<int>(std::floor((b.width() + g + kEps_mm) / (w + g)));
    const int rows = static_cast<int>(std::floor((b.height() + g + kEps_mm) / (h + g)));
    for (int r = 0; r < rows; ++r)
      for (int c = 0; c < columns; ++c)
        boxes.push_back({b.left + c * (w + g), b.top + r * (h + g), b.left + c * (w + g) + w,
                         b.top + r * (h + g) + h});
  } else if (FiveBlocks blocks(w + g, h + g, b.width() + g, b.height() + g);
             !blocks.worthCutting()) {
    const std::vector<NestPlace> flat = fillRoom(k, room, {g, false});
    NestKind across = k;
    std::swap(across.width_mm, across.height_mm);
    std::vector<NestPlace> turned = fillRoom(across, room, {g, false});
    if (turned.size() <= flat.size()) return flat;
    for (NestPlace& p : turned) p.turned = true;
    return turned;
  } else {
    for (const Box& one : blocks.fill(b.width() + g, b.height() + g))
      boxes.push_back(
          {b.left + one.left, b.top + one.top, b.left + one.right - g, b.top + one.bottom - g});
  }
  std::vector<NestPlace> places;
  for (const Box& one : boxes)
    places.push_back({0, one, std::abs(one.width() - w) > kEps_mm, room.setting});
  return places;
}

/// One clamping being filled: its free rectangles, largest ones first found (maximal rectangles,
/// Jylänki 2010). Gaps are added to pieces and rooms alike.
class Filling {
 public:
  Filling(const std::vector<Room>& rooms, double gap) : gap_(gap) {
    for (const Room& r : rooms)
      free_.push_back({{r.box.left, r.box.top, r.box.right + gap, r.box.bottom + gap},
                       r.shape,
                       r.setting,
                       r.box});
  }

  enum class Rule { ShortSide, LongSide, Area, BottomLeft };

  /// Puts a piece where it wastes least; false if it fits nowhere.
  bool put(size_t kind, double w, double h, bool turn, Rule rule) {
    std::tuple<double, double> least{INFINITY, INFINITY};
    Box best;
    const Free* where = nullptr;
    bool turned = false;
    for (const Free& f : free_)
      for (bool t : {false, true}) {
        if (t && !turn) continue;
        const double pw = (t ? h : w) + gap_, ph = (t ? w : h) + gap_;
        if (pw > f.box.width() + kEps_mm || ph > f.box.height() + kEps_mm) continue;
        const Box box = placeIn(f, pw, ph);
        if (f.shape == HoopShape::Oval && !insideOval(f.field, box)) continue;
        const auto cost = costOf(f.box, pw, ph, rule);
        if (cost < least) least = cost, best = box, where = &f, turned = t;
      }
    if (!where) return false;
    places_.push_back({kind,
                       {best.left, best.top, best.right - gap_, best.bottom - gap_},
                       turned,
                       where->setting});
    cutOut(best);
    return true;
  }

  const std::vector<NestPlace>& places() const { return places_; }

 private:
  struct Free {
    Box box;
    HoopShape shape;
    int setting;
    Box field;
  };

  /// In the corner; in an oval as near its middle as the free rectangle allows.
  Box placeIn(const Free& f, double pw, double ph) const {
    Point at{f.box.left, f.box.top};
    if (f.shape == HoopShape::Oval) {
      const Point c = f.field.centre();
      at = {std::clamp(c.x - (pw - gap_) / 2, f.box.left, f.box.right - pw),
            std::clamp(c.y - (ph - gap_) / 2, f.box.top, f.box.bottom - ph)};
    }
    return {at.x, at.y, at.x + pw, at.y + ph};
  }

  bool insideOval(const Box& field, const Box& box) const {
    const PlacedField f{field, 0, HoopShape::Oval};
    return f.holds(Box{box.left, box.top, box.right - gap_, box.bottom - gap_});
  }

  static std::tuple<double, double> costOf(const Box& f, double w, double h, Rule rule) {
    const double dx = f.width() - w, dy = f.height() - h;
    switch (rule) {
      case Rule::ShortSide:
        return {std::min(dx, dy), std::max(dx, dy)};
      case Rule::LongSide:
        return {std::max(dx, dy), std::min(dx, dy)};
      case Rule::Area:
        return {f.width() * f.height() - w * h, std::min(dx, dy)};
      default:
        return {f.top + h, f.left};
    }
  }

  void cutOut(const Box& used) {
    std::vector<Free> next;
    for (const Free& f : free_) {
      const Box over = f.box.intersection(used);
      if (over.empty() || over.width() <= kEps_mm || over.height() <= kEps_mm) {
        next.push_back(f);
        continue;
      }
      const Box parts[] = {{f.box.left, f.box.top, used.left, f.box.bottom},
                           {used.right, f.box.top, f.box.right, f.box.bottom},
                           {f.box.left, f.box.top, f.box.right, used.top},
                           {f.box.left, used.bottom, f.box.right, f.box.bottom}};
      for (const Box& p : parts)
        if (p.right - p.left > kEps_mm && p.bottom - p.top > kEps_mm)
          next.push_back({p, f.shape, f.setting, f.field});
    }
    free_.clear();
    for (size_t i = 0; i < next.size(); ++i) {
      bool inside = false;
      for (size_t j = 0; j < next.size() && !inside; ++j)
        inside = i != j && next[j].setting == next[i].setting &&
                 next[j].box.grown(kEps_mm).contains(next[i].box) &&
                 (j < i || !next[i].box.grown(kEps_mm).contains(next[j].box));
      if (!inside) free_.push_back(next[i]);
    }
  }

  double gap_;
  std::vector<Free> free_;
  std::vector<NestPlace> places_;
};

class Mixture {
 public:
  Mixture(const std::vector<NestKind>& kinds, const Hoop& hoop, const NestOptions& options)
      : kinds_(kinds), hoop_(hoop), options_(options), rooms_(roomsOf(hoop)) {
    for (size_t k = 0; k < kinds.size(); ++k) {
      checkKind(kinds[k], options);
      if (kinds[k].count < 1)
        throw Error("the count of \"" + kinds[k].name + "\" is " + std::to_string(kinds[k].count),
                    "piece " + kinds[k].name, "give a count of 1 or more");
      if (!fits(kinds[k])) tooLarge(kinds[k], hoop);
      for (int i = 0; i < kinds[k].count; ++i) {
        pieces_.push_back(k);
        if (pieces_.size() > kMostPieces)
          throw Error("the batch has over " + std::to_string(kMostPieces) + " pieces", "batch",
                      "split it");
      }
    }
    if (pieces_.empty()) throw Error("the batch is empty", "batch", "list at least one piece");
  }

  NestedBatch run(const Watch& watch) {
    NestedBatch best;
    best.lower_bound = bound();
    std::mt19937 random(kSeed);
    // large batches are tried less often: each try takes longer
    const int tries =
        std::max(8, static_cast<int>(options_.most_tries * 100.0 /
                                     std::max<double>(100, static_cast<double>(pieces_.size()))));
    for (int i = 0; i < tries; ++i) {
      watched(watch, static_cast<double>(i) / tries, "nesting");
      auto tried = filled(orderOf(i, random), static_cast<Filling::Rule>(i % 4));
      if (best.hoopings.empty() || tried.size() < best.hoopings.size() ||
          (tried.size() == best.hoopings.size() && emptier(tried, best.hoopings)))
        best.hoopings = std::move(tried);
      if (static_cast<int>(best.hoopings.size()) <= best.lower_bound) break;
    }
    return best;
  }

 private:
  bool fits(const NestKind& k) const {
    return std::any_of(rooms_.begin(), rooms_.end(), [&](const Room& r) {
      const auto in = [&](double w, double h) {
        const PlacedField f{r.box, 0, r.shape};
        return f.holds(Box::around(r.box.centre(), w, h));
      };
      return in(k.width_mm, k.height_mm) || (options_.turn && in(k.height_mm, k.width_mm));
    });
  }

  /// By area, sides and perimeter first; then these orders a little shuffled.
  std::vector<size_t> orderOf(int attempt, std::mt19937& random) const {
    std::vector<size_t> order = pieces_;
    const int by = (attempt / 4) % 4;
    std::vector<double> key(kinds_.size());
    for (size_t k = 0; k < kinds_.size(); ++k) {
      const double w = kinds_[k].width_mm, h = kinds_[k].height_mm;
      key[k] = by == 0 ? w * h : by == 1 ? std::max(w, h) : by == 2 ? w + h : std::min(w, h);
    }
    if (attempt < 16) {
      std::stable_sort(order.begin(), order.end(),
                       [&](size_t a, size_t b) { return key[a] > key[b]; });
      return order;
    }
    // each piece's rank is blurred: large ones still come first, mostly
    std::vector<std::pair<double, size_t>> blurred;
    for (size_t k : order) {
      const double blur = 0.6 + 0.8 * (static_cast<double>(random() % 1000) / 1000);
      blurred.push_back({-key[k] * blur, k});
    }
    std::stable_sort(blurred.begin(), blurred.end());
    for (size_t i = 0; i < order.size(); ++i) order[i] = blurred[i].second;
    return order;
  }

  /// Clampings filled one after another, each with all that still fits it.
  std::vector<std::vector<NestPlace>> filled(const std::vector<size_t>& order,
                                             Filling::Rule rule) const {
    std::vector<std::vector<NestPlace>> out;
    std::vector<size_t> left = order;
    while (!left.empty()) {
      Filling filling(rooms_, options_.gap_mm);
      std::vector<size_t> next;
      std::vector<bool> full(kinds_.size());
      for (size_t k : left) {
        const NestKind& kind = kinds_[k];
        if (full[k] || !filling.put(k, kind.width_mm, kind.height_mm, options_.turn, rule)) {
          full[k] = true;  // what did not fit once fits no more: room only falls
          next.push_back(k);
        }
      }
      if (next.size() == left.size()) tooLarge(kinds_[left.front()], hoop_);
      out.push_back(filling.places());
      left = std::move(next);
    }
    return out;
  }

  /// Of two batches with equal hoopings the one whose last is emptier.
  bool emptier(const std::vector<std::vector<NestPlace>>& a,
               const std::vector<std::vector<NestPlace>>& b) const {
    return fieldUse(a.back(), hoop_) < fieldUse(b.back(), hoop_) - 1e-9;
  }

  /// Area, and pieces too large to share a field, by dual feasible functions (Fekete and Schepers
  /// 2004): pieces under a share of a side count for nothing, those over the rest for all of it.
  int bound() const {
    if (hoop_.rail || rooms_.size() > 1) return areaBound();
    const double width = rooms_[0].box.width() + options_.gap_mm,
                 height = rooms_[0].box.height() + options_.gap_mm;
    std::vector<double> shares{0};
    for (const NestKind& k : kinds_)
      for (double side : {k.width_mm + options_.gap_mm, k.height_mm + options_.gap_mm})
        for (double room : {width, height})
          for (double s : {side / room, 1 - side / room})
            if (s > 0 && s <= 0.5)
              shares.push_back(std::min(0.5, s + 1e-6)), shares.push_back(s - 1e-6);
    std::sort(shares.begin(), shares.end());
    shares.erase(std::unique(shares.begin(), shares.end()), shares.end());
    if (shares.size() > 120) shares.resize(120);
    double most = 0;
    for (double e : shares)
      for (double d : shares) {
        double sum = 0;
        for (const NestKind& k : kinds_) {
          const double w = (k.width_mm + options_.gap_mm), h = (k.height_mm + options_.gap_mm);
          double part = scaled(w / width, e) * scaled(h / height, d);
          if (options_.turn) {
            const bool upright = w <= width + kEps_mm && h <= height + kEps_mm;
            const bool across = h <= width + kEps_mm && w <= height + kEps_mm;
            const double other = scaled(h / width, e) * scaled(w / height, d);
            part = upright && across ? std::min(part, other) : across ? other : part;
          }
          sum += part * k.count;
        }
        most = std::max(most, sum);
      }
    return std::max(areaBound(), static_cast<int>(std::ceil(most - 1e-6)));
  }

  static double scaled(double share, double e) {
    if (share > 1 - e + 1e-9) return 1;
    return share < e ? 0 : share;
  }

  int areaBound() const {
    double pieces = 0, room = 0;
    for (const NestKind& k : kinds_)
      pieces += (k.width_mm + options_.gap_mm) * (k.height_mm + options_.gap_mm) * k.count;
    for (const Room& r : rooms_)
      room += (r.box.width() + options_.gap_mm) * (r.box.height() + options_.gap_mm);
    return std::max(1, static_cast<int>(std::ceil(pieces / room - 1e-9)));
  }

  const std::vector<NestKind>& kinds_;
  const Hoop& hoop_;
  const NestOptions& options_;
  std::vector<Room> rooms_;
  std::vector<size_t> pieces_;
};

}  // namespace

std::vector<NestPlace> nestEqual(const NestKind& kind, const Hoop& hoop,
                                 const NestOptions& options) {
  checkHoop(hoop, "hoop " + hoop.id);
  checkKind(kind, options);
  std::vector<NestPlace> out;
  for (const Room& room : roomsOf(hoop))
    for (NestPlace& p : fillRoom(kind, room, options)) out.push_back(p);
  if (out.empty()) tooLarge(kind, hoop);
  return out;
}

NestedBatch nestMixed(const std::vector<NestKind>& kinds, const Hoop& hoop,
                      const NestOptions& options, const Watch& watch) {
  checkHoop(hoop, "hoop " + hoop.id);
  return Mixture(kinds, hoop, options).run(watch);
}

double fieldUse(const std::vector<NestPlace>& places, const Hoop& hoop) {
  double used = 0, room = 0;
  for (const NestPlace& p : places) used += p.box.width() * p.box.height();
  for (const Room& r : roomsOf(hoop))
    room += r.box.width() * r.box.height() * (r.shape == HoopShape::Oval ? kPi / 4 : 1);
  return room > 0 ? used / room : 0;
}

double clothOf_mm2(const Hoop& hoop) {
  const Box b = clampedBox(hoop, 0);
  return b.width() * b.height();
}

}  // namespace rt
