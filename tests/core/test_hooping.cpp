#include <QtTest>
#include <map>
#include <set>

#include "blocks.h"
#include "error.h"
#include "field_cover.h"
#include "planner.h"
#include "random_pattern.h"
#include "run.h"
#include "strip_cover.h"

namespace test_hooping {

using namespace rt;
using testing::between;

namespace {

bool counts(Kind kind) {
  return kind != Kind::Tie && kind != Kind::Mark && kind != Kind::Basting;
}

using Segment = std::tuple<long, long, long, long, int>;

/// Sewn stitches with where their thread comes from, as a multiset.
std::map<Segment, int> segmentsOf(const Pattern& p) {
  std::map<Segment, int> out;
  NeedleWalk walk;
  for (const Stitch& s : p.stitches) {
    const NeedleWalk::Step step = walk.next(s);
    if (s.op != Op::Stitch || !counts(s.kind)) continue;
    auto r = [](double v) { return std::lround(v * 1000); };
    ++out[{r(step.from.x), r(step.from.y), r(s.at.x), r(s.at.y),
           static_cast<int>(p.threads[s.thread].rgb)}];
  }
  return out;
}

/// Squares of row fill scattered over a cloth, each a piece.
Pattern scattered(std::mt19937& random, int pieces, double width_mm, double height_mm) {
  Pattern p;
  for (int i = 0; i < pieces; ++i) {
    const double w = between(random, 10, 60), h = between(random, 10, 50);
    const Point at{between(random, 0, width_mm - w), between(random, 0, height_mm - h)};
    const uint16_t thread = p.threadIndex({static_cast<uint32_t>(0x101010 * (1 + i % 7))}),
                   piece = p.pieceIndex("piece " + std::to_string(i));
    if (!p.stitches.empty())
      p.stitches.push_back({p.stitches.back().at, 0, thread, piece, Op::Trim, Kind::Unknown});
    p.stitches.push_back({at, 0, thread, piece, Op::Jump, Kind::Unknown});
    bool right = true;
    for (double y = 0; y <= h; y += 1, right = !right)
      for (double x = 0; x <= w; x += 4)
        p.stitches.push_back(
            {at + Point{right ? x : w - x, y}, 0, thread, piece, Op::Stitch, Kind::Fill});
  }
  return p;
}

Hoop hoop(double w, double h) {
  Hoop out;
  out.id = std::to_string(static_cast<int>(w)) + "x" + std::to_string(static_cast<int>(h));
  out.field = {w, h, HoopShape::Rectangle};
  return out;
}

Hoop halfTurned() {
  Hoop out = hoop(200, 110);
  out.id = "half";
  out.settings = {{0, -50, 0}, {0, 50, 180}};
  return out;
}

Hoop quarters() {
  Hoop out = hoop(110, 110);
  out.id = "quarters";
  out.settings = {{-50, -50, 0}, {50, -50, 90}, {50, 50, 180}, {-50, 50, 270}};
  return out;
}

Hoop onRails() {
  Hoop out = hoop(120, 160);
  out.id = "rails";
  out.rail = FrameRail{true, -150, 150};
  return out;
}

Hoop longFrame() {
  Hoop out = hoop(100, 180);
  out.id = "long";
  out.settings = {{0, -150, 0}, {0, 0, 0}, {0, 150, 0}};
  return out;
}

Hoop oval(double w, double h) {
  Hoop out = hoop(w, h);
  out.id = "oval";
  out.field.shape = HoopShape::Oval;
  return out;
}

/// A satin border around the layout that `scattered` makes.
void addBorder(Pattern& p, double width_mm, double height_mm) {
  const Box b = Box{0, 0, width_mm, height_mm}.grown(8);
  const uint16_t thread = p.threadIndex({0x2f5d50}), piece = p.pieceIndex("border");
  p.stitches.push_back({p.stitches.back().at, 0, thread, piece, Op::Trim, Kind::Unknown});
  p.stitches.push_back({b.corner(0), 0, thread, piece, Op::Jump, Kind::Unknown});
  for (int side = 0; side < 4; ++side) {
    const Point from = b.corner(side), to = b.corner((side + 1) % 4);
    const Point out = quarterTurn(unit(to - from)) * 1.5;
    const int n = static_cast<int>(distance(from, to) / 0.5);
    for (int k = 0; k < n; ++k)
      p.stitches.push_back({mix(from, to, static_cast<double>(k) / n) + out * (k % 2 ? 1 : -1), 0,
                            thread, piece, Op::Stitch, Kind::Satin});
  }
}

/// A filled base with underlay, a column over it and a line on top, all wider than the hoop.
Pattern layered() {
  Pattern p;
  const uint16_t base = p.threadIndex({0x101010}), band = p.threadIndex({0x808080}),
                 line = p.threadIndex({0xd03030});
  const auto begin = [&](Point at, uint16_t thread, const char* piece) {
    const uint16_t index = p.pieceIndex(piece);
    if (!p.stitches.empty())
      p.stitches.push_back({p.stitches.back().at, 0, thread, index, Op::Trim, Kind::Unknown});
    p.stitches.push_back({at, 0, thread, index, Op::Jump, Kind::Unknown});
    return index;
  };
  uint16_t piece = begin({-129, -29}, base, "base");
  bool right = true;
  for (double y = -29; y <= 29; y += 3, right = !right)
    for (double x = 0; x <= 258; x += 3)
      p.stitches.push_back(
          {{right ? x - 129 : 129 - x, y}, 0, base, piece, Op::Stitch, Kind::Underlay});
  begin({-130, -30}, base, "base");
  for (double y = -30; y <= 30; y += 0.5, right = !right)
    for (double x = 0; x <= 260; x += 4)
      p.stitches.push_back(
          {{right ? x - 130 : 130 - x, y}, 0, base, piece, Op::Stitch, Kind::Fill});
  piece = begin({-125, 2}, band, "band");
  for (int i = 0; i * 0.2 < 250; ++i)
    p.stitches.push_back(
        {{i * 0.2 - 125, i % 2 ? 2.5 : -2.5}, 0, band, piece, Op::Stitch, Kind::Satin});
  piece = begin({-125, 0.4}, line, "line");
  for (double x = -125; x < 125; x += 2.5)
    p.stitches.push_back({{x, 0.4}, 0, line, piece, Op::Stitch, Kind::Run});
  return p;
}

/// Rows between trims, without marks.
std::vector<std::vector<Stitch>> threadsOf(const Pattern& p) {
  std::vector<std::vector<Stitch>> out;
  bool open = false;
  for (const Stitch& s : p.stitches) {
    if (s.op == Op::Trim || s.op == Op::End || s.op == Op::Stop) open = false;
    if (s.op != Op::Stitch || s.kind == Kind::Mark) continue;
    if (!open) out.emplace_back();
    open = true;
    out.back().push_back(s);
  }
  return out;
}

using Spot = std::pair<long, long>;
Spot spotOf(Point p) {
  return {std::lround(p.x * 1000), std::lround(p.y * 1000)};
}

/// Where thread begins or ends in a layout without being cut by a plan.
std::set<Spot> looseEnds(const Pattern& layout) {
  std::set<Spot> out;
  const std::vector<Block> blocks = blocksOf(layout);
  for (const Block& b : blocks) out.insert({spotOf(b.entry), spotOf(b.exit)});
  for (const auto& thread : threadsOf(layout))
    out.insert({spotOf(thread.front().at), spotOf(thread.back().at)});
  return out;
}

void verifySetting(const PlanSetting& s, const std::set<Spot>& ends, const QString& name) {
  Point last;
  bool moved = false, cut = true;
  for (const Stitch& r : s.pattern.stitches) {
    if (r.op == Op::Stitch)
      QVERIFY2(s.field.holds(r.at), qPrintable(name + QString(": %1, %2").arg(r.at.x).arg(r.at.y)));
    if (r.op == Op::Jump && moved && !cut)
      QVERIFY2(distance(last, r.at) <= 3.0001, qPrintable(name));
    cut = r.op == Op::Trim || (cut && r.op != Op::Stitch);
    if (r.op == Op::Stitch || r.op == Op::Jump) last = r.at, moved = true;
  }
  for (const auto& thread : threadsOf(s.pattern)) {
    const auto ties = [&](size_t from) {
      size_t n = 0;
      for (size_t i = from; i < std::min(from + 3, thread.size()); ++i)
        n += thread[i].kind == Kind::Tie;
      return n;
    };
    if (!ends.count(spotOf(thread.front().at)))
      QVERIFY2(ties(0) == 3, qPrintable(name + ": a cut start is not tied"));
    if (!ends.count(spotOf(thread.back().at)))
      QVERIFY2(ties(thread.size() - std::min<size_t>(3, thread.size())) == 3,
               qPrintable(name + ": a cut end is not tied"));
  }
}

/// All that holds for every plan.
void verifyPlan(const Pattern& layout, const HoopingPlan& plan, const PlanOptions& options) {
  std::map<Segment, int> all;
  const std::set<Spot> ends = looseEnds(layout);
  size_t sewn = 0, wanted = 0;
  for (const Hooping& h : plan.hoopings) {
    const Hoop& frame = options.hoops[static_cast<size_t>(h.hoop)];
    QVERIFY(h.turn_deg == 0 || options.turn);
    for (const PlanSetting& s : h.settings) {
      const QString name = QString("hooping %1 setting %2").arg(h.index).arg(s.index);
      const bool across = s.field.turn_deg % 180 != 0;
      QVERIFY2(std::abs(s.field.box.width() -
                        (across ? frame.field.height_mm : frame.field.width_mm)) < 1e-6,
               qPrintable(name));
      verifySetting(s, ends, name);
      for (const auto& [segment, n] : segmentsOf(s.pattern)) all[segment] += n;
      sewn += s.stitches;
    }
    QVERIFY(h.marks.size() >= 2);
    QVERIFY(h.predicted_error_mm > 0);
  }
  for (const auto& [segment, n] : segmentsOf(layout)) wanted += static_cast<size_t>(n);
  QCOMPARE(sewn, wanted);
  QVERIFY2(all == segmentsOf(layout), "every stitch must be in exactly one setting");
  QVERIFY(plan.lower_bound >= 1 && plan.lower_bound <= static_cast<int>(plan.hoopings.size()));
  for (const Seam& s : plan.seams) QVERIFY(std::isfinite(s.error_mm) && s.error_mm > 0);
  QCOMPARE(plan.cut_stitches > 0, plan.interlock_mm > 0);
  for (const Seam& s : plan.seams)
    for (const Cutting& c : plan.cuts)
      if (c.stitches > 0 && c.first == s.first && c.second == s.second &&
          c.first_setting == s.first_setting && c.second_setting == s.second_setting)
        QVERIFY(plan.interlock_mm >= s.error_mm - 0.1);  // a gap cannot open at 95 %
}

/// Least distance from a place to thread of a layout, mm.
double awayFromThread(const Pattern& layout, Point p) {
  double least = INFINITY;
  forEachSegment(layout, [&](Point a, Point b, size_t) {
    least = std::min(least, pointSegmentDistance(p, a, b));
  });
  return least;
}

/// Pairs of blocks of the layout whose overlap a plan sews the wrong way round.
std::set<std::pair<int, int>> turnedOver(const Pattern& layout, const HoopingPlan& plan) {
  const std::vector<Block> blocks = blocksOf(layout);
  std::map<Segment, int> settingOf;
  int place = 0;
  for (const Hooping& h : plan.hoopings)
    for (const PlanSetting& s : h.settings) {
      for (const auto& [segment, n] : segmentsOf(s.pattern)) settingOf[segment] = place;
      ++place;
    }
  struct Sewn {
    Point a, b;
    int block, setting;
  };
  std::vector<Sewn> segments;
  std::vector<int> blockOf(layout.stitches.size(), -1);
  for (size_t b = 0; b < blocks.size(); ++b)
    for (size_t row = blocks[b].first; row < blocks[b].last; ++row)
      blockOf[row] = static_cast<int>(b);
  forEachSegment(layout, [&](Point a, Point b, size_t row) {
    const auto r = [](double v) { return std::lround(v * 1000); };
    const auto it = settingOf.find({r(a.x), r(a.y), r(b.x), r(b.y),
                                    static_cast<int>(layout.colourOf(layout.stitches[row]).rgb)});
    if (it != settingOf.end()) segments.push_back({a, b, blockOf[row], it->second});
  });
  std::map<Spot, std::vector<size_t>> cells;
  std::set<std::pair<int, int>> out;
  for (size_t i = 0; i < segments.size(); ++i) {
    const Sewn& s = segments[i];
    Box box;
    box.add(s.a), box.add(s.b);
    std::set<size_t> near;
    for (long y = std::lround(std::floor(box.top / 3));
         y <= std::lround(std::floor(box.bottom / 3)); ++y)
      for (long x = std::lround(std::floor(box.left / 3));
           x <= std::lround(std::floor(box.right / 3)); ++x) {
        auto& here = cells[{x, y}];
        near.insert(here.begin(), here.end());
        here.push_back(i);
      }
    for (size_t j : near) {
      const Sewn& under = segments[j];
      if (under.block < s.block && under.setting > s.setting &&
          segmentDistance(under.a, under.b, s.a, s.b) < 0.38)
        out.insert({under.block, s.block});
    }
  }
  return out;
}

size_t doubtsOf(const HoopingPlan& plan, PlanDoubt::What what) {
  return static_cast<size_t>(std::count_if(plan.doubts.begin(), plan.doubts.end(),
                                           [&](const PlanDoubt& d) { return d.what == what; }));
}

}  // namespace

class TestHooping : public QObject {
  Q_OBJECT
 private slots:
  /// A fill that two fields hold is parted along the line and nowhere else; each stitch once.
  void aCutThatIsAskedForRunsAlongItsLine() {
    std::mt19937 random = testing::seeded(95);
    for (int i = 0; i < 12; ++i) {
      Pattern p;
      const double width = between(random, 220, 300), height = between(random, 40, 90);
      p.pieceIndex("field");
      p.threads.push_back({0x336699});
      for (double y = 0; y <= height; y += 0.6)
        for (int k = 0; k <= static_cast<int>(width / 4); ++k) {
          const bool right = std::lround(y / 0.6) % 2 == 0;
          const double x = std::min(width, 4.0 * k);
          p.stitches.push_back({{right ? x : width - x, y},
                                0,
                                0,
                                1,
                                p.stitches.empty() ? Op::Jump : Op::Stitch,
                                Kind::Fill});
        }
      PlanOptions options;
      options.hoops = {hoop(200, 140)};
      const double at = between(random, width - 190, 190), lean = between(random, -8, 8);
      options.cuts = {{{at - lean, -5}, {at + lean, height + 5}}};
      const HoopingPlan plan = planHoopings(p, options);
      QCOMPARE(plan.hoopings.size(), size_t{2});
      QCOMPARE(plan.crossings.size(), size_t{1});
      std::map<Segment, int> all;
      for (const Hooping& h : plan.hoopings)
        for (const auto& [s, n] : segmentsOf(h.settings[0].pattern)) all[s] += n;
      QCOMPARE(all, segmentsOf(p));
      // who sews a stitch is decided by the side of the line on which it lies
      size_t wrong = 0, sewn = 0;
      for (const Hooping& h : plan.hoopings) {
        size_t side[2] = {0, 0};
        NeedleWalk walk;
        for (const Stitch& s : h.settings[0].pattern.stitches) {
          const NeedleWalk::Step step = walk.next(s);
          const Point middle = mix(step.from, s.at, 0.5);
          if (s.op != Op::Stitch || !counts(s.kind) || options.cuts[0].off(middle) < 4) continue;
          ++side[options.cuts[0].left(middle)];
        }
        sewn += side[0] + side[1];
        wrong += std::min(side[0], side[1]);
      }
      QVERIFY2(wrong == 0, qPrintable(QString("%1 of %2").arg(wrong).arg(sewn)));
      QVERIFY(std::none_of(plan.doubts.begin(), plan.doubts.end(), [](const PlanDoubt& d) {
        return d.what == PlanDoubt::What::CutElsewhere;
      }));
    }
  }
  /// What one field holds is not cut, and a part that fits no field is named.
  void aCutThatIsAskedForCostsNoHoopingThatItNeedNot() {
    std::mt19937 random = testing::seeded(96);
    const Pattern small = scattered(random, 3, 150, 100);
    PlanOptions options;
    options.hoops = {hoop(200, 140)};
    options.cuts = {{{75, -10}, {75, 110}}};
    QCOMPARE(planHoopings(small, options).hoopings.size(), size_t{1});
    options.cuts = {{{75, 10}, {75, 10.2}}};
    QVERIFY_THROWS_EXCEPTION(Error, planHoopings(small, options));
    options.cuts.clear();
    Pattern wide = small;
    addBorder(wide, 560, 400);
    const auto elsewhere = [](const HoopingPlan& plan) {
      return std::count_if(plan.doubts.begin(), plan.doubts.end(), [](const PlanDoubt& d) {
        return d.what == PlanDoubt::What::CutElsewhere && d.a == "border" && d.value > 10;
      });
    };
    // where no two fields of the plan share cloth the border is cut elsewhere, and that is said
    const HoopingPlan free = planHoopings(wide, options);
    double along = 0;
    for (const Cutting& c : free.cuts)
      if (c.what == "border" && c.at.y < 0) along = c.at.x;
    QVERIFY(along > 20);
    for (double off : {0.0, -80.0}) {
      options.cuts = {{{along + off, -20}, {along + off, 4}}};
      const HoopingPlan plan = planHoopings(wide, options);
      bool near = false;
      for (const Cutting& c : plan.cuts)
        near = near || (c.what == "border" && options.cuts[0].off(c.at) < 10);
      QCOMPARE(elsewhere(plan), near ? 0 : 1);
      if (off == 0) QVERIFY(near);
    }
  }
  void sewingThatJustFitsItsFieldIsDoubted() {
    std::mt19937 random = testing::seeded(97);
    for (int i = 0; i < testing::rounds(10); ++i) {
      const double room = between(random, 0.1, 4);
      Pattern p;
      p.threads.push_back({0x336699});
      p.pieceIndex("bar");
      for (double x = 0; x <= 200 - 2 * room; x += 2)
        p.stitches.push_back({{std::min(x, 200 - 2 * room), i % 2 * 1.0},
                              0,
                              0,
                              1,
                              x == 0 ? Op::Jump : Op::Stitch,
                              Kind::Run});
      p.stitches.push_back({{200 - 2 * room, 0}, 0, 0, 1, Op::Stitch, Kind::Run});
      PlanOptions options;
      options.hoops = {hoop(200, 140)};
      const HoopingPlan plan = planHoopings(p, options);
      const auto doubt =
          std::find_if(plan.doubts.begin(), plan.doubts.end(),
                       [](const PlanDoubt& d) { return d.what == PlanDoubt::What::LittleRoom; });
      QCOMPARE(doubt != plan.doubts.end(), room < 2);
      if (room < 2) QVERIFY(std::abs(doubt->value - room) < 0.1);
    }
  }
  void whatFitsTakesOneHooping() {
    std::mt19937 random = testing::seeded(81);
    const Pattern p = scattered(random, 5, 120, 90);
    const PlanOptions options{{hoop(130, 100)}};
    const HoopingPlan plan = planHoopings(p, options);
    QCOMPARE(plan.hoopings.size(), size_t{1});
    QCOMPARE(plan.cut_stitches, size_t{0});
    QCOMPARE(plan.lower_bound, 1);
    verifyPlan(p, plan, options);
  }
  void everyStitchInExactlyOneSetting() {
    std::mt19937 random = testing::seeded(82);
    for (int round = 0; round < testing::rounds(8); ++round) {
      Pattern p = scattered(random, 12, 380, 260);
      if (round % 3 == 0) addBorder(p, 380, 260);
      PlanOptions options{{hoop(150, 120)}};
      options.turn = round % 2 == 1;
      options.style = round % 4 < 2 ? TieStyle::Star : TieStyle::Chain;
      if (round % 3 == 1) options.hoops.push_back(hoop(100, 100));
      verifyPlan(p, planHoopings(p, options), options);
    }
  }
  void framesOfEveryKindSewAll() {
    std::mt19937 random = testing::seeded(89);
    const std::vector<std::vector<Hoop>> shelves{{halfTurned()},   {quarters()},
                                                 {onRails()},      {longFrame()},
                                                 {oval(180, 130)}, {halfTurned(), hoop(150, 120)}};
    for (size_t i = 0; i < shelves.size(); ++i) {
      Pattern p = scattered(random, 10, 240, 190);
      if (i % 2 == 0) addBorder(p, 240, 190);
      PlanOptions options{shelves[i]};
      options.turn = i % 2 == 1;
      const HoopingPlan plan = planHoopings(p, options);
      verifyPlan(p, plan, options);
      // settings of one clamping lie as the frame says
      for (const Hooping& h : plan.hoopings) {
        const Hoop& frame = options.hoops[static_cast<size_t>(h.hoop)];
        for (const PlanSetting& s : h.settings) {
          bool known = false;
          for (PlacedField f : fieldsOf(frame, h.turn_deg)) {
            f.box = f.box.moved(h.origin);
            known = known || distance(f.box.centre(), s.field.box.centre()) < 1e-6;
          }
          const Point off = s.field.box.centre() - h.origin;
          QVERIFY(known ||
                  (frame.rail && std::max(std::abs(off.x), std::abs(off.y)) <= 150 + 1e-6));
        }
      }
    }
  }
  void aFrameTurnedHalfRoundIsOneHooping() {
    // two halves, and one piece just inside the shared middle
    Pattern p = testing::patternFrom(
        "#111111 jump 0,-90 stitch 4,-90 stitch 4,-20 trim jump 0,3 stitch "
        "4,3 stitch 4,-3 trim jump 0,20 stitch 4,20 stitch 4,90");
    const PlanOptions options{{halfTurned()}};
    const HoopingPlan plan = planHoopings(p, options);
    QCOMPARE(plan.hoopings.size(), size_t{1});
    QCOMPARE(plan.settings(), size_t{2});
    QVERIFY(plan.crossings.empty());
    QCOMPARE(
        plan.hoopings[0].settings[0].field.turn_deg + plan.hoopings[0].settings[1].field.turn_deg,
        180);
    verifyPlan(p, plan, options);
  }
  void aFillLargerThanTheHoopIsCutOncePerRow() {
    Pattern p;
    const uint16_t thread = p.threadIndex({0x445566});
    bool right = true;
    for (double y = 0; y <= 60; y += 0.5, right = !right)
      for (double x = 0; x <= 260; x += 4)
        p.stitches.push_back({{right ? x : 260 - x, y}, 1, thread, 0, Op::Stitch, Kind::Fill});
    const PlanOptions options{{hoop(150, 100)}};
    const HoopingPlan plan = planHoopings(p, options);
    QCOMPARE(plan.hoopings.size(), size_t{2});
    QCOMPARE(plan.crossings.size(), size_t{1});
    QVERIFY(plan.cut_stitches >= 121);  // each row once
    QVERIFY(plan.cut_stitches <= 125);
    QCOMPARE(plan.cuts.size(), size_t{1});
    QCOMPARE(plan.cuts[0].stitches, plan.cut_stitches);
    QVERIFY(plan.cuts[0].length_mm >= 59 && plan.cuts[0].length_mm < 75);
    verifyPlan(p, plan, options);
  }
  void wholePiecesBeforeFewerStitches() {
    // three pieces in a row that two fields can hold whole only if the middle one goes to the left
    Pattern p;
    for (int i = 0; i < 3; ++i) {
      const uint16_t piece = p.pieceIndex("piece " + std::to_string(i)),
                     thread = p.threadIndex({0x223344});
      if (i > 0)
        p.stitches.push_back({p.stitches.back().at, 0, thread, piece, Op::Trim, Kind::Unknown});
      for (int y = 0; y <= 20; ++y)
        for (int x = 0; x <= 15; ++x)
          p.stitches.push_back({{i * 62.0 + (y % 2 ? 15 - x : x) * 4.0, y * 1.0},
                                0,
                                thread,
                                piece,
                                Op::Stitch,
                                Kind::Fill});
    }
    const HoopingPlan plan = planHoopings(p, {{hoop(130, 100)}});
    QCOMPARE(plan.hoopings.size(), size_t{2});
    QVERIFY(plan.crossings.empty());
  }
  void keptPiecesAreNeverCut() {
    std::mt19937 random = testing::seeded(91);
    for (int round = 0; round < testing::rounds(4); ++round) {
      Pattern p = scattered(random, 14, 300, 200);
      PlanOptions options{{hoop(140, 110)}};
      for (int i = 0; i < 14; ++i) options.keep.push_back("piece " + std::to_string(i));
      const HoopingPlan plan = planHoopings(p, options);
      QVERIFY(plan.crossings.empty());
      verifyPlan(p, plan, options);
    }
    Pattern wide = layered();
    PlanOptions options{{hoop(150, 100)}};
    options.keep = {"band"};
    try {
      planHoopings(wide, options);
      QFAIL("a kept piece larger than every field must be refused");
    } catch (const Error& problem) {
      QVERIFY(problem.problem().find("249.8 x 5 mm") != std::string::npos);
      QVERIFY(problem.problem().find("150") != std::string::npos);
    }
    options.keep = {"nobody"};
    QVERIFY_THROWS_EXCEPTION(Error, planHoopings(wide, options));
  }
  void layersThatAreCutKeepTheirOrder() {
    for (double w : {120.0, 150.0, 190.0}) {
      const Pattern p = layered();
      const PlanOptions options{{hoop(w, 100)}};
      const HoopingPlan plan = planHoopings(p, options);
      verifyPlan(p, plan, options);
      QCOMPARE(doubtsOf(plan, PlanDoubt::What::TurnedOver), size_t{0});
      QVERIFY(turnedOver(p, plan).empty());
    }
  }
  void whatIsTurnedOverIsNamed() {
    std::mt19937 random = testing::seeded(92);
    for (int round = 0; round < testing::rounds(6); ++round) {
      Pattern p = scattered(random, 26, 300, 220);
      const HoopingPlan plan = planHoopings(p, {{hoop(130, 110)}});
      const std::vector<Block> blocks = blocksOf(p);
      const auto nameOf = [&](int b) {
        return p.pieces[blocks[static_cast<size_t>(b)].piece] + " (block " + std::to_string(b + 1) +
               ")";
      };
      for (const auto& [under, over] : turnedOver(p, plan)) {
        const PlanDoubt doubt{PlanDoubt::What::TurnedOver, nameOf(under), nameOf(over), 0, 0, 0};
        QVERIFY2(std::find(plan.doubts.begin(), plan.doubts.end(), doubt) != plan.doubts.end(),
                 (doubt.a + " under " + doubt.b).c_str());
      }
    }
  }
  void whatLiesOnTopIsSewnLater() {
    // a base in the left field's reach, a cover over its right end that only the right field holds
    Pattern p = testing::patternFrom(
        "#111111 jump 0,0 stitch 4,0 stitch 8,0 stitch 60,1 stitch 100,2 trim #222222 jump 98,0 "
        "stitch 98,5 stitch 140,5 stitch 190,5");
    const HoopingPlan plan = planHoopings(p, {{hoop(110, 100)}});
    QCOMPARE(plan.hoopings.size(), size_t{2});
    QCOMPARE(plan.hoopings[0].settings[0].pattern.threads[0].hex(), std::string("#111111"));
    QCOMPARE(doubtsOf(plan, PlanDoubt::What::TurnedOver), size_t{0});
  }
  void marksLieOnBareClothFarApart() {
    std::mt19937 random = testing::seeded(84);
    for (int round = 0; round < testing::rounds(5); ++round) {
      Pattern p = scattered(random, 10, 260, 200);
      PlanOptions options{{hoop(150, 120)}};
      options.style = round % 2 == 0 ? TieStyle::Star : TieStyle::Chain;
      options.keep_out = {{"zip", {{120, -20}, {140, -20}, {140, 260}, {120, 260}}}};
      const HoopingPlan plan = planHoopings(p, options);
      for (const Hooping& h : plan.hoopings) {
        double far = 0;
        for (const PlanMark& m : h.marks) {
          QVERIFY(h.settings[0].field.holds(m.at));
          for (const PlanMark& n : h.marks) far = std::max(far, distance(m.at, n.at));
          if (!m.clear) continue;
          QVERIFY2(awayFromThread(p, m.at) >= 3,
                   qPrintable(QString::number(awayFromThread(p, m.at))));
          QVERIFY(m.at.x < 120 || m.at.x > 140);
        }
        QVERIFY(far >= 12);
      }
    }
  }
  void neighboursShareTwoMarksFarApart() {
    std::mt19937 random = testing::seeded(84);
    const Pattern p = scattered(random, 10, 260, 90);
    for (TieStyle style : {TieStyle::Star, TieStyle::Chain}) {
      PlanOptions options{{hoop(150, 100)}};
      options.style = style;
      const HoopingPlan plan = planHoopings(p, options);
      QCOMPARE(plan.hoopings.size(), size_t{2});
      std::vector<Point> shared;
      for (const PlanMark& a : plan.hoopings[0].marks)
        for (const PlanMark& b : plan.hoopings[1].marks)
          if (a.id == b.id) {
            QCOMPARE(a.at, b.at);
            shared.push_back(a.at);
          }
      QVERIFY(shared.size() >= 2);
      QVERIFY(distance(shared[0], shared[1]) > 25);
      QVERIFY(plan.worst_seam_error_mm > 0);
      // in a chain the first sews what the second looks for; drawn marks are not sewn
      size_t sewn = 0;
      for (const Stitch& s : plan.hoopings[0].settings[0].pattern.stitches)
        sewn += s.kind == Kind::Mark;
      QCOMPARE(sewn > 0, style == TieStyle::Chain);
    }
  }
  void chainsAddErrorsAndStarsDoNot() {
    std::mt19937 random = testing::seeded(85);
    Pattern p = scattered(random, 20, 600, 90);
    addBorder(p, 600, 90);
    PlanOptions options{{hoop(150, 130)}};
    HoopingPlan star = planHoopings(p, options);
    options.style = TieStyle::Chain;
    const HoopingPlan chain = planHoopings(p, options);
    QVERIFY(chain.hoopings.size() >= 4);
    QVERIFY(chain.hoopings.back().predicted_error_mm >
            1.5 * star.hoopings.back().predicted_error_mm);
  }
  void ordersRunFromTheMiddleOrFromAnEnd() {
    std::mt19937 random = testing::seeded(95);
    Pattern p = scattered(random, 20, 700, 80);
    addBorder(p, 700, 80);
    PlanOptions options{{hoop(160, 120)}};
    const HoopingPlan middle = planHoopings(p, options);
    options.order = SewingOrder::FromEnd;
    const HoopingPlan end = planHoopings(p, options);
    const auto x = [](const HoopingPlan& plan, size_t i) {
      return plan.hoopings[i].settings[0].field.box.centre().x;
    };
    QVERIFY(middle.hoopings.size() >= 5);
    QVERIFY(std::abs(x(middle, 0) - 350) < 130);
    for (size_t i = 1; i < end.hoopings.size(); ++i) QVERIFY(x(end, i) > x(end, i - 1));
    // none is sewn between two that are
    for (size_t i = 1; i < middle.hoopings.size(); ++i) {
      bool left = false, right = false;
      for (size_t k = 0; k < i; ++k) {
        const double d = x(middle, k) - x(middle, i);
        left = left || (d < 0 && d > -170), right = right || (d > 0 && d < 170);
      }
      QVERIFY(!(left && right));
    }
  }
  void fieldsHeldInPlaceStayThere() {
    std::mt19937 random = testing::seeded(96);
    const Pattern p = scattered(random, 12, 320, 220);
    PlanOptions options{{hoop(150, 120)}};
    const HoopingPlan free = planHoopings(p, options);
    options.pinned = {{options.hoops[0].id, 0, {100, 70}}};
    const HoopingPlan held = planHoopings(p, options);
    verifyPlan(p, held, options);
    QVERIFY(held.hoopings.size() >= free.hoopings.size());
    QVERIFY(std::any_of(held.hoopings.begin(), held.hoopings.end(), [](const Hooping& h) {
      return distance(h.origin, {100, 70}) < 1e-9;
    }));
    options.pinned[0].hoop = "gone";
    QVERIFY_THROWS_EXCEPTION(Error, planHoopings(p, options));
  }
  void thePlainGridCountsAsDefined() {
    // 250 x 90 in fields of 100 x 100: three columns, the whole centred
    const Pattern p = testing::patternFrom(
        "jump 0,0 stitch 4,0 stitch 4,4 trim #222222 jump 120,40 stitch 124,40 trim #333333 jump "
        "60,80 "
        "stitch 64,80 stitch 90,80 trim #444444 jump 246,90 stitch 250,90");
    PlanOptions options{{hoop(100, 100), hoop(40, 40)}};
    const HoopingPlan plan = planHoopings(p, options);
    QCOMPARE(plan.plain_grid.columns, 3);
    QCOMPARE(plan.plain_grid.rows, 1);
    QCOMPARE(plan.plain_grid.hoopings, 3);  // grid lines at x = 75 and 175
    QCOMPARE(plan.plain_grid.crossings, 1);
  }
  void coversAreFewestAgainstTryingAll() {
    std::mt19937 random = testing::seeded(86);
    const std::vector<Hoop> hoops{hoop(10, 8)};
    for (int round = 0; round < 40; ++round) {
      std::vector<Box> units;
      CoverProblem problem;
      for (int i = 0; i < 7; ++i) {
        const Point at{between(random, 0, 30), between(random, 0, 20)};
        units.push_back({at.x, at.y, at.x + between(random, 0, 4), at.y + between(random, 0, 4)});
        problem.needs.push_back({units.back(), -1, units.back()});
      }
      // by brute force: the fewest groups of units whose joint box fits
      int best = 7;
      std::vector<int> group(7);
      std::function<void(int, int)> tryAll = [&](int i, int used) {
        if (used >= best) return;
        if (i == 7) {
          best = used;
          return;
        }
        for (int g = 0; g <= used; ++g) {
          group[static_cast<size_t>(i)] = g;
          Box joint;
          for (int k = 0; k <= i; ++k)
            if (group[static_cast<size_t>(k)] == g) joint.add(units[static_cast<size_t>(k)]);
          if (joint.width() <= 10 && joint.height() <= 8) tryAll(i + 1, std::max(used, g + 1));
        }
      };
      tryAll(0, 0);
      const CoverAnswer cover = coverNeeds(problem, hoops, false, {}, SIZE_MAX, {});
      QVERIFY(cover.fewest);
      QCOMPARE(static_cast<int>(cover.clampings.size()), best);
      QVERIFY(fewestClampings(units, hoops, false, {}, best, {}) <= best);
      QVERIFY(coverInStrips(problem, hoops, false).size() >= static_cast<size_t>(best));
    }
  }
  /// Where thread lies everywhere a grid whose fields overlap as asked is hard to beat; what needs
  /// more clampings than that, so as to cut less, is no plan.
  void crowdedClothTakesNoMoreThanAGridThatOverlaps() {
    std::mt19937 random = testing::seeded(98);
    struct Grid {
      Hoop hoop;
      int columns, rows;
    };
    for (const Grid& grid : {Grid{hoop(150, 110), 3, 3}, Grid{hoop(150, 110), 3, 4},
                             Grid{onRails(), 2, 2}, Grid{longFrame(), 4, 2}}) {
      const PlanOptions options{{grid.hoop}};
      Box reach;
      for (const PlacedField& f : fieldsOf(grid.hoop, 0)) reach.add(f.box);
      // so much that just as many frames reach: over the least overlap a stitch is not parted, and
      // what is gathered in cells loses a little
      const double lost = options.overlap_mm + 4 + 2, border = 2 * (8 + 1.5);
      const double width = grid.columns * reach.width() - (grid.columns - 1) * lost - border,
                   height = grid.rows * reach.height() - (grid.rows - 1) * lost - border;
      Pattern p = scattered(random, static_cast<int>(width * height / 3000), width, height);
      addBorder(p, width, height);
      const HoopingPlan plan = planHoopings(p, options);
      QVERIFY2(plan.hoopings.size() <= static_cast<size_t>(grid.columns * grid.rows),
               qPrintable(QString("%1 for %2 x %3 %4")
                              .arg(plan.hoopings.size())
                              .arg(grid.columns)
                              .arg(grid.rows)
                              .arg(QString::fromStdString(grid.hoop.id))));
      verifyPlan(p, plan, options);
    }
  }
  void tellingItToStopStopsIt() {
    std::mt19937 random = testing::seeded(97);
    const Pattern p = scattered(random, 30, 500, 300);
    const Watch stop = [](const WorkProgress& w) { return w.part > 0 ? Go::Stop : Go::On; };
    QVERIFY_THROWS_EXCEPTION(Stopped, planHoopings(p, {{hoop(150, 120)}}, stop));
  }
  void aPersonsOrderIsKeptAndItsPriceNamed() {
    std::mt19937 random = testing::seeded(99);
    for (int round = 0; round < testing::rounds(4); ++round) {
      const Pattern p = scattered(random, 24, 420, 260);
      PlanOptions options{{hoop(150, 120)}};
      const HoopingPlan plan = planHoopings(p, options);
      std::vector<Point> wanted;
      for (const Hooping& h : plan.hoopings) wanted.push_back(h.origin);
      options.order_by_hand = wanted;
      QVERIFY(planHoopings(p, options) == plan);  // its own order changes nothing
      std::shuffle(wanted.begin(), wanted.end(), random);
      options.order_by_hand = wanted;
      const HoopingPlan other = planHoopings(p, options);
      QCOMPARE(other.hoopings.size(), plan.hoopings.size());
      size_t sewn = 0, before = 0;
      for (size_t i = 0; i < wanted.size(); ++i) {
        QVERIFY(distance(other.hoopings[i].origin, wanted[i]) < 0.5);
        sewn += other.hoopings[i].stitches(), before += plan.hoopings[i].stitches();
      }
      QCOMPARE(sewn, before);
      const auto turned = [](const HoopingPlan& of) {
        return std::count_if(of.doubts.begin(), of.doubts.end(), [](const PlanDoubt& d) {
          return d.what == PlanDoubt::What::TurnedOver;
        });
      };
      QVERIFY(turned(other) >= turned(plan));
    }
  }

  /// Enough at once, or after the n-th look: what comes is a whole plan, and says if it is early.
  void theBestSoFarIsAWholePlan() {
    std::mt19937 random = testing::seeded(98);
    for (int n : {0, 2, 5, 20}) {
      const Pattern p = scattered(random, 30, 500, 300);
      int looks = 0, best = 0;
      const Watch enough = [&](const WorkProgress& w) {
        best = std::max(best, w.best);
        return ++looks > n ? Go::Enough : Go::On;
      };
      const HoopingPlan early = planHoopings(p, {{hoop(150, 120)}}, enough);
      const HoopingPlan full = planHoopings(p, {{hoop(150, 120)}});
      size_t sewn = 0, whole = 0;
      for (const Hooping& h : early.hoopings) sewn += h.stitches();
      for (const Hooping& h : full.hoopings) whole += h.stitches();
      QCOMPARE(sewn, whole);
      QVERIFY(best >= static_cast<int>(early.hoopings.size()));
      QVERIFY(early.hoopings.size() >= full.hoopings.size());
      QVERIFY(early.lower_bound <= static_cast<int>(full.hoopings.size()));
      QCOMPARE(endedEarly(early), early.lower_bound < static_cast<int>(early.hoopings.size()));
      QVERIFY(!endedEarly(full));
    }
  }
  void stitchesLongerThanTheFieldAreNamed() {
    const Pattern p = testing::patternFrom("jump 0,0 stitch 4,0 stitch 300,0 stitch 304,0");
    QVERIFY_THROWS_EXCEPTION(Error, planHoopings(p, {{hoop(100, 100)}}));
  }
  void layoutsBeyondReasonAreRefusedAtOnce() {
    const Pattern p =
        testing::patternFrom("jump 0,0 stitch 4,0 trim jump 90000,90000 stitch 90004,90000");
    QVERIFY_THROWS_EXCEPTION(Error, planHoopings(p, {{hoop(100, 100)}}));
  }
  void badRequestsAreNamed() {
    const Pattern p = testing::patternFrom("jump 0,0 stitch 4,0");
    QVERIFY_THROWS_EXCEPTION(Error, planHoopings(p, {}));
    QVERIFY_THROWS_EXCEPTION(Error, planHoopings({}, {{hoop(100, 100)}}));
    QVERIFY_THROWS_EXCEPTION(Error, planHoopings(p, {{hoop(0, 100)}}));
    PlanOptions wide{{hoop(100, 100)}};
    wide.overlap_mm = 95;
    QVERIFY_THROWS_EXCEPTION(Error, planHoopings(p, wide));
    Hoop odd = hoop(100, 100);
    odd.settings = {{0, 0, 45}};
    QVERIFY_THROWS_EXCEPTION(Error, planHoopings(p, {{odd}}));
    odd.settings.clear();
    odd.rail = FrameRail{true, 50, -50};
    QVERIFY_THROWS_EXCEPTION(Error, planHoopings(p, {{odd}}));
  }
};

RT_TEST(TestHooping)

}  // namespace test_hooping
#include "test_hooping.moc"
