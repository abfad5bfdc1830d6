#include "sewn_cloth.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "density_map.h"
#include "hand_stroke.h"
#include "set_text.h"

namespace rt::testing {
namespace {

constexpr double kCell_mm = 0.05;
constexpr double kAcross = 0.4226;  // sine of 25 degrees

std::vector<Laid> laidBy(const Pattern& pattern) {
  std::vector<Laid> out;
  forEachSegment(pattern, [&](Point a, Point b, size_t row) {
    if (distance(a, b) > 1e-6)
      out.push_back({a, b, pattern.stitches[row].kind, pattern.stitches[row].block});
  });
  // a stitch of cover that turns off sharply from those on either side is a link
  auto turnsOff = [](const Laid& a, const Laid& b) {
    return std::abs(cross(unit(a.b - a.a), unit(b.b - b.a))) > 0.64;
  };
  for (size_t i = 1; i + 1 < out.size(); ++i)
    out[i].link = distance(out[i].a, out[i].b) > 1 && turnsOff(out[i], out[i - 1]) &&
                  turnsOff(out[i], out[i + 1]);
  return out;
}

/// Squared distance of each cell to the nearest marked one, in cells (two passes of parabolas).
class DistanceField {
 public:
  DistanceField(const std::vector<char>& marked, int columns, int rows) : d_(marked.size()) {
    for (size_t i = 0; i < marked.size(); ++i) d_[i] = marked[i] ? 0 : kFar;
    for (int x = 0; x < columns; ++x)
      pass(static_cast<size_t>(x), static_cast<size_t>(columns), rows);
    for (int y = 0; y < rows; ++y)
      pass(static_cast<size_t>(y) * static_cast<size_t>(columns), 1, columns);
  }
  double mm(size_t cell) const { return std::sqrt(d_[cell]) * kCell_mm; }

 private:
  static constexpr double kFar = 1e12;
  void pass(size_t from, size_t step, int count) {
    std::vector<int> hull;
    std::vector<double> starts, f(static_cast<size_t>(count));
    for (int i = 0; i < count; ++i)
      f[static_cast<size_t>(i)] = d_[from + step * static_cast<size_t>(i)];
    auto meets = [&](int a, int b) {
      return (f[static_cast<size_t>(b)] + b * b - f[static_cast<size_t>(a)] - a * a) /
             (2.0 * (b - a));
    };
    for (int i = 0; i < count; ++i) {
      while (!hull.empty() && meets(hull.back(), i) <= starts.back())
        hull.pop_back(), starts.pop_back();
      starts.push_back(hull.empty() ? -1e18 : meets(hull.back(), i));
      hull.push_back(i);
    }
    size_t k = 0;
    for (int i = 0; i < count; ++i) {
      while (k + 1 < hull.size() && starts[k + 1] <= i) ++k;
      const double away = i - hull[k];
      d_[from + step * static_cast<size_t>(i)] = away * away + f[static_cast<size_t>(hull[k])];
    }
  }
  std::vector<double> d_;
};

class Cloth {
 public:
  Cloth(const Area& shape, const Pattern& pattern)
      : shape_(shape), pattern_(pattern), laid_(laidBy(pattern)) {
    Box box = boundsOf(shape);
    box.add(threadBounds(pattern));
    box = box.grown(1);
    origin_ = box.corner(0);
    columns_ = static_cast<int>(box.width() / kCell_mm) + 2;
    rows_ = static_cast<int>(box.height() / kCell_mm) + 2;
    top_.assign(size(), -1);
    cover_.assign(size(), -1);
    under_.assign(size(), -1);
    for (size_t i = 0; i < laid_.size(); ++i) lay(static_cast<int>(i));
    markInside();
  }

  SewnFigures run() {
    seen();
    bare();
    edge();
    density();
    underlay();
    points();
    f_.area_mm2 = area_mm2(shape_);
    f_.near_per_cm2 = f_.area_mm2 > 0 ? near_ / f_.area_mm2 * 100 : 0;
    return f_;
  }

 private:
  size_t size() const { return static_cast<size_t>(columns_) * static_cast<size_t>(rows_); }
  Point middle(int x, int y) const {
    return origin_ + Point{(x + 0.5) * kCell_mm, (y + 0.5) * kCell_mm};
  }
  int column(double x) const { return static_cast<int>(std::floor((x - origin_.x) / kCell_mm)); }
  int row(double y) const { return static_cast<int>(std::floor((y - origin_.y) / kCell_mm)); }
  size_t cell(int x, int y) const {
    return static_cast<size_t>(y) * static_cast<size_t>(columns_) + static_cast<size_t>(x);
  }
  bool on(int x, int y) const { return x >= 0 && y >= 0 && x < columns_ && y < rows_; }
  std::optional<size_t> cellAt(Point p) const {
    const int x = column(p.x), y = row(p.y);
    return on(x, y) ? std::optional(cell(x, y)) : std::nullopt;
  }

  void lay(int index) {
    const Laid& s = laid_[static_cast<size_t>(index)];
    f_.thread_mm += distance(s.a, s.b);
    if (s.isCover()) f_.longest_mm = std::max(f_.longest_mm, distance(s.a, s.b));
    const Box box = boundsOf(std::vector{s.a, s.b}).grown(kThread_mm / 2);
    for (int y = std::max(0, row(box.top)); y <= std::min(rows_ - 1, row(box.bottom)); ++y)
      for (int x = std::max(0, column(box.left)); x <= std::min(columns_ - 1, column(box.right));
           ++x) {
        if (pointSegmentDistance(middle(x, y), s.a, s.b) > kThread_mm / 2) continue;
        const size_t c = cell(x, y);
        top_[c] = index;
        under_[c] = cover_[c];
        if (s.isCover()) cover_[c] = index;
      }
  }

  void markInside() {
    inside_.assign(size(), 0);
    const auto crossings = levelCrossings(shape_, middle(0, 0).y, kCell_mm, rows_);
    for (int y = 0; y < rows_; ++y) {
      const std::vector<double>& xs = crossings[static_cast<size_t>(y)];
      for (size_t i = 0; i + 1 < xs.size(); i += 2)
        for (int x = std::max(0, column(xs[i]) + 1); x <= std::min(columns_ - 1, column(xs[i + 1]));
             ++x)
          inside_[cell(x, y)] = 1;
    }
  }

  static bool isWay(const Laid& s) { return s.kind == Kind::Underlay; }

  /// What is no cover and was not sewn over.
  void seen() {
    std::map<size_t, double> by;
    for (size_t c = 0; c < size(); ++c) {
      if (top_[c] >= 0 && under_[c] < 0 && isWay(laid_[static_cast<size_t>(top_[c])]))
        f_.stray_mm += kCell_mm * kCell_mm / kThread_mm;
      if (top_[c] >= 0 && under_[c] < 0 && laid_[static_cast<size_t>(top_[c])].kind == Kind::Tie)
        f_.ties_mm += kCell_mm * kCell_mm / kThread_mm;
      if (top_[c] < 0 || under_[c] < 0) continue;
      const Laid &s = laid_[static_cast<size_t>(top_[c])],
                 &u = laid_[static_cast<size_t>(under_[c])];
      if (s.isCover() || std::abs(cross(unit(s.b - s.a), unit(u.b - u.a))) <= kAcross) continue;
      if (s.kind != Kind::Tie) by[static_cast<size_t>(top_[c])] += kCell_mm * kCell_mm / kThread_mm;
      (s.kind == Kind::Tie ? f_.ties_mm : f_.ways_mm) += kCell_mm * kCell_mm / kThread_mm;
    }
    for (const auto& [i, mm] : by)
      if (mm >= 0.25) f_.seen.push_back({laid_[i], i, mm});
  }

  void bare() {
    std::vector<char> stop(size());
    for (size_t c = 0; c < size(); ++c) stop[c] = !inside_[c] || top_[c] >= 0;
    const DistanceField room(stop, columns_, rows_);
    std::vector<char> cores(size());
    for (size_t c = 0; c < size(); ++c) {
      f_.widest_mm = std::max(f_.widest_mm, 2 * room.mm(c));
      cores[c] = room.mm(c) >= 0.5;
    }
    if (std::none_of(cores.begin(), cores.end(), [](char c) { return c; })) return;
    const DistanceField back(cores, columns_, rows_);
    for (size_t c = 0; c < size(); ++c)
      if (!stop[c] && back.mm(c) <= 0.5) f_.bare_mm2 += kCell_mm * kCell_mm;
  }

  // --- the edge

  /// Needle points of cover near a stretch of the outline, and the thread's edge there.
  void edge() {
    double length = 0, open = 0, rms = 0, ragged = 0;
    std::vector<double> gaps;
    size_t samples = 0;
    for (const Ring& ring : shape_) {
      if (ring.size() < 3) continue;
      Ring closed = ring;
      closed.push_back(ring[0]);
      const std::vector<Point> fine = resample(closed, 0.1);
      const std::vector<double> at = pointsAlong(fine);
      gapsAlong(fine, at, length, open, gaps);
      offsets(fine, rms, ragged, samples);
    }
    if (length > 0) f_.open_edge = open / length;
    if (samples > 0) {
      f_.edge_rms_mm = std::sqrt(rms / static_cast<double>(samples));
      f_.ragged_mm = std::sqrt(ragged / static_cast<double>(samples));
    }
    double mean = 0, square = 0;
    for (double g : gaps) mean += g / static_cast<double>(gaps.size());
    for (double g : gaps) square += (g - mean) * (g - mean) / static_cast<double>(gaps.size());
    if (mean > 0) f_.edge_vary = std::sqrt(square) / mean;
  }

  std::vector<double> pointsAlong(const std::vector<Point>& fine) const {
    std::vector<double> out;
    const Box box = boundsOf(fine).grown(0.4);
    for (size_t k = 0; k < laid_.size(); ++k) {
      if (!laid_[k].isCover()) continue;
      const Point p = laid_[k].b;
      if (!box.contains(p)) continue;
      double least = 0.35;
      std::optional<double> mm;
      for (size_t i = 1; i < fine.size(); ++i)
        if (const double d = pointSegmentDistance(p, fine[i - 1], fine[i]); d < least) {
          least = d;
          const Point way = fine[i] - fine[i - 1];
          const double t =
              std::clamp(dot(p - fine[i - 1], way) / std::max(1e-12, dot(way, way)), 0.0, 1.0);
          mm = (static_cast<double>(i) - 1 + t) * 0.1;
        }
      if (mm) out.push_back(*mm);
    }
    std::sort(out.begin(), out.end());
    return out;
  }

  /// Does cover lie along the outline there?
  bool coveredAlong(const std::vector<Point>& fine, size_t i) const {
    const Point way = unit(fine[std::min(i + 2, fine.size() - 1)] - fine[i > 2 ? i - 2 : 0]);
    for (const Laid& s : laid_)
      if (s.isCover() && std::abs(cross(unit(s.b - s.a), way)) < 0.5 &&
          pointSegmentDistance(fine[i], s.a, s.b) < 0.35)
        return true;
    return false;
  }

  /// The inner side of a bend, where points stand closer and some stand back.
  bool isHollow(const std::vector<Point>& fine, size_t i) const {
    const size_t n = fine.size() - 1;
    const Point before = fine[(i + n - 8) % n], after = fine[(i + 8) % n];
    const auto inward = cellAt(mix(before, after, 0.5));
    return distance(mix(before, after, 0.5), fine[i]) > 0.01 && inward && !inside_[*inward];
  }

  void gapsAlong(const std::vector<Point>& fine, const std::vector<double>& at, double& length,
                 double& open, std::vector<double>& gaps) const {
    const double total = static_cast<double>(fine.size() - 1) * 0.1;
    for (size_t k = 0; k < at.size(); ++k) {
      const double from = at[k], to = k + 1 < at.size() ? at[k + 1] : at[0] + total;
      const auto middle = static_cast<size_t>((from + to) / 2 / 0.1) % (fine.size() - 1);
      if (isHollow(fine, middle)) continue;
      length += to - from;
      if (to - from > 0.5 && coveredAlong(fine, middle)) continue;
      if (to - from > 0.5) open += to - from;
      if (to - from < 1.5) gaps.push_back(to - from);
    }
  }

  void offsets(const std::vector<Point>& fine, double& rms, double& ragged, size_t& samples) const {
    std::vector<double> off;
    for (size_t i = 0; i + 1 < fine.size(); ++i) {
      const Point way = unit(fine[i + 1] - fine[i]), out = quarterTurn(way);
      const Point at = mix(fine[i], fine[i + 1], 0.5);
      const auto inward = cellAt(at + out * 0.3);
      const double side = inward && inside_[*inward] ? -1 : 1;
      double edge = -1;
      for (double mm = 1; mm >= -1; mm -= kCell_mm / 2)
        if (const auto c = cellAt(at + out * (side * mm)); c && top_[*c] >= 0) {
          edge = mm;
          break;
        }
      if (edge < 0.7) off.push_back(edge);  // beyond it a neighbour stroke is met
    }
    for (size_t i = 0; i < off.size(); ++i) {
      double mean = 0;
      int count = 0;
      for (int k = -5; k <= 5; ++k) {
        const long j = static_cast<long>(i) + k;
        if (j < 0 || j >= static_cast<long>(off.size())) continue;
        mean += off[static_cast<size_t>(j)], ++count;
      }
      mean /= count;
      rms += off[i] * off[i];
      ragged += (off[i] - mean) * (off[i] - mean);
      ++samples;
    }
  }

  // --- density, underlay, needle points

  /// The depth inside the shape that nine in ten of its cells stay under.
  double ninthDepth(const DistanceField& depth) const {
    std::vector<double> mm;
    for (size_t c = 0; c < size(); ++c)
      if (inside_[c]) mm.push_back(depth.mm(c));
    if (mm.empty()) return 0;
    const auto at = mm.begin() + static_cast<long>(0.9 * static_cast<double>(mm.size() - 1));
    std::nth_element(mm.begin(), at, mm.end());
    return *at;
  }

  void density() {
    std::vector<double> along;  // well within columns
    size_t covered = 0;
    const Frame frame = frameFor(threadBounds(pattern_), 0.25);
    DensityMap own(frame.lattice);
    own.add(pattern_);
    std::vector<char> outside(size());
    for (size_t c = 0; c < size(); ++c) outside[c] = !inside_[c];
    const DistanceField depth(outside, columns_, rows_);
    const double deep = 0.6 * ninthDepth(depth);
    double highest = 0;
    size_t over9 = 0, over12 = 0;
    for (int64_t y = 0; y < frame.rows; ++y)
      for (int64_t x = 0; x < frame.columns; ++x) {
        const double d = own.density(x, y);
        const auto c = cellAt(frame.lattice.sample(x, y));
        if (!c || top_[*c] < 0) continue;
        ++covered;
        highest = std::max(highest, d);
        if (depth.mm(*c) >= deep) along.push_back(d);
        over9 += d > 9;
        over12 += d > 12;
      }
    if (along.empty()) return;
    std::sort(along.begin(), along.end());
    f_.peak = highest / std::max(1e-9, along[along.size() / 2]);
    f_.over9 = static_cast<double>(over9) / static_cast<double>(covered);
    f_.over12 = static_cast<double>(over12) / static_cast<double>(covered);
  }

  void underlay() {
    size_t all = 0, far = 0;
    for (const Laid& s : laid_) {
      if (s.kind != Kind::Satin || distance(s.a, s.b) < 2) continue;
      for (double part : {0.1, 0.3, 0.5, 0.7, 0.9}) {
        const Point m = mix(s.a, s.b, part);
        double least = INFINITY;
        for (const Laid& u : laid_)
          if (u.kind == Kind::Underlay || u.kind == Kind::Run)
            least = std::min(least, pointSegmentDistance(m, u.a, u.b));
        ++all;
        far += least > 1.25;
      }
    }
    f_.far_underlay = all > 0 ? static_cast<double>(far) / static_cast<double>(all) : 0;
  }

  void points() {
    std::vector<Point> earlier;
    size_t count = 0;
    for (const Laid& s : laid_) {
      if (s.kind != Kind::Tie) {
        ++count;
        near_ += std::any_of(earlier.begin(), earlier.end(),
                             [&](Point p) { return distance(p, s.b) < 0.3; });
      }
      earlier.push_back(s.b);
    }
    f_.near_points = count > 0 ? near_ / static_cast<double>(count) : 0;
  }

  const Area& shape_;
  const Pattern& pattern_;
  std::vector<Laid> laid_;
  Point origin_;
  int columns_ = 0, rows_ = 0;
  std::vector<int> top_, cover_,
      under_;  // by cell: the last stitch, the last cover, the cover below
  std::vector<char> inside_;
  double near_ = 0;
  SewnFigures f_;
};

}  // namespace

Area drawnText(const std::string& text, const Face& face, const LetterOptions& options) {
  const SetLine line = setLine(decodeUtf8(text), face, options, 0);
  std::vector<Area> parts;
  for (const SetGlyph& g : line.glyphs) {
    if (!g.outline.empty()) parts.push_back(g.outline);
    for (const auto& stroke : g.strokes)
      parts.push_back(
          widened(smoothedBetweenCorners(stroke, 50, 0.5), line.column_mm + 0.2, LineEnd::Round));
  }
  return united(parts);
}

SewnFigures sewnFigures(const Area& shape, const Pattern& pattern) {
  return Cloth(shape, pattern).run();
}

}  // namespace rt::testing
