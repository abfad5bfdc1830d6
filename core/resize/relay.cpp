#include "relay.h"

#include <algorithm>

#include "median.h"
#include "satin.h"

namespace rt {
namespace {

constexpr size_t kManyRungs =
    20;  // from here on one rung more or less does not show in the spacing
constexpr double kCorner_deg = 40;
constexpr double kColumnRun_mm = 2.0;     // stitches of a run where a column was
constexpr double kLeastStretch_mm = 2.0;  // of a column: satin or run
constexpr double kRunStray_mm = 0.12;     // a run's stitch may cut a curve by this
constexpr double kLeastEnd_mm = 0.6;      // from a row's end to its next needle point

/// One edge of a ladder: places along it by a rising parameter.
class Rail {
 public:
  void add(double t, Point p) {
    if (!at_.empty() && t <= at_.back().first) return;
    at_.emplace_back(t, p);
  }
  bool empty() const { return at_.empty(); }
  /// Straight between places; beyond the ends straight on by up to `beyond` steps.
  Point at(double t, double beyond) const {
    if (at_.size() == 1) return at_[0].second;
    const auto after = std::upper_bound(at_.begin(), at_.end(), t,
                                        [](double v, const auto& e) { return v < e.first; });
    const size_t i =
        std::clamp<size_t>(static_cast<size_t>(after - at_.begin()), 1, at_.size() - 1);
    const auto& [t0, p0] = at_[i - 1];
    const auto& [t1, p1] = at_[i];
    return mix(p0, p1, std::clamp((t - t0) / (t1 - t0), -beyond, 1 + beyond));
  }

 private:
  std::vector<std::pair<double, Point>> at_;
};

/// Steps over a length, as many as the spacing asks for; an even or odd count like `old` where that
/// costs little, so that the thread ends on the side where it did.
size_t stepsOver(double length_mm, double step_mm, size_t old) {
  auto n = static_cast<size_t>(std::max(1.0, std::round(length_mm / step_mm)));
  if (n >= kManyRungs && n % 2 != old % 2)
    n += static_cast<double>(n) * step_mm < length_mm ? 1 : -1ul;
  return n;
}

// --- columns

struct Column {
  Rail edge[2];
  double from = 0, to = 0;  // along the centre line
  double width_mm = 0;
};

/// A column whose rungs are joined by steps along its edges: each turn pair is a rung.
Column steppedColumnOf(const Section& s, std::span<const Point> p) {
  Column c;
  std::vector<double> widths;
  Point before;
  for (size_t i = 0; i + 1 < s.turns.size(); i += 2) {
    const Point a = p[s.turns[i]], b = p[s.turns[i + 1]], middle = mix(a, b, 0.5);
    if (i > 0) c.to += distance(before, middle);
    const size_t side = i / 2 % 2;
    c.edge[side].add(c.to, a);
    c.edge[1 - side].add(c.to, b);
    widths.push_back(distance(a, b));
    before = middle;
  }
  c.width_mm = median(std::move(widths));
  return c;
}

Column columnOf(const Section& s, std::span<const Point> p) {
  if (s.steps) return steppedColumnOf(s, p);
  std::vector<Point> turns;
  for (size_t i : s.turns) turns.push_back(p[i]);
  Column c;
  std::vector<double> widths;
  double along = 0;  // of the rung before each turn
  for (size_t i = 0; i < turns.size(); ++i) {
    double t = along;
    if (i > 0 && i + 1 < turns.size()) {
      const double step =
          distance(mix(turns[i - 1], turns[i], 0.5), mix(turns[i], turns[i + 1], 0.5));
      t = along + step / 2;
      along += step;
    }
    if (i == 0 && turns.size() > 2) t = -distance(turns[0], turns[2]) / 4;
    if (i + 1 == turns.size() && turns.size() > 2) t = along + distance(turns[i - 2], turns[i]) / 4;
    c.edge[i % 2].add(t, turns[i]);
    if (i == 0) c.from = t;
    c.to = t;
    if (i > 0) widths.push_back(distance(turns[i - 1], turns[i]));
  }
  c.width_mm = widths.empty() ? 0 : median(std::move(widths));
  return c;
}

/// A stretch of a column, from and to along its centre line.
struct Stretch {
  double from = 0, to = 0;
  bool wide = true;
};

/// Where a column is wide enough for satin and where not; stretches that are too short to be told
/// apart go with the one before them.
std::vector<Stretch> stretchesOf(const Column& c, double least_mm) {
  const size_t parts = std::max<size_t>(2, static_cast<size_t>((c.to - c.from) / 0.3));
  const double step = (c.to - c.from) / static_cast<double>(parts);
  std::vector<Stretch> all;
  for (size_t k = 0; k < parts; ++k) {
    const double from = c.from + step * static_cast<double>(k), middle = from + step / 2;
    const bool wide = distance(c.edge[0].at(middle, 0.5), c.edge[1].at(middle, 0.5)) >= least_mm;
    if (!all.empty() && all.back().wide == wide)
      all.back().to = from + step;
    else
      all.push_back({from, from + step, wide});
  }
  std::vector<Stretch> out;
  for (const Stretch& s : all) {
    const bool alike = !out.empty() && out.back().wide == s.wide;
    if (out.empty() || (!alike && s.to - s.from >= kLeastStretch_mm))
      out.push_back(s);
    else
      out.back().to = s.to;
  }
  // a short first stretch goes with the second
  if (out.size() > 1 && out[0].to - out[0].from < kLeastStretch_mm) {
    out[1].from = out[0].from;
    out.erase(out.begin());
  }
  return out;
}

void runAlongCentre(const Column& c, const Stretch& part, Strand& strand) {
  std::vector<Point> centre;
  const size_t parts = std::max<size_t>(2, static_cast<size_t>((part.to - part.from) / 0.3));
  for (size_t k = 0; k <= parts; ++k) {
    const double t =
        part.from + (part.to - part.from) * static_cast<double>(k) / static_cast<double>(parts);
    centre.push_back(mix(c.edge[0].at(t, 0.5), c.edge[1].at(t, 0.5), 0.5));
  }
  runWithin(strand, centre, kColumnRun_mm, kRunStray_mm, Kind::Run);
}

/// Satin over a stretch; how many rungs.
size_t satinOver(const Column& c, const Section& s, const Stretch& part, double pull_mm, size_t old,
                 Strand& strand) {
  const double length = part.to - part.from;
  const size_t n = stepsOver(length, s.spacing_mm / 2, old);
  for (size_t k = 0; k <= n; ++k) {
    const double t = part.from + length * static_cast<double>(k) / static_cast<double>(n);
    const Point here = c.edge[k % 2].at(t, 0.5), far = c.edge[1 - k % 2].at(t, 0.5);
    const Point out = unit(here - far) * (pull_mm / 2);
    if (s.steps) strand.add(here + out, Kind::Satin);
    addAcross(strand, s.steps ? far - out : here + out, static_cast<int>(k), kSplitSatinOver_mm);
  }
  return n;
}

Relaid relayColumn(const Section& s, std::span<const Point> p, const RelayOptions& o,
                   Strand& strand) {
  const Column c = columnOf(s, p);
  const size_t old = s.steps ? s.turns.size() / 2 - 1 : s.turns.size() - 1;
  const double least = o.least_column_mm - o.pull_mm - 1e-3;
  if (c.width_mm >= least) {
    const size_t n = satinOver(c, s, {c.from, c.to}, o.pull_mm, old, strand);
    if (n % 2 != old % 2) addAcross(strand, p[s.last], static_cast<int>(n), kSplitSatinOver_mm);
    return {Kind::Satin, 2 * (c.to - c.from) / static_cast<double>(n)};
  }
  // too narrow for the most part: satin where it is wide, a run elsewhere
  double satin = 0, rungs = 0;
  const std::vector<Stretch> parts = stretchesOf(c, least);
  for (const Stretch& part : parts) {
    if (!part.wide) {
      runAlongCentre(c, part, strand);
      continue;
    }
    rungs += static_cast<double>(satinOver(c, s, part, o.pull_mm, 0, strand));
    satin += part.to - part.from;
  }
  strand.add(p[s.last], parts.back().wide ? Kind::Satin : Kind::Run);
  if (satin * 2 < c.to - c.from) return {Kind::Run, kColumnRun_mm};
  return {Kind::Satin, 2 * satin / rungs};
}

// --- fills

/// Where rows end on one side: u over v, curved without overshoot (monotone cubic; Fritsch, Carlson
/// 1980), as an edge that runs along the rows bends fast from one row to the next.
class RowEnds {
 public:
  void add(double v, double u) {
    if (v_.empty() || v > v_.back() + kSame_mm) v_.push_back(v), u_.push_back(u);
  }
  void close() {
    const size_t n = v_.size();
    slope_.assign(n, 0);
    for (size_t i = 1; i + 1 < n; ++i) {
      const double a = secant(i - 1), b = secant(i), h0 = v_[i] - v_[i - 1], h1 = v_[i + 1] - v_[i];
      if (a * b <= 0) continue;
      const double w0 = 2 * h1 + h0, w1 = h1 + 2 * h0;
      slope_[i] = (w0 + w1) / (w0 / a + w1 / b);
    }
    if (n >= 2) slope_[0] = endSlope(secant(0), n > 2 ? slope_[1] : secant(0));
    if (n >= 2) slope_[n - 1] = endSlope(secant(n - 2), n > 2 ? slope_[n - 2] : secant(n - 2));
  }
  double at(double v) const {
    if (v <= v_.front()) return u_.front();
    if (v >= v_.back()) return u_.back();
    const size_t i =
        static_cast<size_t>(std::upper_bound(v_.begin(), v_.end(), v) - v_.begin()) - 1;
    const double h = v_[i + 1] - v_[i], t = (v - v_[i]) / h;
    const double t2 = t * t, t3 = t2 * t;
    return u_[i] * (2 * t3 - 3 * t2 + 1) + slope_[i] * h * (t3 - 2 * t2 + t) +
           u_[i + 1] * (3 * t2 - 2 * t3) + slope_[i + 1] * h * (t3 - t2);
  }
  /// Straight on beyond the ends, by the length of the last step at most.
  double beyond(double v) const {
    const size_t n = v_.size();
    if (n < 2 || (v >= v_.front() && v <= v_.back())) return at(v);
    const bool before = v < v_.front();
    const double step = before ? v_[1] - v_[0] : v_[n - 1] - v_[n - 2];
    const double by = std::clamp(before ? v - v_.front() : v - v_.back(), -step, step);
    return at(v) + by * (before ? secant(0) : secant(n - 2));
  }

 private:
  double secant(size_t i) const { return (u_[i + 1] - u_[i]) / (v_[i + 1] - v_[i]); }
  /// The parabola's slope at its end, no steeper than three secants.
  static double endSlope(double secant, double inner) {
    const double s = 2 * secant - inner;
    return s * secant <= 0 ? 0 : std::abs(s) > 3 * std::abs(secant) ? 3 * secant : s;
  }
  std::vector<double> v_, u_, slope_;
};

/// Rows in a frame where they lie level: u along, v across and rising.
class RowRelayer {
 public:
  RowRelayer(const Section& s, std::span<const Point> p, const RelayOptions& o)
      : s_(s), options_(o) {
    Point along;
    const size_t step = s.steps ? 2 : 1;
    for (size_t i = 0; i + 1 < s.turns.size(); i += step) {
      const Point d = p[s.turns[i + 1]] - p[s.turns[i]];
      along = along + d * ((i / step) % 2 == 0 ? 1 : -1);
    }
    u_ = unit(along);
    v_ = quarterTurn(u_);
    if (dot(p[s.turns.back()] - p[s.turns.front()], v_) < 0) v_ = v_ * -1;
    collect(p);
  }

  Relaid sew(Strand& strand) {
    // a row stands for a strip as wide as the spacing: the strips' outer edges stay
    const size_t old = rows_ - 1;
    const double was = (to_ - from_) / static_cast<double>(std::max<size_t>(1, old));
    const size_t n = stepsOver((to_ - from_) + was - s_.spacing_mm, s_.spacing_mm, old);
    const double now = ((to_ - from_) + was) / static_cast<double>(n + 1);
    const double first = from_ - was / 2 + now / 2;
    for (size_t k = 0; k <= n; ++k) {
      const double v = first + now * static_cast<double>(k);
      const int start = static_cast<int>(k % 2), end = 1 - start;
      if (s_.steps || (level_ && k == 0)) {
        addRow(strand, place(start, v), place(end, v), k, true);
      } else if (level_) {
        addRow(strand, strand.exit(), place(end, v), k, false);
      } else if (k == 0) {
        strand.add(place(0, v), Kind::Fill);
      } else {
        addRow(strand, strand.exit(), place(start, v), k, false);
      }
    }
    return {Kind::Fill, now};
  }

 private:
  void collect(std::span<const Point> p) {
    std::vector<std::pair<double, double>> ends[2];
    from_ = INFINITY, to_ = -INFINITY;
    for (size_t i = 0; i < s_.turns.size(); ++i) {
      const Point q = p[s_.turns[i]];
      // with steps: start, end, start, end … of rows that run to and fro
      const size_t side = s_.steps ? ((i / 2) % 2 == 0 ? i % 2 : 1 - i % 2) : i % 2;
      if (i == 0 && s_.goesOn) continue;
      double v = dot(q, v_);
      if (s_.leads && i + 1 == s_.turns.size() && i > 0)
        v = std::min(v, dot(p[s_.turns[i - 1]], v_));
      ends[side].emplace_back(v, dot(q, u_));
      from_ = std::min(from_, v);
      to_ = std::max(to_, v);
    }
    const double lift = std::abs(dot(p[s_.turns[1]] - p[s_.turns[0]], v_));
    const double next = std::abs(dot(p[s_.turns[2]] - p[s_.turns[1]], v_));
    level_ = !s_.steps && (s_.goesOn || lift < 0.3 * next);
    rows_ = s_.steps ? s_.turns.size() / 2 : s_.turns.size() - (level_ ? 1 : 0);
    for (int side = 0; side < 2; ++side) {
      for (const auto& [v, u] : ends[side]) edge_[side].add(v, u);
      edge_[side].close();
    }
  }

  /// Where a row ends on one side. Beyond the outermost turns an edge goes straight on inward, but
  /// never outward: there it may run along the rows, and a step would carry it anywhere.
  double edge(int side, double v, double inward) const {
    const double on = edge_[side].beyond(v), stay = edge_[side].at(v);
    return (on - stay) * inward > 0 ? on : stay;
  }

  Point place(int side, double v) const {
    const double stay = edge_[side].at(v), far = edge_[1 - side].at(v);
    const double inward = far > stay ? 1 : -1;
    const double here = edge(side, v, inward), there = edge(1 - side, v, -inward);
    // edges that have met leave a row of no length in between
    const double u = (there - here) * inward > 0 ? here : (here + there) / 2;
    return u_ * (u - inward * options_.pull_mm / 2) + v_ * v;
  }

  void addRow(Strand& strand, Point from, Point to, size_t row, bool start) const {
    if (start) strand.add(from, Kind::Fill);
    const double step = std::clamp(s_.stitch_mm, 1.0, 7.0);
    const double a = dot(from, u_), b = dot(to, u_), v = dot(to, v_);
    const double phase = step * static_cast<double>((row * 3) % 4) / 4;
    const double low = std::min(a, b) + kLeastEnd_mm, high = std::max(a, b) - kLeastEnd_mm;
    std::vector<double> us;
    if (high - low > 0.5 * step || high + kLeastEnd_mm - low > 1.5 * step)
      for (double k = std::ceil((low - phase) / step); phase + k * step <= high; k += 1)
        us.push_back(phase + k * step);
    if (b < a) std::reverse(us.begin(), us.end());
    for (double u : us) strand.add(u_ * u + v_ * v, Kind::Fill);
    strand.add(to, Kind::Fill);
  }

  const Section& s_;
  RelayOptions options_;
  Point u_, v_;
  RowEnds edge_[2];
  double from_ = 0, to_ = 0;
  size_t rows_ = 0;
  bool level_ = false;  // without steps: the first row begins on its own line, not on one before it
};

// --- runs

Relaid relayRun(const Section& s, std::span<const Point> p, Strand& strand) {
  const double step = std::clamp(s.spacing_mm, 0.6, 7.0), limit = std::cos(radians(kCorner_deg));
  std::vector<Point> stretch{p[s.first]};
  for (size_t i = s.first + 1; i <= s.last; ++i) {
    stretch.push_back(p[i]);
    const bool corner = i == s.last || dot(unit(p[i] - p[i - 1]), unit(p[i + 1] - p[i])) < limit;
    if (!corner) continue;
    runWithin(strand, stretch, step, kRunStray_mm, Kind::Run);
    stretch = {p[i]};
  }
  return {Kind::Run, step};
}

}  // namespace

Relaid relay(const Section& section, std::span<const Point> to, const RelayOptions& options,
             Strand& strand) {
  if (section.kind == Kind::Satin) return relayColumn(section, to, options, strand);
  if (section.kind == Kind::Fill) {
    const Relaid done = RowRelayer(section, to, options).sew(strand);
    if (distance(strand.exit(), to[section.last]) > 0.7) strand.add(to[section.last], Kind::Fill);
    return done;
  }
  return relayRun(section, to, strand);
}

}  // namespace rt
