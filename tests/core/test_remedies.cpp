// Every remedy does what its text says, to the figure.
#include <QtTest>

#include "density_words.h"
#include "drawn_blocks.h"
#include "error.h"
#include "random_pattern.h"
#include "remedies.h"
#include "resize.h"
#include "run.h"
#include "statistics.h"

namespace test_remedies {

using namespace rt;
using testing::between;

namespace {

Fabric cotton() {
  Fabric f;
  f.id = "cotton";
  f.density_mm_per_mm2 = {6.5, 9};
  f.holes_per_mm2 = {3.5, 6};
  return f;
}

/// A sky with a cloud on it, each dense.
Pattern skyAndCloud(double spacing) {
  testing::BlockMaker make;
  make.fill({0, 0, 40, 30}, spacing, 3.5);
  make.colour = {0xc0d0e0};
  make.fill({15, 10, 27, 22}, spacing, 3.5);
  Pattern p = make.pattern;
  p.pieces = {"", "sky", "cloud"};
  for (Stitch& s : p.stitches) s.piece = s.block == 1 ? 1 : 2;
  return p;
}

const Finding* densityOf(const DensityReport& r) {
  for (const Finding& f : r.findings)
    if (f.kind == FindingKind::Density) return &f;
  return nullptr;
}

const Remedy* find(const std::vector<Remedy>& all, const char* kind) {
  for (const Remedy& r : all)
    if (r.kind == kind) return &r;
  return nullptr;
}

}  // namespace

class TestRemedies : public QObject {
  Q_OBJECT
 private slots:
  void eachLeadsToTheFigureThatItStates() {
    std::mt19937 random = testing::seeded(241);
    for (int i = 0; i < 5; ++i) {
      const Pattern p = skyAndCloud(between(random, 0.17, 0.21));
      const Weighing w = weigh(p, cotton(), {});
      const Finding* f = densityOf(w.report);
      QVERIFY(f && f->severity == Verdict::Stop);
      const std::vector<Remedy> all = remediesFor(p, *f, cotton(), {});
      QVERIFY(all.size() >= 3);
      for (const Remedy& r : all) {
        QVERIFY2(r.verdict < f->severity, inWords(r).c_str());
        if (r.kind == "move") continue;  // its figure is for where the piece goes
        const PlaceWeight after = weighPlaces(applied(p, r), *f, cotton(), {});
        QVERIFY2(std::abs(after.peak - r.result) < 0.01 * r.result + 0.02, inWords(r).c_str());
        QCOMPARE(after.verdict, r.verdict);
      }
    }
  }

  void theBestComeFirst() {
    const Pattern p = skyAndCloud(0.2);
    const Weighing w = weigh(p, cotton(), {});
    const std::vector<Remedy> all = remediesFor(p, *densityOf(w.report), cotton(), {});
    for (size_t i = 1; i < all.size(); ++i) QVERIFY(all[i - 1].verdict <= all[i].verdict);
  }

  void reSpacingChangesOneBlockOnly() {
    const Pattern p = skyAndCloud(0.22);
    const Weighing w = weigh(p, cotton(), {});
    const std::vector<Remedy> all = remediesFor(p, *densityOf(w.report), cotton(), {});
    const Remedy* r = find(all, "respace");
    QVERIFY(r);
    const Pattern after = applied(p, *r);
    const std::vector<Block> was = blocksOf(p), is = blocksOf(after);
    QCOMPARE(is.size(), was.size());
    for (size_t i = 0; i < is.size(); ++i) {
      const double spacing = recognise(needlePoints(after, is[i])[0]).spacing_mm;
      if (static_cast<int>(i) == r->block)
        QVERIFY(std::abs(spacing - r->value) < 0.05 * r->value);
      else
        QCOMPARE(is[i].stitches, was[i].stitches);
    }
  }

  void droppingLeavesTheOthersAlone() {
    const Pattern p = skyAndCloud(0.2);
    const Weighing w = weigh(p, cotton(), {});
    const std::vector<Remedy> all = remediesFor(p, *densityOf(w.report), cotton(), {});
    const Remedy* r = find(all, "drop");
    QVERIFY(r);
    const Pattern after = applied(p, *r);
    QCOMPARE(blocksOf(after).size(), blocksOf(p).size() - 1);
    QCOMPARE(statisticsOf(after, {}).trims, size_t{1});
  }

  void aMoveCarriesThePieceAndNothingElse() {
    const Pattern p = skyAndCloud(0.2);
    const Weighing w = weigh(p, cotton(), {});
    const std::vector<Remedy> all = remediesFor(p, *densityOf(w.report), cotton(), {});
    const Remedy* r = find(all, "move");
    QVERIFY(r && r->block >= 0);
    const Pattern after = applied(p, *r);
    for (size_t i = 0; i < p.stitches.size(); ++i) {
      const Point by = after.stitches[i].at - p.stitches[i].at;
      const bool cloud = p.stitches[i].piece == 2;
      QVERIFY(distance(by, cloud ? r->move_mm : Point{}) < 1e-9);
    }
    QVERIFY(!densityOf(weigh(after, cotton(), {}).report) ||
            densityOf(weigh(after, cotton(), {}).report)->severity < Verdict::Stop);
  }

  void outOfAKeepOutZoneByTheShortestWay() {
    const Pattern p = testing::patternFrom("jump 0,0 stitch 3,0 stitch 6,0 stitch 9,0");
    const Zone zip{"zip", ZoneKind::KeepOut, {{7, -5}, {20, -5}, {20, 5}, {7, 5}}, 1, 0};
    const Weighing w = weigh(p, cotton(), {zip});
    const std::vector<Remedy> all = remediesFor(p, w.report.findings[0], cotton(), {zip});
    QCOMPARE(all.size(), size_t{1});
    // to the left by 2 mm, or half a millimetre more for the zone's very edge
    QVERIFY(all[0].move_mm.x <= -2 && all[0].move_mm.x >= -2.5);
    QVERIFY(std::abs(all[0].move_mm.y) < 1e-9);
    QVERIFY(weigh(applied(p, all[0]), cotton(), {zip}).report.findings.empty());
    // any shorter move to the left would still be in it
    const Pattern less = transformed(p, Transform::moving({-1.9, 0}));
    QVERIFY(!weigh(less, cotton(), {zip}).report.findings.empty());
  }

  void outOfAThickZoneButNotIntoAKeepOutZone() {
    testing::BlockMaker make;
    make.fill({0, 0, 10, 10}, 0.2, 3.5);
    const Zone core{"core", ZoneKind::Thick, {{-6, -30}, {4, -30}, {4, 40}, {-6, 40}}, 5, 0};
    const Zone zip{"zip", ZoneKind::KeepOut, {{11, -30}, {20, -30}, {20, 40}, {11, 40}}, 1, 0};
    const std::vector<Zone> zones{core, zip};
    const Weighing w = weigh(make.pattern, cotton(), zones);
    const Finding* f = densityOf(w.report);
    QVERIFY(f);
    for (const Remedy& r : remediesFor(make.pattern, *f, cotton(), zones))
      if (r.kind == "move") {
        const Weighing after = weigh(applied(make.pattern, r), cotton(), zones);
        for (const Finding& g : after.report.findings) QVERIFY(g.kind != FindingKind::KeepOut);
      }
  }

  void whatIsFineHasNoRemedies() {
    Finding f;
    f.kind = FindingKind::ShortStitches;
    QVERIFY(remediesFor(skyAndCloud(0.4), f, cotton(), {}).empty());
    QVERIFY(remediesFor({}, f, cotton(), {}).empty());
  }

  void aRemedyForAnotherDesignIsRefused() {
    Remedy r;
    r.kind = "drop";
    r.block = 99;
    QVERIFY_THROWS_EXCEPTION(Error, applied(skyAndCloud(0.4), r));
  }

  void waysAreNamed() {
    QCOMPARE(wayName({3, 0}), std::string("right"));
    QCOMPARE(wayName({0, -3}), std::string("up"));
    QCOMPARE(wayName({-2, 2}), std::string("down and left"));
  }
};

RT_TEST(TestRemedies)

}  // namespace test_remedies
#include "test_remedies.moc"
