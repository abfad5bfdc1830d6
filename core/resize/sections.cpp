#include "sections.h"

#include <algorithm>

#include "median.h"

namespace rt {
namespace {

constexpr double kSameWay = 0.7;  // cosine: a leg goes on while its stitches turn by less than 45°
constexpr double kTurnsBack = -0.6;  // cosine: the next rung runs the other way
constexpr double kStep = 0.35;       // of a rung: a leg this short between rungs is a step
constexpr size_t kLeastRungs = 4;
constexpr double kMostSpacing_mm = 3.2;    // wider zigzags are drawn lines, not cover
constexpr double kLeastSpacing_mm = 0.04;  // thread to and fro in one place is no cover either
constexpr double kOtherSpacing = 2.2;      // a change of spacing by this much is another ladder
constexpr double kLeap_mm = 2.5;           // along the rows, from one row's end to the next there
constexpr double kWay_mm = 1.0, kWayOverUsual = 4;  // from a row to what leads to another part
constexpr double kLongestInFill_mm = 5.5;
constexpr double kBend_deg = 10;  // rungs that turn by this from the first are those of a column

/// Stitches that go one way.
struct Leg {
  size_t a = 0, b = 0;  // needle points
  Point d;
};

double cosine(const Leg& l, const Leg& m) {
  return dot(unit(l.d), unit(m.d));
}

std::vector<Leg> legsOf(std::span<const Point> p) {
  std::vector<Leg> legs;
  for (size_t i = 1; i < p.size(); ++i) {
    const Point d = p[i] - p[i - 1];
    const bool on =
        !legs.empty() && dot(unit(d), unit(p[i - 1] - p[i - 2])) > kSameWay && length(d) > kSame_mm;
    if (!on) legs.push_back({i - 1, i, {}});
    legs.back().b = i;
    legs.back().d = p[i] - p[legs.back().a];
  }
  return legs;
}

/// Rungs that follow each other, with the legs they are.
struct Ladder {
  std::vector<size_t> rungs;  // indices of legs
  size_t steps = 0;
  bool goesOn = false;
  bool leads = false;  // the next one goes on from it
};

class Sectioner {
 public:
  Sectioner(std::span<const Point> points, Kind hint)
      : p_(points), hint_(hint), legs_(legsOf(points)) {}

  std::vector<Section> run() {
    size_t i = 0;
    while (i < legs_.size()) {
      const Ladder ladder = ladderFrom(i);
      if (ladder.rungs.size() < kLeastRungs) {
        addRun(legs_[i]);
        ++i;
        continue;
      }
      for (const Ladder& part : parted(ladder)) addLadder(withoutWays(part));
      i = ladder.rungs.back() + 1;
    }
    bridge(legs_.empty() ? 0 : legs_.back().b);
    for (Section& s : out_) finish(s);
    return std::move(out_);
  }

 private:
  Ladder ladderFrom(size_t first) const {
    Ladder ladder{{first}, 0, false};
    size_t i = first;
    while (i + 1 < legs_.size()) {
      if (stepsTo(i)) {  // asked first: a step may slant back too
        ladder.rungs.push_back(i += 2);
        ladder.steps += 1;
      } else if (cosine(legs_[i], legs_[i + 1]) < kTurnsBack) {
        ladder.rungs.push_back(++i);
      } else {
        break;
      }
    }
    return ladder;
  }

  /// Is the next leg a short step, and the one after it a rung the other way?
  bool stepsTo(size_t i) const {
    if (i + 2 >= legs_.size()) return false;
    const Leg &here = legs_[i], &next = legs_[i + 1], &over = legs_[i + 2];
    return length(next.d) < kStep * std::min(length(here.d), length(over.d)) &&
           cosine(here, over) < kTurnsBack;
  }

  Point middle(const Leg& leg) const { return mix(p_[leg.a], p_[leg.b], 0.5); }

  /// Way from rung j of a ladder to the next, across the rungs; the sign tells the direction.
  double progress(const Ladder& l, size_t j) const {
    const Leg &a = legs_[l.rungs[j]], &b = legs_[l.rungs[j + 1]];
    const double sign = j % 2 == 0 ? 1 : -1;
    const Point along = unit(unit(a.d) * sign - unit(b.d) * sign);
    return dot(middle(b) - middle(a), quarterTurn(along));
  }

  /// Parts a ladder where it turns round or its spacing changes for good.
  std::vector<Ladder> parted(const Ladder& l) const {
    std::vector<Ladder> out{{{l.rungs[0]}, 0, false}};
    std::vector<double> ways;
    const bool steps = l.steps * 2 > l.rungs.size();
    for (size_t j = 0; j + 1 < l.rungs.size(); ++j) {
      const double way = progress(l, j);
      if (leaps(l, j + 1)) {
        out.back().leads = true;
        out.push_back({{}, 0, true});
        ways.clear();
      } else if (ways.size() >= 2 && breaks(l, j, way, ways)) {
        out.push_back({{}, 0, false});
        ways.clear();
      }
      out.back().rungs.push_back(l.rungs[j + 1]);
      ways.push_back(way);
    }
    for (Ladder& part : out) part.steps = steps ? part.rungs.size() : 0;
    return out;
  }

  /// A way from one part of a fill to the next turns back at its ends as a row does, but leads away
  /// from the rows: it is no rung of theirs.
  Ladder withoutWays(Ladder l) const {
    if (l.goesOn || l.steps > 0) return l;
    auto isWay = [&](size_t j, size_t from) {  // between rungs j and j + 1; the usual from `from`
      std::vector<double> ways;
      for (size_t k = from; k < from + kLeastRungs; ++k) ways.push_back(progress(l, k));
      const double usual = median(ways), way = progress(l, j);
      return std::abs(way) > kWay_mm &&
             (way * usual < 0 || std::abs(way) > kWayOverUsual * std::abs(usual));
    };
    while (l.rungs.size() > 2 * kLeastRungs && isWay(0, 1)) l.rungs.erase(l.rungs.begin());
    while (l.rungs.size() > 2 * kLeastRungs &&
           isWay(l.rungs.size() - 2, l.rungs.size() - 2 - kLeastRungs))
      l.rungs.pop_back();
    return l;
  }

  /// Does an edge leap at this rung, as where two parts of a fill become one?
  bool leaps(const Ladder& l, size_t rung) const {
    if (rung < kLeastRungs + 1 || rung + kLeastRungs + 1 >= l.rungs.size()) return false;
    const double here = edgeWay(l, rung);
    return here > kLeap_mm && here > 4 * edgeWay(l, rung - 2) && here > 4 * edgeWay(l, rung + 2);
  }

  /// How far an edge goes along the rungs from the last rung that ended there.
  double edgeWay(const Ladder& l, size_t rung) const {
    const Leg& leg = legs_[l.rungs[rung]];
    return std::abs(dot(p_[leg.b] - p_[legs_[l.rungs[rung - 2]].b], unit(leg.d)));
  }

  bool breaks(const Ladder& l, size_t j, double way, const std::vector<double>& ways) const {
    const size_t n = ways.size(), from = n > 6 ? n - 6 : 0;
    const double usual = median({ways.begin() + static_cast<long>(from), ways.end()});
    auto other = [&](double w) {
      return w * usual < 0 || std::abs(w) > kOtherSpacing * std::abs(usual) ||
             std::abs(w) < std::abs(usual) / kOtherSpacing;
    };
    if (std::abs(usual) < 0.01 || !other(way)) return false;
    // a few rungs closer or wider are no ladder of their own, but a way back is
    const bool back = way * usual < 0;
    if (!back && (n + 1 < kLeastRungs || j + 1 + kLeastRungs > l.rungs.size())) return false;
    for (size_t k = j + 1; k <= j + 2 && k + 1 < l.rungs.size(); ++k)
      if (!other(progress(l, k))) return false;  // one odd step is nothing
    return true;
  }

  void addRun(const Leg& leg) {
    const size_t from = out_.empty() ? 0 : out_.back().last;
    if (!out_.empty() && out_.back().kind == Kind::Run)
      out_.back().last = leg.b;
    else
      out_.push_back({Kind::Run, from, leg.b, {}, false, false, false, 0, 0, 0, 0});
  }

  void addLadder(const Ladder& l) {
    Section s;
    s.steps = l.steps > 0;
    s.goesOn = l.goesOn && !s.steps;
    s.leads = l.leads && !s.steps;
    std::vector<double> along, across, stitches;
    size_t between = 0;
    for (size_t j = 0; j < l.rungs.size(); ++j) {
      const Leg& leg = legs_[l.rungs[j]];
      if (s.steps || j == 0) s.turns.push_back(leg.a);
      s.turns.push_back(leg.b);
      between += leg.b - leg.a > 1;
      for (size_t k = leg.a + 1; k <= leg.b; ++k) stitches.push_back(distance(p_[k - 1], p_[k]));
      if (j + 1 >= l.rungs.size()) continue;
      along.push_back(distance(middle(leg), middle(legs_[l.rungs[j + 1]])));
      across.push_back(std::abs(progress(l, j)));
    }
    if (l.rungs.size() < kLeastRungs || median(across) * 2 > kMostSpacing_mm ||
        median(across) < kLeastSpacing_mm) {
      for (size_t r = l.rungs.front(); r <= l.rungs.back(); ++r) addRun(legs_[r]);
      return;
    }
    s.first = s.turns.front();
    s.last = s.turns.back();
    s.stitch_mm = median(stitches);
    const bool pointed = between * 5 > l.rungs.size() * 2 && s.stitch_mm <= kLongestInFill_mm;
    const bool rows = s.steps && (hint_ == Kind::Fill || !bends(l));
    s.kind =
        pointed || rows || (hint_ == Kind::Fill && !split(between, l)) ? Kind::Fill : Kind::Satin;
    if (hint_ == Kind::Satin && !pointed) s.kind = Kind::Satin;
    s.spacing_mm = s.kind == Kind::Fill ? rowSpacing(l) : 2 * evenStep(along);
    s.angle_deg = angleOf(l);
    bridge(s.first);
    out_.push_back(std::move(s));
  }

  /// Do the rungs turn, as those of a column in a bend do and rows of a fill do not?
  bool bends(const Ladder& l) const {
    double turned = 0, most = 0;
    for (size_t j = 0; j + 1 < l.rungs.size(); ++j) {
      const Point a = legs_[l.rungs[j]].d, b = legs_[l.rungs[j + 1]].d * -1;
      turned += std::atan2(cross(a, b), dot(a, b));
      most = std::max(most, std::abs(turned));
    }
    return most > radians(kBend_deg);
  }

  /// Mean step from rung to rung, two by two: in a bend the steps go by the outer and the inner
  /// edge in turn. What is far from the usual, where rungs are odd, says nothing.
  static double evenStep(const std::vector<double>& steps) {
    std::vector<double> pairs;
    for (size_t i = 1; i < steps.size(); ++i) pairs.push_back((steps[i - 1] + steps[i]) / 2);
    const double usual = median(pairs);
    double sum = 0, n = 0;
    for (double p : pairs)
      if (p > usual / 2 && p < usual * 2) sum += p, ++n;
    return n > 0 ? sum / n : usual;
  }

  /// Spacing of rows from the ways between their middles, two by two: where an edge slants, the
  /// stitch to the next row may run on with a row, whose middle then lies between the two.
  double rowSpacing(const Ladder& l) const {
    const Point over = quarterTurn(rowWay(l));
    std::vector<double> ways, pairs;
    for (size_t j = 0; j + 1 < l.rungs.size(); ++j)
      ways.push_back(
          std::abs(dot(middle(legs_[l.rungs[j + 1]]) - middle(legs_[l.rungs[j]]), over)));
    for (size_t i = 1; i < ways.size(); ++i) pairs.push_back((ways[i - 1] + ways[i]) / 2);
    return median(std::move(pairs));
  }

  /// Along the rows: all stitches of a row but its first and last, which may lead from one row to
  /// the next.
  Point rowWay(const Ladder& l) const {
    double c = 0, s = 0;
    for (size_t r : l.rungs) {
      const Leg& leg = legs_[r];
      const bool inner = leg.b - leg.a > 2;
      const Point d = inner ? p_[leg.b - 1] - p_[leg.a + 1] : leg.d;
      const double doubled = 2 * std::atan2(d.y, d.x);
      c += length(d) * std::cos(doubled);
      s += length(d) * std::sin(doubled);
    }
    const double angle = std::atan2(s, c) / 2;
    return {std::cos(angle), std::sin(angle)};
  }

  static bool split(size_t between, const Ladder& l) { return between * 5 > l.rungs.size() * 4; }

  /// A gap before a ladder (a step that belongs to none) is a run.
  void bridge(size_t first) {
    const size_t last = out_.empty() ? 0 : out_.back().last;
    if (last < first) {
      if (!out_.empty() && out_.back().kind == Kind::Run)
        out_.back().last = first;
      else
        out_.push_back({Kind::Run, last, first, {}, false, false, false, 0, 0, 0, 0});
    }
  }

  /// By doubled angles, so that to and fro agree.
  double angleOf(const Ladder& l) const {
    double c = 0, s = 0;
    for (size_t r : l.rungs) {
      const Point d = legs_[r].d;
      const double a = 2 * std::atan2(d.y, d.x), w = length(d);
      c += w * std::cos(a);
      s += w * std::sin(a);
    }
    const double angle = degrees(std::atan2(s, c)) / 2;
    return angle < 0 ? angle + 180 : angle;
  }

  void finish(Section& s) const {
    std::vector<double> lengths;
    for (size_t i = s.first + 1; i <= s.last; ++i) {
      lengths.push_back(distance(p_[i - 1], p_[i]));
      s.thread_mm += lengths.back();
    }
    if (s.kind == Kind::Run) s.spacing_mm = s.stitch_mm = median(std::move(lengths));
  }

  std::span<const Point> p_;
  Kind hint_;
  std::vector<Leg> legs_;
  std::vector<Section> out_;
};

}  // namespace

std::vector<Section> sectionsOf(std::span<const Point> points, Kind hint) {
  if (points.size() < 2) return {};
  if (hint == Kind::Run) {  // said to be a run: a zigzag in it is meant
    Section s{Kind::Run, 0, points.size() - 1, {}, false, false, false, 0, 0, 0, 0};
    std::vector<double> steps;
    for (size_t k = 1; k < points.size(); ++k) steps.push_back(distance(points[k - 1], points[k]));
    s.thread_mm = polylineLength(points);
    s.stitch_mm = s.spacing_mm = median(steps);
    return {s};
  }
  return Sectioner(points, hint).run();
}

}  // namespace rt
