#include <QtTest>

#include "findings.h"
#include "random_pattern.h"
#include "run.h"

namespace test_density {

using namespace rt;
using testing::between;
using testing::patternFrom;

namespace {

/// Level rows over a square.
Pattern rows(double side_mm, double spacing_mm) {
  Pattern p;
  const uint16_t thread = p.threadIndex({0x336699});
  bool right = true;
  for (double y = 0; y <= side_mm + 1e-9; y += spacing_mm, right = !right) {
    for (double t = 0; t <= 1.0001; t += 0.125)
      p.stitches.push_back(
          {{(right ? t : 1 - t) * side_mm, y}, 1, thread, 0, Op::Stitch, Kind::Fill});
  }
  return p;
}

Fabric cotton() {
  Fabric f;
  f.id = "woven-cotton";
  f.density_mm_per_mm2 = {6.5, 9};
  f.holes_per_mm2 = {3.5, 6};
  return f;
}

/// Any place with too much thread or too many holes.
bool heavy(const Weighing& w) {
  return std::any_of(w.report.findings.begin(), w.report.findings.end(), [](const Finding& f) {
    return f.kind == FindingKind::Density || f.kind == FindingKind::Holes;
  });
}

bool close(double map, double definition) {
  return std::abs(map - definition) <= std::max(0.01 * definition, 0.02);
}

}  // namespace

class TestDensity : public QObject {
  Q_OBJECT
 private slots:
  void mapMeetsTheDefinition() {
    std::mt19937 random = testing::seeded(41);
    for (int round = 0; round < 12; ++round) {
      const Pattern p = testing::wander(random, 600, 30);
      const Frame frame = frameFor({0, 0, 30, 30}, between(random, 0.1, 0.6));
      DensityMap map(frame.lattice);
      map.add(p);
      for (int i = 0; i < 200; ++i) {
        const auto c = static_cast<int64_t>(random() % static_cast<uint64_t>(frame.columns)),
                   r = static_cast<int64_t>(random() % static_cast<uint64_t>(frame.rows));
        const Point at = frame.lattice.sample(c, r);
        const double want = densityAt(p, at), have = map.density(c, r);
        QVERIFY2(
            close(have, want),
            qPrintable(QString("%1 for %2 at %3, %4").arg(have).arg(want).arg(at.x).arg(at.y)));
        QVERIFY(std::abs(map.holes(c, r) - holesAt(p, at)) < 1e-6);
      }
    }
  }
  void rowsLayLengthOverSpacing() {
    const Weighing w = weigh(rows(40, 0.25), cotton(), {});
    QVERIFY(std::abs(w.map.density(w.frame.columns / 2, w.frame.rows / 2) - 4) < 0.1);
    QVERIFY(!heavy(w));
  }
  void scalingDividesDensityByTheScale() {
    std::mt19937 random = testing::seeded(42);
    const Pattern p = rows(40, 0.2);
    for (int i = 0; i < 8; ++i) {
      const double s = between(random, 0.8, 2);
      const Weighing w = weigh(transformed(p, Transform::scaling(s, s)), cotton(), {});
      QVERIFY(std::abs(w.map.density(w.frame.columns / 2, w.frame.rows / 2) - 5 / s) < 0.15);
    }
  }
  void addingMapsAddsThem() {
    std::mt19937 random = testing::seeded(43);
    const Lattice lattice{{-3, -2}, 0.25};
    const Pattern a = testing::wander(random, 300, 20), b = testing::wander(random, 300, 20);
    DensityMap both(lattice), one(lattice), two(lattice);
    one.add(a);
    two.add(b);
    both.add(a);
    both.add(b);
    one.add(two);
    for (int64_t r = 0; r < 90; r += 7)
      for (int64_t c = 0; c < 90; c += 5)
        QVERIFY(std::abs(one.density(c, r) - both.density(c, r)) < 1e-4);
    one.add(two, -1);
    DensityMap again(lattice);
    again.add(a);
    for (int64_t r = 0; r < 90; r += 7)
      for (int64_t c = 0; c < 90; c += 5)
        QVERIFY(std::abs(one.density(c, r) - again.density(c, r)) < 1e-4);
  }
  void tilesOnlyWhereThreadIs() {
    DensityMap map;
    map.add(patternFrom("jump 0,0 stitch 5,0 trim jump 90000,90000 stitch 90005,90000"));
    QVERIFY(map.tileCount() < 16);
  }
  void aMillionStitchesOnOnePointAreBounded() {
    Pattern p = patternFrom("stitch 1,1");
    p.stitches.resize(1'000'000, p.stitches[0]);
    const Weighing w = weigh(p, cotton(), {});
    QVERIFY(w.map.tileCount() <= 4);
    QVERIFY(w.report.summary.peak_holes_per_mm2 > 300000);
    QCOMPARE(w.report.verdict, Verdict::Stop);
  }
  void twoLayersOverTheLimitAreFoundWithTheirPieces() {
    Pattern p = rows(20, 0.2);
    p.pieces = {"", "sky", "cloud"};
    for (Stitch& s : p.stitches) s.piece = 1;
    Pattern top = transformed(rows(10, 0.2), Transform::moving({5, 5}));
    top.pieces = {"", "cloud"};
    for (Stitch& s : top.stitches) s.piece = 1;
    append(p, top);
    const Weighing w = weigh(p, cotton(), {});
    QCOMPARE(w.report.verdict, Verdict::Stop);
    const Finding& f = w.report.findings[0];
    QCOMPARE(f.kind, FindingKind::Density);
    QVERIFY(f.value > 9 && f.value < 11);
    QVERIFY(f.bounds.grown(1).contains(Box{5, 5, 15, 15}));
    QCOMPARE(f.cause.pieces.size(), size_t{2});
    QVERIFY(w.report.over_limit_mm2 > 60 && w.report.over_limit_mm2 < 140);
  }
  void thickZonesLowerTheLimit() {
    QCOMPARE(limitFactor(1), 1.0);
    QCOMPARE(limitFactor(2), 0.85);
    QCOMPARE(limitFactor(9), 0.5);
    const Zone zone{"seam", ZoneKind::Thick, {{-5, -5}, {50, -5}, {50, 50}, {-5, 50}}, 4, 0};
    const Weighing w = weigh(rows(40, 0.2), cotton(), {zone});
    QVERIFY(std::abs(w.report.limit_mm_per_mm2 - 9 * 0.55) < 1e-9);
    QCOMPARE(w.report.verdict, Verdict::Stop);
  }
  void sewingInAKeepOutZoneStops() {
    const Zone zone{"zip", ZoneKind::KeepOut, {{2, 2}, {4, 2}, {4, 4}, {2, 4}}, 1, 0};
    QCOMPARE(weigh(rows(10, 0.5), cotton(), {zone}).report.verdict, Verdict::Stop);
  }
  void theScaleRemedyDoesWhatItSays() {
    const Pattern p = rows(30, 0.13);
    const Remedy r = remedyScale(p, cotton(), {});
    QVERIFY(r.value > 1);
    QVERIFY(!heavy(weigh(transformed(p, Transform::scaling(r.value, r.value)), cotton(), {})));
    const double less = r.value - 0.02;
    QVERIFY(heavy(weigh(transformed(p, Transform::scaling(less, less)), cotton(), {})));
    QVERIFY(std::abs(weigh(transformed(p, Transform::scaling(r.value, r.value)), cotton(), {})
                         .report.summary.peak_mm_per_mm2 -
                     r.result) < 1e-6);
  }
  void croppingKeepsTheDensityInside() {
    std::mt19937 random = testing::seeded(44);
    const Pattern p = testing::wander(random, 2000, 40);
    const Box window{10, 10, 25, 22};
    const Pattern part = cropped(p, window);
    for (int i = 0; i < 200; ++i) {
      const Point at{between(random, 10, 25), between(random, 10, 22)};
      QVERIFY(std::abs(densityAt(p, at) - densityAt(part, at)) < 1e-9);
    }
  }
};

RT_TEST(TestDensity)

}  // namespace test_density
#include "test_density.moc"
