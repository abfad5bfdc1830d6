#include <QtTest>
#include <map>
#include <set>

#include "error.h"
#include "planner.h"
#include "random_pattern.h"
#include "run.h"

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
  return {std::to_string(static_cast<int>(w)), "", {w, h, HoopShape::Rectangle}};
}

void verifyPlan(const Pattern& layout, const HoopingPlan& plan, const PlanOptions& options) {
  std::map<Segment, int> all;
  size_t stitches = 0;
  for (const Hooping& h : plan.hoopings) {
    for (const auto& [segment, n] : segmentsOf(h.pattern)) all[segment] += n;
    stitches += h.stitches;
    const Field& field = options.hoops[static_cast<size_t>(h.hoop)].field;
    QVERIFY(std::abs(h.field.width() - (h.turn_deg == 0 ? field.width_mm : field.height_mm)) <
            1e-6);
    for (const Stitch& s : h.pattern.stitches)
      if (s.op == Op::Stitch)
        QVERIFY2(h.field.grown(1e-6).contains(s.at),
                 qPrintable(QString("hooping %1: %2, %3").arg(h.index).arg(s.at.x).arg(s.at.y)));
    for (const PlanMark& m : h.marks) QVERIFY(h.field.contains(m.at));
    QVERIFY(h.predicted_error_mm > 0);
  }
  QVERIFY2(all == segmentsOf(layout), "every stitch must be in exactly one hooping");
  QVERIFY(plan.lower_bound >= 1 && plan.lower_bound <= static_cast<int>(plan.hoopings.size()));
}

}  // namespace

class TestHooping : public QObject {
  Q_OBJECT
 private slots:
  void whatFitsTakesOneHooping() {
    std::mt19937 random = testing::seeded(81);
    const Pattern p = scattered(random, 5, 120, 90);
    const PlanOptions options{{hoop(130, 100)}};
    const HoopingPlan plan = planHoopings(p, options);
    QCOMPARE(plan.hoopings.size(), size_t{1});
    QCOMPARE(plan.cut_stitches, size_t{0});
    verifyPlan(p, plan, options);
  }
  void everyStitchInExactlyOneHooping() {
    std::mt19937 random = testing::seeded(82);
    for (int round = 0; round < 10; ++round) {
      const Pattern p = scattered(random, 12, 380, 260);
      PlanOptions options{{hoop(150, 120)}};
      options.turn = round % 2 == 1;
      verifyPlan(p, planHoopings(p, options), options);
    }
  }
  void aFillLargerThanTheHoopIsCut() {
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
    verifyPlan(p, plan, options);
  }
  void neighboursShareTwoMarksFarApart() {
    std::mt19937 random = testing::seeded(84);
    const Pattern p = scattered(random, 10, 260, 90);
    const HoopingPlan plan = planHoopings(p, {{hoop(150, 100)}});
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
  }
  void whatLiesOnTopIsSewnLater() {
    // a base in the left field's reach, a cover over its right end that only the right field holds
    Pattern p = testing::patternFrom(
        "#111111 jump 0,0 stitch 4,0 stitch 8,0 stitch 60,1 stitch 100,2 trim #222222 jump 98,0 "
        "stitch 98,5 stitch 140,5 stitch 190,5");
    const HoopingPlan plan = planHoopings(p, {{hoop(110, 100)}});
    QCOMPARE(plan.hoopings.size(), size_t{2});
    QCOMPARE(plan.hoopings[0].pattern.threads[0].hex(), std::string("#111111"));
    QVERIFY(plan.warnings.empty() || plan.warnings[0].find("turned order") == std::string::npos);
  }
  void chainsAddErrorsAndStarsDoNot() {
    std::mt19937 random = testing::seeded(85);
    const Pattern p = scattered(random, 20, 600, 90);
    PlanOptions options{{hoop(150, 100)}};
    HoopingPlan star = planHoopings(p, options);
    options.style = TieStyle::Chain;
    const HoopingPlan chain = planHoopings(p, options);
    QVERIFY(chain.hoopings.size() >= 4);
    QVERIFY(chain.hoopings.back().predicted_error_mm >
            1.5 * star.hoopings.back().predicted_error_mm);
  }
  void coversAreFewestAgainstTryingAll() {
    std::mt19937 random = testing::seeded(86);
    const std::vector<FieldSize> sizes{{10, 8, 0, 0}};
    for (int round = 0; round < 40; ++round) {
      std::vector<Box> units;
      for (int i = 0; i < 7; ++i) {
        const Point at{between(random, 0, 30), between(random, 0, 20)};
        units.push_back({at.x, at.y, at.x + between(random, 0, 4), at.y + between(random, 0, 4)});
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
      const Cover cover = coverBoxes(units, sizes);
      QVERIFY(cover.proven);
      QCOMPARE(static_cast<int>(cover.fields.size()), best);
      QVERIFY(leastFields(units, sizes) <= best);
    }
  }
  void stitchesLongerThanTheFieldAreNamed() {
    const Pattern p = testing::patternFrom("jump 0,0 stitch 4,0 stitch 300,0 stitch 304,0");
    QVERIFY_EXCEPTION_THROWN(planHoopings(p, {{hoop(100, 100)}}), Error);
  }
  void layoutsBeyondReasonAreRefusedAtOnce() {
    const Pattern p =
        testing::patternFrom("jump 0,0 stitch 4,0 trim jump 90000,90000 stitch 90004,90000");
    QVERIFY_EXCEPTION_THROWN(planHoopings(p, {{hoop(100, 100)}}), Error);
  }
  void badRequestsAreNamed() {
    const Pattern p = testing::patternFrom("jump 0,0 stitch 4,0");
    QVERIFY_EXCEPTION_THROWN(planHoopings(p, {}), Error);
    QVERIFY_EXCEPTION_THROWN(planHoopings({}, {{hoop(100, 100)}}), Error);
    QVERIFY_EXCEPTION_THROWN(planHoopings(p, {{hoop(0, 100)}}), Error);
    PlanOptions wide{{hoop(100, 100)}};
    wide.overlap_mm = 95;
    QVERIFY_EXCEPTION_THROWN(planHoopings(p, wide), Error);
  }
};

RT_TEST(TestHooping)
#include "test_hooping.moc"
