#include "rest_fill.h"

#include <algorithm>

namespace rt {
namespace {

constexpr double kCell_mm = CoverGrid::kCell_mm, kWalk_mm = 0.05;
constexpr int kTile = 4;              // cells
constexpr double kTileSkip_mm = 0.5;  // where no bare ground lies within a tile
constexpr double kLead_mm = 0.3;      // of cover between a rung's end and bare ground
constexpr double kGap_mm = 0.16;      // of cover within bare ground
constexpr double kLeast_mm = 0.25;    // a rung is not moved by less
constexpr double kMostLonger = 1.6;   // of a rung's length: how far it may run on
constexpr double kMostOn = 2.5;       // of a column's half width: how far it may go past its end
constexpr double kOpen = 0.65;        // of the spacing: ends of rungs may stand this far apart
constexpr double kMostLacking = 8;    // rungs between two
constexpr double kLap_mm = 0.3;       // into what covers the far side

}  // namespace

RestGrid::RestGrid(const Area& area, const CoverGrid& cover)
    : origin_(cover.origin()), columns_(cover.columns()), rows_(cover.rows()) {
  cells_.assign(static_cast<size_t>(columns_) * static_cast<size_t>(rows_), Cell::Covered);
  markBare(area, cover);
  markCores();
  markNear();
}

void RestGrid::markBare(const Area& area, const CoverGrid& cover) {
  const std::vector<std::vector<double>> crossings =
      levelCrossings(area, origin_.y + 0.5 * kCell_mm, kCell_mm, rows_);
  for (int y = 0; y < rows_; ++y) {
    const std::vector<double>& xs = crossings[static_cast<size_t>(y)];
    const size_t row = static_cast<size_t>(y) * static_cast<size_t>(columns_);
    for (size_t i = 0; i + 1 < xs.size(); i += 2) {
      const int first = static_cast<int>(std::ceil((xs[i] - origin_.x) / kCell_mm - 0.5));
      const int end = static_cast<int>(std::ceil((xs[i + 1] - origin_.x) / kCell_mm - 0.5));
      for (int x = std::max(0, first); x < std::min(columns_, end); ++x)
        if (const size_t cell = row + static_cast<size_t>(x); !cover.hasCell(cell)) {
          cells_[cell] = Cell::Bare;
          bare_.push_back(cell);
        }
    }
  }
}

void RestGrid::update(const CoverGrid& cover) {
  std::erase_if(bare_, [&](size_t cell) {
    const bool covered = cover.hasCell(cell);
    cells_[cell] = covered ? Cell::Covered : Cell::Bare;
    return covered;
  });
  markCores();
  markNear();
}

/// Tiles that hold bare ground, and those around them.
void RestGrid::markNear() {
  const int wide = columns_ / kTile + 1;
  near_.assign(static_cast<size_t>(wide) * static_cast<size_t>(rows_ / kTile + 1), 0);
  for (size_t cell : bare_) {
    const int x = static_cast<int>(cell % static_cast<size_t>(columns_)) / kTile,
              y = static_cast<int>(cell / static_cast<size_t>(columns_)) / kTile;
    for (int row = std::max(0, y - 1); row <= std::min(rows_ / kTile, y + 1); ++row)
      for (int column = std::max(0, x - 1); column <= std::min(wide - 1, x + 1); ++column)
        near_[static_cast<size_t>(row) * static_cast<size_t>(wide) + static_cast<size_t>(column)] =
            1;
  }
}

/// Can bare ground lie within a tile's width?
bool RestGrid::isNear(Point p) const {
  const double x = (p.x - origin_.x) / (kTile * kCell_mm),
               y = (p.y - origin_.y) / (kTile * kCell_mm);
  const int wide = columns_ / kTile + 1;
  if (!(x >= 0 && y >= 0 && x < wide && y < rows_ / kTile + 1)) return true;
  return near_[static_cast<size_t>(y) * static_cast<size_t>(wide) + static_cast<size_t>(x)] != 0;
}

/// Four bare cells that meet are a place 0.3 mm wide.
void RestGrid::markCores() {
  cores_ = 0;
  const auto columns = static_cast<size_t>(columns_);
  for (size_t cell : bare_) {
    if (cell + columns + 1 >= cells_.size()) continue;
    const size_t four[] = {cell, cell + 1, cell + columns, cell + columns + 1};
    if (std::any_of(std::begin(four), std::end(four),
                    [&](size_t c) { return cells_[c] == Cell::Covered; }))
      continue;
    for (size_t c : four) cells_[c] = Cell::Core;
    ++cores_;
  }
}

RestGrid::Cell RestGrid::at(Point p) const {
  const double x = (p.x - origin_.x) / kCell_mm, y = (p.y - origin_.y) / kCell_mm;
  if (!(x >= 0 && y >= 0 && x < columns_ && y < rows_)) return Cell::Covered;
  return cells_[static_cast<size_t>(y) * static_cast<size_t>(columns_) + static_cast<size_t>(x)];
}

double RestGrid::reach_mm(Point at_, Point way, double most_mm) const {
  if (!isNear(at_)) return 0;
  double last = 0;
  bool begun = false, core = false;
  for (double mm = kWalk_mm; mm <= most_mm; mm += kWalk_mm) {
    const Cell cell = at(at_ + way * mm);
    if (cell == Cell::Covered) {
      if (mm - last > (begun ? kGap_mm : kLead_mm)) break;
      continue;
    }
    begun = true;
    core = core || cell == Cell::Core;
    last = mm;
  }
  return core ? last : 0;
}

std::optional<std::pair<double, double>> RestGrid::stretch(Point at_, Point way, double from,
                                                           double to) const {
  std::optional<std::pair<double, double>> best;
  double start = 0, last = -INFINITY;
  bool core = false;
  auto close = [&] {
    if (core && start <= to && last >= from && (!best || last - start > best->second - best->first))
      best = {start, last};
    core = false;
  };
  const double around = 2 * (to - from);
  for (double t = from - around; t <= to + around; t += kWalk_mm) {
    const Point p = at_ + way * t;
    if (!isNear(p)) {
      t += kTileSkip_mm - kWalk_mm;
      continue;
    }
    const Cell cell = at(p);
    if (cell == Cell::Covered) continue;
    if (t - last > kGap_mm) {
      close();
      start = t;
    }
    last = t;
    core = core || cell == Cell::Core;
  }
  close();
  return best;
}

std::vector<Rung> CourseStretch::all() const {
  std::vector<Rung> out(before.rbegin(), before.rend());
  for (const auto& rung : rungs)
    if (rung) out.push_back(*rung);
  out.insert(out.end(), after.begin(), after.end());
  return out;
}

namespace {

/// What of a rung lies within the outline around its middle.
Rung clipped(const Rung& rung, const OutlineCut& outline) {
  const Point middle = rung.middle(), way = unit(rung.right - rung.left);
  const double half = rung.width_mm() / 2;
  const auto cut = outline.inside(middle, way, half);
  if (!cut) return rung;
  return {middle + way * std::max(-half, cut->first), middle + way * std::min(half, cut->second)};
}

class GroundTaker {
 public:
  GroundTaker(const Course& course, const RestGrid& rest, const OutlineCut& outline,
              double spacing_mm)
      : course_(course), rest_(rest), outline_(outline), spacing_(spacing_mm) {}

  Filled run(std::vector<CourseStretch> stretches) {
    std::vector<bool> changed(stretches.size());
    for (size_t k = 0; k < stretches.size(); ++k) {
      CourseStretch& s = stretches[k];
      const double before = gained_;
      s.ranOn.resize(s.rungs.size());
      for (size_t i = 0; i < s.rungs.size(); ++i)
        if (widen(s.rungs[i], s.places_mm[i])) s.ranOn[i] = true;
      if (!course_.closed && k == 0) goOn(s, true);
      if (!course_.closed && k + 1 == stretches.size()) goOn(s, false);
      changed[k] = gained_ > before;
    }
    return {std::move(stretches), gained_, std::move(changed)};
  }

 private:
  void gain(double mm) { gained_ += mm * spacing_ / 2; }

  /// To the outline where the bare ground ends there, else a little into what covers it.
  double endOf(Point at, Point way, double reach) const {
    const auto cut = outline_.inside(at, way, reach + 1);
    if (!cut) return reach;
    if (cut->second < reach + kLap_mm) return std::max(0.0, cut->second);
    return reach + kLap_mm;
  }

  /// Whether it ran on.
  bool widen(std::optional<Rung>& rung, double mm) {
    if (!rung) {
      stretchAt(rung, mm);
      return rung.has_value();
    }
    const double most = kMostLonger * std::max(rung->width_mm(), 2 * course_.half(mm));
    const Point way = unit(rung->left - rung->right);
    const double left = rest_.reach_mm(rung->left, way, most),
                 right = rest_.reach_mm(rung->right, way * -1, most);
    if (left > kLeast_mm) {
      gain(left);
      rung->left = rung->left + way * endOf(rung->left, way, left);
    }
    if (right > kLeast_mm) {
      gain(right);
      rung->right = rung->right - way * endOf(rung->right, way * -1, right);
    }
    return std::max(left, right) > kLeast_mm;
  }

  /// A rung that was left to other columns, which did not take all of its ground.
  void stretchAt(std::optional<Rung>& rung, double mm) {
    const auto whole = course_.rung(mm, outline_);
    if (!whole) return;
    const double width = whole->width_mm();
    const Point way = unit(whole->right - whole->left);
    const auto bare = rest_.stretch(whole->left, way, 0, width);
    if (!bare || bare->second - bare->first < kLeast_mm) return;
    gain(bare->second - bare->first);
    rung = Rung{whole->left + way * bare->first, whole->left + way * bare->second};
  }

  /// Past the end, as long as bare ground lies before the last rung.
  void goOn(CourseStretch& s, bool atStart) {
    const double at = atStart ? 0 : course_.total();
    const std::vector<Rung> all = s.all();
    if (all.empty()) return;
    Rung last = atStart ? all.front() : all.back();
    const double half = course_.half(at);
    const Point side = unit(last.right - last.left);
    const Point ahead = course_.direction(at, std::max(0.6, 1.2 * half)) * (atStart ? -1.0 : 1.0);
    const Point way = unit(ahead - side * dot(ahead, side));
    const Point from = last.middle();
    double missed = 0;
    for (double mm = spacing_ / 2; mm <= kMostOn * half + 0.5; mm += spacing_ / 2) {
      const Point middle = from + way * mm;
      const double left = dot(last.left - from, side), right = dot(last.right - from, side);
      const auto bare = rest_.stretch(middle, side, left, right);
      if (!bare || bare->second - bare->first < kLeast_mm) {
        missed += spacing_ / 2;
        if (missed > kLead_mm + 1e-9) return;
        continue;
      }
      missed = 0;
      gain(bare->second - bare->first);
      last = clipped({middle + side * bare->first, middle + side * bare->second}, outline_);
      (atStart ? s.before : s.after).push_back(last);
    }
  }

  const Course& course_;
  const RestGrid& rest_;
  const OutlineCut& outline_;
  double spacing_;
  double gained_ = 0;
};

}  // namespace

Filled filled(const Course& course, std::vector<CourseStretch> stretches, const RestGrid& rest,
              const OutlineCut& outline, double spacing_mm) {
  return GroundTaker(course, rest, outline, spacing_mm).run(std::move(stretches));
}

namespace {

/// Rungs between two whose ends fan: from the open edge inward to where they are near enough.
class FanCloser {
 public:
  FanCloser(const OutlineCut& outline, double spacing_mm)
      : outline_(outline), even_(spacing_mm / 2), enough_(kOpen * spacing_mm) {}

  /// Two at a time, so that either edge goes on getting every other point.
  std::vector<Rung> between(const Rung& a, const Rung& b) {
    const double left = distance(a.left, b.left), right = distance(a.right, b.right);
    const double wide = std::max(left, right), close = std::min(left, right);
    if (wide <= enough_ || close > enough_) return {};  // even, or a break of the column
    lacking_ += std::min(wide / even_ - 1, kMostLacking);
    std::vector<Rung> out;
    const double inner = (enough_ - close) / (wide - close);  // share of the way to the open edge
    const int more = 2 * static_cast<int>(lacking_ / 2);
    lacking_ -= more;
    for (int k = 1; k <= more; ++k) {
      const double t = static_cast<double>(k) / (more + 1);
      const Point l = mix(a.left, b.left, t), r = mix(a.right, b.right, t);
      out.push_back(
          clipped(left > right ? Rung{l, mix(r, l, inner)} : Rung{mix(l, r, inner), r}, outline_));
    }
    return out;
  }

 private:
  const OutlineCut& outline_;
  double even_, enough_;
  double lacking_ = 0;  // rungs
};

}  // namespace

void closeFans(CourseStretch& s, const OutlineCut& outline, double spacing_mm) {
  if (s.ranOn.empty()) return;
  FanCloser closer(outline, spacing_mm);
  CourseStretch out{{}, {}, {}, s.before, s.after};
  for (size_t i = 0; i < s.rungs.size(); ++i) {
    if (i > 0 && s.rungs[i - 1] && s.rungs[i] && s.ranOn[i - 1] && s.ranOn[i])
      for (const Rung& rung : closer.between(*s.rungs[i - 1], *s.rungs[i])) {
        out.places_mm.push_back(s.places_mm[i]);
        out.rungs.emplace_back(rung);
      }
    out.places_mm.push_back(s.places_mm[i]);
    out.rungs.push_back(s.rungs[i]);
  }
  s = std::move(out);
}

}  // namespace rt
